import { quotedAreaMm2, STANDARD_PRESSURE_PA } from '../air/index.js'
import type { StationId } from '../engine/index.js'
import { requireRange, type Interval } from '../statistics/index.js'

/** One place where unmetered air was found, and how much of it. */
export interface LedgerEntry {
  readonly station: StationId
  /** Effective area quoted at idle [mm²]; undefined when a test showed the place and not the size. */
  readonly areaMm2?: number
  /** One standard deviation of it [mm²]. */
  readonly sdMm2?: number
  readonly repaired: boolean
  readonly how: 'pinch' | 'smoke' | 'look' | 'flex-duct' | 'repair'
}

/**
 * How far a size may be off, one standard deviation as a share of it [–]: smoke by the shape of the opening, whose Cd lies
 * anywhere in 0.5 to 0.9, and the tester; a pinch by the trim, which moves by itself; an eye guesses.
 */
const SIZE_SD: Readonly<Record<LedgerEntry['how'], number>> = {
  smoke: 0.15,
  pinch: 0.25,
  look: 0.5,
  'flex-duct': 0.5,
  repair: 0.3,
}

/** The account of unmetered air: what there is, what has a place, what is mended, what is left. */
export interface Ledger {
  readonly totalMm2: Interval
  readonly locatedMm2: number
  readonly repairedMm2: number
  /** Not accounted for; its low bound is never below 0. */
  readonly remaining: Interval
  /** True when the remainder's interval holds 0: nothing more need be looked for. */
  readonly closed: boolean
  /** More has a size than the readings show: one of these is no leak, or the readings are old. */
  readonly excess: boolean
  readonly unsized: readonly StationId[]
}

/**
 * Opens the account. The remainder is the total less what has a place, spreads added in quadrature.
 * No entries: the remainder is the total.
 * @param totalMm2 - unmetered air as effective area, 90 % bounds [mm²]
 */
export function ledgerOf(totalMm2: Interval, entries: readonly LedgerEntry[]): Ledger {
  requireRange('totalMm2.median', totalMm2.median, totalMm2.median >= 0, '≥ 0 mm²')
  const sized = entries.filter((e) => e.areaMm2 !== undefined)
  const locatedMm2 = sized.reduce((s, e) => s + e.areaMm2!, 0)
  const repairedMm2 = sized.filter((e) => e.repaired).reduce((s, e) => s + e.areaMm2!, 0)
  const sd2 = sized.reduce((s, e) => s + (e.sdMm2 ?? SIZE_SD[e.how] * e.areaMm2!) ** 2, 0)
  const found = NINETY * Math.sqrt(sd2)
  const left = totalMm2.median - locatedMm2
  // each side by its own: a total that is a bound may be far more and hardly less
  const remaining = {
    median: Math.max(0, left),
    low: Math.max(0, left - Math.hypot(found, totalMm2.median - totalMm2.low)),
    high: Math.max(0, left + Math.hypot(found, totalMm2.high - totalMm2.median)),
  }
  return {
    totalMm2,
    locatedMm2,
    repairedMm2,
    remaining,
    closed: remaining.low === 0 && sized.length > 0,
    excess: locatedMm2 - NINETY * Math.sqrt(sd2) > totalMm2.high,
    unsized: entries.filter((e) => e.areaMm2 === undefined).map((e) => e.station),
  }
}

/** Half width of a 90 % interval in standard deviations. */
const NINETY = 1.645

/**
 * Area that a pinched branch had let in, from the fall of total trim: T before and after are
 * L/ṁ_ind each, so the branch's flow is (T1 − T2)·ṁ_ind.
 *
 * @param trimBefore - total trim before, as a share [–]
 * @param trimPinched - total trim with the branch shut [–]
 * @param indicatedKgS - airflow the sensor reports at idle [kg/s]
 * @param fluxKgSM2 - flow per area behind the plate at these pressures [kg/(s·m²)]
 * @returns [mm²], never below 0
 */
export function pinchedAreaMm2(
  trimBefore: number,
  trimPinched: number,
  indicatedKgS: number,
  fluxKgSM2: number,
): number {
  requireRange('fluxKgSM2', fluxKgSM2, fluxKgSM2 > 0, '> 0')
  requireRange('indicatedKgS', indicatedKgS, indicatedKgS > 0, '> 0 kg/s')
  return Math.max(0, ((trimBefore - trimPinched) * indicatedKgS) / fluxKgSM2) * 1e6
}

/** Smoke tester's area at its own pressure quoted at idle. @param gaugePa - test pressure above ambient [Pa], 500..20,000 */
export function smokeAreaMm2(measuredMm2: number, gaugePa: number): number {
  requireRange('gaugePa', gaugePa, gaugePa >= 500 && gaugePa <= 20_000, '500..20000 Pa')
  return quotedAreaMm2(measuredMm2, STANDARD_PRESSURE_PA / (STANDARD_PRESSURE_PA + gaugePa))
}
