import { ChevronLeft } from 'lucide-react'
import { Link, useParams } from 'react-router'
import { describeEngine, DRIVING_WORDS, DRIVINGS, stationInfo, type Driving, type VehicleRecord } from '@uvula/core'
import { Tick } from '../kit/Tick.js'
import { overlayList } from '../store/shopRecords.js'
import { Drift } from './Drift.js'
import { Fills } from './Fills.js'
import { Delivery } from '../parts/Delivery.js'
import { EngineDrawing } from '../parts/EngineDrawing.js'
import { NewVisit } from './NewVisit.js'
import { ownFields, useCard, useOutbox } from '../store/visit.js'
import { writeShopRecord } from '../store/shopRecords.js'
import { sayDay } from '../words/format.js'
import { Failing, Waiting } from '../parts/States.js'

/** One vehicle: earlier visits, and what was mended for now only. */
export function Card() {
  const { id = '' } = useParams()
  const { card, error } = useCard(id)
  const { writes } = useOutbox()
  if (error && !card) return <Failing error={error} />
  if (!card) return <Waiting what="the car" />
  const { vehicle, temporary, history, nextLook } = card
  const fills = overlayList(card.fills, writes, 'fills').filter((f) => f.vehicleId === vehicle.id)
  const worked = history
    .filter((h) => h.done.length > 0)
    .at(-1)
    ?.openedAt.slice(0, 10)
  return (
    <div className="p-gap gap-20 max-w-1280 grid grid-cols-[minmax(0,1fr)] narrow:p-16">
      <header className="pb-10 border-b-2 border-b-ink gap-16 flex items-center narrow:flex-wrap narrow:gap-8">
        <Link to="/" className="w-tap h-tap grid place-items-center" aria-label="to the bay">
          <ChevronLeft size={30} aria-hidden />
        </Link>
        <h1 className="mr-auto text-name font-semibold">
          {vehicle.spec.name} <span className="text-soft">{vehicle.plate}</span>
        </h1>
        <span>{vehicle.customer}</span>
        <Delivery />
        {(temporary.length > 0 || nextLook.dueOn !== undefined) && (
          <a className="act" href={`/api/vehicles/${encodeURIComponent(vehicle.id)}/calendar.ics`} download="due.ics">
            due dates
          </a>
        )}
        <NewVisit vehicle={vehicle} />
      </header>
      <main className="contents">
        {temporary.map((t) => (
          <p key={t.visitId + t.station} className="due px-14 py-8 border-l-6 border-l-ink">
            <b>{stationInfo(t.station).label}</b>: {t.kind}, for now only. Look again by{' '}
            <b>{t.recheckOn ? sayDay(t.recheckOn) : 'no day set'}</b>.
          </p>
        ))}
        {card.left && card.left.lines.length > 0 && (
          <section>
            <h2 className="text-small text-soft">left on {sayDay(card.left.openedAt)}</h2>
            {card.left.lines.map((l) => (
              <p key={l}>{l}</p>
            ))}
          </section>
        )}
        <div className="gap-40 grid grid-cols-[minmax(0,1fr)_380px] narrow:grid-cols-1">
          <section>
            <p className="mb-14 border-l-6 border-l-ink pl-12 text-lead leading-snug">{nextLook.say}</p>
            <Drift rows={history} />
            <h2 className="text-soft text-small">visits</h2>
            <ol>
              {[...history].reverse().map((h) => (
                <li key={h.visitId}>
                  <Link
                    className="border-b border-b-line gap-16 grid grid-cols-[130px_minmax(0,1fr)_210px] min-h-tap items-center py-4 leading-tight no-underline narrow:grid-cols-[110px_minmax(0,1fr)]"
                    to={`/visit/${encodeURIComponent(h.visitId)}`}
                  >
                    <b>{h.openedAt.slice(0, 10)}</b>
                    <span>
                      {h.complaint}
                      {h.done.length > 0 && (
                        <span className="block text-small text-soft">done: {h.done.join('; ')}</span>
                      )}
                      {h.promised.map((p) => (
                        <span key={p} className="block text-small text-soft">
                          promised: {p}
                        </span>
                      ))}
                    </span>
                    <span className="text-soft narrow:col-start-2">
                      {h.state === 'open' ? 'in the bay' : 'handed over'}
                      {h.odometerKm ? `, ${h.odometerKm.toLocaleString('en')} km` : ''}
                    </span>
                  </Link>
                </li>
              ))}
            </ol>
            <Fills vehicleId={vehicle.id} fills={fills} workedOn={worked} />
          </section>
          <section>
            <h2 className="text-soft text-small">{describeEngine(vehicle.spec)}</h2>
            <EngineDrawing vehicle={vehicle.spec} />
            <DrivenHow vehicle={vehicle} />
          </section>
        </div>
      </main>
    </div>
  )
}

/** How it is driven: the way to its next look follows from it where no trend tells. */
function DrivenHow({ vehicle }: { vehicle: VehicleRecord }) {
  const { writes } = useOutbox()
  const [now = vehicle] = overlayList([vehicle], writes, 'vehicles').filter((v) => v.id === vehicle.id)
  const driving = now.spec.driving ?? []
  const set = (d: Driving, on: boolean): void =>
    writeShopRecord('vehicles', vehicle.id, vehicle.version, {
      ...ownFields(now),
      spec: { ...now.spec, driving: on ? [...driving, d] : driving.filter((x) => x !== d) },
    })
  return (
    <div role="group" aria-label="how it is driven" className="mt-14 grid gap-6">
      <h2 className="text-small text-soft">how it is driven</h2>
      {DRIVINGS.map((d) => (
        <Tick key={d} checked={driving.includes(d)} onChange={(on) => set(d, on)}>
          {DRIVING_WORDS[d]}
        </Tick>
      ))}
    </div>
  )
}
