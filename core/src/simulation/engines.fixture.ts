import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import {
  addFault,
  AT_IDLE,
  drivenEngine,
  HEALTHY,
  stretch,
  take,
  type Controls,
  type SimulatedEngine,
} from './index.js'

/** Engines for the tests: the drawn patterns, and kinds that no pattern draws. */
const four = ENGINE_PATTERNS.find((p) => p.id === 'four-maf')!.vehicle
const EXTRA: Readonly<Record<string, Partial<Vehicle>>> = {
  diesel: {
    displacementL: 2.2,
    compressionRatio: 16.5,
    metering: 'maf+map',
    induction: 'turbo',
    injection: 'direct',
    fuel: 'diesel',
    throttleBoreMm: 54,
    egr: 'valve',
    pcv: 'orifice',
    pcvJoins: 'duct',
    idleSpecRpm: { min: 750, max: 850 },
    chargeSensor: true,
    purge: false,
  },
  'valve-lift': { loadControl: 'valve-lift' },
  'late-closing': { loadControl: 'late-closing' },
  'v8-two-throttles': {
    ...ENGINE_PATTERNS.find((p) => p.id === 'v8-maf')!.vehicle,
    throttleBodies: 2,
    throttleBoreMm: 58,
  },
  'turbo-map': { metering: 'map', induction: 'turbo', injection: 'direct', displacementL: 1.6, chargeSensor: true },
}

export const KINDS = [...ENGINE_PATTERNS.map((p) => p.id), ...Object.keys(EXTRA)]

export const vehicleOf = (kind: string, altitudeM = 0): Vehicle => ({
  ...four,
  ...(ENGINE_PATTERNS.find((p) => p.id === kind)?.vehicle ?? EXTRA[kind]),
  name: kind,
  altitudeM,
})

/** A driven engine with faults given as text. */
export function engineWith(
  kind: string,
  faults: readonly string[] = [],
  seed = 5,
  more: Partial<Vehicle> = {},
): SimulatedEngine {
  const vehicle = { ...vehicleOf(kind), ...more }
  const set = faults.reduce((f, text) => {
    const r = addFault(f, text, vehicle)
    if (!r.ok) throw new Error(r.message)
    return r.faults
  }, HEALTHY)
  return drivenEngine({ vehicle, faults: set, seed })
}

/** Means over the last seconds of a stretch. */
export interface Held {
  readonly rpm: number
  readonly mapKpa: number
  /** Total trims [points]. */
  readonly trim1: number
  readonly trim2: number
  readonly mafGs: number
  /** True flows [g/s]: through the sensor, fresh into the cylinders. */
  readonly meteredGs: number
  readonly freshGs: number
  /** Opening that the idle control commands [%]. */
  readonly openingPct: number
  readonly wanderRpm: number
  readonly chargeKpa: number
}

export function hold(e: SimulatedEngine, mode: Controls['mode'], more: Partial<Controls> = {}, seconds = 30): Held {
  take(e, stretch(seconds, mode, more))
  e.advance(seconds - 8)
  let n = 0
  const s = { rpm: 0, map: 0, t1: 0, t2: 0, maf: 0, metered: 0, fresh: 0, open: 0, rpm2: 0, charge: 0 }
  e.advance(8, () => {
    n++
    s.rpm += e.rpm
    s.rpm2 += e.rpm ** 2
    s.map += e.air.manifoldPa / 1000
    s.t1 += 100 * e.mixture.total(0, e.cell)
    s.t2 += 100 * e.mixture.total(1, e.cell)
    s.maf += 1e3 * e.mafRead
    s.metered += 1e3 * e.meteredKgS
    s.fresh += 1e3 * e.freshKgS
    s.open += 100 * (e.vehicle.idleControl === 'idle-valve' ? e.valve : e.plate)
    s.charge += e.chargePa / 1000
  })
  return {
    rpm: s.rpm / n,
    mapKpa: s.map / n,
    trim1: s.t1 / n,
    trim2: s.t2 / n,
    mafGs: s.maf / n,
    meteredGs: s.metered / n,
    freshGs: s.fresh / n,
    openingPct: s.open / n,
    wanderRpm: Math.sqrt(Math.max(0, s.rpm2 / n - (s.rpm / n) ** 2)),
    chargeKpa: s.charge / n,
  }
}

/** Idle and 2500 of a kind with faults. */
export function shop(
  kind: string,
  faults: readonly string[] = [],
  seed = 5,
  more: Partial<Vehicle> = {},
): { e: SimulatedEngine; idle: Held; fast: Held } {
  const e = engineWith(kind, faults, seed, more)
  const fast = hold(e, 'speed', { targetRpm: 2500 })
  const idle = hold(e, 'idle')
  e.controls = AT_IDLE
  return { e, idle, fast }
}
