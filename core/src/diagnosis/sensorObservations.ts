import { ZERO_CELSIUS_K, standardPressurePa } from '../air/index.js'
import { hasMap, type Vehicle } from '../engine/index.js'
import { MANY_ROWS, STEADY, type OperatingPoint } from '../signals/index.js'
import type { Observation } from './observation.js'
import { SCATTER } from './scatter.js'

/** Least pressure that is told from none [Pa]. */
const NOTHING_PA = 1000

/** Pressure of a standing engine: the place's own. */
export function keyOn(p: OperatingPoint, i: number, v: Vehicle): Observation[] {
  const kPa = p.means.map_kpa
  if (!hasMap(v) || kPa === undefined) return []
  const ambientPa = standardPressurePa(v.altitudeM)
  return [
    {
      group: 'barometer',
      point: i,
      // a sensor that reads nothing at all is off by all there is
      residual: Math.log(Math.max(NOTHING_PA, 1000 * kPa) / ambientPa),
      ownSd: 0.003,
      shared: { map: SCATTER.mapPa / ambientPa, baro: SCATTER.weather },
      predict: (e) => Math.log1p(e.mapOffsetPa / ambientPa),
    },
  ]
}

/** The reported barometer against the altitude. */
export function barometer(points: readonly OperatingPoint[], v: Vehicle): Observation[] {
  const at = points.findIndex((p) => p.means.baro_kpa !== undefined)
  if (at < 0) return []
  const ambientPa = standardPressurePa(v.altitudeM)
  return [
    {
      group: 'barometer',
      point: at,
      residual: Math.log(Math.max(NOTHING_PA, 1000 * points[at].means.baro_kpa!) / ambientPa),
      ownSd: 0.005,
      shared: { baro: SCATTER.weather },
      predict: (e) => Math.log1p(e.baroShare / ambientPa),
    },
  ]
}

/** With the plate so far shut that the turbo has nothing to blow for: manifold over what stands ahead of it [–]. */
const THROTTLED = 0.8
const STANDING: readonly string[] = ['idle', 'idle-load', 'hold']

/**
 * Pressure ahead of the plate of a turbo that does not blow, against that at idle: what is lost on the way in grows with flow. A
 * bound, since nobody knows what the turbo adds already; on the road only beside the barometer, which a hill moves.
 */
export function charge(points: readonly OperatingPoint[], v: Vehicle): Observation[] {
  if (v.induction !== 'turbo' || v.fuel === 'diesel') return []
  const idle = points.find((p) => p.kind === 'idle' && p.means.charge_kpa !== undefined)
  const atIdle = idle?.means.charge_kpa
  if (!idle || atIdle === undefined || !(atIdle > 0)) return []
  return points.flatMap((p, i): Observation[] => {
    const { charge_kpa: kPa, map_kpa: mapKpa, baro_kpa: baroKpa } = p.means
    if (p === idle || kPa === undefined || !(kPa > 0) || mapKpa === undefined || mapKpa > THROTTLED * kPa) return []
    const outside = [baroKpa, idle.means.baro_kpa]
    const [here, there] = outside.every((x): x is number => x !== undefined) ? (outside as number[]) : []
    if (here === undefined && !STANDING.includes(p.kind)) return []
    const residual = Math.log(kPa / atIdle) - (here === undefined ? 0 : Math.log(here / there))
    return residual < 0
      ? [
          {
            group: 'charge',
            point: i,
            residual,
            ownSd: (Math.min(p.n, idle.n) < MANY_ROWS ? 2 : 1) * SCATTER.chargePoint,
            shared: {},
            bound: -1,
            predict: (e) => e.upstreamLog,
          },
        ]
      : []
  })
}

/** What a reading beyond the range counts at least: ten standard deviations [log of kelvin]. */
const BEYOND = 0.2

/** The temperature of a point that lies further beyond what a car can show, and how far [log of kelvin]; undefined for plausible ones and without any. */
export function temperatureBeyond(
  p: OperatingPoint | undefined,
): { readonly channel: 'iat_c' | 'ect_c'; readonly log: number } | undefined {
  const outside = (c: number | undefined, { low, high }: { low: number; high: number }): number => {
    if (c === undefined || (c >= low && c <= high)) return 0
    const far = Math.log((c + ZERO_CELSIUS_K) / ((c < low ? low : high) + ZERO_CELSIUS_K))
    return far + Math.sign(far) * BEYOND
  }
  const intake = outside(p?.means.iat_c, STEADY.intakeC)
  const coolant = outside(p?.means.ect_c, STEADY.coolantC)
  if (intake === 0 && coolant === 0) return undefined
  return Math.abs(intake) > Math.abs(coolant) ? { channel: 'iat_c', log: intake } : { channel: 'ect_c', log: coolant }
}

/** Whether a controller reads a coolant that no engine has: what it does then is by that, and not by the engine. */
export const readsFrozen = (p: OperatingPoint): boolean => temperatureBeyond(p)?.channel === 'ect_c'

/** See `temperatureBeyond`: 0 for plausible ones and without any. */
export const temperatureOff = (p: OperatingPoint | undefined): number => temperatureBeyond(p)?.log ?? 0

/** The temperatures that lie furthest beyond what a car can show, else the first that were read; −1 where none were. */
export function temperatureAt(points: readonly OperatingPoint[]): number {
  let at = -1
  points.forEach((p, i) => {
    if (p.means.iat_c === undefined && p.means.ect_c === undefined) return
    if (at < 0 || Math.abs(temperatureOff(p)) > Math.abs(temperatureOff(points[at]))) at = i
  })
  return at
}

/** Whether the temperatures are ones that a car can show. */
export function temperature(points: readonly OperatingPoint[]): Observation[] {
  const at = temperatureAt(points)
  if (at < 0) return []
  return [
    {
      group: 'temperature',
      point: at,
      residual: temperatureOff(points[at]),
      ownSd: 0.02,
      shared: {},
      predict: (e) => e.temperatureLog,
    },
  ]
}
