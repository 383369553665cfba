import { CONDITIONS, idleChannels, live, NO_CODES, roundToFill, SIGNS, type Vehicle, type VisitFile } from '@uvula/core'
import { EngineDrawing } from '../parts/EngineDrawing.js'
import { Readings } from '../parts/Readings.js'
import { ownFields, useWriter } from '../store/visit.js'

const INTENTS = [
  ['complaint', 'complaint'],
  ['check-up', 'check-up'],
] as const

/** Complaint, vehicle, baseline: what is known before anything is touched. */
export function Arrive({ file }: { file: VisitFile }) {
  const { write } = useWriter(file)
  const { visit, vehicle } = file
  const change = (part: object): void => write('visits', visit.id, { ...ownFields(visit), ...part })
  const toggle = (list: readonly string[], id: string): string[] =>
    list.includes(id) ? list.filter((x) => x !== id) : [...list, id]
  const turn = (part: Partial<Vehicle>): void =>
    write('vehicles', vehicle.id, { ...ownFields(vehicle), spec: { ...vehicle.spec, ...part } })
  // a car that came with a code says so itself
  const withCodes = live(file.codes).some((c) => c.when === 'before')
  const conditions = withCodes ? CONDITIONS : [...CONDITIONS, { id: NO_CODES, label: 'codes read: none' }]
  return (
    <div className="bench px-gap py-14 gap-gap grid grid-cols-[306px_284px_minmax(0,1fr)] narrow:px-14 narrow:py-10 narrow:grid-cols-1">
      <section className="narrow:order-2" aria-labelledby="signs-title">
        <h2 id="signs-title" className="text-soft text-small">
          what the customer feels
        </h2>
        <ul className="gap-x-8 grid grid-cols-3">
          {SIGNS.map((s) => (
            <li key={s.id}>
              <button
                className="pl-20 w-full min-h-tap leading-none relative text-label before:top-[calc(50%_-_7px)] before:left-0 before:border-2 before:border-ink before:absolute before:w-14 before:h-14 before:[border-radius:50%] aria-pressed:font-semibold aria-pressed:before:bg-ink"
                type="button"
                aria-pressed={visit.signs.includes(s.id)}
                onClick={() => change({ signs: toggle(visit.signs, s.id) })}
              >
                {s.label}
              </button>
            </li>
          ))}
        </ul>
        <h2 className="text-soft text-small">when</h2>
        <ul className="gap-x-8 grid grid-cols-3">
          {conditions.map((c) => (
            <li key={c.id}>
              <button
                className="pl-20 w-full min-h-tap leading-none relative text-label before:top-[calc(50%_-_7px)] before:left-0 before:border-2 before:border-ink before:absolute before:w-14 before:h-14 before:[border-radius:50%] aria-pressed:font-semibold aria-pressed:before:bg-ink"
                type="button"
                aria-pressed={visit.conditions.includes(c.id)}
                onClick={() => change({ conditions: toggle(visit.conditions, c.id) })}
              >
                {c.label}
              </button>
            </li>
          ))}
        </ul>
        <div className="mt-8 flex" role="group" aria-label="how it came">
          {INTENTS.map(([id, label]) => (
            <button
              key={id}
              type="button"
              className="act"
              aria-pressed={visit.intent === id}
              onClick={() => change({ intent: id })}
            >
              {label}
            </button>
          ))}
        </div>
      </section>
      <section className="narrow:order-3">
        <h2 className="text-soft text-small">this engine; tap what differs</h2>
        <EngineDrawing vehicle={vehicle.spec} onChange={turn} />
      </section>
      <section className="narrow:order-1">
        <h2 className="text-soft text-small">warm idle, nothing touched yet</h2>
        <Readings
          file={file}
          slot="idle"
          round={Math.min(0, roundToFill(file))}
          channels={idleChannels(vehicle.spec)}
        />
      </section>
    </div>
  )
}
