import { requireRange } from '../statistics/index.js'

/** Specific gas constant of dry air [J/(kg·K)]. */
export const AIR_GAS_CONSTANT = 287.05
/** γ = cp/cv of air [–]. */
export const AIR_GAMMA = 1.4
/** Standard sea-level pressure [Pa], ISO 2533. */
export const STANDARD_PRESSURE_PA = 101_325
/** 0 °C [K]. */
export const ZERO_CELSIUS_K = 273.15

/**
 * Barometric pressure of the standard atmosphere.
 *
 *   p(h) = 101.325 kPa · (1 − 2.25577e-5·h)^5.25588
 *
 * Source: ISO 2533. Valid −2000..11,000 m.
 * @param altitudeM - geopotential altitude [m]
 * @returns [Pa]
 */
export function standardPressurePa(altitudeM: number): number {
  requireRange('altitudeM', altitudeM, altitudeM >= -2000 && altitudeM <= 11_000, '−2000..11000 m')
  return STANDARD_PRESSURE_PA * (1 - 2.25577e-5 * altitudeM) ** 5.25588
}

/**
 * Height at which the standard atmosphere has a pressure: the inverse of standardPressurePa.
 *
 * @param pressurePa - station pressure [Pa], 22,700..127,700
 * @returns [m]
 */
export function pressureAltitudeM(pressurePa: number): number {
  requireRange('pressurePa', pressurePa, pressurePa >= 22_700 && pressurePa <= 127_700, '22,700..127,700 Pa')
  return (1 - (pressurePa / STANDARD_PRESSURE_PA) ** (1 / 5.25588)) / 2.25577e-5
}

/** Density of dry air, p/(R·T) [kg/m³]. @param pressurePa - absolute [Pa] @param temperatureK - [K] */
export function airDensity(pressurePa: number, temperatureK: number): number {
  requireRange('pressurePa', pressurePa, pressurePa > 0, '> 0 Pa absolute')
  requireRange('temperatureK', temperatureK, temperatureK > 0, '> 0 K')
  return pressurePa / (AIR_GAS_CONSTANT * temperatureK)
}
