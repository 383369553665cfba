import { MIXTURE_SCATTER } from '../expectation/index.js'

/** Kinds of reading that an explanation takes together. */
export type ReadingGroup =
  | 'trims'
  | 'airflow'
  | 'pressure'
  | 'full-load'
  | 'mixture'
  | 'charge'
  | 'opening'
  | 'plate'
  | 'idle-speed'
  | 'wander'
  | 'barometer'
  | 'temperature'

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
  | 'lean-need'
  | 'opening'
  | 'plate-zero'
  | 'plate-zero-apart'
  | 'plate-day'
  | 'plate-scale'
  | 'plate-leak'
  | 'plate-discharge'
  | 'full-load'
  | 'tuning'
  | `load@${number}`

/**
 * Nuisances that stay with a car from one day to the next, and the share of each one's variance that cars of one model have in
 * common: design sets breathing, friction and plate; sensor, injectors and wear are each car's own. Breathing of two cars
 * of a model differs by 3 %, unloaded air by 4 %, a plate or valve by a sixth.
 */
export const LASTING: Readonly<Record<string, { readonly ofModel: number }>> = {
  fuel: { ofModel: 0 },
  maf: { ofModel: 0 },
  'maf-slope': { ofModel: 0 },
  ve: { ofModel: 0.91 },
  've-overlap': { ofModel: 0.85 },
  've-speed': { ofModel: 0.85 },
  've-residual': { ofModel: 0.85 },
  've-pressure': { ofModel: 0.85 },
  map: { ofModel: 0 },
  bank: { ofModel: 0 },
  'no-load': { ofModel: 0.84 },
  'no-load-speed': { ofModel: 0.75 },
  'idle-extra': { ofModel: 0.75 },
  opening: { ofModel: 0.7 },
  // zeros of one kind of sensor lie half a percent apart
  'plate-zero': { ofModel: 0.996 },
  'plate-scale': { ofModel: 0.9 },
  'plate-leak': { ofModel: 0.7 },
  'plate-discharge': { ofModel: 0.8 },
  'full-load': { ofModel: 0.85 },
  tuning: { ofModel: 0.9 },
}

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
  residualGas: 0.025,
  /** Work of the unloaded engine: level, tilt per e-fold of speed, what idle alone asks for, single point. */
  noLoad: 0.1,
  noLoadPerLogSpeed: 0.036,
  idleExtra: 0.022,
  noLoadPoint: 0.009,
  /** Consumers of the day that nobody has written down, per litre swept: a torque, so alike at every speed. */
  consumers: 0.06,
  /** Consumers that switch by themselves while a held speed is typed, fan and compressor, per litre swept. */
  consumersTyped: 0.2,
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
  /** A wideband sensor and the fuel of a loop that is open, at a pull's flow; where a blowing turbo sweeps its cylinders with air besides. */
  fullMixture: MIXTURE_SCATTER.openLoop,
  sweptMixture: MIXTURE_SCATTER.swept,
  /** What trims that nobody read may add to a pull. */
  untrimmed: 0.05,
  /** Loss ahead of a turbo that does not blow, of a sound inlet, and what its sensor and the barometer read beside each other. */
  chargePoint: 0.006,
  weather: 0.011,
  /** A valve's stop is adjusted so that its duty stands in a band; a plate has no such adjustment. */
  valveLevel: 0.29,
  openingPoint: 0.06,
  /**
   * A plate's curve: its sensor's zero, any and from day to day [%]; the closed reading, seen on the overrun or held open
   * [%]; share of its reading by the sensor's range;
   * share of what passes it closed; its discharge [log]; a point's own, recorded and typed [%], and what the law leaves [log].
   */
  plateZero: 8,
  plateDay: 0.15,
  plateClosed: { seen: 0.4, unseen: 2.5 },
  plateScale: { seen: 0.05, unseen: 0.14 },
  plateLeak: 0.4,
  plateDischarge: 0.1,
  platePoint: 0.12,
  plateTyped: 0.3,
  plateCurve: 0.04,
  /** What a valve passes away from idle follows its duty so well [%]. */
  plateBesideValve: 0.4,
  idleSpeed: 0.025,
  /** Above its band: for charging, heating or a catalyst that it warms a control holds an idle up, and says nothing. */
  idleSpeedAbove: 0.04,
  loadedIdleSpeed: 0.05,
  wander: 0.5,
} as const

/** Work of generator and pumps with nothing switched on [W]: it asks for air by the second, whatever the engine's size and speed. */
const accessoryW = (displacementL: number): number => 280 + 35 * displacementL
/** Air that a watt at the crank costs [g/s]: indicated efficiency 0.37, 43.2 MJ/kg, 14.6 kg of air a kg of fuel, some of it late. */
const GS_PER_W = 1.06e-3
/** Idle burns late, to hold torque back for what comes: so much more air for the same work. */
const IDLE_BURNS_LATE = 1.16
/** Speed from which nothing is burnt late [rpm]. */
export const NO_LATE_BURN_RPM = 1100

/**
 * Air of an unloaded warm engine per swept litre and 1000 rpm [g/s]: friction, which grows with speed, and accessories. 2.4 L
 * at 700 rpm: 2.96 g/s, of which a hole of 1.6 mm would be 15 %.
 */
export function noLoadGsPerLKrpm(rpm: number, displacementL: number): number {
  const friction = 1.426 + 0.14 * (Math.min(3500, Math.max(600, rpm)) / 1000 - 1.5)
  const accessories = (GS_PER_W * accessoryW(displacementL)) / (displacementL * (Math.max(600, rpm) / 1000))
  return (rpm < NO_LATE_BURN_RPM ? IDLE_BURNS_LATE * friction : friction) + accessories
}

/** Air over that of the unloaded engine, by kind of load [–]: consumers switched on at idle, a level road. */
export const LOADED = { 'idle-load': 1.28, cruise: 1.6 } as const

/** Share of the needed idle area that a closed plate still leaks; the idle control cannot go below it. */
export const CLOSED_LEAK_SHARE = 0.2
/** How idle speed follows air in excess of what idle needs, d ln n / d ln ṁ; spark retard takes the rest. */
export const SPEED_PER_AIR = 0.5
/** The same, of controls that hold a surplus down by late spark, and count from the top of a band; of others see `runsUpBy`. */
export const LEAST_SPEED_PER_AIR = 0.1
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
