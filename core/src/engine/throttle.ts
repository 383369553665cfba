import { requireRange } from '../statistics/index.js'

/** Plate angle from the bore's axis normal at which a closed plate rests [rad]; typical 7°. */
export const REST_ANGLE_RAD = (7 * Math.PI) / 180

/**
 * Open area of a clean butterfly throttle, A(θ) = π·D²/4·(1 − cos θ/cos θ0), projected [mm²].
 *
 * Source: Heywood, eq. 7.18, the shaft's shadow neglected: below 30° it is under 3 % of the area.
 * @param boreMm - D [mm], > 0
 * @param angleRad - plate angle, θ0..π/2; exactly θ0 gives 0
 */
export function throttleAreaMm2(boreMm: number, angleRad: number, restRad = REST_ANGLE_RAD): number {
  requireRange('boreMm', boreMm, boreMm > 0, '> 0 mm')
  requireRange('angleRad', angleRad, angleRad >= restRad && angleRad <= Math.PI / 2, 'θ0..π/2')
  return ((Math.PI * boreMm ** 2) / 4) * (1 - Math.cos(angleRad) / Math.cos(restRad))
}
