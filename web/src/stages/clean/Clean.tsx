import { Toggle } from 'radix-ui'
import { useState } from 'react'
import {
  airPathOf,
  lastRound,
  live,
  METHODS,
  checkStep,
  mayTouch,
  methodInfo,
  PRODUCTS,
  stopOfCleaning,
  SURFACES,
  surfacesAt,
  visitDeposits,
  type MethodId,
  type ProductId,
  type StationId,
  type SurfaceId,
  type VisitFile,
} from '@uvula/core'
import { Tick } from '../../kit/Tick.js'
import { Ring } from '../../parts/Ring.js'
import { Stop, stopSeen } from '../../parts/Stop.js'
import { StartTimer } from '../../parts/Timers.js'
import { newId } from '../../store/database.js'
import { ownFields, useWriter } from '../../store/visit.js'

/** Surface against product, and what the throttle has lost. */
export function Clean({ file }: { file: VisitFile }) {
  const { write } = useWriter(file)
  const [cell, setCell] = useState<{ surface: SurfaceId; product: ProductId; station: StationId }>()
  const path = airPathOf(file.vehicle.spec)
  const rows = path.stations.flatMap((s) =>
    surfacesAt(s.info.id, file.vehicle.spec).map((surface) => ({ station: s.info.id, surface })),
  )
  const stop = cell && stopOfCleaning(cell.station)
  const seen = stop !== undefined && stopSeen(file, stop)
  const done = live(file.steps)
  const [against] = cell ? checkStep(cell, file.vehicle.spec) : []
  const keep = (method: MethodId): void =>
    cell &&
    write('steps', `${file.visit.id}:step:${newId()}`, {
      visitId: file.visit.id,
      station: cell.station,
      surface: cell.surface,
      product: cell.product,
      method,
      passed: false,
    })
  return (
    <div className="bench px-gap py-14 gap-28 grid grid-cols-[540px_minmax(0,1fr)] narrow:px-14 narrow:py-10 narrow:grid-cols-1">
      <section className="narrow:overflow-x-auto">
        <p className="sticky left-0 hidden text-small text-soft narrow:block">
          {PRODUCTS.length} products: push sideways for the rest
        </p>
        <table className="border-collapse">
          <thead>
            <tr>
              <td />
              {PRODUCTS.map((p) => (
                <th
                  className="h-150 rotate-180 py-6 text-left align-middle text-small leading-tight font-medium [writing-mode:vertical-rl]"
                  key={p.id}
                  scope="col"
                >
                  {p.label.replace(', fed', ' fed').split(',')[0]}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map(({ surface, station }) => (
              <tr key={surface}>
                <th
                  className="sticky left-0 z-1 bg-face py-2 pr-8 text-left text-small leading-tight font-medium"
                  scope="row"
                >
                  {SURFACES.find((s) => s.id === surface)!.label}
                </th>
                {PRODUCTS.map((p) => {
                  const may = mayTouch(p.id, surface)
                  const never = p.never[surface] !== undefined
                  return (
                    <td className="border border-line" key={p.id}>
                      <Toggle.Root
                        className="w-54 h-tap grid place-items-center data-[state=on]:bg-face-2 data-[state=on]:shadow-[inset_0_-5px_0_var(--color-ink)]"
                        aria-label={`${p.label} on ${surface.replace(/-/g, ' ')}: ${may.ok ? 'may' : never ? 'never' : 'not known'}`}
                        pressed={cell?.surface === surface && cell.product === p.id}
                        onPressedChange={() => setCell({ surface, product: p.id, station })}
                      >
                        <svg width="34" height="34" aria-hidden="true">
                          <Ring x={17} y={18} r={10} state={may.ok ? 'sound' : never ? 'failed' : 'unseen'} />
                        </svg>
                      </Toggle.Root>
                    </td>
                  )
                })}
              </tr>
            ))}
          </tbody>
        </table>
        <p className="text-soft text-small">full ring: may; broken: never; dotted: only by its label</p>
      </section>
      <section>
        <Deposits file={file} />
        {stop && cell && !against && <Stop file={file} id={stop} />}
        {cell && against && (
          <p className="wrong" role="alert">
            {against.message}
          </p>
        )}
        {cell && !against && (
          <div className="mx-0 my-8 gap-8 flex flex-wrap">
            {METHODS.filter((m) => !m.feeds).map((m) => (
              <button key={m.id} type="button" className="act strong" disabled={!seen} onClick={() => keep(m.id)}>
                cleaned: {m.label}
              </button>
            ))}
          </div>
        )}
        {!cell && <p>Tap where a product meets a surface.</p>}
        <ul>
          {done.map((d) => {
            const s = SURFACES.find((x) => x.id === d.surface)!
            return (
              <li
                className="flex flex-wrap items-center gap-8 border-b border-b-line px-0 py-8 leading-tight"
                key={d.id}
              >
                <span className="w-full">
                  {s.label}, {methodInfo(d.method).label}
                  <span className="block text-small text-soft">ends when: {s.doneWhen}</span>
                </span>
                {s.drySeconds > 0 && !d.passed ? (
                  <StartTimer file={file} label={`${s.label} drying`} kind="drying" seconds={s.drySeconds} />
                ) : (
                  <span />
                )}
                <Tick
                  checked={d.passed}
                  onChange={() =>
                    write('steps', d.id, {
                      ...ownFields(d),
                      passed: !d.passed,
                      afterRound: d.passed ? null : lastRound(file),
                    })
                  }
                >
                  {d.passed ? 'ended' : 'ends there'}
                </Tick>
              </li>
            )
          })}
        </ul>
      </section>
    </div>
  )
}

/** Needed, lost and left, as three figures and a sentence. */
export function Deposits({ file }: { file: VisitFile }) {
  const d = visitDeposits(file, lastRound(file))
  if (!d)
    return (
      <p className="text-soft text-small">
        Speed, opening and airflow (or pressure) at idle tell how much opening is lost; a recording with an overrun
        gives the closed reading.
      </p>
    )
  return (
    <div className="deposits">
      <div className="mb-8 gap-12 grid grid-cols-3">
        <p>
          <span className="fig text-share leading-none">{d.neededMm2.toFixed(0)}</span>{' '}
          <span className="text-small">mm² needed</span>
        </p>
        {d.lost && (
          <p>
            <span className="fig text-share leading-none">{d.lost.mm2.median.toFixed(0).replace('-', '−')}</span>{' '}
            <span className="text-small">
              mm² lost
              <br />({d.lost.mm2.low.toFixed(0).replace('-', '−')} to {d.lost.mm2.high.toFixed(0).replace('-', '−')})
            </span>
          </p>
        )}
        <p>
          <span className="fig text-share leading-none">{(100 * d.authority).toFixed(0)}</span>{' '}
          <span className="text-small">% authority left</span>
        </p>
      </div>
      <p className="text-small">
        {d.why}{' '}
        {d.learnt || !d.lost
          ? ''
          : 'This car’s clean opening is not on record: the closed reading is taken as 0 %, so the figures are wide.'}
      </p>
    </div>
  )
}
