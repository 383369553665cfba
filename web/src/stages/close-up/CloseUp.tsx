import { useState } from 'react'
import {
  BEFORE_REASONS,
  closingOrder,
  countWords,
  detailWords,
  facesTick,
  isFastener,
  isSeal,
  jointOpenedMost,
  openThings,
  passesOf,
  stationInfo,
  withAll,
  type ItemRecord,
  type StationId,
  type VisitFile,
} from '@uvula/core'
import { Tick } from '../../kit/Tick.js'
import { Views } from '../../kit/Views.js'
import { Counts } from '../open-up/Counts.js'
import { Joint } from '../open-up/Joint.js'
import { useItems } from '../open-up/useItems.js'
import { ToOrder } from '../open-up/WayIn.js'
import { Coolant, useTicks } from './Coolant.js'
import { SealChoice } from './SealChoice.js'
import { TorqueField } from './TorqueField.js'

type View = 'back' | 'counted'

/** The same joint refilling, in the order it goes back; and what still stands in the way of closing. */
export function CloseUp({ file }: { file: VisitFile }) {
  const { items, change } = useItems(file)
  const open = openThings(file)
  const order = closingOrder(file)
  const first = order[0]?.item.station ?? items[0]?.station ?? jointOpenedMost(file.vehicle.spec)
  const [chosen, setStation] = useState<StationId>()
  const [view, setView] = useState<View>('back')
  const station = chosen ?? first
  const mine = items.filter((i) => i.station === station)
  return (
    <div className="bench px-gap py-8 gap-28 grid grid-cols-[minmax(0,1fr)_minmax(300px,1.15fr)] narrow:px-14 narrow:py-10 narrow:grid-cols-1">
      <section>
        <Joint file={file} station={station} items={mine} closing onStation={setStation} onChange={change} />
        <Tightening items={mine} onChange={change} />
      </section>
      <section>
        {open.length ? (
          <div className="wrong" role="alert">
            <p className="name">Not closed</p>
            {open.map((o) => (
              <p key={o.message} data-rule={o.rule}>
                {o.message}
              </p>
            ))}
          </div>
        ) : (
          <p className="name">Closed: nothing off, nothing loose, everything counted out.</p>
        )}
        <Views
          label="closing up"
          value={view}
          onChange={setView}
          views={[
            {
              value: 'back',
              label: 'the way back',
              body: (
                <>
                  <ol aria-label="the way back">
                    {order.map((s, i) => (
                      <li
                        key={s.item.id}
                        className="grid min-h-52 grid-cols-[34px_minmax(0,1fr)_auto] items-center gap-8 border-b border-b-line leading-tight"
                      >
                        <span className="fig text-figure">{i + 1}</span>
                        <button
                          type="button"
                          className="min-h-tap text-left leading-tight"
                          onClick={() => setStation(s.item.station)}
                        >
                          <b>{countWords(s.item, s.item.state)}</b> at the {stationInfo(s.item.station).label}
                          <span className="block text-small text-soft">
                            {[detailWords(s.item), s.why].filter(Boolean).join('; ')}
                          </span>
                        </button>
                        <span className="flex gap-6">
                          <Before item={s.item} onChange={(before) => change(s.item, moreOf(s.item, { before }))} />
                          <button type="button" className="act" onClick={() => change(s.item, withAll(s.item, 'on'))}>
                            back on
                          </button>
                        </span>
                      </li>
                    ))}
                  </ol>
                  <Seals file={file} items={items} onChange={change} />
                  <ToOrder file={file} />
                </>
              ),
            },
            { value: 'counted', label: 'counted out', body: <Counts file={file} station={station} /> },
          ]}
        />
      </section>
    </div>
  )
}

const moreOf = (i: ItemRecord, part: object): Partial<ItemRecord> => ({
  more: { ...withAll(i, i.state).more!, pieces: i.more?.pieces ?? withAll(i, i.state).more!.pieces, ...part },
})

/** Makes a connection before its part is fastened, with the reason. */
function Before({ item, onChange }: { item: ItemRecord; onChange: (why: string | undefined) => void }) {
  if (isFastener(item) || isSeal(item)) return null
  const at = BEFORE_REASONS.findIndex((r) => r === item.more?.before)
  return (
    <button
      type="button"
      className="act"
      aria-pressed={at >= 0}
      onClick={() => onChange(BEFORE_REASONS[at + 1])}
      aria-label={`${item.name} goes on earlier${at >= 0 ? `: ${BEFORE_REASONS[at]}` : ''}`}
    >
      earlier
    </button>
  )
}

/** How the fasteners of the joint shown are drawn down: passes, torque with its source, or "unknown". */
function Tightening({
  items,
  onChange,
}: {
  items: readonly ItemRecord[]
  onChange: (i: ItemRecord, part: Partial<ItemRecord>) => void
}) {
  const drawn = items.filter((i) => isFastener(i) && ['bolt', 'nut', 'stud', 'screw'].includes(i.more?.kind ?? i.name))
  return drawn.map((i) => (
    <div key={i.id} className="mt-8 border-t border-t-line pt-6">
      <p>
        <b>
          {i.count} × {i.name}
        </b>
        : {passesOf(i.more?.torque, i.count).join('; ')}.
      </p>
      <TorqueField item={i} onMore={(part) => onChange(i, moreOf(i, part))} />
    </div>
  ))
}

/** Seals and faces of every joint that was opened, and the coolant, each where it is asked. */
function Seals({
  file,
  items,
  onChange,
}: {
  file: VisitFile
  items: readonly ItemRecord[]
  onChange: (i: ItemRecord, part: Partial<ItemRecord>) => void
}) {
  const { seen, tick } = useTicks(file)
  const seals = items.filter((i) => i.more && isSeal(i))
  const joints = [...new Set(seals.map((i) => i.station))]
  return (
    <>
      {joints.map((station) => (
        <section key={station} className="mt-8 grid gap-6" aria-label={`seals at the ${stationInfo(station).label}`}>
          {seals
            .filter((i) => i.station === station)
            .map((i) => (
              <div key={i.id}>
                <p>
                  {i.name} at the {stationInfo(station).label}
                </p>
                <SealChoice item={i} onMore={(part) => onChange(i, moreOf(i, part))} />
              </div>
            ))}
          <Tick
            checked={seen(facesTick(station))}
            onChange={() => !seen(facesTick(station)) && tick(facesTick(station))}
          >
            faces at the {stationInfo(station).label} seen: clean, flat, dry, nothing of the old seal left
          </Tick>
        </section>
      ))}
      <Coolant file={file} />
    </>
  )
}
