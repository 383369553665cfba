import { feedRefusals, type FeedRefusal, type FeedRequest } from '../cleaning/index.js'
import { fedSoFar } from './fedSoFar.js'
import { hasSteadyVacuum, type Vehicle } from '../engine/index.js'
import { expectedAt, type ExpectedAirflow } from '../expectation/index.js'
import { livingPoints } from './living.js'
import { lastRound, manifoldKpaOf } from './points.js'
import { vehicleAtPlace, visitPressureKpa } from './place.js'
import { FRESH_MS } from './preconditions.js'
import { live, type VisitFile } from './records.js'

/** What a person chooses and types for a feed; a figure that is left out is taken from what was measured, or is unknown. */
export interface FeedChoices extends Pick<
  FeedRequest,
  | 'method'
  | 'product'
  | 'doseMl'
  | 'labelMaxMl'
  | 'labelRateMlS'
  | 'point'
  | 'together'
  | 'equipment'
  | 'speedFrom'
  | 'extraction'
  | 'fireCover'
  | 'lampFlashing'
  | 'heldRunning'
  | 'filterClear'
> {
  readonly rpm?: number
  readonly airGS?: number
  readonly coolantC?: number
  /** Charge pressure above ambient at the held speed [kPa]; asked of a turbo engine only. */
  readonly boostKpa?: number
  /** Speed from which an unloaded engine may cut its fuel [rpm], where it is known. */
  readonly fuelCutAbove?: number
  /** How far the trim can go down before its stop [%], where it is known. */
  readonly trimStopPct?: number
}

/** The way that a feed is planned by at first: a port behind throttles of each cylinder's own reaches one cylinder. */
export const firstFeedMethod = (v: Pick<Vehicle, 'plenum'>): FeedChoices['method'] =>
  v.plenum === 'individual' ? 'aerosol-ahead-of-plate' : 'metered-port'

/** What was measured that a feed stands on. */
export interface FeedMeasured {
  readonly rpm?: number
  readonly airGS?: number
  /** What tells the airflow: its sensor, or what the engine must swallow at least at the pressure, for want of one or against its word. */
  readonly airFrom?: 'sensor' | 'pressure' | 'pressure-against-sensor'
  readonly coolantC?: number
  readonly boostKpa?: number
  /** Manifold vacuum there [kPa]. */
  readonly vacuumKpa?: number
  readonly totalTrim?: number
  readonly shortTrim?: number
}

/** Speeds as near as this are one [–]: air goes with speed, and the rate of a feed with the air. */
const SAME_SPEED = 0.1

/**
 * What the last round knows of the speed that will be held: of its held speed, else of its idle, where none is named; of another
 * speed than that nothing is known but by reading it there. Coolant only while it is fresh.
 *
 * @param nowMs - the present
 * @param rpm - the speed that will be held, where it is known
 */
export function measuredForFeed(f: VisitFile, nowMs: number, rpm?: number): FeedMeasured {
  const points = livingPoints(f, lastRound(f)).filter((p) => p.kind === 'hold' || p.kind === 'idle')
  const held = points.find((p) => p.kind === 'hold') ?? points.find((p) => p.kind === 'idle')
  const at = rpm === undefined ? held : points.find((p) => Math.abs(p.rpm - rpm) <= SAME_SPEED * rpm)
  const m = at?.means ?? {}
  const mapKpa = at && manifoldKpaOf(at)
  const share = (pct: number | undefined): number | undefined => (pct === undefined ? undefined : pct / 100)
  const v = vehicleAtPlace(f)
  const ambientKpa = visitPressureKpa(f.visit)
  const vacuumKpa =
    mapKpa !== undefined ? Math.max(0, ambientKpa - mapKpa) : hasSteadyVacuum(v) ? m.gauge_vacuum_kpa : undefined
  const swallowed =
    at && vacuumKpa !== undefined
      ? expectedAt({
          vehicle: v,
          kind: 'hold',
          rpm: at.rpm,
          manifoldKpa: mapKpa ?? ambientKpa - vacuumKpa,
          ambientC: f.visit.ambientC,
        })
      : undefined
  return {
    rpm: held?.means.rpm,
    ...airOf(m.maf_gs, swallowed),
    coolantC: freshCoolant(f, nowMs),
    vacuumKpa,
    totalTrim: share(m.trim1_pct),
    shortTrim: share(m.stft1_pct),
  }
}

/** The airflow that a feed is rated by: a sensor that reads more than the engine can swallow is not believed. Less air bears less. */
function airOf(
  sensorGS: number | undefined,
  swallowed: ExpectedAirflow | undefined,
): Pick<FeedMeasured, 'airGS' | 'airFrom'> {
  if (swallowed && !(sensorGS! <= 1000 * swallowed.highKgS))
    return {
      airGS: 1000 * swallowed.lowKgS,
      airFrom: sensorGS === undefined ? 'pressure' : 'pressure-against-sensor',
    }
  return sensorGS === undefined ? {} : { airGS: sensorGS, airFrom: 'sensor' }
}

function freshCoolant(f: VisitFile, nowMs: number): number | undefined {
  // a reading of a clock that goes ahead says nothing of now
  const fresh = (at: string): boolean => nowMs >= Date.parse(at) && nowMs - Date.parse(at) <= FRESH_MS
  const typed = live(f.readings)
    .filter((r) => r.channel === 'ect_c' && fresh(r.at))
    .sort((a, b) => b.at.localeCompare(a.at))
    .at(0)?.value
  const recorded = live(f.recordings)
    .filter((r) => fresh(r.at))
    .flatMap((r) => r.points.flatMap((p) => p.means.ect_c ?? []))
    .at(-1)
  return typed ?? recorded
}

/** Rules that no reading and no tick changes: told before anything is asked for. */
const NEVER: readonly string[] = ['diesel', 'no-such-point', 'coated-bore']

/** Rules that an unknown figure breaks too. */
const TOLD_AS_UNKNOWN: readonly string[] = ['coolant-band', 'airflow', 'boost', 'fuel-cut']

/** Codes of a particulate filter that is full, or regenerates too often (SAE J2012). */
const SOOT = /^P24(59|63|64|A4)$/

/** Why nothing combustible is fed to a car whose particulate filter is full, by a code that stands; undefined where none does. */
export function sootRefusal(f: VisitFile, product: FeedRequest['product']): FeedRefusal | undefined {
  const code = live(f.codes).find((c) => !c.cleared && SOOT.test(c.code))?.code
  return code && product.kind === 'combustible'
    ? {
        rule: 'particulate-filter',
        message: `Code ${code} stands: the particulate filter is full of soot. Nothing combustible is fed until it is clear and the code is gone.`,
      }
    : undefined
}

/** Ways of reading the speed that must have heard it. */
const BY_EAR: readonly FeedRequest['speedFrom'][] = ['ripple', 'microphone']

export type FeedAsked =
  | { readonly ok: true; readonly request: Omit<FeedRequest, 'vehicle'> }
  | { readonly ok: false; readonly refusals: readonly FeedRefusal[] }

/**
 * A visit and what a person chose as a request; what nobody has measured or typed is asked for, never filled in. Without
 * both the trim and its stop the trim is given no part in what the engine can take.
 *
 * @param feedRunning - another feed goes on
 */
export function feedRequestOf(f: VisitFile, c: FeedChoices, nowMs: number, feedRunning: boolean): FeedAsked {
  const byEar = BY_EAR.includes(c.speedFrom)
  const m = measuredForFeed(f, nowMs, c.rpm)
  const unknown: FeedRefusal[] = []
  const ask = (x: number | undefined, rule: string, message: string): number => {
    if (x === undefined || Number.isNaN(x)) unknown.push({ rule, message })
    return x ?? NaN
  }
  // by ear the speed is that which was heard, never one from another hour
  const rpm = ask(
    c.rpm ?? (byEar ? undefined : m.rpm),
    'speed-unknown',
    'The speed that will be held is not known: measure it, or type it.',
  )
  const airGS = ask(
    c.airGS ?? m.airGS,
    'airflow-unknown',
    `The airflow at ${c.rpm === undefined ? 'the held speed' : `${c.rpm.toFixed(0)} rpm`} is not known: measure it there, or type it.`,
  )
  const coolantC = ask(
    c.coolantC ?? m.coolantC,
    'coolant-unknown',
    'The coolant has not been read in the last quarter of an hour: read it, and type it.',
  )
  const turbo = f.vehicle.spec.induction === 'turbo'
  const boostKpa = turbo
    ? ask(
        c.boostKpa ?? m.boostKpa,
        'boost-unknown',
        'A turbo engine: read the charge pressure at the held speed, and type it.',
      )
    : 0
  const { trimStopPct, ...chosen } = c
  const trims =
    trimStopPct !== undefined && m.totalTrim !== undefined && m.shortTrim !== undefined
      ? {
          total: m.totalTrim,
          totalMin: -Math.abs(trimStopPct) / 100,
          short: m.shortTrim,
          shortMin: -Math.abs(trimStopPct) / 100,
        }
      : undefined
  const request = {
    ...chosen,
    rpm,
    airGS,
    coolantC,
    boostKpa,
    ...(m.vacuumKpa === undefined ? {} : { vacuumKpa: m.vacuumKpa }),
    feedRunning,
    ...fedSoFar(f, nowMs),
    ...(trims ? { trims } : {}),
  }
  const sooted = sootRefusal(f, c.product)
  if (sooted) unknown.push(sooted)
  if (!unknown.length) return { ok: true, request }
  // what forbids it besides is told with it; what is not known is told once
  const known = feedRefusals({ ...request, vehicle: f.vehicle.spec }).filter((r) => !TOLD_AS_UNKNOWN.includes(r.rule))
  // what no reading and no tick would change is told alone: nobody reads a pressure for a feed that is never given
  const never = known.filter((r) => NEVER.includes(r.rule))
  return { ok: false, refusals: never.length ? never : [...unknown, ...known] }
}
