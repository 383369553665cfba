import { trimBanksOf, type Vehicle } from '../engine/index.js'
import { cross, flowRatio, flowShare, gasoline, logGrid, sidesOf, signed, trimmed, type Fault } from './faultKit.js'
import { NEED_PER_LEAN } from './terms.js'

/** One bank only: its own trim and half of it, else both. @param side - +1 bank 1, −1 bank 2, 0 both */
const onSide = (log: number, side: number): { mixtureLog: number; mixtureSkew: number } =>
  side === 0 ? { mixtureLog: log, mixtureSkew: 0 } : { mixtureLog: log / 2, mixtureSkew: (side * log) / 2 }

/** An engine held at 2500 takes so many times its idle's fuel [–]. */
export const HELD_RATIO = 3.3
/** Least of its fuel that an engine gets which still runs [–]. */
const LEAST_FUEL = 0.3

/** A choked filter loses pressure by flow squared, and fuel goes with the root of what is left of it. @param held - share that is missing at a held 2500 */
function starved(held: number, ratio: number): number {
  const lost = (1 - (1 - held) ** 2) * (ratio / HELD_RATIO) ** 2
  return 1 - Math.sqrt(Math.max(LEAST_FUEL ** 2, 1 - lost))
}

/**
 * Error of too little fuel [–], < 0.
 *
 * @param cell - of the grid: at idle, how much further at full flow, what a choked filter or a tired pump lacks at a held 2500
 * @param ratio - flow over that of idle; @param share - flow over that at full load and high speed
 */
export const fuelMissing = ([atIdle, further, held]: readonly number[], ratio: number, share: number): number =>
  atIdle - further * Math.min(1, share) - starved(held, ratio)

/** Cells of too little fuel. @param atIdle - shares missing there */
const tooLittle = (v: Vehicle, atIdle: readonly number[]): number[][] => [
  ...cross(signed(-1, atIdle), [0, 0.05, 0.12, 0.2], [0]),
  ...(v.wideband ? cross([0, -0.025], [0.06, 0.09, 0.13, 0.17, 0.22, 0.28], [0]) : []),
  ...cross([0, -0.03], [0], [0.06, 0.1, 0.15, 0.2, 0.27]),
]

/** Cells of too much fuel. @param atIdle - shares too much there, of both banks */
const tooMuch = (v: Vehicle, atIdle: readonly number[], finer: number): number[][] => [
  ...cross(atIdle, [0, 0.4, 1], [0]),
  ...(trimBanksOf(v) === 2 ? cross(logGrid(0.08, 0.5, 6 * finer), [1], [1, -1]) : []),
]

/** Most of its air that a blocked exhaust holds back of an engine that still runs [–]. */
export const MOST_HELD_BACK = 0.7
/** Pressure of a boosted engine's charge at full flow, as a multiple of ambient [–]; ours. */
const FULL_BOOST = 1.7

/** Share of the air at full flow that a blocked exhaust holds back [–]. @param cell - of the grid of 'exhaust-restriction' */
export const heldBack = ([loss, , , boosted]: readonly number[], isTurbo: boolean): number =>
  1 - (1 - Math.min(MOST_HELD_BACK, loss)) ** (isTurbo ? boosted / FULL_BOOST : 1)

/** Faults that are not in the intake and must be recognised, so that the intake is left alone. */
export const BEYOND_THE_INTAKE: readonly Fault[] = [
  {
    id: 'fuel-delivery-low',
    label: 'Too little fuel delivered',
    weight: 1,
    admissible: trimmed,
    // a weak pump falls further with flow; one that a clogged filter starves has enough at idle and lacks it from a held speed on; one
    // that lacks it in a pull alone shows to a sensor that measures the mixture there
    grid: (v, finer = 1) => tooLittle(v, logGrid(0.05, 0.32, 12 * finer)),
    gridAtStop: (v, finer = 1) => tooLittle(v, logGrid(0.05, 0.6, 16 * finer)),
    effect: (cell, c) => ({ fuelError: fuelMissing(cell, flowRatio(c), flowShare(c)) }),
  },
  {
    id: 'fuel-delivery-high',
    label: 'Too much fuel delivered',
    weight: 1,
    admissible: trimmed,
    // pressure too high gives the same share at every flow; a dripping injector fades with flow, both together less steeply; it drips on its own bank
    grid: (v, finer = 1) => tooMuch(v, logGrid(0.05, 0.45, 14 * finer), finer),
    gridAtStop: (v, finer = 1) => tooMuch(v, logGrid(0.05, 0.6, 16 * finer), finer),
    effect: ([atIdle, fade, side], c) => {
      const error = atIdle / flowRatio(c) ** fade
      return side === 0 ? { fuelError: error } : onSide(-Math.log1p(error), side)
    },
  },
  {
    id: 'oxygen-sensor-biased',
    label: 'Oxygen sensor off',
    weight: 0.4,
    admissible: trimmed,
    // a sensor that still switches is seldom further off than this; the controller settles by as much
    grid: (v, finer = 1) => {
      const log = logGrid(0.015, 0.09, 6 * finer)
      return cross([...signed(-1, log), ...log], sidesOf(v))
    },
    // what is settled lean takes more air for its work; rich it burns all the air that it has
    effect: ([log, side]) => ({
      ...onSide(log, side),
      airNeed: (NEED_PER_LEAN * Math.max(0, -log)) / (side === 0 ? 1 : 2),
    }),
  },
  {
    id: 'oxygen-sensors-crossed',
    label: 'Oxygen sensors on each other’s bank',
    // only where somebody unplugged them
    weight: 0.1,
    admissible: (v) => trimmed(v) && trimBanksOf(v) === 2,
    // each bank is corrected for what the other does: they run apart until both stand at a stop, alike at every load, and one side misses
    grid: () => cross(logGrid(0.18, 0.75, 8), [1, -1], [0, 0.15, 0.35]),
    effect: ([apart, side, airNeed]) => ({ mixtureSkew: side * apart, airNeed, wander: 2 * airNeed }),
  },
  {
    id: 'exhaust-leak',
    label: 'Exhaust leaks ahead of the oxygen sensor',
    // one or two joints stand against dozens in the intake
    weight: 0.3,
    admissible: trimmed,
    // air is drawn in by the pulses at low flow and reads as lean; it fades as flow grows
    grid: (v, finer = 1) => cross(logGrid(0.02, 0.4, 10 * finer), [1, 1.6], sidesOf(v)),
    effect: ([atIdle, fade, side], c) => onSide(Math.log1p(atIdle / flowRatio(c) ** fade), side),
  },
  {
    id: 'exhaust-restriction',
    label: 'Exhaust blocked',
    weight: 1,
    admissible: () => true,
    // back pressure goes with flow squared where the passage is narrow, less steeply where it is long; gas stays in the cylinder
    grid: (v) => [
      // a turbine's control gives a boosted engine back what it loses of its breathing: none of it, or most
      ...cross(logGrid(0.03, 1.5, 12), [0], [1.1, 2], v.induction === 'turbo' ? [1, 0.45, 0.2] : [1]),
      ...(trimBanksOf(v) === 2 ? cross(logGrid(0.06, 2.2, 11), [1, -1], [0.85, 1.2, 1.7], [1]) : []),
    ],
    effect: ([loss, side, rise, boosted], c) => {
      const lost = Math.log(1 - Math.min(MOST_HELD_BACK, loss * flowShare(c) ** rise))
      // what stays in the cylinder stands at the exhaust's pressure: of a boosted charge it is the lesser part
      const mean = ((side === 0 ? lost : lost / 2) * (c.boost > 1 ? boosted : 1)) / c.boost
      // air is metered and shared out alike: the blocked bank runs rich, the other lean
      // pushing gas out costs work: Δp on about 190 kPa of friction and pumping, where it costs breathing Δp on about 400
      return { veLog: mean, airNeed: (side === 0 ? -1 : -0.4) * mean, mixtureSkew: side === 0 ? 0 : (side * lost) / 2 }
    },
  },
  {
    id: 'valve-timing-late',
    label: 'Valve timing late',
    weight: 0.3,
    admissible: () => true,
    // charge is pushed back while the valve is still open: most at low speed; at high speed a late valve fills as well or better
    grid: (v) => cross(logGrid(0.015, 0.4, 9), sidesOf(v), [0, 1]),
    effect: ([loss, side, fades], c) => {
      const n = Math.max(700, c.rpm)
      const atSpeed = fades ? Math.max(-0.3, 1 - (n - 700) / 2600) : Math.min(1, 1800 / n)
      const lost = Math.log(1 - loss * atSpeed)
      const mean = side === 0 ? lost : lost / 2
      return { veLog: mean, wander: loss, mixtureSkew: side === 0 ? 0 : (side * lost) / 2 }
    },
  },
  {
    id: 'weak-cylinder',
    label: 'A cylinder is weak',
    weight: 0.4,
    admissible: () => true,
    grid: () => logGrid(0.15, 0.95, 6).map((x) => [x]),
    effect: ([share], c) => {
      const part = share / c.cylinders
      return { airNeed: 0.9 * part, veLog: -0.3 * part, wander: 6 * part }
    },
  },
  {
    id: 'ignition-misfire',
    label: 'A cylinder misfires',
    weight: 0.5,
    admissible: gasoline,
    // its oxygen passes unburnt: the controller enriches; the others work for it
    grid: (v) => cross(logGrid(0.05, 1, 7), [0, 0.5], sidesOf(v)),
    effect: ([share, fade, side], c) => {
      const part = share / c.cylinders
      return {
        // a sensor sees the cylinders of its own bank
        ...onSide(Math.log1p((1.1 * part * (side === 0 ? 1 : c.banks)) / flowRatio(c) ** fade), side),
        airNeed: 1.1 * part,
        wander: Math.log1p(1.5 * share),
      }
    },
  },
]
