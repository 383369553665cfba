import { requireRange } from '../statistics/index.js'
import { AIR_GAMMA, AIR_GAS_CONSTANT, airDensity } from './atmosphere.js'

/** r* [–]: at and below this pressure ratio the flow of air is choked; (2/(γ+1))^(γ/(γ−1)). */
export const CRITICAL_RATIO = (2 / (AIR_GAMMA + 1)) ** (AIR_GAMMA / (AIR_GAMMA - 1))

/**
 * Flow function of an ideal gas, isentropic and one-dimensional.
 *
 *   ψ(r) = √( 2γ/(γ−1) · (r^(2/γ) − r^((γ+1)/γ)) ) above r*, ψ(r*) at or below
 *
 * Source: Heywood, app. C, eq. C.8 and C.9. ψ(1) is exactly 0.
 * @param ratio - p1/p0 [–], 0..1
 */
export function flowFunction(ratio: number): number {
  requireRange('ratio', ratio, ratio >= 0 && ratio <= 1, '0..1')
  const r = Math.max(ratio, CRITICAL_RATIO)
  const g = AIR_GAMMA
  return Math.sqrt(((2 * g) / (g - 1)) * Math.max(0, r ** (2 / g) - r ** ((g + 1) / g)))
}

/** Air at rest before an opening. */
export interface AirState {
  /** absolute [Pa], > 0 */
  readonly pressurePa: number
  /** [K], > 0 */
  readonly temperatureK: number
}

/**
 * Mass flow of air through an opening, ṁ = CdA·p0/√(R·T0)·ψ(p1/p0).
 *
 * Source: Heywood, app. C, eq. C.8; ISO 6358. Equal pressures give exactly 0.
 * @param effectiveAreaM2 - Cd·A [m²], ≥ 0
 * @param downstreamPa - absolute [Pa], 0..upstream pressure
 * @returns [kg/s]
 * @throws RangeError when an argument is NaN or out of range (reverse flow included)
 */
export function orificeMassFlow(effectiveAreaM2: number, upstream: AirState, downstreamPa: number): number {
  const { pressurePa: p0, temperatureK: T0 } = upstream
  requireRange('effectiveAreaM2', effectiveAreaM2, effectiveAreaM2 >= 0, '≥ 0 m²')
  requireRange('upstream.pressurePa', p0, p0 > 0, '> 0 Pa absolute')
  requireRange('upstream.temperatureK', T0, T0 > 0, '> 0 K')
  requireRange('downstreamPa', downstreamPa, downstreamPa >= 0 && downstreamPa <= p0, `0..${p0} Pa`)
  return ((effectiveAreaM2 * p0) / Math.sqrt(AIR_GAS_CONSTANT * T0)) * flowFunction(downstreamPa / p0)
}

/**
 * Effective area that lets a mass flow through: the inverse of `orificeMassFlow` in its area.
 * @returns [m²]
 * @throws RangeError at equal pressures, where any area gives no flow
 */
export function effectiveAreaForFlow(massFlowKgS: number, upstream: AirState, downstreamPa: number): number {
  requireRange('massFlowKgS', massFlowKgS, massFlowKgS >= 0, '≥ 0 kg/s')
  const perArea = orificeMassFlow(1, upstream, downstreamPa)
  requireRange('pressure difference', perArea, perArea > 0, '> 0: no flow at equal pressures')
  return massFlowKgS / perArea
}

/**
 * Discharge coefficient of a sharp edge, Cd(r) = 0.84 − 0.23·r^1.67 [–].
 *
 * Our curve through 0.61 at small pressure differences and 0.84 at deep vacuum (Perry 1949, sharp-edged
 * orifices at critical flow). Cracks, slits and hose ends lie anywhere in 0.5..0.9.
 */
export function sharpEdgeCd(ratio: number): number {
  requireRange('ratio', ratio, ratio >= 0 && ratio <= 1, '0..1')
  return 0.84 - 0.23 * ratio ** 1.67
}

/** Pressure ratio at which a leak behind the plate is quoted: a warm idle. */
export const QUOTED_IDLE_RATIO = 0.35
/** Cd that goes with a quoted leak area; sharpEdgeCd(0.35) rounded. */
export const QUOTED_CD = 0.8

/** Diameter of the sharp-edged hole that has an effective area at idle [mm], d = √(4·CdA/(0.80·π)). */
export function holeDiameterMm(effectiveAreaMm2: number): number {
  requireRange('effectiveAreaMm2', effectiveAreaMm2, effectiveAreaMm2 >= 0, '≥ 0 mm²')
  return Math.sqrt((4 * effectiveAreaMm2) / (QUOTED_CD * Math.PI))
}

/**
 * Effective area quoted at idle for one measured at another pressure ratio: the edge's Cd is higher at
 * deep vacuum. 3.00 mm² measured by smoke at 3.5 kPa is quoted as 3.85 mm².
 * @param ratio - pressure ratio of the measurement [–]
 */
export function quotedAreaMm2(measuredMm2: number, ratio: number): number {
  requireRange('measuredMm2', measuredMm2, measuredMm2 >= 0, '≥ 0 mm²')
  return (measuredMm2 * sharpEdgeCd(QUOTED_IDLE_RATIO)) / sharpEdgeCd(ratio)
}

/**
 * Volume flow of a small pressure difference, Q = CdA·√(2Δp/ρ) [m³/s]; incompressible, Δp below about
 * 5 % of the pressure. CdA 3 mm², 3.5 kPa, ρ 1.204 kg/m³: 13.72 L/min.
 */
export function lowPressureVolumeFlow(effectiveAreaM2: number, differencePa: number, upstream: AirState): number {
  requireRange('differencePa', differencePa, differencePa >= 0, '≥ 0 Pa')
  const rho = airDensity(upstream.pressurePa, upstream.temperatureK)
  return effectiveAreaM2 * Math.sqrt((2 * differencePa) / rho)
}
