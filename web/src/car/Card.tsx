import { ChevronLeft } from 'lucide-react'
import { Link, useParams } from 'react-router'
import { complaintOf, describeEngine, stationInfo } from '@uvula/core'
import { EngineDrawing } from '../parts/EngineDrawing.js'
import { NewVisit } from './NewVisit.js'
import { useCard } from '../store/visit.js'
import { sayDay } from '../words/format.js'
import { Failing, Waiting } from '../parts/States.js'

/** One vehicle: earlier visits, and what was mended for now only. */
export function Card() {
  const { id = '' } = useParams()
  const { card, error } = useCard(id)
  if (error && !card) return <Failing error={error} />
  if (!card) return <Waiting what="the car" />
  const { vehicle, visits, temporary } = card
  return (
    <div className="p-gap gap-20 max-w-1280 grid narrow:p-16">
      <header className="pb-10 border-b-2 border-b-ink gap-16 flex items-center">
        <Link to="/" className="w-tap h-tap grid place-items-center" aria-label="to the bay">
          <ChevronLeft size={30} aria-hidden />
        </Link>
        <h1 className="mr-auto text-name font-semibold">
          {vehicle.spec.name} <span className="text-soft">{vehicle.plate}</span>
        </h1>
        <span>{vehicle.customer}</span>
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
            <h2 className="text-soft text-small">visits</h2>
            <ol>
              {visits.map((v) => (
                <li key={v.id}>
                  <Link
                    className="border-b border-b-line gap-16 grid grid-cols-[130px_1fr_240px] min-h-tap items-center no-underline narrow:grid-cols-[110px_1fr]"
                    to={`/visit/${encodeURIComponent(v.id)}`}
                  >
                    <b>{sayDay(v.openedAt)}</b>
                    <span>{complaintOf(v)}</span>
                    <span className="text-soft">
                      {v.state === 'open' ? 'in the bay' : 'handed over'}
                      {v.odometerKm ? `, ${v.odometerKm.toLocaleString('en')} km` : ''}
                    </span>
                  </Link>
                </li>
              ))}
            </ol>
          </section>
          <section>
            <h2 className="text-soft text-small">{describeEngine(vehicle.spec)}</h2>
            <EngineDrawing vehicle={vehicle.spec} />
          </section>
        </div>
      </main>
    </div>
  )
}
