/** Kinds of reading that an explanation takes together. */
export type ReadingGroup =
  'trims' | 'airflow' | 'pressure' | 'full-load' | 'opening' | 'idle-speed' | 'wander' | 'barometer' | 'temperature'

/**
 * Shared nuisances: things a healthy engine may differ in, the same at several readings. `load@3` and the like belong to one
 * point alone.
 */
export type Nuisance =
  | 'fuel'
  | 'blend'
  | 'maf'
  | 'maf-slope'
  | 've'
  | 've-overlap'
  | 've-speed'
  | 've-residual'
  | 've-pressure'
  | 'map'
  | 'baro'
  | 'bank'
  | 'vapour'
  | 'no-load'
  | 'no-load-speed'
  | 'consumers'
  | 'idle-extra'
  | 'opening'
  | 'full-load'
  | 'tuning'
  | `load@${number}`

/** Nuisances that stay with a car from one day to the next: its own healthy record narrows these. */
export const LASTING: ReadonlySet<string> = new Set([
  'fuel',
  'maf',
  'maf-slope',
  've',
  've-overlap',
  've-speed',
  've-residual',
  've-pressure',
  'map',
  'bank',
  'no-load',
  'no-load-speed',
  'idle-extra',
  'opening',
  'full-load',
  'tuning',
])

/**
 * Healthy scatter, one standard deviation, in logarithms unless named. Airflow sensor and injectors ±3 %, pressure ±1 kPa as
 * two standard deviations; fuel composition 0 to 10 % ethanol moves every trim by up to 4.2 %; purge and crankcase vapour act
 * as 1/flow. The figures of the unloaded engine and of its full load are wider than the simulated healthy population shows
 * (docs/diagnosis.md), since engines of other makers differ in ways that no population of ours holds.
 */
export const SCATTER = {
  /** Injectors, and what is in the tank today. */
  fuel: 0.02,
  blend: 0.014,
  maf: 0.015,
  mafSlope: 0.006,
  mapPa: 500,
  mapPointPa: 250,
  bank: 0.009,
  vapourAtIdle: 0.01,
  trimPoint: 0.005,
  /** Vapour that is purged: seen in its channel, or not reported at all. */
  purgeSeen: 0.04,
  purgeUnseen: 0.016,
  /** Cells of road load are learnt more slowly than those of a standing car. */
  roadTrimPoint: 0.018,
  egrFlow: 0.04,
  egrPressure: 0.12,
  typedTrim: 0.012,
  mafPoint: 0.008,
  /** Exhaust gas left in the cylinder: pressure that brings no air, as a share of ambient. It acts as an offset of the pressure does. */
  residualGas: 0.018,
  /** Work of the unloaded engine: level, tilt per e-fold of speed, what idle alone asks for, single point. */
  noLoad: 0.1,
  noLoadPerLogSpeed: 0.02,
  idleExtra: 0.022,
  noLoadPoint: 0.009,
  /** Consumers of the day that nobody has written down, per litre swept: a torque, so alike at every speed. */
  consumers: 0.06,
  /** Load of the road or of consumers that nobody knows. */
  someLoad: 0.5,
  idleLoad: 0.22,
  cold: 0.3,
  /** Breathing of a wide plate against that of a light load, engine by engine; and one pull against the next. */
  fullLoad: 0.045,
  fullLoadPoint: 0.025,
  /** Tuning of the inlet favours one speed: tilt per e-fold. */
  fullLoadPerLogSpeed: 0.1,
  /** Drop from ambient to the manifold of a wide plate. */
  fullLoadPressure: 0.018,
  weather: 0.011,
  /** A valve's stop is adjusted so that its duty stands in a band; a plate has no such adjustment. */
  valveLevel: 0.29,
  plateLevel: 0.33,
  openingPoint: 0.06,
  /** A plate's opening is told against the lowest reading seen, which a dashpot may hold open: two steps of the reading. */
  plateOpening: 0.1,
  idleSpeed: 0.025,
  loadedIdleSpeed: 0.05,
  wander: 0.5,
} as const

/** Rows after which sampling adds nothing to a point's own scatter. */
export const MANY_ROWS = 20

/** Work of generator and pumps with nothing switched on [W]: it asks for air by the second, whatever the engine's size and speed. */
const accessoryW = (displacementL: number): number => 280 + 35 * displacementL
/** Air that a watt at the crank costs [g/s]: indicated efficiency 0.37, 43.2 MJ/kg, 14.6 kg of air a kg of fuel, some of it late. */
const GS_PER_W = 1.06e-3
/** Idle burns late, to hold torque back for what comes: so much more air for the same work. */
const IDLE_BURNS_LATE = 1.16

/**
 * Air of an unloaded warm engine per swept litre and 1000 rpm [g/s]: friction, which grows with speed, and accessories. 2.4 L
 * at 700 rpm: 2.96 g/s, of which a hole of 1.6 mm would be 15 %.
 */
export function noLoadGsPerLKrpm(rpm: number, displacementL: number): number {
  const friction = 1.426 + 0.14 * (Math.min(3500, Math.max(600, rpm)) / 1000 - 1.5)
  const accessories = (GS_PER_W * accessoryW(displacementL)) / (displacementL * (Math.max(600, rpm) / 1000))
  return (rpm < 1100 ? IDLE_BURNS_LATE * friction : friction) + accessories
}

/** Air over that of the unloaded engine, by kind of load [–]: consumers switched on at idle, a level road. */
export const LOADED = { 'idle-load': 1.28, cruise: 1.6 } as const

/** Share of the needed idle area that a closed plate still leaks; the idle control cannot go below it. */
export const CLOSED_LEAK_SHARE = 0.3
/** How idle speed follows air in excess of what idle needs, d ln n / d ln ṁ; spark retard takes the rest. */
export const SPEED_PER_AIR = 0.5
/** Wander of a sound idle [rpm]. */
export const SOUND_WANDER_RPM = 5
/** Duty at which a healthy idle valve stands warm and unloaded [%]: middle of the simulated healthy population, 17 to 47. */
export const HEALTHY_IDLE_DUTY_PCT = 28
/** Pressure of a wide plate over ambient [–]. */
export const WIDE_PLATE = 0.968

/**
 * Exhaust flows back while both valves are open: a mass per second, so a share that goes as 1/n. How much is
 * the camshaft's affair; 8 % at 700 rpm, one standard deviation.
 */
export const overlapSd = (rpm: number): number => 0.05 * Math.min(1.5, 700 / rpm)

/**
 * Breathing grows with speed at light load, since less exhaust comes back each cycle: VE over that at 1500 rpm at the same
 * pressure [–]. Middle of the simulated healthy population.
 */
export const breathingAt = (rpm: number): number => (Math.min(3000, Math.max(600, rpm)) / 1500) ** 0.115

/** Breathing of a wide plate over that at 4000 rpm [–]: inlets are tuned for speed. */
export const wideBreathingAt = (rpm: number): number => (Math.min(4500, Math.max(1500, rpm)) / TUNED_RPM) ** 0.08
export const TUNED_RPM = 4000

/** Opening of a clean plate at idle over what a nominal one would need [–]: stops differ, and the air that leaks past. */
export const PLATE_STANDS = 0.7
