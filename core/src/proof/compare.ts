import type { OperatingPoint } from '../signals/index.js'
import { requireRange } from '../statistics/index.js'

/** Quantities compared before and after. */
export type ProofQuantity =
  | 'trim1_pct'
  | 'trim2_pct'
  | 'maf_gs'
  | 'map_kpa'
  | 'gauge_vacuum_kpa'
  | 'rpm'
  | 'wander_rpm'
  | 'throttle_pct'
  | 'idle_valve_pct'

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
    quantity: 'wander_rpm',
    label: 'wander of the idle',
    unit: 'rpm',
    betweenRuns: 0.15,
    worthHaving: 0.3,
    relative: true,
    better: 'lower',
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

/** Where a figure belongs. */
export interface Belongs {
  readonly min: number
  readonly max: number
}

/** How far a figure lies outside of where it belongs; 0 inside. */
const outside = (x: number, b: Belongs): number => Math.max(b.min - x, x - b.max, 0)

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
 * @param belongs - where the figure belongs: then nearer to it is better, whatever the rule says of a direction
 * @param standardError - of the difference of the two means, from the samples alone; 0 for typed readings
 */
export function judgeChange(
  rule: ChangeRule,
  before: number,
  after: number,
  standardError: number,
  belongs?: Belongs,
): Pick<Change, 'difference' | 'uncertainty' | 'verdict'> {
  requireRange('standardError', standardError, standardError >= 0, '≥ 0')
  const scale = rule.relative ? Math.abs(before) : 1
  // both runs vary: √2 of one run's variation
  const sd = Math.hypot(standardError, Math.SQRT2 * rule.betweenRuns * scale)
  const uncertainty = 1.645 * sd
  const difference = after - before
  const seen = Math.abs(difference) > uncertainty && Math.abs(difference) >= rule.worthHaving * scale
  return { difference, uncertainty, verdict: seen ? direction(rule, before, after, belongs) : 'no change seen' }
}

function direction(rule: ChangeRule, before: number, after: number, belongs?: Belongs): Verdict {
  if (belongs) {
    const [was, is] = [outside(before, belongs), outside(after, belongs)]
    return is < was ? 'better' : is > was ? 'worse' : 'changed'
  }
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
 * @param idleBand - speeds at which this engine belongs to idle [rpm]; left out, a changed speed is neither better nor worse
 */
export function compareRuns(
  before: readonly OperatingPoint[],
  after: readonly OperatingPoint[],
  idleBand?: Belongs,
): Change[] {
  const out: Change[] = []
  for (const b of before) {
    const a = after.find(
      (x) =>
        x.kind === b.kind &&
        (b.kind === 'idle' || b.kind === 'idle-load' || Math.abs(x.rpm - b.rpm) <= SAME_SPEED * Math.max(b.rpm, 1)),
    )
    if (!a) continue
    for (const rule of CHANGE_RULES) {
      const [x, y] = [figureOf(b, rule.quantity), figureOf(a, rule.quantity)]
      if (x === undefined || y === undefined) continue
      const ofIdle = rule.quantity === 'rpm' || rule.quantity === 'wander_rpm'
      if (ofIdle && b.kind !== 'idle' && b.kind !== 'idle-load') continue
      const se = Math.hypot(meanError(b, rule.quantity), meanError(a, rule.quantity))
      const belongs = rule.quantity === 'rpm' && b.kind === 'idle' ? idleBand : undefined
      out.push({
        kind: b.kind,
        rpm: b.rpm,
        quantity: rule.quantity,
        label: rule.label,
        unit: rule.unit,
        before: x,
        after: y,
        ...judgeChange(rule, x, y, se, belongs),
      })
    }
  }
  return out
}

/** Rows from which on the spread of a point says how far it wanders. */
const WANDER_ROWS = 20

/** A figure of a point; the wander is the spread of its speed, where enough of it was recorded. */
function figureOf(p: OperatingPoint, q: ProofQuantity): number | undefined {
  if (q === 'wander_rpm') return p.n >= WANDER_ROWS && (p.sds.rpm ?? 0) > 0 ? p.sds.rpm : undefined
  return p.means[q]
}

/** Rows that hang together: polled trims swing through a whole cycle in about this many. */
const CORRELATED_ROWS = 8

/** Standard error of a point's mean; correlated rows count by their number of independent stretches. */
function meanError(p: OperatingPoint, q: ProofQuantity): number {
  const sd = q === 'wander_rpm' ? undefined : p.sds[q]
  return sd === undefined ? 0 : sd / Math.sqrt(Math.max(1, p.n / CORRELATED_ROWS))
}

/** How a total trim stands: ±5 % good, ±10 % acceptable. */
export function trimBand(pct: number): 'good' | 'acceptable' | 'outside' {
  requireRange('pct', pct, true, 'a number')
  const a = Math.abs(pct)
  return a <= 5 ? 'good' : a <= 10 ? 'acceptable' : 'outside'
}
