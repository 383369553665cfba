import { hasMaf, type Vehicle } from '../engine/index.js'

/** Ids of the open format that this diagnosis weighs; never renamed. */
export type FaultId =
  | 'none'
  | 'unmetered-air'
  | 'unmetered-air-bank'
  | 'unmetered-air-duct'
  | 'maf-under-reads'
  | 'maf-over-reads'
  | 'map-sensor-offset'
  | 'throttle-deposits'
  | 'egr-open-at-idle'
  | 'fuel-delivery-low'
  | 'fuel-delivery-high'

/** What a fault does at one operating point; effects of faults together add up. */
export interface Effect {
  /** Air let in behind the plate, mean of the banks [kg/s]. */
  leakKgS: number
  /** β [–], −1..1: how far bank 1 draws more of it than bank 2. */
  bankSkew: number
  /** Air let in between sensor and plate, as a share of what passes the sensor [–]. */
  ductShare: number
  /** ε [–], < 0: the airflow sensor reads low. */
  mafError: number
  /** φ [–], < 0: less fuel than commanded. */
  fuelError: number
  /** Share of the idle opening that deposits have closed [–], 0..1. */
  lostShare: number
  /** b [Pa]: how much too high the manifold pressure sensor reads. */
  mapOffsetPa: number
  /** Exhaust gas in the manifold beyond what is meant [kg/s]. */
  inertKgS: number
}

export const NO_EFFECT: Effect = {
  leakKgS: 0,
  bankSkew: 0,
  ductShare: 0,
  mafError: 0,
  fuelError: 0,
  lostShare: 0,
  mapOffsetPa: 0,
  inertKgS: 0,
}

/** What an effect may depend on at a point. */
export interface PointContext {
  /** Best estimate of the airflow into the cylinders [kg/s]. */
  readonly airKgS: number
  /** Airflow at this engine's warm unloaded idle [kg/s]. */
  readonly idleKgS: number
  /** Mass flow through 1 m² behind the plate at this point's pressures [kg/(s·m²)]. */
  readonly fluxBehindPlate: number
  readonly displacementL: number
  /** Airflow at full load and high speed [kg/s], for errors quoted there. */
  readonly fullKgS: number
}

/** One grid point of a fault's parameters, with its prior weight. */
export interface Parameters {
  readonly values: readonly number[]
  readonly weight: number
}

/** A fault as the diagnosis knows it. */
export interface Fault {
  readonly id: FaultId
  readonly label: string
  /** Prior share among the faults of an engine, 1 unless a reason is stated. */
  readonly weight: number
  readonly admissible: (v: Vehicle) => boolean
  /** Parameter grid; every point stands for an equal share of a log-uniform or uniform prior. */
  readonly grid: (v: Vehicle) => readonly (readonly number[])[]
  readonly effect: (p: readonly number[], at: PointContext) => Partial<Effect>
}

/** n points spread evenly in the logarithm from a to b, at the middles of equal shares. */
export function logGrid(a: number, b: number, n: number): number[] {
  return Array.from({ length: n }, (_, i) => a * (b / a) ** ((i + 0.5) / n))
}

const cross = (...lists: (readonly number[])[]): number[][] =>
  lists.reduce<number[][]>((acc, list) => acc.flatMap((head) => list.map((x) => [...head, x])), [[]])

/** Error that goes from its idle to its high-flow figure with a flow constant of `reach` idle flows. */
const blend = (atIdle: number, atHigh: number, reach: number, c: PointContext): number => {
  const x = Math.max(0, c.airKgS - c.idleKgS) / (reach * c.idleKgS)
  return atIdle + (atHigh - atIdle) * (1 - Math.exp(-x))
}

const gasoline = (v: Vehicle): boolean => v.fuel === 'gasoline'
const trimmed = (v: Vehicle): boolean => gasoline(v) && v.injection !== 'carburettor'
const signed = (sign: number, xs: readonly number[]): number[] => xs.map((x) => sign * x)

/**
 * Parameter ranges: from just above healthy tolerance (±3 % airflow, ±3 % injectors, ±1 kPa) to the worst a
 * car still drives in with. Areas per litre swept, since a small engine stalls on a small hole.
 */
export const FAULTS: readonly Fault[] = [
  {
    id: 'none',
    label: 'Nothing wrong in what was measured',
    weight: 0,
    admissible: () => true,
    grid: () => [[]],
    effect: () => ({}),
  },
  {
    id: 'unmetered-air',
    label: 'Air let in behind the throttle',
    weight: 1,
    admissible: gasoline,
    grid: (v) => logGrid(0.15 * v.displacementL, 6 * v.displacementL, 36).map((mm2) => [mm2]),
    effect: ([mm2], c) => ({ leakKgS: mm2 * 1e-6 * c.fluxBehindPlate }),
  },
  {
    id: 'unmetered-air-bank',
    label: 'Air let in on one bank',
    weight: 1,
    admissible: (v) => trimmed(v) && hasMaf(v) && v.banks === 2,
    grid: (v) =>
      cross(logGrid(0.15 * v.displacementL, 4 * v.displacementL, 26), [-0.95, -0.75, -0.5, -0.3, 0.3, 0.5, 0.75, 0.95]),
    effect: ([mm2, skew], c) => ({ leakKgS: mm2 * 1e-6 * c.fluxBehindPlate, bankSkew: skew }),
  },
  {
    id: 'unmetered-air-duct',
    label: 'Split or loose duct after the sensor',
    weight: 1,
    admissible: (v) => gasoline(v) && hasMaf(v),
    // the share hardly fades: depression follows flow squared; engine movement may open it further with load
    grid: () => cross(logGrid(0.03, 0.5, 14), [0, 0.15, 0.3]),
    effect: ([share, growth], c) => ({ ductShare: share * (c.airKgS / c.idleKgS) ** growth }),
  },
  {
    id: 'maf-under-reads',
    label: 'Airflow sensor reads low',
    weight: 1,
    admissible: (v) => gasoline(v) && hasMaf(v),
    grid: () => cross(signed(-1, [0, 0.03, 0.06, 0.1, 0.16, 0.24]), signed(-1, logGrid(0.04, 0.36, 9)), [1, 2.5, 6]),
    effect: ([atIdle, atHigh, reach], c) => ({ mafError: blend(atIdle, atHigh, reach, c) }),
  },
  {
    id: 'maf-over-reads',
    label: 'Airflow sensor reads high',
    weight: 1,
    admissible: (v) => gasoline(v) && hasMaf(v),
    grid: () => cross([0, 0.03, 0.06, 0.1, 0.16, 0.24], logGrid(0.04, 0.36, 8), [1, 2.5, 6]),
    effect: ([atIdle, atHigh, reach], c) => ({ mafError: blend(atIdle, atHigh, reach, c) }),
  },
  {
    id: 'map-sensor-offset',
    label: 'Manifold pressure sensor off its zero',
    weight: 1,
    admissible: (v) => gasoline(v) && (v.metering === 'map' || v.metering === 'maf+map'),
    grid: () => [-1, 1].flatMap((s) => signed(s * 1000, logGrid(1.2, 10, 12)).map((b) => [b])),
    effect: ([pa]) => ({ mapOffsetPa: pa }),
  },
  {
    id: 'throttle-deposits',
    label: 'Deposits in the throttle or idle passage',
    weight: 1,
    admissible: (v) => gasoline(v) && v.idleControl !== 'none',
    grid: () => logGrid(0.15, 0.85, 16).map((x) => [x]),
    effect: ([share]) => ({ lostShare: share }),
  },
  {
    id: 'egr-open-at-idle',
    label: 'EGR valve leaks at idle',
    weight: 1,
    admissible: (v) => trimmed(v) && v.egr === 'valve',
    grid: (v) => logGrid(0.4 * v.displacementL, 4 * v.displacementL, 14).map((mm2) => [mm2]),
    // hot exhaust at about 600 K behind the cooler: the same area passes about 0.7 of the mass of cold air
    effect: ([mm2], c) => ({ inertKgS: 0.7 * mm2 * 1e-6 * c.fluxBehindPlate }),
  },
  {
    id: 'fuel-delivery-low',
    label: 'Too little fuel delivered',
    weight: 1,
    admissible: trimmed,
    // a weak pump falls further with flow
    grid: () => cross(signed(-1, logGrid(0.04, 0.32, 12)), [0, 0.04, 0.1]),
    effect: ([atIdle, further], c) => ({
      fuelError: atIdle - further * Math.min(1, c.airKgS / c.fullKgS),
    }),
  },
  {
    id: 'fuel-delivery-high',
    label: 'Too much fuel delivered',
    weight: 1,
    admissible: trimmed,
    // pressure too high gives the same share at every flow; a dripping injector fades with flow
    grid: () => cross(logGrid(0.04, 0.4, 12), [0, 1]),
    effect: ([atIdle, fades], c) => ({
      fuelError: fades ? (atIdle * c.idleKgS) / Math.max(c.airKgS, c.idleKgS) : atIdle,
    }),
  },
]

/** A fault by id. @throws RangeError on an id this diagnosis does not weigh */
export function faultOf(id: string): Fault {
  const found = FAULTS.find((f) => f.id === id)
  if (!found) throw new RangeError(`no fault "${id}"`)
  return found
}

/** Confounded without a parting test: to be said, and scored as one answer. */
export const CONFOUNDED: readonly (readonly [FaultId, FaultId])[] = [['maf-under-reads', 'unmetered-air-duct']]

/** Prior shares [–]: by how the car came. Source: ours, stated in the documentation. */
export const PRIOR = {
  none: { complaint: 0.2, 'check-up': 0.7, 'not-stated': 0.35 },
  pairs: 0.1,
  /** Something this list does not hold. */
  unexplained: 0.06,
} as const
