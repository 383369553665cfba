import { trimBanksOf, type Vehicle } from '../engine/index.js'
import type { OperatingPoint } from '../signals/index.js'
import { airflow, pressure } from './airObservations.js'
import { basicsOf, heldLevels } from './basics.js'
import type { PointContext } from './effect.js'
import { idleSpeed, opening, wander } from './idleObservations.js'
import type { ObservationSet } from './observation.js'
import { plateCurve, type PlateSensor } from './plateObservations.js'
import { barometer, charge, keyOn, temperature, temperatureAt, temperatureOff } from './sensorObservations.js'
import { fullMixture, trims } from './trimObservations.js'

export * from './observation.js'

/** Kinds that are judged; of the others only key-on has its own reading. */
const JUDGED: ReadonlySet<string> = new Set(['idle', 'idle-load', 'hold', 'cruise', 'pull', 'cold', 'key-on'])

/** Kinds in which no foot is on the pedal; a cold one may be driven, and takes so much more air then [–]. */
const IDLES: ReadonlySet<string> = new Set(['idle', 'idle-load', 'cold'])
const CREEPS = 1.6

/**
 * Turns merged operating points into observations for this engine.
 *
 * @param sensor - what is known of how its throttle reads
 */
export function observe(points: readonly OperatingPoint[], v: Vehicle, sensor: PlateSensor = {}): ObservationSet {
  const usable = points.filter((p) => JUDGED.has(p.kind) && (p.rpm > 0 || p.kind === 'key-on'))
  const each = usable.map((p) => basicsOf(p.kind === 'key-on' ? { ...p, rpm: 700 } : p, v, usable))
  const held = heldLevels(usable, each, v)
  const known = each.map((k) => ({ ...k, held }))
  const at = usable.findIndex((p) => p.kind === 'idle')
  const idleKgS = (at >= 0 ? known[at] : undefined)?.airKgS ?? 1.05e-3 * v.displacementL
  const temperatureLog = temperatureOff(usable[temperatureAt(usable)])
  const isRead = (channel: 'iat_c' | 'ect_c'): boolean => usable.some((p) => p.means[channel] !== undefined)
  const temperaturesRead = [isRead('iat_c'), isRead('ect_c')] as const
  const contexts = known.map<PointContext>((k, i) => ({
    airKgS: k.airKgS,
    idleKgS,
    fluxBehindPlate: k.flux,
    displacementL: v.displacementL,
    fullKgS: v.displacementL * 0.028 * (v.induction === 'turbo' ? 1.5 : 1),
    rpm: usable[i].rpm,
    idles: IDLES.has(usable[i].kind) && k.airKgS < CREEPS * idleKgS,
    boost:
      v.induction === 'turbo' && k.measuredPressure && k.manifoldPa > 1.03 * k.ambientPa
        ? k.manifoldPa / k.ambientPa
        : 1,
    readIntakeC: usable[i].means.iat_c,
    readCoolantC: usable[i].means.ect_c,
    temperatureOff: temperatureLog,
    temperaturesRead,
    cylinders: v.cylinders,
    banks: trimBanksOf(v),
  }))
  const observations = usable.flatMap((p, i) => {
    if (p.kind === 'key-on') return keyOn(p, i, v)
    const k = known[i]
    return [
      ...trims(p, i, v, k, contexts[i]),
      ...fullMixture(p, i, v, k, contexts[i]),
      ...airflow(p, i, v, k),
      ...pressure(p, i, v, k),
      ...(p.kind === 'idle' ? [...opening(p, i, v, k), ...wander(p, i)] : []),
      ...(p.kind === 'idle' || p.kind === 'idle-load' ? idleSpeed(p, i, v, k) : []),
    ]
  })
  return {
    points: usable,
    contexts,
    observations: [
      ...observations,
      ...plateCurve(usable, known, v, sensor),
      ...charge(usable, v),
      ...barometer(usable, v),
      ...temperature(usable),
    ],
  }
}
