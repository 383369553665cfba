import { faultOf, holeDiameterMm, isGrave, type Diagnosis, type OperatingPoint } from '@uvula/core'
import { Working } from '../kit/Working.js'
import { TrimChart } from '../charts/TrimChart.js'
import { sayShare } from '../words/format.js'

/** Causes of which an area is a hole. */
const LEAKS: readonly string[] = ['unmetered-air', 'unmetered-air-bank']

/** What it most likely is by the points got so far; it moves as they come. */
export function SoFar({ diagnosis, points }: { diagnosis: Diagnosis | undefined; points: readonly OperatingPoint[] }) {
  if (!diagnosis) return <Working label="working it out" />
  const area = diagnosis.ranking[0].effectiveAreaMm2
  const warning = diagnosis.warnings.find(isGrave)
  return (
    <section className="so-far" aria-label="what it most likely is" data-points={points.length}>
      <ol>
        {diagnosis.ranking.slice(0, 3).map((r, i) => (
          <li
            key={r.fault}
            data-fault={r.fault}
            className={`border-b border-b-line grid grid-cols-[96px_1fr] items-center leading-tight ${i === 0 ? 'font-semibold min-h-76 text-lead' : 'min-h-48'}`}
          >
            <span className={`fig whitespace-nowrap ${i === 0 ? 'text-clock' : 'text-figure'}`}>
              {sayShare(r.probability)}
              <small className="font-medium text-small font-word"> %</small>
            </span>
            <span>{faultOf(r.fault).label}</span>
          </li>
        ))}
      </ol>
      {area && diagnosis.ranking[0].probability > 0.4 && (
        <p className="pt-8">
          <b className="fig">{area.median.toFixed(1)} mm²</b>, {area.low.toFixed(1)} to {area.high.toFixed(1)}
          {LEAKS.includes(diagnosis.ranking[0].fault) && `: a hole of ${holeDiameterMm(area.median).toFixed(1)} mm`}
        </p>
      )}
      {warning && <p className="wrong pt-8 text-small">{warning.message}</p>}
      <p className="pt-8 text-soft text-small">
        {points.length
          ? `by ${points.length} recorded point${points.length === 1 ? '' : 's'} and what the visit holds`
          : 'by what the visit holds; no point is recorded yet'}
      </p>
      {points.length > 0 && <TrimChart points={points} />}
    </section>
  )
}
