import { pressureAltitudeM, standardPressurePa } from '../air/index.js'
import { hasMaf, hasMap, type Vehicle } from '../engine/index.js'
import { VE_EXPONENT } from '../expectation/index.js'
import type { ChannelId, OperatingPoint } from '../signals/index.js'
import { basicsOf } from './basics.js'

/** A barometer that does not belong to the height of the visit. */
export interface HeightDoubt {
  /** Height at which the standard atmosphere has what is read [m]. */
  readonly readsM: number
  /** Whether other readings bear the barometer out: then it is gone by, and not the height. */
  readonly isBorneOut: boolean
  readonly act: string
  /** Why, in a line. */
  readonly why: string
  readonly said?: string
  readonly message: string
}

/** Weather moves a barometer by less than the first; two sensors of one pressure agree within the second [kPa]. */
const WEATHER_KPA = 5
const ALIKE_KPA = 3
/** No place that a car drives at has less or more [kPa]. */
const PLACES_KPA = { least: 50, most: 108 } as const
/** Trims of an engine that is fuelled by its pressure, while that is right; one that is off by as much as the weather never does moves them by twice that [%]. */
const RIGHT_TRIM_PCT = 10
/** Pressure at idle lies within so much of what the airflow tells where the sensor is right, and further off where it is not [log]. */
const RIGHT_LOG = 0.2
const UNLOADED: readonly OperatingPoint['kind'][] = ['idle', 'hold']

const mean = (xs: readonly number[]): number | undefined =>
  xs.length ? xs.reduce((sum, x) => sum + x, 0) / xs.length : undefined

/** Middle of a channel over points of some kinds; of all when left out. */
const read = (
  points: readonly OperatingPoint[],
  id: ChannelId,
  kinds?: readonly OperatingPoint['kind'][],
): number | undefined =>
  mean(points.flatMap((p) => (p.means[id] === undefined || (kinds && !kinds.includes(p.kind)) ? [] : [p.means[id]])))

/** Whether the pressure of the idle is what its airflow tells, which it would not be if the sensor read as much too high or too low as the barometer. */
function isRightAtIdle(points: readonly OperatingPoint[], v: Vehicle, offPa: number): boolean {
  const idle = points.find((p) => p.kind === 'idle' && p.means.map_kpa !== undefined && p.means.maf_gs !== undefined)
  if (!idle) return false
  const k = basicsOf(idle, v)
  const byAirPa = k.soundPa * (k.airKgS / k.soundKgS) ** (1 / (1 + VE_EXPONENT))
  const off = (pa: number): number => Math.abs(Math.log(Math.max(1, pa) / byAirPa))
  return off(k.manifoldPa) < RIGHT_LOG && off(k.manifoldPa - offPa) > RIGHT_LOG
}

/**
 * Whether the barometer that the controller reports, or its pressure with the engine standing, can be that of the height that was
 * entered. A height that nobody put right is far more common than a barometer that is off, and looks like a fault of every pressure.
 *
 * @param points - merged
 * @param isTrusted - the pressure of the place was read from a barometer of the shop's own
 */
export function heightDoubt(points: readonly OperatingPoint[], v: Vehicle, isTrusted = false): HeightDoubt | undefined {
  const standing = hasMap(v) ? read(points, 'map_kpa', ['key-on']) : undefined
  const reported = read(points, 'baro_kpa')
  const kpa = reported ?? standing
  const belongs = standardPressurePa(v.altitudeM) / 1000
  if (isTrusted || kpa === undefined || Math.abs(kpa - belongs) < WEATHER_KPA) return undefined
  if (kpa < PLACES_KPA.least || kpa > PLACES_KPA.most) return undefined
  const agrees = (other: number | undefined, with_: number): boolean =>
    other !== undefined && Math.abs(other - with_) < ALIKE_KPA
  // ahead of the plate of a turbo engine that idles stands the air of the place
  const charge = read(points, 'charge_kpa', ['key-on', 'idle'])
  if (agrees(charge, belongs) || (reported !== undefined && standing !== undefined && !agrees(standing, reported)))
    return undefined
  const readsM = Math.round(pressureAltitudeM(1000 * kpa) / 10) * 10
  const who =
    reported === undefined ? 'The pressure sensor with the engine standing' : 'The barometer of the controller'
  const both = `${who} reads ${kpa.toFixed(0)} kPa, where ${belongs.toFixed(0)} belongs`
  const trims = points
    .flatMap((p) => (UNLOADED.includes(p.kind) ? [p.means.trim1_pct ?? NaN] : []))
    .filter(Number.isFinite)
  const isBorneOut =
    agrees(charge, kpa) ||
    !hasMap(v) ||
    (hasMaf(v) && isRightAtIdle(points, { ...v, altitudeM: readsM }, 1000 * (kpa - belongs))) ||
    (!hasMaf(v) && trims.length > 0 && trims.every((t) => Math.abs(t) < RIGHT_TRIM_PCT))
  return isBorneOut
    ? {
        readsM,
        isBorneOut,
        act: 'Put the height of this place right',
        why: `${kpa.toFixed(0)} kPa is the air of about ${readsM} m; ${v.altitudeM.toFixed(0)} m stands at the head of the visit.`,
        message: `${both} at the ${v.altitudeM.toFixed(0)} m that are entered; at about ${readsM} m it would be right. What is said here goes by the reading. The height stands at the head of the visit, with room for a barometer that is trusted.`,
      }
    : {
        readsM,
        isBorneOut,
        act: 'Check the height of this place',
        why: `${kpa.toFixed(0)} kPa is the air of about ${readsM} m, or a sensor that is off; ${v.altitudeM.toFixed(0)} m stands at the head of the visit.`,
        said: `${both} at the height that was entered.`,
        message: `${both} at the ${v.altitudeM.toFixed(0)} m that are entered: the height is wrong, and about ${readsM} m would fit, or the sensor is off. A barometer that is trusted, typed at the head of the visit, tells which.`,
      }
}
