import { REST_ANGLE_RAD, hasMaf, type Vehicle } from '../engine/index.js'
import { MANY_ROWS, type OperatingPoint } from '../signals/index.js'
import type { Basics } from './basics.js'
import { NO_EFFECT, type Effect } from './effect.js'
import type { Observation } from './observation.js'
import { SCATTER, type Nuisance } from './scatter.js'
import { inertTerm, meteredRatio, pressureTerm, scaled, veNuisances } from './terms.js'

/** Discharge coefficient of the narrow crescent beside a plate [–]. */
const PLATE_CD = 0.74
/** What passes a closed plate, per litre swept [mm²]. */
const CLOSED_LEAK_MM2 = 1.4
/** Reading of a pull from which the plate stands wide open [%]. */
const WIDE_PCT = 60
/** Degrees that a plate turns from closed to wide. */
const SWEEP_DEG = 90 - (REST_ANGLE_RAD * 180) / Math.PI
/** A sensor that reads closed above this tells a voltage: less of its range is the plate's [%]. */
const VOLTAGE_FROM_PCT = 7
const VOLTAGE_SPAN_PCT = 75
const PLAIN_SPAN_PCT = 95
const UNKNOWN_SPAN_PCT = 88
const spanOf = (closedPct: number): number => (closedPct > VOLTAGE_FROM_PCT ? VOLTAGE_SPAN_PCT : PLAIN_SPAN_PCT)
/** Middle of what sensors read on a closed plate [%]. */
const MIDDLE_ZERO_PCT = 7
/** Openings of idle above the lowest reading: below the first that reading may be idle itself, above the second it is the closed plate [%]. */
const CLOSED_SEEN = { from: 0.7, sure: 1.6 } as const

/** Reading above that of the closed plate at which a clean one offers an area [%], and how that grows with the area's logarithm. */
function cleanReading(areaMm2: number, v: Vehicle, degPerPct: number): number {
  const bore = (v.throttleBodies * PLATE_CD * Math.PI * v.throttleBoreMm ** 2) / 4
  const cos = Math.cos(REST_ANGLE_RAD) * (1 - Math.min(0.99, Math.max(0, areaMm2) / bore))
  return ((Math.acos(cos) - REST_ANGLE_RAD) * 180) / Math.PI / degPerPct
}

/** Kinds of point at which the opening belongs to the air that is taken. */
const STEADY_KINDS: ReadonlySet<string> = new Set(['idle', 'idle-load', 'hold', 'cruise'])

/** Share of ambient below which a plate throttles, and reading above closed up to which it does so by its opening [%]. */
const THROTTLES_BELOW = 0.85
const NARROW_PCT = 20

/** Duty of an idle valve below which its share of the air cannot be reckoned from it [%]. */
const LEAST_DUTY_PCT = 4

/** What is known of how a throttle reads, beside the points themselves. */
export interface PlateSensor {
  /** Lowest reading seen [%]: the closed plate, or where a control that damps its closing held it. */
  readonly closedPct?: number
  /** That reading is of another day: where the plate stands closed was observed then. */
  readonly isOfAnotherDay?: boolean
  /** Widest reading of a pull, on whatever day [%]. */
  readonly widestPct?: number
  /** The readings' zero is that of another kind of sensor and tells nothing of others. */
  readonly ownZero?: boolean
}

/** Widest reading of the pulls among points; 0 without any [%]. */
export const widestOf = (points: readonly OperatingPoint[]): number =>
  Math.max(0, ...points.map((p) => (p.kind === 'pull' ? (p.means.throttle_pct ?? 0) : 0)))

/** A point at which the throttle and the air are known. */
interface Opened {
  readonly p: OperatingPoint
  readonly k: Basics
  /** Where it stands in the list of points. */
  readonly i: number
}

/** Area [mm²] that has to be open past every bypass, by what a fault does. */
type AreaOf = (e: Effect) => number

/**
 * The plate's own curve: where the plate stands at each steady point [%] against where a clean one would for the air that
 * passes it. Zero, scale, leakage and discharge are the car's own and shared by all its points; a ring of deposits makes the
 * curve steeper, air that comes in elsewhere flattens it. Where a valve makes the idle, the plate rests closed there and takes
 * at other speeds what the valve by its duty does not.
 *
 * @param sensor - what is known of how it reads
 */
export function plateCurve(
  points: readonly OperatingPoint[],
  known: readonly Basics[],
  v: Vehicle,
  { closedPct, widestPct = 0, isOfAnotherDay, ownZero }: PlateSensor = {},
): Observation[] {
  if (v.idleControl === 'none' || v.fuel === 'diesel') return []
  const byValve = v.idleControl === 'idle-valve'
  const usable = points.flatMap((p, i): Opened[] => {
    const k = known[i]
    // without airflow and without pressure the air is only what is expected
    const told = k.airKgS !== k.soundKgS
    const throttles = k.manifoldPa < THROTTLES_BELOW * k.ambientPa
    return STEADY_KINDS.has(p.kind) && p.means.throttle_pct !== undefined && told && throttles ? [{ p, i, k }] : []
  })
  const idle = usable.find(({ p }) => p.kind === 'idle')
  if (!usable.length || (byValve && !((idle?.p.means.idle_valve_pct ?? 0) > LEAST_DUTY_PCT))) return []
  const closed = closedPct ?? Math.min(...usable.map(({ p }) => p.means.throttle_pct!))
  const narrow = usable.filter(({ p }) => p.means.throttle_pct! - closed < NARROW_PCT)
  const widest = Math.max(widestPct, widestOf(points))
  const wide = widest > WIDE_PCT
  const span = wide ? widest - closed : closedPct === undefined ? UNKNOWN_SPAN_PCT : spanOf(closedPct)
  const leak = CLOSED_LEAK_MM2 * v.displacementL
  const idleMm2 = idle ? areaOf(idle.k) : 4.6 * v.displacementL
  const reading = (areaMm2: number): number => cleanReading(areaMm2, v, SWEEP_DEG / span)
  const byAir = hasMaf(v)
  const zero: Partial<Record<Nuisance, number>> = {
    [ownZero ? 'plate-zero-apart' : 'plate-zero']: SCATTER.plateZero,
    'plate-day': SCATTER.plateDay,
  }
  const curve = narrow.flatMap((x): Observation[] => {
    const { p, i, k } = x
    const open = byValve ? besideTheValve(x, idle!, leak, byAir) : byPlateAlone(x, leak, idleMm2, byAir)
    if (!open) return []
    const area = open(NO_EFFECT)
    const needed = areaOf(k)
    const clean = reading(area)
    const perMm2 = (reading(area + 0.1 * needed) - reading(area - 0.1 * needed)) / (0.2 * needed)
    const perLog = perMm2 * needed
    return [
      {
        group: 'plate',
        point: i,
        residual: p.means.throttle_pct! - clean - MIDDLE_ZERO_PCT,
        ownSd: Math.hypot(
          p.n < MANY_ROWS ? SCATTER.plateTyped : SCATTER.platePoint,
          byValve ? SCATTER.plateBesideValve : 0,
          perLog * (byAir ? SCATTER.mafPoint + SCATTER.plateCurve : 0.02 + SCATTER.plateCurve),
        ),
        shared: {
          ...zero,
          'plate-scale': clean * (wide ? SCATTER.plateScale.seen : SCATTER.plateScale.unseen),
          'plate-leak': -SCATTER.plateLeak * perMm2 * leak,
          'plate-discharge': SCATTER.plateDischarge * perMm2 * area,
          ...(byAir ? { maf: -SCATTER.maf * perLog } : scaled(veNuisances(p, k), perLog)),
        },
        predict: (e) => reading(open(e)) - clean,
      },
    ]
  })
  const rest =
    idle && closedPct !== undefined && !isOfAnotherDay
      ? [closedPlate(idle, closed, reading(idleMm2 - leak), byValve, zero)]
      : []
  return curve.length ? [...curve, ...rest] : []
}

/** Where the closed plate stands; one that is held open on the overrun stands where idle does. */
function closedPlate(
  idle: Opened,
  closed: number,
  atIdle: number,
  byValve: boolean,
  zero: Observation['shared'],
): Observation {
  const above = idle.p.means.throttle_pct! - closed
  const sure = byValve
    ? 1
    : Math.min(1, Math.max(0, (above - CLOSED_SEEN.from) / (CLOSED_SEEN.sure - CLOSED_SEEN.from)))
  const { seen, unseen } = SCATTER.plateClosed
  return {
    group: 'plate',
    point: idle.i,
    residual: closed - (1 - sure) * atIdle - MIDDLE_ZERO_PCT,
    ownSd: unseen * (seen / unseen) ** sure,
    shared: zero,
    predict: () => 0,
  }
}

/** Area that the air of a point needs at its pressures [mm²]. */
const areaOf = (k: Basics): number => (k.airKgS / k.flux) * 1e6

/** An electronic plate takes all that does not leak past it, and opens by what a ring shades. */
const byPlateAlone =
  ({ k }: Opened, leak: number, idleMm2: number, byAir: boolean): AreaOf =>
  (e) =>
    throughMm2(e, k, byAir) - leakLeft(e, leak) + ring(e, idleMm2)

/** A plate beside an idle valve takes what that does not: at idle all but the leakage is the valve's, elsewhere as its duty goes. */
function besideTheValve({ p, k }: Opened, idle: Opened, leak: number, byAir: boolean): AreaOf | undefined {
  if (p.kind !== 'hold' && p.kind !== 'cruise') return undefined
  const duty = p.means.idle_valve_pct
  if (duty === undefined) return undefined
  const ratio = duty / idle.p.means.idle_valve_pct!
  return (e) => {
    const left = leakLeft(e, leak)
    return throughMm2(e, k, byAir) - left - ratio * Math.max(0, throughMm2(e, idle.k, byAir) - left)
  }
}

/** Area that plate and valve have to offer [mm²] once a fault takes or brings a part of the air. */
function throughMm2(e: Effect, k: Basics, byAir: boolean): number {
  const past = byAir
    ? meteredRatio(e) - e.spareKgS / k.airKgS
    : Math.exp(pressureTerm(e, k.manifoldPa) + inertTerm(e, k.airKgS) + e.veLog) - (e.leakKgS + e.spareKgS) / k.airKgS
  return Math.max(0, past) * areaOf(k)
}

/** Most of the opening that deposits are taken to close [–]. */
const MOST_LOST = 0.9

/** What still passes the closed plate: deposits narrow that too. */
const leakLeft = (e: Effect, leak: number): number => leak * (1 - Math.min(MOST_LOST, e.lostShare))

/** Area that deposits shade beside the plate [mm²]: at idle the share that is lost there, and no less further up. */
function ring(e: Effect, idleMm2: number): number {
  const lost = Math.min(MOST_LOST, e.lostShare)
  return (lost / (1 - lost)) * idleMm2
}
