import { commandedFuelPct, MANY_ROWS, trimStop, type OperatingPoint } from '../signals/index.js'
import { requireRange } from '../statistics/index.js'
import { CHANGE_RULES, type ChangeRule, type ProofQuantity } from './rules.js'

/** Where a figure belongs. */
export interface Belongs {
  readonly min: number
  readonly max: number
}

/** How far a figure lies outside of where it belongs; 0 inside. */
export const outside = (x: number, b: Belongs): number => Math.max(b.min - x, x - b.max, 0)

/** Of a trim that stands at its stop a change of the mixture need not show: unless one is seen all the same, nothing is told. */
export type Verdict = 'better' | 'worse' | 'changed' | 'no change seen' | 'at its stop'

/** When a trim stood at a stop: what it reads there is a bound, and no value. */
export type AtStop = 'before' | 'after' | 'both'

/** One quantity at one matched point, before and after. */
export interface Change {
  readonly kind: OperatingPoint['kind']
  readonly rpm: number
  readonly quantity: ProofQuantity
  readonly label: string
  readonly unit: string
  readonly before: number
  readonly after: number
  /** Where the figure belongs, when a band says it. */
  readonly belongs?: Belongs
  readonly difference: number
  /** Half width of the 90 % interval of the difference. */
  readonly uncertainty: number
  /** Half width of the 90 % interval of either figure by itself, the larger. */
  readonly eachUncertainty: number
  /** A smaller change could not have been seen at this point alone. */
  readonly leastSeen: number
  readonly verdict: Verdict
  /** Left out where no trim stands at a stop; a difference that is seen all the same is the least there can be. */
  readonly atStop?: AtStop
}

/** Half width of a 90 % interval in standard deviations [–]. */
const NINETY = 1.645

/**
 * Judges one difference by itself: sampling error and between-run variation in quadrature, against zero and
 * against the least change worth having. A change smaller than either is "no change seen".
 *
 * @param belongs - where the figure belongs: then nearer to it is better, whatever the rule says of a direction
 * @param errors - standard errors of the two means from the samples alone; 0 for typed readings
 * @throws RangeError naming the error that is below 0
 */
export function judgeChange(
  rule: ChangeRule,
  before: number,
  after: number,
  errors: { readonly before: number; readonly after: number } = { before: 0, after: 0 },
  belongs?: Belongs,
): Pick<Change, 'difference' | 'uncertainty' | 'eachUncertainty' | 'leastSeen' | 'verdict'> {
  requireRange('errors.before', errors.before, errors.before >= 0, '≥ 0')
  requireRange('errors.after', errors.after, errors.after >= 0, '≥ 0')
  const scale = rule.relative ? Math.abs(before) : 1
  const [b, a] = [errors.before, errors.after].map((e) => Math.hypot(e, rule.betweenRuns * scale))
  const uncertainty = NINETY * Math.hypot(b, a)
  const difference = after - before
  const leastSeen = Math.max(uncertainty, rule.worthHaving * scale)
  const seen = Math.abs(difference) > uncertainty && Math.abs(difference) >= rule.worthHaving * scale
  return {
    difference,
    uncertainty,
    eachUncertainty: NINETY * Math.max(b, a),
    leastSeen,
    verdict: seen ? direction(rule, before, after, belongs) : 'no change seen',
  }
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

const ALL = CHANGE_RULES.map((r) => r.quantity)
/** What a point of a kind can be compared by: in a moment nothing stands, and what an engine at rest shows is its sensors;
 * a snap is its own figures. */
const SAYS: Readonly<Record<OperatingPoint['kind'], readonly ProofQuantity[]>> = {
  idle: ALL,
  'idle-load': ALL,
  hold: ALL,
  // a hill moves what stands ahead of the plate as much as any work does
  cruise: ALL.filter((q) => q !== 'charge_kpa'),
  pull: ['maf_gs', 'map_kpa', 'gauge_vacuum_kpa', 'charge_kpa', 'fuel_full_pct'],
  'key-on': ['map_kpa', 'charge_kpa'],
  'engine-off': ['map_kpa', 'charge_kpa'],
  snap: ['pedal_delay_s', 'plate_delay_s', 'settle_s', 'dip_rpm'],
  deceleration: [],
  cold: [],
}

/** Points that are told apart by their speed; the others are one of their kind, whatever a remedy made of their speed. */
const AT_A_SPEED: readonly OperatingPoint['kind'][] = ['hold', 'cruise', 'pull', 'deceleration', 'cold']
/** Speed within which two points are the same point [share]. */
const SAME_SPEED = 0.08

/** Whether a point of another run is the same one again. */
export const isSamePoint = (b: OperatingPoint, a: OperatingPoint): boolean =>
  a.kind === b.kind && (!AT_A_SPEED.includes(b.kind) || Math.abs(a.rpm - b.rpm) <= SAME_SPEED * Math.max(b.rpm, 1))

/** How far pulls may lie apart in speed and be held against each other all the same [log]: an engine that is held back is not taken as far. */
const PULLS_APART = 0.35
/** A pull above this pressure is boosted: there the air of a turn goes with its speed [kPa]. */
const BOOSTED_KPA = 105
/** How far the air of one turn of an open plate, and the pressure behind it, go with speed, one standard deviation by its log [–, kPa]; ours. */
const BY_SPEED = { share: 0.25, kpa: 8 } as const

const isBoosted = (p: OperatingPoint): boolean => Math.max(p.means.map_kpa ?? 0, p.means.charge_kpa ?? 0) > BOOSTED_KPA

/** Whether two pulls at other speeds may be held against each other: by the air of one turn, and by pressure. */
const isLikePull = (b: OperatingPoint, a: OperatingPoint): boolean =>
  b.kind === 'pull' &&
  a.kind === 'pull' &&
  b.rpm > 0 &&
  a.rpm > 0 &&
  Math.abs(Math.log(a.rpm / b.rpm)) <= PULLS_APART &&
  !isBoosted(b) &&
  !isBoosted(a)

/** Each point of a run with its own one of the other: the nearest in speed where several could be, each once. */
function paired(
  before: readonly OperatingPoint[],
  after: readonly OperatingPoint[],
): ReadonlyMap<OperatingPoint, OperatingPoint> {
  const apart = (b: OperatingPoint, a: OperatingPoint): number => Math.abs(a.rpm - b.rpm)
  const could = before
    .flatMap((b) => after.filter((a) => isSamePoint(b, a) || isLikePull(b, a)).map((a) => [b, a] as const))
    .sort((x, y) => apart(...x) - apart(...y))
  const out = new Map<OperatingPoint, OperatingPoint>()
  const taken = new Set<OperatingPoint>()
  for (const [b, a] of could) {
    if (out.has(b) || taken.has(a)) continue
    out.set(b, a)
    taken.add(a)
  }
  return out
}

/**
 * Pairs points of the same kind, and for holds and cruises of the same speed; pulls of other speeds by the air of one turn. Judges every quantity both
 * have. Load and opening are not matched on: the remedy itself may change them. Idle speed may too.
 * @param idleBand - speeds at which this engine belongs to idle [rpm]; left out, a changed speed is neither better nor worse
 */
export function compareRuns(
  before: readonly OperatingPoint[],
  after: readonly OperatingPoint[],
  idleBand?: Belongs,
): Change[] {
  const out: Change[] = []
  const pairs = paired(before, after)
  for (const b of before) {
    const a = pairs.get(b)
    if (!a) continue
    for (const rule of CHANGE_RULES) {
      const [x, read] = [figureOf(b, rule.quantity), figureOf(a, rule.quantity)]
      if (x === undefined || read === undefined) continue
      const far = isSamePoint(b, a) ? 0 : Math.abs(Math.log(a.rpm / b.rpm))
      const isAir = rule.quantity === 'maf_gs'
      const y = far && isAir ? (read * b.rpm) / a.rpm : read
      const ofIdle = rule.quantity === 'rpm' || rule.quantity === 'wander_rpm'
      if (ofIdle && b.kind !== 'idle' && b.kind !== 'idle-load') continue
      if (!SAYS[b.kind].includes(rule.quantity)) continue
      const bySpeed = rule.quantity === 'fuel_full_pct' ? 0 : far * (isAir ? BY_SPEED.share * y : BY_SPEED.kpa)
      const errors = {
        before: meanError(b, rule.quantity),
        after: Math.hypot(meanError(a, rule.quantity), bySpeed),
      }
      const belongs = rule.quantity === 'rpm' && b.kind === 'idle' ? idleBand : rule.belongs
      const judged = judgeChange(rule, x, y, errors, belongs)
      const stops = { before: stopOf(b, rule.quantity, before), after: stopOf(a, rule.quantity, after) }
      const atStop = stops.before ? (stops.after ? 'both' : 'before') : stops.after && 'after'
      out.push({
        ...(belongs ? { belongs } : {}),
        kind: b.kind,
        rpm: b.rpm,
        quantity: rule.quantity,
        label: far && isAir ? `${rule.label}, reckoned to that speed` : rule.label,
        unit: rule.unit,
        before: x,
        after: y,
        ...judged,
        ...(atStop ? { atStop } : {}),
        ...(atStop && (judged.verdict === 'no change seen' || stops.before === stops.after)
          ? { verdict: 'at its stop' as const }
          : {}),
      })
    }
  }
  return out
}

/** Stop at which a total trim stands, if it does. */
const stopOf = (p: OperatingPoint, q: ProofQuantity, beside: readonly OperatingPoint[]): 1 | -1 | undefined =>
  q === 'trim1_pct' ? trimStop(p, 1, beside) : q === 'trim2_pct' ? trimStop(p, 2, beside) : undefined

/** A figure of a point; the wander is the spread of its speed, where enough of it was recorded. */
function figureOf(p: OperatingPoint, q: ProofQuantity): number | undefined {
  if (q === 'wander_rpm') return p.n >= MANY_ROWS && (p.sds.rpm ?? 0) > 0 ? p.sds.rpm : undefined
  if (q === 'fuel_full_pct') return commandedFuelPct(p)
  // what is taken with an instrument of its own stands on no point
  return q === 'pump_loss' || q === 'throttle_spread' ? undefined : p.means[q]
}

/** Rows that hang together, and time: polled trims swing through a whole cycle in about this many, at the usual 0.4 s. */
const CORRELATED_ROWS = 8
const CORRELATED_S = 3.2

/** Stretches of a point that know nothing of each other: a faster poll tells the same swing by more rows. */
function independent(p: OperatingPoint): number {
  const byTime = p.endS > p.startS ? (p.endS - p.startS) / CORRELATED_S : Infinity
  return Math.max(1, Math.min(p.n / CORRELATED_ROWS, byTime))
}

/** Standard error of a point's mean; correlated rows count by their number of independent stretches. */
function meanError(p: OperatingPoint, q: ProofQuantity): number {
  if (q === 'wander_rpm' || q === 'pump_loss' || q === 'throttle_spread' || q === 'fuel_full_pct') return 0
  const sd = p.sds[q]
  // of a moment the error itself is kept
  if (p.kind === 'snap') return sd ?? 0
  return sd === undefined ? 0 : sd / Math.sqrt(independent(p))
}

/** How a total trim stands: ±5 % good, ±10 % acceptable. */
export function trimBand(pct: number): 'good' | 'acceptable' | 'outside' {
  requireRange('pct', pct, true, 'a number')
  // as it is shown: 1.00 × 1.10 is no more than 10.0 %
  const a = Number(Math.abs(pct).toFixed(1))
  return a <= 5 ? 'good' : a <= 10 ? 'acceptable' : 'outside'
}
