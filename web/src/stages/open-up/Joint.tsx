import { useState } from 'react'
import {
  airPathOf,
  ARRIVALS,
  hangsByOne,
  isThere,
  itemPresetsAt,
  mayTakeOff,
  piecesOf,
  stationInfo,
  stopsBefore,
  withPiece,
  type Arrival,
  type ItemRecord,
  type ItemState,
  type StationId,
  type VisitFile,
} from '@uvula/core'
import { Choose } from '../../kit/Choose.js'
import { Pick } from '../../kit/Pick.js'
import { Tick } from '../../kit/Tick.js'
import { Stop, stopSeen } from '../../parts/Stop.js'
import { Flange, type Placed } from './Flange.js'

const NEXT: Readonly<Record<ItemState, ItemState>> = { on: 'off', off: 'loose', loose: 'on' }

/** One joint drawn, a tap on each fastener by itself; what was tapped last is told apart below. */
export function Joint({
  file,
  station,
  items,
  closing,
  onStation,
  onChange,
}: {
  file: VisitFile
  station: StationId
  /** Parts of this joint. */
  items: readonly ItemRecord[]
  closing: boolean
  onStation: (id: StationId) => void
  onChange: (i: ItemRecord, part: Partial<ItemRecord>) => void
}) {
  const [chosen, setChosen] = useState<string>()
  const [itemId, k] = chosen ? [chosen.slice(0, chosen.lastIndexOf(':')), Number(chosen.split(':').at(-1))] : []
  const hangs = !closing && hangsByOne(items)
  const item = items.find((i) => i.id === itemId)
  const piece = item && k !== undefined ? piecesOf(item)[k] : undefined
  const tap = (p: Placed): void => {
    setChosen(`${p.item.id}:${p.k}`)
    if (!isThere(p.piece)) return
    const next = closing ? (p.piece.state === 'on' ? 'off' : 'on') : NEXT[p.piece.state]
    if (next === 'off' && !mayTakeOff(file, p.item).ok) return
    onChange(p.item, withPiece(p.item, p.k, { state: next }))
  }
  return (
    <section>
      <Pick
        label="joint"
        className="text-name"
        value={station}
        options={airPathOf(file.vehicle.spec).stations.map((s) => ({ value: s.info.id, label: s.info.label }))}
        onChange={onStation}
      />
      <Flange items={items} label={stationInfo(station).label} chosen={chosen} numbered={closing} onTap={tap} />
      {hangs && (
        <p role="status">
          One is left: let the one that is easy to reach be the hanging bolt, and take it out with the part in hand.
        </p>
      )}
      {item && piece && k !== undefined ? (
        <div className="grid gap-6" data-testid="piece">
          <p>
            <b>
              {item.name} {k + 1}
            </b>
            : {isThere(piece) ? piece.state : 'not there'}. It was found
          </p>
          <Choose
            label="found"
            look="box"
            className="flex flex-wrap gap-4"
            value={piece.arrival}
            choices={ARRIVALS.map((a) => ({ value: a, label: a }))}
            onChange={(arrival: Arrival) =>
              onChange(
                item,
                withPiece(item, k, { arrival, ...(arrival === 'missing' ? { state: 'on' as const } : {}) }),
              )
            }
          />
          <div className="flex flex-wrap gap-8">
            {piece.arrival !== 'present' && (
              <Tick
                checked={piece.renewed === true}
                onChange={(renewed) => onChange(item, withPiece(item, k, { renewed }))}
              >
                a new one is in
              </Tick>
            )}
            <input
              key={chosen}
              className="field min-w-0 flex-1"
              aria-label="what is odd about this one"
              placeholder="odd one: longer, another head"
              maxLength={80}
              defaultValue={piece.odd ?? ''}
              onBlur={(e) =>
                e.target.value.trim() !== (piece.odd ?? '') &&
                onChange(item, withPiece(item, k, { odd: e.target.value.trim() || undefined }))
              }
            />
          </div>
        </div>
      ) : (
        <p className="text-soft text-small">
          {closing
            ? 'The numbers are the order to draw them down in. Tap one: on, off.'
            : 'Tap one: off, loose on purpose, on.'}
        </p>
      )}
    </section>
  )
}

/** STOPs before the parts of this joint come off, as far as they were not seen to. */
export function StopsHere({
  file,
  station,
  items,
}: {
  file: VisitFile
  station: StationId
  items: readonly ItemRecord[]
}) {
  // what usually comes off here waits for its STOP: it stands there before the part is tapped
  const usual = itemPresetsAt(station, file.vehicle.spec).map(({ carries }) => ({
    station,
    ...(carries ? { more: { kind: 'hose' as const, pieces: [], carries } } : {}),
  }))
  const stops = [...new Set([...stopsBefore({ station }), ...[...usual, ...items].flatMap((i) => stopsBefore(i))])]
  return (
    <>
      {stops
        .filter((id) => !stopSeen(file, id))
        .map((id) => (
          <Stop key={id} file={file} id={id} />
        ))}
    </>
  )
}
