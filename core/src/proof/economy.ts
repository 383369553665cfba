import { mean, requireRange, standardDeviation, type Interval } from '../statistics/index.js'

/** A fill as economy needs it. */
export interface Fill {
  /** yyyy-mm-dd */
  readonly on: string
  readonly odometerKm: number
  readonly litres: number
  readonly full: boolean
}

/** From brim to brim. */
export interface Tank {
  readonly from: string
  readonly to: string
  readonly km: number
  readonly litres: number
  /** [L/100 km] */
  readonly per100: number
}

/** Consumption before and after a day. */
export interface Economy {
  readonly before?: Interval
  readonly after?: Interval
  /** After less before [L/100 km]. */
  readonly change?: Interval
  readonly verdict: 'better' | 'worse' | 'no change seen' | 'too few'
  /** Part of the change that the season alone can make, by the months of the tanks [share of the first]. */
  readonly seasonShare?: number
  readonly tanks: { readonly before: number; readonly after: number; readonly across: number }
  readonly say: string
}

/** Liters that a tank or a can holds, and kilometres between two fills, at most. */
export const FILL_MOST = { litres: 400, km: 5000 } as const

/** What cannot be of a fill among the others, in words; undefined when nothing. */
export function fillProblem(fill: Fill, others: readonly Fill[]): string | undefined {
  if (!(fill.litres > 0) || fill.litres > FILL_MOST.litres)
    return `A fill is more than 0 and at most ${FILL_MOST.litres} L.`
  if (!(fill.odometerKm >= 0) || fill.odometerKm > 3_000_000) return 'An odometer shows 0 to 3,000,000 km.'
  const earlier = others.filter((x) => x.on < fill.on).map((x) => x.odometerKm)
  const later = others.filter((x) => x.on > fill.on).map((x) => x.odometerKm)
  if (earlier.some((km) => km > fill.odometerKm))
    return `The odometer runs backwards: an earlier fill stands at ${Math.max(...earlier)} km.`
  if (later.some((km) => km < fill.odometerKm))
    return `The odometer runs backwards: a later fill stands at ${Math.min(...later)} km.`
  return undefined
}

/** Tanks between brims: a part fill counts into the tank that ends at the next brim. */
export function tanksOf(fills: readonly Fill[]): Tank[] {
  const sorted = [...fills].sort((a, b) => a.odometerKm - b.odometerKm)
  const out: Tank[] = []
  let start: Fill | undefined
  let litres = 0
  for (const f of sorted) {
    litres += f.litres
    if (!f.full) continue
    const km = start ? f.odometerKm - start.odometerKm : 0
    if (start && km > 0 && km <= FILL_MOST.km)
      out.push({ from: start.on, to: f.on, km, litres, per100: (100 * litres) / km })
    start = f
    litres = 0
  }
  return out
}

/** Half of the swing of a year, warm engine or cold, summer or winter fuel and tyres [share]; ours. */
const SEASON = 0.05
/** Least spread from tank to tank of an unchanged car [share]; ours, until its own tanks say more. */
const TANK_SPREAD = 0.04
/** A change that is worth being told [share]. */
const WORTH = 0.05

/** 0.95 quantile of Student's t by degrees of freedom 1.. (Abramowitz and Stegun, table 26.10). */
const T95 = [6.314, 2.92, 2.353, 2.132, 2.015, 1.943, 1.895, 1.86, 1.833, 1.812, 1.796, 1.782, 1.771, 1.761, 1.753]
const t95 = (freedom: number): number => T95[Math.min(T95.length, Math.max(1, Math.floor(freedom))) - 1]

/** The season of a day as a share of its swing: 1 in the middle of January. */
const seasonOf = (day: string): number => Math.cos((2 * Math.PI * (Number(day.slice(5, 7)) - 1)) / 12)

/**
 * Consumption before and after a day, each with its 90 % interval. A tank that reaches over the day belongs to neither.
 * @param day - when the work was done, yyyy-mm-dd
 * @throws RangeError on a day that is none
 */
export function economyOf(fills: readonly Fill[], day: string): Economy {
  requireRange('day', Number(day.slice(0, 4)), /^\d{4}-\d{2}-\d{2}$/.test(day), 'yyyy-mm-dd')
  const all = tanksOf(fills)
  const [before, after] = [all.filter((t) => t.to <= day), all.filter((t) => t.from >= day)]
  const tanks = { before: before.length, after: after.length, across: all.length - before.length - after.length }
  const [b, a] = [before, after].map(levelOf)
  const sides = { ...(b ? { before: b.interval } : {}), ...(a ? { after: a.interval } : {}), tanks }
  if (!b || !a) {
    const owed = !b && !a ? 'on either side' : !b ? 'before the work' : 'after it'
    return {
      ...sides,
      verdict: 'too few',
      say: `No whole tank ${owed} yet: it takes two fills to the brim there. ${needed(before, after)}`,
    }
  }
  const sd = Math.hypot(b.error, a.error)
  const median = a.level - b.level
  const half = t95(before.length + after.length - 2 || 1) * sd
  const change = { median, low: median - half, high: median + half }
  const months = mean(after.map((t) => seasonOf(t.to))) - mean(before.map((t) => seasonOf(t.to)))
  const seasonShare = SEASON * months
  const beyond = Math.abs(median) > half + Math.abs(seasonShare) * b.level
  const verdict = !beyond ? 'no change seen' : median < 0 ? 'better' : 'worse'
  const season =
    Math.abs(seasonShare) >= 0.01
      ? ` The season alone can ${seasonShare > 0 ? 'raise' : 'lower'} it by ${(100 * Math.abs(seasonShare)).toFixed(0)} %.`
      : ''
  const figures = `${b.level.toFixed(1)} L/100 km before (${tanks.before} tanks), ${a.level.toFixed(1)} after (${tanks.after}): ${median < 0 ? 'less' : 'more'} by ${Math.abs(median).toFixed(1)} ± ${half.toFixed(1)}.`
  return {
    ...sides,
    change,
    verdict,
    seasonShare,
    say: `${figures}${season}${verdict === 'no change seen' ? ` That is no change that can be told. ${needed(before, after)}` : ''}`,
  }
}

/** Mean of tanks by distance, its standard error with at least the spread that tanks of one car have. */
function levelOf(tanks: readonly Tank[]): { level: number; error: number; interval: Interval } | undefined {
  if (!tanks.length) return undefined
  const km = tanks.reduce((s, t) => s + t.km, 0)
  const level = (100 * tanks.reduce((s, t) => s + t.litres, 0)) / km
  const own = tanks.length > 2 ? standardDeviation(tanks.map((t) => t.per100)) : 0
  const error = Math.max(own, TANK_SPREAD * level) / Math.sqrt(tanks.length)
  const half = t95(Math.max(1, tanks.length - 1)) * error
  return { level, error, interval: { median: level, low: level - half, high: level + half } }
}

/** How many tanks on the side that has fewer until a change of 5 % can be told. */
function needed(before: readonly Tank[], after: readonly Tank[]): string {
  for (let n = 1; n <= 60; n++) {
    const [nb, na] = [
      Math.max(before.length, after.length > before.length ? n : before.length),
      Math.max(after.length, n),
    ]
    if (!nb) break
    const half = t95(nb + na - 2 || 1) * TANK_SPREAD * Math.sqrt(1 / nb + 1 / na)
    if (half <= WORTH && na > after.length)
      return `After about ${na - after.length} more ${na - after.length === 1 ? 'tank' : 'tanks'} a change of 5 % can be told.`
    if (half <= WORTH) return ''
  }
  return before.length
    ? `With ${before.length} ${before.length === 1 ? 'tank' : 'tanks'} before the work a change of 5 % can never be told; a larger one can.`
    : 'Without tanks from before the work nothing can be compared.'
}
