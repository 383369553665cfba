import { standardPressurePa } from '../air/index.js'
import { hasMaf, hasMap, hasSteadyVacuum, type Vehicle } from '../engine/index.js'
import type { ChannelId, OperatingPoint } from '../signals/index.js'
import { noLoadGsPerLKrpm } from './scatter.js'

/** A sensor of air that cannot be telling of this running engine: what it says, and why. */
export interface DeadSensor {
  readonly channel: 'maf_gs' | 'map_kpa'
  /** What is to be looked at. */
  readonly act: string
  /** A sentence with its figures. */
  readonly said: string
  /** What it may be, in the order in which it is looked at. */
  readonly mayBe: string
}

/** Points at which an engine does no work but its own. */
const UNLOADED: readonly OperatingPoint['kind'][] = ['idle', 'idle-load', 'hold']
/** Of the air that an engine needs a sensor tells less than this, and no trim makes good for it: it is not fuelled by it [–]. */
const FAR_BELOW = 0.5
const MADE_GOOD_PCT = 15
/** Pressure of an engine that stands, as a share of ambient, and one that no engine draws [kPa]. */
const STANDS = 0.92
const NONE_DRAWS_KPA = 8

/** Air that an engine needs unloaded [g/s]. */
const needGS = (v: Vehicle, rpm: number): number =>
  1e-3 * v.displacementL * rpm * noLoadGsPerLKrpm(rpm, v.displacementL)

function deadAirflow(points: readonly OperatingPoint[], v: Vehicle): DeadSensor | undefined {
  const read = points.filter((p) => p.means.maf_gs !== undefined)
  const givenAt = (p: OperatingPoint): number =>
    Math.max(p.means.trim1_pct ?? -Infinity, p.means.trim2_pct ?? -Infinity)
  const isDead = (p: OperatingPoint): boolean => {
    const given = givenAt(p)
    const isFed = p.means.maf_gs! >= FAR_BELOW * needGS(v, p.rpm)
    return (
      !isFed && given < MADE_GOOD_PCT && (given > -Infinity || p.means.maf_gs! < 0.5 * FAR_BELOW * needGS(v, p.rpm))
    )
  }
  if (!hasMaf(v) || v.fuel === 'diesel' || !read.length || !read.every(isDead)) return undefined
  const [p] = read
  return {
    channel: 'maf_gs',
    act: 'Look at the airflow sensor’s plug and supply',
    said: `The airflow sensor reads ${p.means.maf_gs!.toFixed(1)} g/s at ${p.rpm.toFixed(0)} rpm, where this engine needs about ${needGS(v, p.rpm).toFixed(1)}${givenAt(p) > -Infinity ? ', and the fuel does not follow it' : ''}.`,
    mayBe: 'Its plug and supply first, then its codes; or the engine is not the one entered here.',
  }
}

function deadPressure(points: readonly OperatingPoint[], v: Vehicle): DeadSensor | undefined {
  const read = points.filter((p) => p.means.map_kpa !== undefined)
  if (!hasMap(v) || !hasSteadyVacuum(v) || v.loadControl !== undefined || !read.length) return undefined
  const ambientKpa = standardPressurePa(v.altitudeM) / 1000
  const kpa = (p: OperatingPoint): number => p.means.map_kpa!
  const stands = read.every((p) => kpa(p) >= STANDS * ambientKpa)
  if (!stands && !read.every((p) => kpa(p) <= NONE_DRAWS_KPA)) return undefined
  const [p] = read
  return {
    channel: 'map_kpa',
    act: 'Look at the pressure sensor’s plug and hose',
    said: `The manifold pressure sensor reads ${kpa(p).toFixed(0)} kPa at ${p.rpm.toFixed(0)} rpm, ${stands ? 'as with the engine standing' : 'which no engine draws'}.`,
    mayBe: 'Its plug, its hose and its supply first, then its codes.',
  }
}

/** Sensors of air whose readings are none at every unloaded point. @param points - merged */
export function deadSensors(points: readonly OperatingPoint[], v: Vehicle): DeadSensor[] {
  const unloaded = points.filter((p) => UNLOADED.includes(p.kind) && p.rpm > 0)
  return [deadAirflow(unloaded, v), deadPressure(unloaded, v)].filter((x) => x !== undefined)
}

/** Points without what dead sensors say of a running engine; what they read with it standing still counts. */
export const withoutDead = (points: readonly OperatingPoint[], dead: readonly DeadSensor[]): OperatingPoint[] =>
  points.map((p) => {
    if (p.kind === 'key-on' || !dead.length) return p
    const gone: readonly ChannelId[] = dead.map((x) => x.channel)
    const means = Object.fromEntries(Object.entries(p.means).filter(([id]) => !gone.includes(id as ChannelId)))
    return { ...p, means }
  })
