import { AIR_GAS_CONSTANT, ZERO_CELSIUS_K, flowFunction } from '../air/index.js'
import { airPathOf, hasMaf } from '../engine/index.js'
import { manifoldFromAirflowPa } from '../expectation/index.js'
import { isShutOff, ledgerOf, pinchedAreaMm2, smokeAreaMm2, type Ledger, type LedgerEntry } from '../tracing/index.js'
import type { Interval } from '../statistics/index.js'
import { LONG_STOP_PCT, trimStop, type OperatingPoint } from '../signals/index.js'
import { live, type FindingRecord, type VisitFile } from './records.js'
import { placeOf, vehicleAtPlace } from './place.js'
import { livingPoints } from './living.js'
import { lastRound } from './points.js'
import { overtaken } from './findPlace.js'
import { roundBefore } from './remedies.js'

/** Healthy spread of the mixture at idle, one standard deviation [–]: fuel, sensors and vapour together. */
const HEALTHY_TRIM_SD = 0.03
/** The same where a size is told: sensor and injectors, each within 3 % in two deviations, and some vapour [–]. */
const SIZED_TRIM_SD = 0.022
/** What an area takes besides: pressure behind the plate where nobody reads it, temperature, the shape of the opening [–]. */
const AREA_SD = 0.04
/** A trim at its stop is a bound: the engine may run lean besides, but none runs on a mixture leaner than this [λ]; ours. */
const LEANEST = 1.5
/** Gauge pressure of a smoke test when none is noted [Pa]. */
const SMOKE_PA = 3500

/** A short-term trim that goes on pulling where the long-term one is at its end [%]. */
const PULLING_PCT = 10

/** True when the long-term trim is at its end and the short-term one still pulls: what it shows is a bound. */
const spent = (p: OperatingPoint, bank: 1 | 2): boolean =>
  (p.means[bank === 1 ? 'ltft1_pct' : 'ltft2_pct'] ?? 0) >= LONG_STOP_PCT &&
  (p.means[bank === 1 ? 'stft1_pct' : 'stft2_pct'] ?? 0) >= PULLING_PCT

/** Unmetered air at idle in one round. */
export interface UnmeteredAir {
  readonly round: number
  /** [g/s] with 90 % bounds, never below 0. */
  readonly gramsPerS: Interval
  /** Share of the air the engine swallows at idle [%]. */
  readonly sharePct: Interval
  /** As effective area at idle if it comes in behind the plate [mm²]. */
  readonly areaMm2: Interval
  readonly totalTrimPct: number
  /** The trim stands at its stop: there is at least so much. */
  readonly atLeast: boolean
  /** Flow per area behind the plate [kg/(s·m²)]. */
  readonly flux: number
  readonly indicatedKgS: number
}

/**
 * Air let in past the sensor at idle, from trim and airflow: L = T·ṁ_ind, share T/(1+T). It is a
 * bookkeeping figure: whether the trim is air at all is the diagnosis's to say. Undefined without an
 * airflow sensor, or while idle trim or airflow are missing.
 */
export function unmeteredAir(f: VisitFile, round: number): UnmeteredAir | undefined {
  const v = vehicleAtPlace(f)
  if (!hasMaf(v)) return undefined
  const points = livingPoints(f, round)
  const idle = points.find((p) => p.kind === 'idle')
  const gs = idle?.means.maf_gs
  const trims = [idle?.means.trim1_pct, idle?.means.trim2_pct].filter((x): x is number => x !== undefined)
  if (!idle || gs === undefined || !(gs > 0) || trims.length === 0) return undefined
  const T = trims.reduce((a, b) => a + b, 0) / trims.length / 100
  const { pressurePa: ambientPa, intakeC: atIntakeC } = placeOf(f.visit)
  const intakeC = idle.means.iat_c ?? atIntakeC
  const gauge = idle.means.gauge_vacuum_kpa
  const pm =
    idle.means.map_kpa !== undefined
      ? idle.means.map_kpa * 1000
      : gauge !== undefined
        ? ambientPa - gauge * 1000
        : manifoldFromAirflowPa((gs * (1 + T)) / 1000, v.displacementL, Math.max(300, idle.rpm), ambientPa, intakeC)
  const flux =
    (ambientPa / Math.sqrt(AIR_GAS_CONSTANT * (intakeC + ZERO_CELSIUS_K))) *
    flowFunction(Math.min(0.999, Math.max(0.05, pm / ambientPa)))
  const atLeast = ([1, 2] as const).some((bank) => trimStop(idle, bank, points) === 1 || spent(idle, bank))
  const span = (x: (t: number) => number, sd = HEALTHY_TRIM_SD, also = 0): Interval => {
    const half = 1.645 * sd * (1 + Math.max(0, T))
    const median = x(Math.max(0, T))
    const wide = (edge: number): number => Math.hypot(edge - median, 1.645 * also * median)
    return {
      median,
      low: Math.max(0, median - wide(x(Math.max(0, T - half)))),
      high: atLeast ? x(LEANEST * (1 + Math.max(0, T)) - 1) : median + wide(x(Math.max(0, T + half))),
    }
  }
  const gramsPerS = span((t) => t * gs)
  const areaMm2 = span((t) => ((t * gs) / 1000 / flux) * 1e6, SIZED_TRIM_SD, AREA_SD)
  return {
    round,
    gramsPerS,
    sharePct: span((t) => (100 * t) / (1 + t)),
    // what may be nothing as air may be nothing as a hole: one page tells both
    areaMm2: gramsPerS.low === 0 ? { ...areaMm2, low: 0 } : areaMm2,
    atLeast,
    totalTrimPct: 100 * T,
    flux,
    indicatedKgS: gs / 1000,
  }
}

/**
 * What a branch let in by the trim with it shut; the trim with it open is that of a round's idle, the newest when left out, where nobody typed it.
 * Undefined where neither is known; without an airflow sensor there is no area.
 */
export function pinchSize(
  f: VisitFile,
  shutPct: number,
  typedOpenPct?: number,
  round = lastRound(f),
): { readonly openPct: number; readonly areaMm2?: number } | undefined {
  const base = unmeteredAir(f, round) ?? unmeteredAir(f, 0)
  const openPct = typedOpenPct ?? base?.totalTrimPct
  if (openPct === undefined) return undefined
  return base
    ? { openPct, areaMm2: pinchedAreaMm2(openPct / 100, shutPct / 100, base.indicatedKgS, base.flux) }
    : { openPct }
}

/** Entries of the ledger: what pinching and smoke sized, what a look only placed, what is mended. */
export function ledgerEntries(f: VisitFile, base: UnmeteredAir): LedgerEntry[] {
  const isPast = overtaken(f)
  // with it open the trim was that of its time
  const openPct = (x: FindingRecord): number =>
    x.figures?.open ?? (unmeteredAir(f, roundBefore(f, x)) ?? base).totalTrimPct
  const found = live(f.findings).filter(
    (x) =>
      x.outcome === 'fail' &&
      (isShutOff(x.test)
        ? // a branch that brings in fuel raises the trim when it is shut: no part of the air
          x.value === undefined || x.value < openPct(x)
        : ['look', 'smoke', 'flex-duct'].includes(x.test)),
  )
  const stations = [...new Set(found.map((x) => x.station))]
  const zones = new Map(airPathOf(f.vehicle.spec).stations.map((s) => [s.info.id, s.zone]))
  return stations.map((station) => {
    const all = found.filter((x) => x.station === station)
    // what was found again after the work counts, and not what was found before it
    const open = all.filter((x) => !isPast(x))
    const here = open.length ? open : all
    const pinch = here.find((x) => isShutOff(x.test) && x.value !== undefined)
    const smoke = here.find((x) => x.test === 'smoke' && x.value !== undefined)
    const { test } = pinch ?? smoke ?? here[0]
    const how = isShutOff(test) ? 'pinch' : (test as LedgerEntry['how'])
    // ahead of the plate the pressure over a hole is a hundredth of that behind it: an area there is another thing
    const ahead = zones.get(station) === 'sensor-to-plate' && station !== 'throttle'
    const areaMm2 = ahead
      ? undefined
      : pinch
        ? pinchedAreaMm2(openPct(pinch) / 100, pinch.value! / 100, base.indicatedKgS, base.flux)
        : smoke
          ? smokeAreaMm2(smoke.value!, smoke.figures?.pressure === undefined ? SMOKE_PA : 1000 * smoke.figures.pressure)
          : undefined
    return { station, areaMm2, repaired: !open.length, how }
  })
}

/** The account of unmetered air of a visit, with what the remedies so far have taken away measured, not assumed. */
export interface VisitLedger {
  readonly before: UnmeteredAir
  readonly now: UnmeteredAir
  readonly ledger: Ledger
  readonly entries: readonly LedgerEntry[]
  /** True when now's interval reaches down to nothing. */
  readonly accounted: boolean
}

/** The account, or undefined while the baseline idle is not measured. */
export function visitLedger(f: VisitFile): VisitLedger | undefined {
  const before = unmeteredAir(f, 0)
  if (!before) return undefined
  const rounds = Array.from({ length: lastRound(f) + 1 }, (_, i) => unmeteredAir(f, i)).filter((x) => x !== undefined)
  const now = rounds[rounds.length - 1] ?? before
  const entries = ledgerEntries(f, before)
  return { before, now, entries, ledger: ledgerOf(before.areaMm2, entries), accounted: now.gramsPerS.low === 0 }
}

/** Air that an area behind the plate lets in at idle [g/s], and the trim it makes at another airflow [%]. */
export const leakAtIdle = (
  u: UnmeteredAir,
  areaMm2: number,
): { readonly gramsPerS: number; readonly trimPctAt: (airflowGS: number) => number } => {
  const gramsPerS = areaMm2 * 1e-6 * u.flux * 1e3
  return { gramsPerS, trimPctAt: (airflowGS) => (100 * gramsPerS) / airflowGS }
}
