import { useState } from 'react'
import {
  airPathOf,
  countsOf,
  COUNTED_THINGS,
  ITEM_PRESETS,
  live,
  openThings,
  stationInfo,
  type ItemRecord,
  type StationId,
  type VisitFile,
} from '@uvula/core'
import { Choose } from '../../kit/Choose.js'
import { Flange } from './Flange.js'
import { Stop, stopSeen } from '../../parts/Stop.js'
import { newId } from '../../store/database.js'
import { ownFields, useWriter } from '../../store/visit.js'

const NEXT: Readonly<Record<ItemRecord['state'], ItemRecord['state']>> = { on: 'off', off: 'loose', loose: 'on' }

/** What comes off, with each fastener in its place; and at the end the same joint refilling. */
export function OpenUp({ file, closing }: { file: VisitFile; closing: boolean }) {
  const { write } = useWriter(file)
  const here = airPathOf(file.vehicle.spec).stations.map((s) => s.info.id)
  const items = live(file.items)
  const open = openThings(file)
  const seen = stopSeen(file, 'belts-fan-hot-coolant')
  const firstOpen = items.find((i) => i.state !== 'on')?.station
  const [station, setStation] = useState<StationId>(firstOpen ?? items[0]?.station ?? 'throttle')
  const mine = items.filter((i) => i.station === station)
  const change = (i: ItemRecord, part: Partial<ItemRecord>): void => write('items', i.id, { ...ownFields(i), ...part })
  const add = (name: string, count: number, drive?: string, arrival: ItemRecord['arrival'] = 'present'): void =>
    write('items', `${file.visit.id}:item:${newId()}`, {
      visitId: file.visit.id,
      station,
      name,
      count,
      ...(drive ? { drive } : {}),
      arrival,
      state: arrival === 'missing' ? 'on' : 'off',
    })
  return (
    <div className="bench px-gap py-14 gap-28 grid grid-cols-[minmax(0,1fr)_minmax(300px,1.05fr)] narrow:px-14 narrow:py-10 narrow:grid-cols-1">
      <section>
        <Choose
          label="joint"
          look="line"
          className="flex flex-wrap items-center gap-x-20"
          value={station}
          choices={here
            .filter((id) => ITEM_PRESETS[id] ?? items.some((i) => i.station === id))
            .map((id) => ({ value: id, label: stationInfo(id).label }))}
          onChange={setStation}
        />
        <Flange
          items={mine}
          label={stationInfo(station).label}
          onTap={(i) => change(i, { state: closing ? (i.state === 'on' ? 'off' : 'on') : NEXT[i.state] })}
        />
        <p className="text-soft text-small">tap a fastener: off, loose on purpose, on</p>
      </section>
      <section>
        {closing &&
          (open.length ? (
            <div className="wrong" role="alert">
              <p className="name">Not closed</p>
              {open.map((o) => (
                <p key={o.message}>{o.message}</p>
              ))}
            </div>
          ) : (
            <p className="name">Closed: nothing off, nothing loose, everything counted out.</p>
          ))}
        {!closing && !seen && <Stop file={file} id="belts-fan-hot-coolant" />}
        {!closing && (
          <div className="mx-0 my-8 gap-8 flex flex-wrap">
            {(ITEM_PRESETS[station] ?? []).map((p) => (
              <button
                key={p.name}
                type="button"
                className="act"
                disabled={!seen}
                onClick={() => add(p.name, p.count, p.drive)}
              >
                {p.count} × {p.name} off
              </button>
            ))}
            <button type="button" className="act" onClick={() => add('fastener', 1, undefined, 'missing')}>
              one missing on arrival
            </button>
          </div>
        )}
        <ul className="work-rows">
          {mine.map((i) => (
            <li
              className="border-b border-b-line gap-8 grid grid-cols-[1fr_auto_auto] items-center min-h-52 leading-tight"
              key={i.id}
            >
              <span>
                {i.count} × {i.name} <b>{i.state}</b>
                {i.arrival !== 'present' ? `, ${i.arrival} on arrival` : ''}
                <span className="ml-6 text-soft text-small">
                  {[i.drive, i.bag && `bag ${i.bag}`, i.way].filter(Boolean).join(', ')}
                </span>
              </span>
              <Words item={i} onKeep={(part) => change(i, part)} />
              <button
                type="button"
                className="act"
                onClick={() => change(i, { state: i.state === 'on' ? 'off' : 'on' })}
              >
                {i.state === 'on' ? 'off' : 'back on'}
              </button>
            </li>
          ))}
        </ul>
        <h2 className="text-soft text-small">counted in and out</h2>
        <Counts file={file} station={station} />
      </section>
    </div>
  )
}

function Words({ item, onKeep }: { item: ItemRecord; onKeep: (part: Partial<ItemRecord>) => void }) {
  return (
    <input
      className="field text-small"
      aria-label={`${item.name}: bag, which way`}
      placeholder="bag, which way"
      defaultValue={item.way ?? ''}
      onBlur={(e) =>
        e.target.value.trim() && e.target.value.trim() !== item.way && onKeep({ way: e.target.value.trim() })
      }
    />
  )
}

function Counts({ file, station }: { file: VisitFile; station: StationId }) {
  const { write } = useWriter(file)
  const counted = countsOf(file)
  const put = (thing: string, putIn: number, takenOut: number): void =>
    write('counts', `${file.visit.id}:count:${newId()}`, { visitId: file.visit.id, thing, station, putIn, takenOut })
  const [other, setOther] = useState('')
  const things = [...new Set<string>([...COUNTED_THINGS, ...counted.map((c) => c.thing)])]
  return (
    <>
      <ul className="work-rows">
        {things.map((thing) => {
          const c = counted.find((x) => x.thing === thing)
          return (
            <li
              className="border-b border-b-line gap-8 grid grid-cols-[1fr_auto_auto] items-center min-h-52 leading-tight"
              key={thing}
              data-count={thing}
            >
              <span>
                {thing}
                {c && c.putIn !== c.takenOut ? <b> still in</b> : ''}
              </span>
              <span className="gap-6 flex items-center">
                <button
                  className="border-2 border-ink w-tap text-center text-figure"
                  type="button"
                  aria-label={`${thing} in`}
                  onClick={() => put(thing, 1, 0)}
                >
                  +
                </button>
                <span className="fig text-figure min-w-64 text-center">
                  {c?.takenOut ?? 0}/{c?.putIn ?? 0}
                </span>
                <button
                  className="border-2 border-ink w-tap text-center text-figure"
                  type="button"
                  aria-label={`${thing} out`}
                  disabled={!c || c.takenOut >= c.putIn}
                  onClick={() => put(thing, 0, 1)}
                >
                  −
                </button>
              </span>
              <span className="ml-6 text-soft text-small">out/in</span>
            </li>
          )
        })}
      </ul>
      <form
        className="mt-8 flex gap-8"
        onSubmit={(e) => {
          e.preventDefault()
          if (!other.trim()) return
          put(other.trim(), 1, 0)
          setOther('')
        }}
      >
        <input
          className="field"
          aria-label="something else that goes in"
          placeholder="something else that goes in"
          maxLength={60}
          value={other}
          onChange={(e) => setOther(e.target.value)}
        />
        <button type="submit" className="act">
          count it in
        </button>
      </form>
    </>
  )
}
