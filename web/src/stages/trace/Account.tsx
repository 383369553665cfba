import { stationInfo, type VisitLedger } from '@uvula/core'

const W = 460
/** Steps of its scale [mm²]. */
const STEPS_MM2 = [0.2, 0.5, 1, 2, 5, 10, 20, 50]

/** The account of unmetered air as one bar: mended, found, not accounted for. */
export function Account({
  account,
  ofAir,
}: {
  account: VisitLedger
  /** What the readings point to lets air in, or nothing is pointed to. */
  ofAir: boolean
}) {
  const { before, now, entries, ledger } = account
  const scale = Math.max(before.areaMm2.high, ledger.locatedMm2, 1) * 1.08
  const X = (mm2: number): number => 10 + (mm2 / scale) * (W - 20)
  const parts = entries.filter((e) => e.areaMm2 !== undefined)
  const steps = parts.map((e, i) => {
    const from = parts.slice(0, i).reduce((s, p) => s + p.areaMm2!, 0)
    return { e, from, to: from + e.areaMm2! }
  })
  const step = STEPS_MM2.find((s) => scale / s <= 6) ?? STEPS_MM2[STEPS_MM2.length - 1]
  const ticks = Array.from({ length: Math.floor(scale / step) + 1 }, (_, i) => step * i)
  return (
    <figure className="account">
      <figcaption className="text-soft text-small">
        account of unmetered air{ofAir ? '' : ', were it air'}, mm² effective at idle
      </figcaption>
      <svg
        className="chart wide"
        viewBox={`0 0 ${W} 118`}
        role="img"
        aria-label={`unmetered air ${before.areaMm2.median.toFixed(1)} square millimetres before, ${now.areaMm2.median.toFixed(1)} now`}
      >
        <rect x={X(0)} y={26} width={X(before.areaMm2.median) - X(0)} height={26} className="account-all" />
        {steps.map(({ e, from, to }) => (
          <rect
            key={e.station}
            x={X(from)}
            y={26}
            width={Math.max(2, X(to) - X(from))}
            height={26}
            className={e.repaired ? 'account-mended' : 'account-found'}
          >
            <title>{stationInfo(e.station).label}</title>
          </rect>
        ))}
        <path
          d={`M ${X(before.areaMm2.low)} 39 H ${X(before.areaMm2.high)} M ${X(before.areaMm2.low)} 32 v 14 M ${X(before.areaMm2.high)} 32 v 14`}
          className="chart-line"
        />
        <text x={X(before.areaMm2.median)} y={19} textAnchor="middle">
          {before.atLeast ? 'at least ' : ''}
          {before.areaMm2.median.toFixed(1)} at first
        </text>
        {now.round > 0 && (
          <>
            <path d={`M ${X(now.areaMm2.median) - 9} 74 h 18 l -9 -16 Z`} className="ring-fill" />
            <path d={`M ${X(now.areaMm2.low)} 66 H ${X(now.areaMm2.high)}`} className="chart-line" />
            <text x={Math.min(W - 60, X(now.areaMm2.median) + 14)} y={80}>
              {now.atLeast ? 'at least ' : ''}
              {now.areaMm2.median.toFixed(1)} now
            </text>
          </>
        )}
        {ticks.map((t) => (
          <g key={t}>
            <line x1={X(t)} x2={X(t)} y1={88} y2={96} className="chart-tick" />
            <text x={X(t)} y={114} textAnchor="middle">
              {t.toFixed(step < 1 ? 1 : 0)}
            </text>
          </g>
        ))}
        <line x1={X(0)} x2={X(scale)} y1={88} y2={88} className="chart-tick" />
      </svg>
      <p className="text-small">
        {ledger.unsized.length > 0 &&
          `Found without a size: ${ledger.unsized.map((s) => stationInfo(s).label).join(', ')}. `}
        {ledger.excess &&
          'More was found than the readings show: one of these is not a leak, or the readings are old. '}
        {account.accounted
          ? 'What is left is within what a sound engine shows.'
          : now.round > 0
            ? ofAir
              ? 'What is left is more than a sound engine shows: there is another place.'
              : 'What is left is more than a sound engine shows, and by the readings it need not be air.'
            : `Without a place: ${before.atLeast ? 'at least ' : ''}${ledger.remaining.median.toFixed(1)} mm² (${ledger.remaining.low.toFixed(1)} to ${ledger.remaining.high.toFixed(1)}).`}
      </p>
    </figure>
  )
}
