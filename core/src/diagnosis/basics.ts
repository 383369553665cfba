import { AIR_GAS_CONSTANT, ZERO_CELSIUS_K, flowFunction, standardPressurePa } from '../air/index.js'
import { hasMaf, hasMap, hasSteadyVacuum, type Vehicle } from '../engine/index.js'
import { expectedAirflow, INTAKE_WARMING_K, manifoldFromAirflowPa } from '../expectation/index.js'
import { trimStopsOf, type OperatingPoint } from '../signals/index.js'
import { breathingAt, LOADED, noLoadGsPerLKrpm, WIDE_PLATE, wideBreathingAt } from './scatter.js'

/** What is known of a point before any fault is thought of. */
export interface Basics {
  readonly ambientPa: number
  readonly intakeC: number
  /** Manifold pressure as read by sensor or gauge, else what the airflow tells. */
  readonly manifoldPa: number
  readonly measuredPressure: boolean
  /** Best estimate of the air into the cylinders. */
  readonly airKgS: number
  /** Flow through 1 m² behind the plate. */
  readonly flux: number
  /** Air that a sound engine needs here: unloaded, or all it can take in a pull. */
  readonly soundKgS: number
  /** Manifold pressure at which it takes that. */
  readonly soundPa: number
  /** Ends of their range at which short-term trims stand, by bank. */
  readonly trimStops: Readonly<Partial<Record<1 | 2, 1 | -1>>>
  /** What this engine takes more than a middle one where it is held, where a foot and no control sets its air [log]: 0 where nothing was read. */
  readonly held: { readonly air: number; readonly pressure: number }
}

/** What engines of one kind differ by at most at a held speed [log]: more is a fault's. */
const MOST_APART = 0.25

/** See `Basics.held`: middle of the held speeds that were read. */
export function heldLevels(points: readonly OperatingPoint[], known: readonly Basics[], v: Vehicle): Basics['held'] {
  const holds = known.filter((_, i) => points[i].kind === 'hold')
  const middle = (logs: readonly number[]): number =>
    logs.length ? Math.min(MOST_APART, Math.max(-MOST_APART, logs.reduce((sum, x) => sum + x, 0) / logs.length)) : 0
  return {
    air: hasMaf(v) ? middle(holds.map((k) => Math.log(k.airKgS / k.soundKgS))) : 0,
    pressure: middle(holds.filter((k) => k.measuredPressure).map((k) => Math.log(k.manifoldPa / k.soundPa))),
  }
}

/** Airflow below which no engine runs [g/s]: a sensor that tells less tells nothing. */
const LEAST_AIRFLOW_GS = 0.05

/** Airflow as the sensor has it [kg/s]; undefined without one, or where it cannot be that of a running engine. */
export function airflowOf(p: OperatingPoint, v: Vehicle): number | undefined {
  const gs = p.means.maf_gs
  return hasMaf(v) && gs !== undefined && gs >= LEAST_AIRFLOW_GS ? gs * 1e-3 : undefined
}

// an intake sensor at its open or short value tells nothing
const plausible = (c: number | undefined, otherwise: number): number =>
  c !== undefined && c > -34 && c < 110 ? c : otherwise

/** Pressure ratio above which the flow through an opening is taken as that at it: at one it would be none. */
const NEARLY_AMBIENT = 0.985

/**
 * Works a point out, with what the points beside it tell of its trims. The standard atmosphere stands in for the barometer: a reported one may share
 * the pressure sensor's own bias.
 */
export function basicsOf(p: OperatingPoint, v: Vehicle, beside: readonly OperatingPoint[] = []): Basics {
  const m = p.means
  const ambientPa = standardPressurePa(v.altitudeM)
  const intakeC = plausible(m.iat_c, v.ambientC === undefined ? 25 : v.ambientC + INTAKE_WARMING_K)
  const gauge =
    m.gauge_vacuum_kpa === undefined || !hasSteadyVacuum(v) ? undefined : ambientPa - 1000 * m.gauge_vacuum_kpa
  const sensor = hasMap(v) && m.map_kpa !== undefined ? 1000 * m.map_kpa : undefined
  const readPa = sensor ?? gauge
  const known = readPa !== undefined && readPa > 0 ? readPa : undefined
  const pull = p.kind === 'pull'
  const breathing = pull ? wideBreathingAt(p.rpm) : breathingAt(p.rpm)
  const swallow = (manifoldPa: number): number =>
    breathing *
    expectedAirflow({
      displacementL: v.displacementL,
      rpm: p.rpm,
      ambientPa,
      intakeC,
      manifoldPa,
      load: 'some',
      turbo: v.induction === 'turbo',
    })!.kgS
  const pressureOf = (kgS: number): number =>
    manifoldFromAirflowPa(kgS / breathing, v.displacementL, p.rpm, ambientPa, intakeC)
  const loaded = p.kind === 'idle-load' || p.kind === 'cruise' ? LOADED[p.kind] : 1
  const soundPa0 = pull ? (v.induction === 'turbo' && known ? known : WIDE_PLATE * ambientPa) : undefined
  const soundKgS =
    soundPa0 === undefined
      ? 1e-6 * v.displacementL * p.rpm * noLoadGsPerLKrpm(p.rpm, v.displacementL) * loaded
      : swallow(soundPa0)
  const soundPa = soundPa0 ?? pressureOf(soundKgS)
  const measured = airflowOf(p, v)
  const airKgS = measured ?? (known ? swallow(known) : soundKgS)
  const manifoldPa = known ?? pressureOf(airKgS)
  const flux =
    (ambientPa / Math.sqrt(AIR_GAS_CONSTANT * (intakeC + ZERO_CELSIUS_K))) *
    flowFunction(Math.min(NEARLY_AMBIENT, manifoldPa / ambientPa))
  const trimStops = trimStopsOf(p, beside)
  return {
    ambientPa,
    intakeC,
    manifoldPa,
    measuredPressure: known !== undefined,
    airKgS,
    flux,
    soundKgS,
    soundPa,
    trimStops,
    held: { air: 0, pressure: 0 },
  }
}
