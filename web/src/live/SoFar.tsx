import { faultOf, holeDiameterMm, type Diagnosis } from '@uvula/core'
import { sayShare } from '../words/format.js'

/** What it most likely is by the points got so far; it moves as they come. */
export function SoFar({ diagnosis, points }: { diagnosis: Diagnosis | undefined; points: number }) {
  if (!diagnosis) return <div className="progress" role="progressbar" aria-label="working it out" />
  const area = diagnosis.ranking[0].effectiveAreaMm2
  const warning = diagnosis.warnings.find((w) => w.code === 'none-of-these-explains-it')
  return (
    <section className="so-far" aria-label="what it most likely is" data-points={points}>
      <ol>
        {diagnosis.ranking.slice(0, 3).map((r, i) => (
          <li key={r.fault} data-fault={r.fault} className={i === 0 ? 'lead' : ''}>
            <span className="fig">
              {sayShare(r.probability)}
              <small> %</small>
            </span>
            <span>{faultOf(r.fault).label}</span>
          </li>
        ))}
      </ol>
      {area && diagnosis.ranking[0].probability > 0.4 && (
        <p>
          As a hole of <b className="fig">{holeDiameterMm(area.median).toFixed(1)} mm</b>, {area.low.toFixed(1)} to{' '}
          {area.high.toFixed(1)} mm²
        </p>
      )}
      {warning && <p className="wrong small">{warning.message}</p>}
      <p className="soft small">
        by {points === 0 ? 'no recorded point' : points === 1 ? 'one recorded point' : `${points} recorded points`} and
        what the visit holds
      </p>
    </section>
  )
}
