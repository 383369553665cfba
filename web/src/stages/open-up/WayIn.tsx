import {
  accessTo,
  batteryAdvice,
  kindOfItem,
  live,
  partsToOrder,
  piecesOf,
  presumedLost,
  REACH_WORDS,
  type StationId,
  type VisitFile,
} from '@uvula/core'
import { useShop, ownFields, useWriter } from '../../store/visit.js'
import { sayDay } from '../../words/format.js'

/** What comes off before this joint, how it is reached and how long it takes; the battery; what is to be had before. */
export function WayIn({
  file,
  station,
  onStation,
}: {
  file: VisitFile
  station: StationId
  onStation: (id: StationId) => void
}) {
  const steps = accessTo(file.vehicle.spec, station)
  const today = new Date().toISOString().slice(0, 10)
  const lost = presumedLost(
    file.vehicle.spec,
    steps.map((s) => s.station),
    today,
  )
  const battery = batteryAdvice(steps.map((s) => s.station))
  const minutes = steps.reduce((m, s) => m + s.minutes, 0)
  return (
    <section aria-label="the way in">
      <p className="text-lead">
        {steps.length === 1
          ? 'Nothing comes off first.'
          : `${steps.length - 1} ${steps.length === 2 ? 'joint comes' : 'joints come'} off first.`}{' '}
        About {minutes} minutes off and on.
      </p>
      <ol className="mb-8">
        {steps.map((s, i) => (
          <li
            key={s.station}
            className="grid min-h-tap grid-cols-[34px_minmax(0,1fr)_auto] items-center gap-8 border-b border-b-line"
          >
            <span className="fig text-figure">{i + 1}</span>
            <button type="button" className="min-h-tap text-left leading-tight" onClick={() => onStation(s.station)}>
              <b>{s.label}</b>, {REACH_WORDS[s.reach]}: {s.why}
              {lost.includes(s.station) && (
                <b> Old {file.vehicle.spec.stations?.[s.station]?.material}: presume it lost.</b>
              )}
            </button>
            <span className="fig text-figure">{s.minutes}′</span>
          </li>
        ))}
      </ol>
      <p className="border-l-6 border-l-ink pl-10">{battery.why}</p>
      <p className="mb-8 border-l-6 border-l-line pl-10 text-small text-soft">{battery.other}</p>
      <ToOrder file={file} onTheWay={steps.map((s) => s.station)} />
    </section>
  )
}

/** Parts that are to be had, with the day they come. */
export function ToOrder({ file, onTheWay = [] }: { file: VisitFile; onTheWay?: readonly StationId[] }) {
  const { write } = useWriter(file)
  const shop = useShop()
  const parts = partsToOrder(file, shop?.partsDays ?? [], new Date().toISOString().slice(0, 10), onTheWay)
  if (!parts.length) return null
  const ordered = (id: string, order: 'ordered' | 'have'): void => {
    const item = live(file.items).find((i) => i.id === id)
    if (item)
      write('items', id, {
        ...ownFields(item),
        more: { kind: kindOfItem(item), pieces: piecesOf(item), ...item.more, order },
      })
  }
  return (
    <section aria-label="to order">
      <h2 className="text-small text-soft">to order</h2>
      <ul>
        {parts.map((p) => (
          <li
            key={`${p.item ?? ''}${p.words}`}
            className="flex min-h-tap flex-wrap items-center gap-8 border-b border-b-line leading-tight"
          >
            <span className="flex-1">
              {p.count} × {p.words}: {p.why}
              {p.state === 'needed' && p.comesOn ? `; comes ${sayDay(p.comesOn)}` : ''}
              {p.state !== 'needed' ? `; ${p.state === 'have' ? 'here' : 'ordered'}` : ''}
            </span>
            {p.item && p.state === 'needed' && (
              <button type="button" className="act" onClick={() => ordered(p.item!, 'ordered')}>
                ordered
              </button>
            )}
            {p.item && p.state !== 'have' && (
              <button type="button" className="act" onClick={() => ordered(p.item!, 'have')}>
                here
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}
