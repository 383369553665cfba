import { hasMap, type Vehicle } from '../engine/index.js'
import type { ChannelId } from '../signals/index.js'
import { expectedAt, type BandPlace } from './bands.js'

/** Below this the engine stands; rolling and held above these. */
const STANDS_RPM = 250
const ROLLS_KPH = 3
const HELD_RPM = 1200
const HELD_SHARE = 1.5

/**
 * Kind of point that an engine is at by its present readings.
 * @param loaded - A/C and lights are on
 */
export function kindAt(
  values: Partial<Record<ChannelId, number>>,
  v: Vehicle,
  loaded: boolean,
): Exclude<BandPlace['kind'], 'cranking'> {
  const rpm = values.rpm ?? 0
  if (rpm < STANDS_RPM) return 'key-on'
  if ((values.speed_kph ?? 0) > ROLLS_KPH) return 'cruise'
  if (rpm >= Math.max(HELD_RPM, v.idleSpecRpm.max * HELD_SHARE)) return 'hold'
  return loaded ? 'idle-load' : 'idle'
}

/** Bounds of the airflow that an engine should draw, row by row [g/s]; null where neither pressure nor load makes it known. */
export interface AirflowBounds {
  readonly low: readonly (number | null)[]
  readonly high: readonly (number | null)[]
}

/** Airflow expected along a recording. @param rows - columns with null for what was not read; channels polled in turn stand */
export function expectedAlong(
  rows: Readonly<Partial<Record<ChannelId, readonly (number | null)[]>>>,
  vehicle: Vehicle,
  ambientC: number,
): AirflowBounds {
  const low: (number | null)[] = []
  const high: (number | null)[] = []
  let pressure: number | undefined
  let kph = 0
  rows.rpm?.forEach((rpm, i) => {
    if (hasMap(vehicle)) pressure = rows.map_kpa?.[i] ?? pressure
    kph = rows.speed_kph?.[i] ?? kph
    const kind = kindAt({ rpm: rpm ?? 0, speed_kph: kph }, vehicle, false)
    // under the load of the road only the pressure tells the airflow
    const known = kind !== 'key-on' && (kind !== 'cruise' || pressure !== undefined)
    const e = known ? expectedAt({ vehicle, kind, rpm: rpm!, manifoldKpa: pressure, ambientC }) : undefined
    low.push(e ? e.lowKgS * 1e3 : null)
    high.push(e ? e.highKgS * 1e3 : null)
  })
  return { low, high }
}
