import type { OperatingPoint } from '../signals/index.js'
import { requireRange } from '../statistics/index.js'

/** Quantities compared before and after. */
export type ProofQuantity =
  'trim1_pct' | 'trim2_pct' | 'maf_gs' | 'map_kpa' | 'gauge_vacuum_kpa' | 'rpm' | 'throttle_pct' | 'idle_valve_pct'

/** Variation between two runs of an unchanged car, one standard deviation, and the least change worth having. */
export interface ChangeRule {
  readonly quantity: ProofQuantity
  readonly label: string
  readonly unit: string
  readonly betweenRuns: number
  readonly worthHaving: number
  /** True when both figures are shares of the reading itself. */
  readonly relative: boolean
  /** What is better: nearer to 0, lower, higher, inside its band, or nothing by itself. */
  readonly better: 'zero' | 'lower' | 'higher' | 'none'
}

/** Between runs and worth having: stated starting figures, to be replaced by this shop's own. */
export const CHANGE_RULES: readonly ChangeRule[] = [
  {
    quantity: 'trim1_pct',
    label: 'total trim, bank 1',
    unit: '%',
    betweenRuns: 1.5,
    worthHaving: 3,
    relative: false,
    better: 'zero',
  },
  {
    quantity: 'trim2_pct',
    label: 'total trim, bank 2',
    unit: '%',
    betweenRuns: 1.5,
    worthHaving: 3,
    relative: false,
    better: 'zero',
  },
  {
    quantity: 'maf_gs',
    label: 'airflow',
    unit: 'g/s',
    betweenRuns: 0.02,
    worthHaving: 0.04,
    relative: true,
    better: 'none',
  },
  {
    quantity: 'map_kpa',
    label: 'manifold pressure',
    unit: 'kPa',
    betweenRuns: 1,
    worthHaving: 2,
    relative: false,
    better: 'none',
  },
  {
    quantity: 'gauge_vacuum_kpa',
    label: 'gauge vacuum',
    unit: 'kPa',
    betweenRuns: 1,
    worthHaving: 2,
    relative: false,
    better: 'none',
  },
  {
    quantity: 'rpm',
    label: 'idle speed',
    unit: 'rpm',
    betweenRuns: 15,
    worthHaving: 30,
    relative: false,
    better: 'none',
  },
  {
    quantity: 'throttle_pct',
    label: 'throttle opening',
    unit: '%',
    betweenRuns: 0.3,
    worthHaving: 0.6,
    relative: false,
    better: 'none',
  },
  {
    quantity: 'idle_valve_pct',
    label: 'idle valve',
    unit: '%',
    betweenRuns: 1.5,
    worthHaving: 4,
    relative: false,
    better: 'none',
  },
]

export type Verdict = 'better' | 'worse' | 'changed' | 'no change seen'

/** One quantity at one matched point, before and after. */
export interface Change {
  readonly kind: OperatingPoint['kind']
  readonly rpm: number
  readonly quantity: ProofQuantity
  readonly label: string
  readonly unit: string
  readonly before: number
  readonly after: number
  readonly difference: number
  /** Half width of the 90 % interval of the difference. */
  readonly uncertainty: number
  readonly verdict: Verdict
}

/**
 * Judges one difference: sampling error and between-run variation in quadrature, against zero and
 * against the least change worth having. A change smaller than either is "no change seen".
 *
 * @param standardError - of the difference of the two means, from the samples alone; 0 for typed readings
 */
export function judgeChange(
  rule: ChangeRule,
  before: number,
  after: number,
  standardError: number,
): Pick<Change, 'difference' | 'uncertainty' | 'verdict'> {
  requireRange('standardError', standardError, standardError >= 0, '≥ 0')
  const scale = rule.relative ? Math.abs(before) : 1
  // both runs vary: √2 of one run's variation
  const sd = Math.hypot(standardError, Math.SQRT2 * rule.betweenRuns * scale)
  const uncertainty = 1.645 * sd
  const difference = after - before
  const seen = Math.abs(difference) > uncertainty && Math.abs(difference) >= rule.worthHaving * scale
  return { difference, uncertainty, verdict: seen ? direction(rule, before, after) : 'no change seen' }
}

function direction(rule: ChangeRule, before: number, after: number): Verdict {
  switch (rule.better) {
    case 'zero':
      return Math.abs(after) < Math.abs(before) ? 'better' : 'worse'
    case 'lower':
      return after < before ? 'better' : 'worse'
    case 'higher':
      return after > before ? 'better' : 'worse'
    case 'none':
      return 'changed'
  }
}

/** Speed within which two points are the same point [share]. */
const SAME_SPEED = 0.08

/**
 * Pairs points of the same kind, and for holds and cruises of the same speed, and judges every quantity both
 * have. Load and opening are not matched on: the remedy itself may change them. Idle speed may too.
 */
export function compareRuns(before: readonly OperatingPoint[], after: readonly OperatingPoint[]): Change[] {
  const out: Change[] = []
  for (const b of before) {
    const a = after.find(
      (x) =>
        x.kind === b.kind &&
        (b.kind === 'idle' || b.kind === 'idle-load' || Math.abs(x.rpm - b.rpm) <= SAME_SPEED * Math.max(b.rpm, 1)),
    )
    if (!a) continue
    for (const rule of CHANGE_RULES) {
      const [x, y] = [b.means[rule.quantity], a.means[rule.quantity]]
      if (x === undefined || y === undefined) continue
      if (rule.quantity === 'rpm' && b.kind !== 'idle' && b.kind !== 'idle-load') continue
      const se = Math.hypot(meanError(b, rule.quantity), meanError(a, rule.quantity))
      out.push({
        kind: b.kind,
        rpm: b.rpm,
        quantity: rule.quantity,
        label: rule.label,
        unit: rule.unit,
        before: x,
        after: y,
        ...judgeChange(rule, x, y, se),
      })
    }
  }
  return out
}

/** Rows that hang together: polled trims swing through a whole cycle in about this many. */
const CORRELATED_ROWS = 8

/** Standard error of a point's mean; correlated rows count by their number of independent stretches. */
function meanError(p: OperatingPoint, q: ProofQuantity): number {
  const sd = p.sds[q]
  return sd === undefined ? 0 : sd / Math.sqrt(Math.max(1, p.n / CORRELATED_ROWS))
}

/** How a total trim stands: ±5 % good, ±10 % acceptable. */
export function trimBand(pct: number): 'good' | 'acceptable' | 'outside' {
  requireRange('pct', pct, true, 'a number')
  const a = Math.abs(pct)
  return a <= 5 ? 'good' : a <= 10 ? 'acceptable' : 'outside'
}
