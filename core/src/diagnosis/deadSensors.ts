import { standardPressurePa } from '../air/index.js'
import { hasMaf, hasMap, hasSteadyVacuum, type Vehicle } from '../engine/index.js'
import type { ChannelId, OperatingPoint } from '../signals/index.js'
import { QUANTITIES, type Unit } from '../units/index.js'
import { noLoadGsPerLKrpm } from './scatter.js'
import { manifoldUnitOf } from './unitDoubt.js'

/** A sensor of air that cannot be telling of this running engine: what it says, and why. */
export interface DeadSensor {
  readonly channel: 'maf_gs' | 'map_kpa'
  /** What is to be looked at. */
  readonly act: string
  /** What of it is a finding, as the customer reads it; none where only its unit may be another. */
  readonly said?: string
  /** What is read, with its figures, and what it may be in the order in which it is looked at. */
  readonly message: string
}

/** Points at which an engine does no work but its own. */
const UNLOADED: readonly OperatingPoint['kind'][] = ['idle', 'idle-load', 'hold']
/**
 * Of the air that an engine needs a sensor tells less than the first or more than the second, or where no trim is read than the
 * outer ones, and no trim makes good for it: it is not fuelled by it [–].
 */
const OFF = { low: 0.5, lower: 0.25, high: 2.2, higher: 3.2 } as const
const MADE_GOOD_PCT = 15
/** In another unit it would be right within so much [–]. */
const RIGHT_WITHIN = { low: 0.7, high: 1.4 } as const
/** Pressure of an engine that stands, as a share of ambient, and one that no engine draws [kPa]. */
const STANDS = 0.92
const NONE_DRAWS_KPA = 8

/** Air that an engine needs unloaded [g/s]. */
export const needGS = (v: Vehicle, rpm: number): number =>
  1e-3 * v.displacementL * rpm * noLoadGsPerLKrpm(rpm, v.displacementL)

/** Whether an airflow is none that the engine is fuelled by: 'low' or 'high'. */
function offAt(p: OperatingPoint, v: Vehicle): 'low' | 'high' | undefined {
  const ratio = p.means.maf_gs! / needGS(v, p.rpm)
  const trims = [p.means.trim1_pct, p.means.trim2_pct].filter((x) => x !== undefined)
  if (!trims.length) return ratio < OFF.lower ? 'low' : ratio > OFF.higher ? 'high' : undefined
  if (ratio < OFF.low && Math.max(...trims) < MADE_GOOD_PCT) return 'low'
  return ratio > OFF.high && Math.min(...trims) > -MADE_GOOD_PCT ? 'high' : undefined
}

/** Asked of a figure that would be right in another unit. */
const isItIn = (unit: Unit, channel: DeadSensor['channel'], name: string, said: string): DeadSensor => ({
  channel,
  act: `Is the ${name} in ${unit.symbol}?`,
  message: `${said} In ${unit.symbol} it would be right: then it is entered with that unit; until then it is left aside.`,
})

function deadAirflow(points: readonly OperatingPoint[], v: Vehicle): DeadSensor | undefined {
  const read = points.filter((p) => p.means.maf_gs !== undefined)
  if (!hasMaf(v) || v.fuel === 'diesel' || !read.length) return undefined
  const [p] = read
  const off = offAt(p, v)
  if (!off || !read.every((x) => offAt(x, v) === off)) return undefined
  const isTrimmed = p.means.trim1_pct !== undefined || p.means.trim2_pct !== undefined
  const gs = p.means.maf_gs!
  const said = `The airflow sensor reads ${gs.toFixed(gs < 1 ? 2 : 1)} g/s at ${p.rpm.toFixed(0)} rpm, where this engine needs about ${needGS(v, p.rpm).toFixed(1)} g/s${isTrimmed ? ', and the fuel does not follow it' : ''}.`
  const unit = QUANTITIES.massFlow.units.slice(1).find((u) =>
    read.every((x) => {
      const ratio = (x.means.maf_gs! * u.factor) / needGS(v, x.rpm)
      return ratio > RIGHT_WITHIN.low && ratio < RIGHT_WITHIN.high
    }),
  )
  return unit
    ? isItIn(unit, 'maf_gs', 'airflow', said)
    : {
        channel: 'maf_gs',
        act: 'Look at the airflow sensor’s plug and supply',
        said,
        message: `${said} What it reads is left aside. Its plug and supply first, then its codes; or the engine is not the one entered here.`,
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
  const unit = stands ? undefined : manifoldUnitOf(p, v)
  const said = `The manifold pressure sensor reads ${kpa(p).toFixed(0)} kPa at ${p.rpm.toFixed(0)} rpm, ${stands ? 'as with the engine standing' : 'which no engine draws'}.`
  if (unit) return isItIn(unit, 'map_kpa', 'manifold pressure', said)
  return {
    channel: 'map_kpa',
    act: 'Look at the pressure sensor’s plug and hose',
    said,
    message: `${said} What it reads is left aside. Its plug, its hose and its supply first, then its codes.`,
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
