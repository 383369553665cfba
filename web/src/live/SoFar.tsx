import { faultOf, holeDiameterMm, type Diagnosis, type OperatingPoint } from '@uvula/core'
import { TrimChart } from '../parts/TrimChart.js'
import { sayShare } from '../words/format.js'

/** What it most likely is by the points got so far; it moves as they come. */
export function SoFar({ diagnosis, points }: { diagnosis: Diagnosis | undefined; points: readonly OperatingPoint[] }) {
  if (!diagnosis) return <div className="progress" role="progressbar" aria-label="working it out" />
  const area = diagnosis.ranking[0].effectiveAreaMm2
  const warning = diagnosis.warnings.find((w) => w.code === 'none-of-these-explains-it')
  return (
    <section className="so-far" aria-label="what it most likely is" data-points={points.length}>
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
          <b className="fig">{area.median.toFixed(1)} mm²</b>, {area.low.toFixed(1)} to {area.high.toFixed(1)}: a hole
          of {holeDiameterMm(area.median).toFixed(1)} mm
        </p>
      )}
      {warning && <p className="wrong small">{warning.message}</p>}
      <p className="soft small">
        by {points.length === 0 ? 'no' : points.length} recorded point{points.length === 1 ? '' : 's'} and what the
        visit holds
      </p>
      {points.length > 0 && <TrimChart points={points} />}
    </section>
  )
}
