import { AIR_GAS_CONSTANT, ZERO_CELSIUS_K, flowFunction, standardPressurePa } from '../air/index.js'
import { hasMaf, throttleAreaMm2, REST_ANGLE_RAD, type Vehicle } from '../engine/index.js'
import { expectedAirflow, manifoldFromAirflowPa, VE_EXPONENT, VE_SCATTER } from '../expectation/index.js'
import type { OperatingPoint } from '../signals/index.js'
import type { Effect, PointContext } from './faults.js'

/** Kinds of reading that a leave-one-out explanation takes away together. */
export type ReadingGroup = 'trims' | 'airflow' | 'opening' | 'idle-speed'

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
  /** What a fault's effect adds to the residual. */
  readonly predict: (e: Effect) => number
}

/** Shared nuisances: things a healthy engine may differ in, the same at several readings. */
type Nuisance =
  | 'fuel'
  | 'maf'
  | 'maf-slope'
  | 've'
  | 've-overlap'
  | 've-speed'
  | 've-pressure'
  | 'map'
  | 'bank'
  | 'vapour'
  | 'no-load'
  | 'opening'

/**
 * Healthy scatter, one standard deviation. Airflow sensor and injectors ±3 %, pressure ±1 kPa as two standard
 * deviations; fuel composition 0 to 10 % ethanol moves every trim by up to 4.2 %; purge and crankcase vapour
 * act as 1/flow.
 */
const SCATTER = {
  fuel: 0.022,
  maf: 0.015,
  mafSlope: 0.008,
  mapPa: 500,
  bank: 0.014,
  vapourAtIdle: 0.014,
  trimPoint: 0.008,
  typedTrim: 0.012,
  mafPoint: 0.008,
  noLoadLevel: 0.18,
  noLoadPoint: 0.09,
  openingLevel: 0.38,
  openingPoint: 0.1,
  idleSpeed: 0.025,
} as const

/** Rows after which sampling adds nothing to a point's own scatter. */
const MANY_ROWS = 20

/** Share of the needed idle area that a closed plate still leaks; the idle control cannot go below it. */
const CLOSED_LEAK_SHARE = 0.3
/** How idle speed follows air in excess of what idle needs, d ln n / d ln ṁ; spark retard takes the rest. */
const SPEED_PER_AIR = 0.5

/** Everything the posterior works on: contexts of the points and the observations at them. */
export interface ObservationSet {
  readonly points: readonly OperatingPoint[]
  readonly contexts: readonly PointContext[]
  readonly observations: readonly Observation[]
}

/** Turns merged operating points into observations for this engine. */
export function observe(points: readonly OperatingPoint[], v: Vehicle, closedThrottlePct?: number): ObservationSet {
  const usable = points.filter(
    (p) => ['idle', 'idle-load', 'hold', 'cruise', 'pull', 'cold'].includes(p.kind) && p.rpm > 0,
  )
  const known = usable.map((p) => basics(p, v))
  const idle = known.find((_, i) => usable[i].kind === 'idle') ?? known[0]
  const idleKgS = idle?.airKgS ?? 1e-3 * v.displacementL
  const contexts = known.map<PointContext>((k) => ({
    airKgS: k.airKgS,
    idleKgS,
    fluxBehindPlate: k.flux,
    displacementL: v.displacementL,
    fullKgS: v.displacementL * 0.028,
  }))
  const observations = usable.flatMap((p, i) => [
    ...trims(p, i, v, known[i], contexts[i]),
    ...airflow(p, i, v, known[i]),
    ...(p.kind === 'idle' ? [...opening(p, i, v, known[i], closedThrottlePct), ...idleSpeed(p, i, v, known[i])] : []),
  ])
  return { points: usable, contexts, observations }
}

interface Basics {
  readonly ambientPa: number
  readonly intakeC: number
  readonly manifoldPa: number
  readonly measuredPressure: boolean
  readonly airKgS: number
  readonly flux: number
  readonly expectedLogSd: number
  readonly expectedKgS: number | undefined
  readonly from: string | undefined
}

function basics(p: OperatingPoint, v: Vehicle): Basics {
  const m = p.means
  // the standard atmosphere stands in: a reported barometer may share the pressure sensor's own bias
  const ambientPa = standardPressurePa(v.altitudeM)
  const intakeC = plausible(m.iat_c, 25)
  const gauge = m.gauge_vacuum_kpa === undefined ? undefined : ambientPa - 1000 * m.gauge_vacuum_kpa
  const readPa = m.map_kpa === undefined ? gauge : 1000 * m.map_kpa
  const load = p.kind === 'pull' ? 'full' : p.kind === 'idle' || p.kind === 'hold' ? 'none' : 'some'
  const expected = expectedAirflow({
    displacementL: v.displacementL,
    rpm: p.rpm,
    ambientPa,
    intakeC,
    manifoldPa: readPa !== undefined && readPa > 0 ? readPa : undefined,
    load,
    turbo: v.induction === 'turbo',
  })
  const measured = hasMaf(v) && m.maf_gs !== undefined && m.maf_gs > 0 ? m.maf_gs * 1e-3 : undefined
  const airKgS = measured ?? expected?.kgS ?? v.displacementL * p.rpm * 2.5e-6
  const manifoldPa = readPa ?? manifoldFromAirflowPa(airKgS, v.displacementL, p.rpm, ambientPa, intakeC)
  const flux =
    (ambientPa / Math.sqrt(AIR_GAS_CONSTANT * (intakeC + ZERO_CELSIUS_K))) *
    flowFunction(Math.min(1, manifoldPa / ambientPa))
  return {
    ambientPa,
    intakeC,
    manifoldPa,
    airKgS,
    flux,
    measuredPressure: readPa !== undefined,
    expectedKgS: expected?.kgS,
    expectedLogSd: expected?.logSd ?? 0,
    from: expected?.from,
  }
}

// an intake sensor at its open or short value tells nothing
const plausible = (c: number | undefined, otherwise: number): number =>
  c !== undefined && c > -39 && c < 110 ? c : otherwise

/** 1/(1+ε)·(1+duct) + L/ṁ_ind: true air per air reported; the bracket of the trim equation. */
function airRatio(e: Effect, indicatedKgS: number, bank?: 1 | 2): number {
  const skew = bank === undefined ? 0 : bank === 1 ? e.bankSkew : -e.bankSkew
  return (1 + e.ductShare) / (1 + e.mafError) + ((1 + skew) * e.leakKgS) / indicatedKgS
}

/** log of true over read manifold pressure to the power that air follows it with. */
function pressureTerm(e: Effect, manifoldPa: number): number {
  const truePa = Math.max(0.2 * manifoldPa, manifoldPa - e.mapOffsetPa)
  return (1 + VE_EXPONENT) * Math.log(truePa / manifoldPa)
}

/** log of the share of the swallow that is fresh air and not exhaust gas. */
function inertTerm(e: Effect, swallowKgS: number): number {
  return Math.log(1 - Math.min(0.6, e.inertKgS / swallowKgS))
}

function trims(p: OperatingPoint, i: number, v: Vehicle, k: Basics, c: PointContext): Observation[] {
  // above the open-loop threshold trims are frozen: a pull tells nothing by them
  if (p.kind === 'pull') return []
  const byAir = hasMaf(v)
  const out: Observation[] = []
  for (const bank of [1, 2] as const) {
    const t = p.means[bank === 1 ? 'trim1_pct' : 'trim2_pct']
    if (t === undefined || bank > v.banks) continue
    const idleShare = c.idleKgS / Math.max(c.airKgS, c.idleKgS)
    const own = Math.hypot(
      p.kind === 'cold' ? 2.5 * SCATTER.trimPoint : SCATTER.trimPoint,
      p.n < MANY_ROWS ? SCATTER.typedTrim : 0,
    )
    out.push({
      group: 'trims',
      point: i,
      bank,
      residual: Math.log(1 + t / 100),
      ownSd: own,
      shared: {
        fuel: SCATTER.fuel,
        vapour: SCATTER.vapourAtIdle * idleShare,
        bank: v.banks === 2 ? (bank === 1 ? SCATTER.bank : -SCATTER.bank) : 0,
        ...(byAir
          ? { maf: -SCATTER.maf, 'maf-slope': -SCATTER.mafSlope * Math.log(c.airKgS / c.idleKgS) }
          : {
              map: (-SCATTER.mapPa / k.manifoldPa) * (1 + VE_EXPONENT),
              've-overlap': 0.25 * overlapSd(p.rpm),
              've-speed': 0.02 * Math.log(p.rpm / 1500),
            }),
      },
      predict: byAir
        ? (e) => Math.log(airRatio(e, c.airKgS, bank)) - Math.log(1 + e.fuelError)
        : (e) => pressureTerm(e, k.manifoldPa) + inertTerm(e, k.airKgS) - Math.log(1 + e.fuelError),
    })
  }
  return out
}

/**
 * Exhaust flows back while both valves are open: a mass per second, so a share that goes as 1/n. How much is
 * the camshaft's affair; 8 % at 700 rpm, one standard deviation.
 */
const overlapSd = (rpm: number): number => 0.08 * Math.min(1.5, 700 / rpm)

function airflow(p: OperatingPoint, i: number, v: Vehicle, k: Basics): Observation[] {
  const gs = p.means.maf_gs
  if (!hasMaf(v) || gs === undefined || !(gs > 0) || k.expectedKgS === undefined) return []
  const byPressure = k.from === 'pressure'
  const logRatio = Math.log((gs * 1e-3) / k.expectedKgS)
  return [
    {
      group: 'airflow',
      point: i,
      residual: logRatio,
      ownSd: Math.hypot(
        SCATTER.mafPoint,
        byPressure ? VE_SCATTER.point : k.from === 'full-load-prior' ? 0.06 : SCATTER.noLoadPoint,
      ),
      shared: byPressure
        ? {
            maf: SCATTER.maf,
            ve: VE_SCATTER.level,
            've-overlap': overlapSd(p.rpm),
            've-speed': VE_SCATTER.perLogSpeed * Math.log(p.rpm / 1500),
            've-pressure': VE_SCATTER.perLogPressure * Math.log(k.manifoldPa / (0.35 * k.ambientPa)),
            map: (-SCATTER.mapPa / k.manifoldPa) * (1 + VE_EXPONENT),
          }
        : k.from === 'full-load-prior'
          ? { maf: SCATTER.maf, ve: 0.8 * VE_SCATTER.level }
          : { maf: SCATTER.maf, 'no-load': SCATTER.noLoadLevel },
      // air reported is what is swallowed over the bracket; where expectation came from load alone, the pressure drops out
      predict: (e) =>
        -Math.log(airRatio(e, k.airKgS)) + (byPressure ? pressureTerm(e, k.manifoldPa) + inertTerm(e, k.airKgS) : 0),
    },
  ]
}

/** Area the idle air needs [mm²] against what the opening offers, as a logarithm. */
function opening(p: OperatingPoint, i: number, v: Vehicle, k: Basics, closedPct?: number): Observation[] {
  const neededMm2 = (k.airKgS / k.flux) * 1e6
  const logOpen = logOpening(p, v, neededMm2, closedPct)
  if (logOpen === undefined) return []
  return [
    {
      group: 'opening',
      point: i,
      residual: logOpen,
      ownSd: SCATTER.openingPoint,
      shared: { opening: SCATTER.openingLevel },
      predict: (e) => Math.log(remainingOpening(e, k)) - Math.log(1 - e.lostShare),
    },
  ]
}

/** Share of the idle air that the plate or valve still has to pass, not below what leaks past it closed. */
function remainingOpening(e: Effect, k: Basics): number {
  return Math.max(CLOSED_LEAK_SHARE, 1 - e.leakKgS / k.airKgS)
}

/** Duty at which a healthy idle valve stands warm and unloaded [%]; ours, ±40 %. */
const HEALTHY_IDLE_DUTY_PCT = 30

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
        const excess = CLOSED_LEAK_SHARE + e.leakKgS / k.airKgS
        return excess > 1
          ? SPEED_PER_AIR * Math.log(excess)
          : e.lostShare > 0.75
            ? SPEED_PER_AIR * Math.log(0.25 + 1 - e.lostShare) * 0.3
            : 0
      },
    },
  ]
}
