import { AIR_GAS_CONSTANT, flowFunction, ZERO_CELSIUS_K } from '../air/index.js'
import { requireRange, type Interval } from '../statistics/index.js'
import { CHARGE_WARMING_K, swallowKgS } from './swallow.js'

/** Volumetric efficiency of a diesel that nothing holds back [–], and its scatter [log]; ours, from engines of the kind. */
const UNTHROTTLED_VE = 0.88
const UNTHROTTLED_LOG_SD = 0.07
const NINETY = 1.645

/** A moment at which no plate and no exhaust gas takes part. */
export interface Unthrottled {
  readonly displacementL: number
  readonly rpm: number
  readonly ambientPa: number
  readonly intakeC: number
  /** Pressure ahead of what may be narrow [Pa], where it is known; ambient otherwise. */
  readonly manifoldPa?: number
}

/** Air that an engine takes when nothing holds it back, with a band of about 90 %. */
export function unthrottledAir(x: Unthrottled): {
  readonly kgS: number
  readonly lowKgS: number
  readonly highKgS: number
} {
  const kgS = swallowKgS({
    displacementL: x.displacementL,
    rpm: x.rpm,
    manifoldPa: x.manifoldPa ?? x.ambientPa,
    chargeK: x.intakeC + ZERO_CELSIUS_K + CHARGE_WARMING_K,
    volumetricEfficiency: UNTHROTTLED_VE,
  })
  const spread = Math.exp(NINETY * UNTHROTTLED_LOG_SD)
  return { kgS, lowKgS: kgS / spread, highKgS: kgS * spread }
}

/** What is left of a passage, by the air that comes through it. */
export interface Blockage {
  /** Air over what the engine would swallow unhindered [–]. */
  readonly share: Interval
  /** Effective area that the air comes through [mm²]; undefined where nothing is missing: an open passage has no measure. */
  readonly areaMm2?: Interval
  /** Effective area under which the engine would begin to miss air here [mm²]. */
  readonly neededMm2: number
  /** Share of that area which is lost [–]; 0 where nothing is. */
  readonly lost: Interval
}

/** Pressure ratio at which a passage counts as open: a loss that no engine feels. */
const OPEN_RATIO = 0.97

/**
 * How narrow the intake is, from the air that comes through with the exhaust gas valve shut and no plate closed. The engine
 * swallows in proportion to the pressure behind the narrow place, so that pm/p0 = ṁ/ṁ0; the area follows from the orifice
 * law, CdA = ṁ·√(R·T0)/(p0·ψ(pm/p0)).
 *
 * @param airKgS - airflow measured at that moment [kg/s], > 0
 * @throws RangeError when a figure is none of a running engine
 */
export function blockageOf(x: Unthrottled, airKgS: number): Blockage {
  requireRange('airKgS', airKgS, airKgS > 0, '> 0 kg/s')
  requireRange('rpm', x.rpm, x.rpm >= 300, '≥ 300 rpm')
  const p0 = x.manifoldPa ?? x.ambientPa
  const full = unthrottledAir(x)
  const share = { median: airKgS / full.kgS, low: airKgS / full.highKgS, high: airKgS / full.lowKgS }
  const perArea = (ratio: number): number =>
    (p0 / Math.sqrt(AIR_GAS_CONSTANT * (x.intakeC + ZERO_CELSIUS_K))) * flowFunction(ratio)
  const neededMm2 = (full.kgS * OPEN_RATIO * 1e6) / perArea(OPEN_RATIO)
  const area = (ratio: number): number => (airKgS * 1e6) / perArea(Math.min(OPEN_RATIO, Math.max(0.05, ratio)))
  // both openings follow from the same air: what the engine would swallow scatters, and the needed one with it
  const lostAt = (ratio: number): number => {
    const r = Math.min(OPEN_RATIO, Math.max(0.05, ratio))
    return Math.max(0, 1 - (r * flowFunction(OPEN_RATIO)) / (OPEN_RATIO * flowFunction(r)))
  }
  const missing = share.median < OPEN_RATIO
  return {
    share,
    neededMm2,
    ...(missing ? { areaMm2: { median: area(share.median), low: area(share.low), high: area(share.high) } } : {}),
    lost: missing
      ? { median: lostAt(share.median), low: share.high < OPEN_RATIO ? lostAt(share.high) : 0, high: lostAt(share.low) }
      : { median: 0, low: 0, high: share.low < OPEN_RATIO ? lostAt(share.low) : 0 },
  }
}
