import { ChevronLeft } from 'lucide-react'
import { Link, useParams } from 'react-router'
import { describeEngine, stationInfo } from '@uvula/core'
import { EngineDrawing } from '../parts/EngineDrawing.js'
import { useCard } from '../store/visit.js'
import { sayDay } from '../words/format.js'
import { Failing, Waiting } from './States.js'
import './bay.css'

/** One vehicle: earlier visits, and what was mended for now only. */
export function Card() {
  const { id = '' } = useParams()
  const { card, error } = useCard(id)
  if (error && !card) return <Failing error={error} />
  if (!card) return <Waiting what="the car" />
  const { vehicle, visits, temporary } = card
  return (
    <div className="page">
      <header className="page-head">
        <Link to="/" className="back" aria-label="to the bay">
          <ChevronLeft size={30} aria-hidden />
        </Link>
        <h1>
          {vehicle.spec.name} <span className="soft">{vehicle.plate}</span>
        </h1>
        <span>{vehicle.customer}</span>
      </header>
      {temporary.map((t) => (
        <p key={t.visitId + t.station} className="due">
          <b>{stationInfo(t.station).label}</b>: {t.kind}, for now only. Look again by{' '}
          <b>{t.recheckOn ? sayDay(t.recheckOn) : 'no day set'}</b>.
        </p>
      ))}
      <div className="card-body">
        <section>
          <h2 className="soft small">visits</h2>
          <ol className="card-visits">
            {visits.map((v) => (
              <li key={v.id}>
                <Link to={`/visit/${encodeURIComponent(v.id)}`}>
                  <b>{sayDay(v.openedAt)}</b>
                  <span>{v.complaint || 'check-up'}</span>
                  <span className="soft">
                    {v.state === 'open' ? 'in the bay' : 'handed over'}
                    {v.odometerKm ? `, ${v.odometerKm.toLocaleString('en')} km` : ''}
                  </span>
                </Link>
              </li>
            ))}
          </ol>
        </section>
        <section>
          <h2 className="soft small">{describeEngine(vehicle.spec)}</h2>
          <EngineDrawing vehicle={vehicle.spec} />
        </section>
      </div>
    </div>
  )
}
