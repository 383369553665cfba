import { ZERO_CELSIUS_K, standardPressurePa } from '../air/index.js'
import { hasMaf, hasMap, REST_ANGLE_RAD, throttleAreaMm2, type Vehicle } from '../engine/index.js'
import { VE_EXPONENT, VE_SCATTER } from '../expectation/index.js'
import type { OperatingPoint } from '../signals/index.js'
import { airflowOf, basicsOf, type Basics } from './basics.js'
import type { Effect, PointContext } from './effect.js'
import {
  CLOSED_LEAK_SHARE,
  HEALTHY_IDLE_DUTY_PCT,
  MANY_ROWS,
  overlapSd,
  SCATTER,
  SOUND_WANDER_RPM,
  SPEED_PER_AIR,
  WIDE_PLATE,
  type Nuisance,
  type ReadingGroup,
} from './scatter.js'

export type { ReadingGroup } from './scatter.js'

/** One measured number as the model sees it: a logarithm, its expectation without a fault, its scatter. */
export interface Observation {
  readonly group: ReadingGroup
  readonly point: number
  readonly bank?: 1 | 2
  /** Measured minus expected of a healthy engine, in logarithms. */
  readonly residual: number
  /** Own scatter, independent of the others [log]. */
  readonly ownSd: number
  /** Coefficients of the shared nuisances, one standard deviation each. */
  readonly shared: Readonly<Partial<Record<Nuisance, number>>>
  /** A value at the end of its range: the truth lies there or beyond, up (+1) or down (−1). */
  readonly bound?: 1 | -1
  /** What a fault's effect adds to the residual. */
  readonly predict: (e: Effect) => number
}

/** Everything the posterior works on: contexts of the points and the observations at them. */
export interface ObservationSet {
  readonly points: readonly OperatingPoint[]
  readonly contexts: readonly PointContext[]
  readonly observations: readonly Observation[]
}

/** Kinds that are judged; of the others only key-on has its own reading. */
const JUDGED: ReadonlySet<string> = new Set(['idle', 'idle-load', 'hold', 'cruise', 'pull', 'cold', 'key-on'])
/** A short-term trim beyond this stands at its stop [%]; from the second figure on it does where it no longer moves. */
const TRIM_STOP_PCT = 24
const STILL_STOP_PCT = 12
/** Standard deviation of a short-term trim that no longer switches [%]. */
const STILL_PCT = 0.1

/** End of its range at which a short-term trim stands, if it does. */
function trimStop(p: OperatingPoint, bank: 1 | 2): 1 | -1 | undefined {
  const id = bank === 1 ? 'stft1_pct' : 'stft2_pct'
  const short = p.means[id] ?? 0
  const still = p.n >= MANY_ROWS && (p.sds[id] ?? 1) < STILL_PCT && Math.abs(short) >= STILL_STOP_PCT
  return Math.abs(short) >= TRIM_STOP_PCT || still ? (short > 0 ? 1 : -1) : undefined
}

/** Turns merged operating points into observations for this engine. */
export function observe(points: readonly OperatingPoint[], v: Vehicle, closedThrottlePct?: number): ObservationSet {
  const usable = points.filter((p) => JUDGED.has(p.kind) && (p.rpm > 0 || p.kind === 'key-on'))
  const known = usable.map((p) => basicsOf(p.kind === 'key-on' ? { ...p, rpm: 700 } : p, v))
  const at = usable.findIndex((p) => p.kind === 'idle')
  const idleKgS = (at >= 0 ? known[at] : undefined)?.airKgS ?? 1.05e-3 * v.displacementL
  const temperatureLog = temperatureOff(usable.find(showsTemperature))
  const contexts = known.map<PointContext>((k, i) => ({
    airKgS: k.airKgS,
    idleKgS,
    fluxBehindPlate: k.flux,
    displacementL: v.displacementL,
    fullKgS: v.displacementL * 0.028 * (v.induction === 'turbo' ? 1.5 : 1),
    rpm: usable[i].rpm,
    boosted: v.induction === 'turbo' && k.measuredPressure && k.manifoldPa > 1.03 * k.ambientPa,
    readIntakeC: usable[i].means.iat_c,
    temperatureOff: temperatureLog,
    cylinders: v.cylinders,
    banks: v.banks,
  }))
  const observations = usable.flatMap((p, i) => {
    if (p.kind === 'key-on') return keyOn(p, i, v)
    const k = known[i]
    return [
      ...trims(p, i, v, k, contexts[i]),
      ...airflow(p, i, v, k),
      ...pressure(p, i, v, k),
      ...(p.kind === 'idle'
        ? [...opening(p, i, v, k, closedThrottlePct), ...idleSpeed(p, i, v, k), ...wander(p, i)]
        : []),
    ]
  })
  return { points: usable, contexts, observations: [...observations, ...barometer(usable, v), ...temperature(usable)] }
}

/** 1/(1+ε)·(1+duct) + L/ṁ_ind: true air per air reported; the bracket of the trim equation. */
function airRatio(e: Effect, indicatedKgS: number, bank?: 1 | 2): number {
  const skew = bank === undefined ? 0 : bank === 1 ? e.bankSkew : -e.bankSkew
  return ((1 + e.ductShare) * (1 - e.lostAirShare)) / (1 + e.mafError) + ((1 + skew) * e.leakKgS) / indicatedKgS
}

/** log of true over read manifold pressure to the power that air follows it with. */
function pressureTerm(e: Effect, manifoldPa: number): number {
  const truePa = Math.max(0.2 * manifoldPa, manifoldPa - e.mapOffsetPa)
  return (1 + VE_EXPONENT) * Math.log(truePa / manifoldPa)
}

/** log of the share of the swallow that is fresh air and not exhaust gas. */
const inertTerm = (e: Effect, swallowKgS: number): number => Math.log(1 - Math.min(0.6, e.inertKgS / swallowKgS))

/** Nuisances of the work that an engine does at a point, unloaded or with a load that nobody knows. */
function workNuisances(p: OperatingPoint, i: number): Partial<Record<Nuisance, number>> {
  const idles = p.rpm < 1100 && p.kind !== 'cruise'
  return {
    'no-load': SCATTER.noLoad,
    'no-load-speed': SCATTER.noLoadPerLogSpeed * Math.log(p.rpm / 1500),
    ...(idles ? { 'idle-extra': SCATTER.idleExtra } : {}),
    ...(p.kind === 'cruise' ? { [`load@${i}`]: SCATTER.someLoad } : {}),
    ...(p.kind === 'idle-load' ? { [`load@${i}`]: SCATTER.idleLoad } : {}),
    ...(p.kind === 'cold' ? { [`load@${i}`]: SCATTER.cold + SCATTER.someLoad * (p.rpm > 1500 ? 1 : 0) } : {}),
  }
}

/** Nuisances of volumetric efficiency at a point. */
const veNuisances = (p: OperatingPoint, k: Basics): Partial<Record<Nuisance, number>> => ({
  ve: VE_SCATTER.level,
  've-overlap': overlapSd(p.rpm),
  've-speed': VE_SCATTER.perLogSpeed * Math.log(p.rpm / 1500),
  've-residual': (SCATTER.residualGas * k.ambientPa) / k.manifoldPa,
  've-pressure': VE_SCATTER.perLogPressure * Math.log(k.manifoldPa / (0.35 * k.ambientPa)),
})

const scaled = (xs: Partial<Record<Nuisance, number>>, by: number): Partial<Record<Nuisance, number>> =>
  Object.fromEntries(Object.entries(xs).map(([k, x]) => [k, (x ?? 0) * by]))

function trims(p: OperatingPoint, i: number, v: Vehicle, k: Basics, c: PointContext): Observation[] {
  // above the open-loop threshold trims are frozen: a pull tells nothing by them
  if (p.kind === 'pull' || v.injection === 'carburettor') return []
  const byAir = hasMaf(v)
  const out: Observation[] = []
  for (const bank of [1, 2] as const) {
    const t = p.means[bank === 1 ? 'trim1_pct' : 'trim2_pct']
    if (t === undefined || bank > v.banks) continue
    const idleShare = c.idleKgS / Math.max(c.airKgS, c.idleKgS)
    const cruising = p.kind === 'cruise'
    const own = Math.hypot(
      p.kind === 'cold' ? 2.5 * SCATTER.trimPoint : cruising ? SCATTER.roadTrimPoint : SCATTER.trimPoint,
      p.n < MANY_ROWS ? SCATTER.typedTrim : 0,
      // exhaust gas that is meant comes under load, and a controller without airflow only reckons how much
      cruising && !byAir && v.egr === 'valve' ? SCATTER.egrFlow : 0,
    )
    const side = bank === 1 ? 1 : -1
    const bound = trimStop(p, bank)
    const beside = (e: Effect): number => e.mixtureLog + side * e.mixtureSkew - Math.log(1 + e.fuelError)
    out.push({
      group: 'trims',
      point: i,
      bank,
      residual: Math.log(1 + t / 100),
      ownSd: own,
      ...(bound ? { bound } : {}),
      shared: {
        fuel: SCATTER.fuel,
        vapour: SCATTER.vapourAtIdle * idleShare,
        bank: v.banks === 2 ? side * SCATTER.bank : 0,
        ...(byAir
          ? { maf: -SCATTER.maf, 'maf-slope': -SCATTER.mafSlope * Math.log(c.airKgS / c.idleKgS) }
          : {
              map: (-SCATTER.mapPa / k.manifoldPa) * (1 + VE_EXPONENT),
              've-overlap': 0.25 * overlapSd(p.rpm),
              've-speed': 0.02 * Math.log(p.rpm / 1500),
              've-pressure': 0.015 * Math.log(k.manifoldPa / (0.35 * k.ambientPa)),
            }),
      },
      predict: byAir
        ? (e) => Math.log(airRatio(e, c.airKgS, bank)) + beside(e)
        : (e) => pressureTerm(e, k.manifoldPa) + inertTerm(e, k.airKgS) + e.veLog + e.densityLog + beside(e),
    })
  }
  return out
}

/** Airflow against what the work needs; in a pull against what a wide plate lets the engine take. */
function airflow(p: OperatingPoint, i: number, v: Vehicle, k: Basics): Observation[] {
  const kgS = airflowOf(p, v)
  if (kgS === undefined) return []
  const own = SCATTER.mafPoint
  if (p.kind === 'pull') {
    const turbo = v.induction === 'turbo'
    // without its pressure nobody knows what a turbo engine takes
    if (turbo && !k.measuredPressure) return []
    return [
      {
        group: 'full-load',
        point: i,
        residual: Math.log(kgS / k.soundKgS),
        ownSd: Math.hypot(own, SCATTER.fullLoadPoint),
        shared: { maf: SCATTER.maf, ...scaled(veNuisances(p, k), 0.8), ...(turbo ? {} : { baro: SCATTER.weather }) },
        predict: (e) =>
          -Math.log(airRatio(e, k.airKgS)) + e.veLog + (turbo ? pressureTerm(e, k.manifoldPa) : 1.39 * e.upstreamLog),
      },
    ]
  }
  return [
    {
      group: 'airflow',
      point: i,
      residual: Math.log(kgS / k.soundKgS),
      ownSd: Math.hypot(own, SCATTER.noLoadPoint),
      shared: { maf: SCATTER.maf, ...workNuisances(p, i) },
      predict: (e) => e.airNeed - Math.log(airRatio(e, k.airKgS)),
    },
  ]
}

/** Manifold pressure against what the work needs, by sensor or gauge; in a pull against ambient. */
function pressure(p: OperatingPoint, i: number, v: Vehicle, k: Basics): Observation[] {
  if (!k.measuredPressure) return []
  const bySensor = hasMap(v) && p.means.map_kpa !== undefined
  const off = (e: Effect): number => (bySensor ? -pressureTerm(e, k.manifoldPa) / (1 + VE_EXPONENT) : 0)
  const map = bySensor ? SCATTER.mapPa / k.manifoldPa : 0
  const point = (p.n < MANY_ROWS ? 2 : 1) * (SCATTER.mapPointPa / k.manifoldPa)
  if (p.kind === 'pull') {
    if (v.induction === 'turbo') return []
    return [
      {
        group: 'full-load',
        point: i,
        residual: Math.log(k.manifoldPa / (WIDE_PLATE * k.ambientPa)),
        ownSd: Math.hypot(SCATTER.fullLoadPressure, point),
        shared: { map, baro: SCATTER.weather },
        predict: (e) => e.upstreamLog + off(e),
      },
    ]
  }
  const share = 1 / (1 + VE_EXPONENT)
  return [
    {
      group: 'pressure',
      point: i,
      residual: Math.log(k.manifoldPa / k.soundPa),
      ownSd: Math.hypot(point, share * Math.hypot(SCATTER.noLoadPoint * (hasMaf(v) ? 0 : 1), VE_SCATTER.point)),
      shared: {
        map,
        ...scaled(workNuisances(p, i), share),
        ...scaled(veNuisances(p, k), -share),
        // a gauge reads against the weather of the day
        baro: bySensor ? 0.28 * SCATTER.weather : (SCATTER.weather * k.ambientPa) / k.manifoldPa,
      },
      predict: (e) => share * (e.airNeed - e.veLog - inertTerm(e, k.airKgS)) + off(e),
    },
  ]
}

/** Area the idle air needs [mm²] against what the opening offers, as a logarithm. */
function opening(p: OperatingPoint, i: number, v: Vehicle, k: Basics, closedPct?: number): Observation[] {
  const neededMm2 = (k.airKgS / k.flux) * 1e6
  const logOpen = logOpening(p, v, neededMm2, closedPct)
  if (logOpen === undefined) return []
  const byValve = v.idleControl === 'idle-valve'
  return [
    {
      group: 'opening',
      point: i,
      residual: logOpen,
      ownSd: byValve ? SCATTER.openingPoint : SCATTER.plateOpening,
      shared: { opening: byValve ? SCATTER.valveLevel : SCATTER.plateLevel },
      predict: (e) => Math.log(remainingOpening(e, k)) - Math.log(1 - e.lostShare) + e.dutyLog,
    },
  ]
}

/** Share of the idle air that the plate or valve still has to pass, not below what leaks past it closed. */
const remainingOpening = (e: Effect, k: Basics): number =>
  Math.max(CLOSED_LEAK_SHARE, 1 - (e.leakKgS + e.spareKgS) / k.airKgS)

function logOpening(p: OperatingPoint, v: Vehicle, neededMm2: number, closedPct?: number): number | undefined {
  const typicalMm2 = 4.6 * v.displacementL
  if (v.idleControl === 'idle-valve') {
    const duty = p.means.idle_valve_pct
    if (duty === undefined) return undefined
    return Math.log(Math.max(2, duty) / HEALTHY_IDLE_DUTY_PCT) - 0.5 * Math.log(neededMm2 / typicalMm2)
  }
  const pct = p.means.throttle_pct
  if (v.idleControl !== 'electronic-throttle' || pct === undefined || closedPct === undefined) return undefined
  // learnt offset and sensor zero make the angle relative: one step of 0.39 % and a stop margin are added
  const openPct = Math.max(0, pct - closedPct) + 0.8
  const offered = 0.75 * throttleAreaMm2(v.throttleBoreMm, REST_ANGLE_RAD + (openPct * 0.83 * Math.PI) / 180)
  const leak = CLOSED_LEAK_SHARE * typicalMm2
  return Math.log((offered + leak) / (neededMm2 + leak))
}

function idleSpeed(p: OperatingPoint, i: number, v: Vehicle, k: Basics): Observation[] {
  if (v.idleControl === 'none') return []
  const { min, max } = v.idleSpecRpm
  const inside = Math.min(max, Math.max(min, p.rpm))
  return [
    {
      group: 'idle-speed',
      point: i,
      residual: Math.log(p.rpm / inside),
      ownSd: SCATTER.idleSpeed,
      shared: {},
      predict: (e) => {
        const excess = CLOSED_LEAK_SHARE + (e.leakKgS + e.spareKgS) / k.airKgS
        const byAir =
          excess > 1
            ? SPEED_PER_AIR * Math.log(excess)
            : e.lostShare > 0.75
              ? SPEED_PER_AIR * Math.log(0.25 + 1 - e.lostShare) * 0.3
              : 0
        // within its band nobody sees it
        const free = Math.log(max / min) / 2
        const off = e.speedLog === 0 ? 0 : Math.sign(e.speedLog) * Math.max(0, Math.abs(e.speedLog) - free)
        return byAir + off
      },
    },
  ]
}

/** Wander of a recorded idle; typed ones have none. */
function wander(p: OperatingPoint, i: number): Observation[] {
  const sd = p.sds.rpm
  if (sd === undefined || p.n < MANY_ROWS) return []
  return [
    {
      group: 'wander',
      point: i,
      // what is calmer than sound says no more than sound
      residual: Math.log(Math.max(SOUND_WANDER_RPM, sd) / SOUND_WANDER_RPM),
      ownSd: SCATTER.wander,
      shared: {},
      predict: (e) => Math.max(0, e.wander),
    },
  ]
}

/** Pressure of a standing engine: the place's own. */
function keyOn(p: OperatingPoint, i: number, v: Vehicle): Observation[] {
  const kPa = p.means.map_kpa
  if (!hasMap(v) || kPa === undefined) return []
  const ambientPa = standardPressurePa(v.altitudeM)
  return [
    {
      group: 'barometer',
      point: i,
      residual: Math.log((1000 * kPa) / ambientPa),
      ownSd: 0.003,
      shared: { map: SCATTER.mapPa / ambientPa, baro: SCATTER.weather },
      predict: (e) => Math.log1p(e.mapOffsetPa / ambientPa),
    },
  ]
}

/** The reported barometer against the altitude. */
function barometer(points: readonly OperatingPoint[], v: Vehicle): Observation[] {
  const at = points.findIndex((p) => p.means.baro_kpa !== undefined)
  if (at < 0) return []
  const ambientPa = standardPressurePa(v.altitudeM)
  return [
    {
      group: 'barometer',
      point: at,
      residual: Math.log((1000 * points[at].means.baro_kpa!) / ambientPa),
      ownSd: 0.005,
      shared: { baro: SCATTER.weather },
      predict: (e) => Math.log1p(e.baroShare / ambientPa),
    },
  ]
}

/** Temperatures of a running engine that no car shows [°C]. */
const NO_CAR_SHOWS = { intake: { low: -30, high: 90 }, coolant: { low: -30, high: 125 } } as const

/** What a reading beyond the range counts at least: ten standard deviations [log of kelvin]. */
const BEYOND = 0.2

/** How far a temperature lies beyond what a car can show [log of kelvin]; 0 for plausible ones and without any. */
function temperatureOff(p: OperatingPoint | undefined): number {
  const outside = (c: number | undefined, { low, high }: { low: number; high: number }): number => {
    if (c === undefined || (c >= low && c <= high)) return 0
    const far = Math.log((c + ZERO_CELSIUS_K) / ((c < low ? low : high) + ZERO_CELSIUS_K))
    return far + Math.sign(far) * BEYOND
  }
  const intake = outside(p?.means.iat_c, NO_CAR_SHOWS.intake)
  const coolant = outside(p?.means.ect_c, NO_CAR_SHOWS.coolant)
  return Math.abs(intake) > Math.abs(coolant) ? intake : coolant
}

function temperature(points: readonly OperatingPoint[]): Observation[] {
  const at = points.findIndex(showsTemperature)
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

const showsTemperature = (p: OperatingPoint): boolean =>
  p.kind !== 'key-on' && (p.means.iat_c !== undefined || p.means.ect_c !== undefined)
