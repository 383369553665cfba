// Cases for the bench of the diagnosis: engines, faults, drives and links drawn wider than any prior of the diagnosis, whose
// forward models are not used here.
import {
  ENGINE_PATTERNS,
  HEALTHY,
  readCar,
  ROAD_DRIVE,
  seededRandom,
  SHOP_DRIVE,
  standardPressurePa,
  type CodeSeen,
  type EngineSetup,
  type FaultId,
  type Random,
  type Recording,
  type SimulatedFaults,
  type Stretch,
  type Vehicle,
} from '@uvula/core'
import { classesBeyond, classesOf, hasPressure, type FaultClass, type Spec } from './classes.js'

/** A number between two. */
type Uniform = (a: number, b: number) => number
type Pick = <T>(list: readonly T[]) => T

/** A fault with its size. */
export interface Drawn {
  readonly fault: FaultId
  readonly variant?: string
  readonly severity: number
}

/** A car as it comes, what it was recorded as before, and what it really has. */
export interface Case extends Drawn {
  readonly i: number
  readonly kind: string
  readonly vehicle: Vehicle
  readonly recording: Recording
  /** Undefined where they were cleared before. */
  readonly codes?: readonly CodeSeen[]
  /** The same car, sound, on an earlier day. */
  readonly earlier?: Recording
  /** A sound car of its model. */
  readonly kin: Recording
  readonly road: boolean
  /** A sensor of air that tells nothing of the running engine. */
  readonly dead?: 'maf_gs' | 'map_kpa'
  /** The second of two. */
  readonly also?: Drawn
  readonly carried?: SimulatedFaults
}

/** An engine as it was read. */
export interface ReadEngine {
  readonly vehicle: Vehicle
  readonly recording: Recording
  readonly codes?: readonly CodeSeen[]
  readonly earlier?: Recording
}

/** Kinds of vehicle: the drawn patterns with a fuel controller, and what they lack beside them. */
const pattern = (id: string): Spec => ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle
export const KINDS: Readonly<Record<string, Spec>> = {
  'four-maf': pattern('four-maf'),
  'four-map': { ...pattern('four-map'), egr: 'valve' },
  'four-valve': pattern('four-valve'),
  'six-line': pattern('six-line'),
  'v6-maf': pattern('v6-maf'),
  'v6-both': { ...pattern('v6-maf'), metering: 'maf+map' },
  'v8-maf': pattern('v8-maf'),
  'turbo-di': pattern('turbo-di'),
}

/** Numbers side by side give streams that have nothing in common. */
function scrambled(n: number): number {
  let h = Math.imul(n ^ 0x9e3779b9, 0x85ebca6b)
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35)
  return (h ^ (h >>> 16)) >>> 0
}

/** Numbers of a seed. */
function tools(seed: number): { readonly random: Random; readonly u: Uniform; readonly pick: Pick } {
  const random = seededRandom(scrambled(seed))
  for (let i = 0; i < 4; i++) random()
  const u: Uniform = (a, b) => a + (b - a) * random()
  return { random, u, pick: (xs) => xs[Math.floor(random() * xs.length)] }
}

/** Another engine of the one drawn: other breathing, friction, leakage, vents and inlet than any one maker's. */
function otherEngine(u: Uniform, valve: boolean): NonNullable<EngineSetup['vary']> {
  // a shop's base adjustment keeps an idle valve in its band: what leaks past it varies less
  const [least, most] = valve ? [0.85, 1.2] : [0.5, 1.6]
  const k: Readonly<Record<string, number>> = {
    breathingPeak: u(0.86, 1.1),
    peakRpm: u(0.72, 1.3),
    breathingSlope: u(0.98, 1.04),
    breathingIntercept: u(0.75, 1.3),
    indicatedEfficiency: u(0.9, 1.08),
    frictionPa: u(0.85, 1.25),
    frictionPerSpeedPa: u(0.6, 1.5),
    accessoryW: u(0.5, 1.6),
    closedLeakMm2: u(least, most),
    throttleCd: u(0.9, 1.1),
    idleValveMm2: u(0.75, 1.3),
    ventMm2: u(least, most),
    inletDrag: u(0.5, 1.6),
    roughness: u(0.8, 2.2),
    soakK: u(0.5, 2),
    boostPa: u(0.7, 1.4),
  }
  return (c) => ({
    ...c,
    ...Object.fromEntries(
      Object.entries(c).flatMap(([key, x]: [string, unknown]) => (key in k ? [[key, Number(x) * k[key]]] : [])),
    ),
  })
}

/** A drive with other lengths and a consumer that nobody knows of. */
const otherDrive = (road: boolean, u: Uniform, extraNm: number): Stretch[] =>
  (road ? ROAD_DRIVE : SHOP_DRIVE).map((s) => ({
    seconds: s.seconds < 5 ? s.seconds : s.seconds * u(0.85, 1.25),
    controls: { ...s.controls, accessoryNm: s.controls.accessoryNm + extraNm },
  }))

/** Vehicle of a kind, of another size and place. */
function otherVehicle(kind: string, u: Uniform, pick: Pick): Vehicle {
  const v = KINDS[kind]
  const size = u(0.8, 1.25)
  const shift = Math.round(u(-40, 60))
  return {
    ...v,
    name: `${kind} of the bench`,
    displacementL: Number((v.displacementL * size).toFixed(2)),
    throttleBoreMm: Math.round(v.throttleBoreMm * Math.sqrt(size)),
    compressionRatio: Number((v.compressionRatio + u(-0.8, 0.8)).toFixed(1)),
    idleSpecRpm: { min: v.idleSpecRpm.min + shift, max: v.idleSpecRpm.max + shift },
    altitudeM: Math.round(pick([u(0, 300), u(0, 300), u(300, 1200), u(1200, 2200)])),
  }
}

/** Recording as a link and a tool hand it on: other resolution, channels that are not asked for. */
function throughLink(recording: Recording, u: Uniform): Recording {
  const columns = { ...recording.columns }
  if (u(0, 1) < 0.5) delete columns.baro_kpa
  if (u(0, 1) < 0.5) delete columns.purge_pct
  if (u(0, 1) < 0.4) delete columns.lambda_cmd
  delete columns.pedal_pct
  // a barometer by weather, and not by the table
  if (columns.baro_kpa) {
    const weather = u(-1.2, 1.2)
    columns.baro_kpa = columns.baro_kpa.map((x) => Math.round(x + weather))
  }
  // a gauge is off its zero, and so is the weather
  if (columns.gauge_vacuum_kpa) {
    const off = u(-1.2, 1.2)
    columns.gauge_vacuum_kpa = columns.gauge_vacuum_kpa.map((x) => x + off)
  }
  return { ...recording, columns }
}

/** Codes that come with age and say nothing of any class here. */
const STRAY = ['P0456', 'P0128', 'P0335']

/** Codes as they are found: in every fifth car somebody has cleared them, one in thirty has one that is nobody's. */
function codesFound(codes: readonly CodeSeen[], u: Uniform, pick: Pick): readonly CodeSeen[] | undefined {
  if (u(0, 1) < 0.2) return undefined
  return u(0, 1) < 1 / 30 ? [...codes, { code: pick(STRAY), state: 'stored' }] : codes
}

interface Day {
  readonly day: number
  readonly ambientC: number
  readonly extraNm: number
  readonly pollS: number
  readonly today: Partial<SimulatedFaults>
}

/** What differs from one day to the next in one engine: weather, consumers, fuel in the tank, load of the canister. */
const dayOf = (u: Uniform, pick: Pick, day: number): Day => ({
  day,
  ambientC: u(-5, 35),
  extraNm: Math.max(0, u(-3, 3)),
  pollS: pick([0.2, 0.4, 0.4, 0.8]),
  today: { ethanol: u(0, 0.06), canisterLoad: u(0.05, 0.5) },
})

/** An engine that is read; `road`: it is driven as well. */
interface Engine {
  readonly vehicle: Vehicle
  readonly seed: number
  readonly vary: NonNullable<EngineSetup['vary']>
  readonly gauge: boolean
  readonly road: boolean
}

/** An engine read on a day, with the faults of the case. */
function readOn(
  d: Day,
  q: Engine & { readonly faults?: Partial<SimulatedFaults>; readonly wiped?: boolean },
  u: Uniform,
): { readonly recording: Recording; readonly codes: readonly CodeSeen[] } {
  const { road, faults, wiped, ...engine } = q
  const { extraNm, today, ...rest } = d
  const read = readCar({
    ...engine,
    ...rest,
    faults: { ...HEALTHY, ...today, ...faults },
    wiped,
    drive: otherDrive(road, u, extraNm),
  })
  return { ...read, recording: throughLink(read.recording, u) }
}

/**
 * Case number i of a bench. A third is sound, the rest even over the classes that its vehicle can have; six cars of ten
 * were here before, sound, and were recorded then. Beside each stands a sound car of the same model on a day of its own.
 * @returns vehicle, recording, codes (undefined where they were cleared before), earlier (undefined), kin, truth
 */
export const caseOf = (i: number, seed: number): Case => drawn(i, seed, 'one')

/** The same with two faults at once, neither of which is the other's or undoes it; `also` is the second with its size. */
export const pairOf = (i: number, seed: number): Case => drawn(i, seed, 'two')

/** The same with one of what the usual cases have not: see `classesBeyond`; a sound engine with a dead sensor among them. */
export const beyondOf = (i: number, seed: number): Case => drawn(i, seed + 5_000, 'beyond')

/** What a dead sensor reads: nothing, or the air that stands. */
function withDead(recording: Recording, dead: Case['dead'], v: Vehicle): Recording {
  if (!dead) return recording
  const reads = dead === 'maf_gs' ? 0 : standardPressurePa(v.altitudeM) / 1000
  return { ...recording, columns: { ...recording.columns, [dead]: recording.columns[dead]!.map(() => reads) } }
}

/** Faults that cannot be carried together, or are one thing said twice. */
const NOT_TOGETHER: readonly (readonly FaultId[])[] = [
  ['unmetered-air', 'unmetered-air-bank'],
  ['maf-under-reads', 'maf-over-reads'],
  ['fuel-delivery-low', 'fuel-delivery-high'],
  ['pcv-stuck-open', 'pcv-blocked'],
  ['egr-open-at-idle', 'egr-no-flow'],
  ['weak-cylinder', 'ignition-misfire'],
]
const together = (a: FaultId, b: FaultId): boolean =>
  a !== b && !NOT_TOGETHER.some((p) => p.includes(a) && p.includes(b))

function drawn(i: number, seed: number, sort: 'one' | 'two' | 'beyond'): Case {
  const { u, pick, random } = tools(seed * 7919 + i * 104729 + 13)
  const kind = pick(Object.keys(KINDS))
  const vehicle = otherVehicle(kind, u, pick)
  const sound = random() < 0.36 && sort === 'one'
  const classes = sort === 'beyond' ? classesBeyond(vehicle) : classesOf(vehicle)
  const ids = [...new Set(classes.map((c) => c.fault))]
  const fault = sound ? 'none' : pick(ids)
  const severity = u(0, 1)
  const c = sound ? undefined : pick(classes.filter((x) => x.fault === fault))
  const besides = tools(seed * 9001 + i * 7717 + 1)
  const second = sort === 'two' ? besides.pick(classesOf(vehicle).filter((x) => together(x.fault, fault))) : undefined
  const also = second && { fault: second.fault, variant: second.variant, severity: besides.u(0, 1) }
  const faults = {
    ...(second && also ? second.set(also.severity, vehicle) : {}),
    ...(c ? c.set(severity, vehicle) : {}),
  }
  const engine: Engine = {
    vehicle,
    seed: 1 + Math.floor(1e6 * random()),
    vary: otherEngine(u, vehicle.idleControl === 'idle-valve'),
    gauge: !hasPressure(vehicle) && random() < 0.65,
    road: random() < 0.8,
  }
  const { recording, codes } = readOn(dayOf(u, pick, 0), { ...engine, faults, wiped: c?.wiped }, u)
  // drawn apart: whether there is such a car changes nothing of the case
  const beside = tools(seed * 6007 + i * 15287 + 3)
  const sibling = { ...engine, seed: 1 + Math.floor(1e6 * beside.random()) }
  return {
    i,
    kind,
    vehicle,
    recording: withDead(recording, c?.dead, vehicle),
    dead: c?.dead,
    codes: codesFound(codes, u, pick),
    earlier: random() < 0.6 ? readOn(dayOf(u, pick, 1), engine, u).recording : undefined,
    kin: readOn(dayOf(beside.u, beside.pick, 0), sibling, beside.u).recording,
    road: engine.road,
    fault,
    variant: c?.variant,
    also,
    severity,
    carried: c && { ...HEALTHY, ...faults },
  }
}

/** A sound engine of a kind on two days, for the scatter of sound ones. */
export function soundOf(kind: string, i: number): ReadEngine {
  const { u, pick, random } = tools(i * 15485863 + Object.keys(KINDS).indexOf(kind) * 31 + 5)
  const vehicle = otherVehicle(kind, u, pick)
  const engine = {
    vehicle,
    seed: 1 + Math.floor(1e6 * random()),
    vary: otherEngine(u, vehicle.idleControl === 'idle-valve'),
    gauge: !hasPressure(vehicle),
    road: true,
  }
  const [today, before] = [0, 1].map((day) => readOn(dayOf(u, pick, day), engine, u))
  return { vehicle, ...today, earlier: before.recording }
}

export const nominalVehicle = (kind: string): Vehicle => ({ ...KINDS[kind], name: 'nominal', altitudeM: 300 })

/** The nominal engine of a kind with a fault of a size, or sound: its signature. */
export function nominal(kind: string, c?: FaultClass, s = 0): ReadEngine {
  const vehicle = nominalVehicle(kind)
  return {
    vehicle,
    ...readCar({
      vehicle,
      faults: c ? { ...HEALTHY, ...c.set(s, vehicle) } : HEALTHY,
      drive: 'road',
      seed: 77,
      pollS: 0.2,
      gauge: !hasPressure(vehicle),
    }),
  }
}
