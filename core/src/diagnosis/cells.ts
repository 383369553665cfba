import type { Vehicle } from '../engine/index.js'
import { FAULTS, NO_EFFECT, type Effect, type Fault } from './faults.js'
import type { ObservationSet } from './observations.js'
import { readsFrozen } from './sensorObservations.js'

/** A fault that this engine can have, its grid run through the forward model. */
export interface Candidate {
  readonly fault: Fault
  /** Parameters of every cell of the grid. */
  readonly grid: readonly (readonly number[])[]
  /** What every cell adds to each residual, one cell after another. */
  readonly predicted: Float64Array
  /** What a cell does at each point of the set. */
  readonly effectsOf: (cell: number) => readonly Effect[]
}

/** Most of an idle opening that faults together can close. */
const MOST_LOST = 0.97

/**
 * Effects of faults together add up. Writes into `to`, figure by figure: this is the innermost loop of the pairs, where
 * neither an allocation nor a name looked up can be afforded.
 */
export function addEffects(to: Effect, a: Effect, b: Effect): Effect {
  to.leakKgS = a.leakKgS + b.leakKgS
  to.bankSkew = a.bankSkew + b.bankSkew
  to.ductShare = a.ductShare + b.ductShare
  to.lostAirShare = a.lostAirShare + b.lostAirShare
  to.mafError = a.mafError + b.mafError
  to.fuelError = a.fuelError + b.fuelError
  to.spareKgS = a.spareKgS + b.spareKgS
  to.mapOffsetPa = a.mapOffsetPa + b.mapOffsetPa
  to.baroShare = a.baroShare + b.baroShare
  to.inertKgS = a.inertKgS + b.inertKgS
  to.airNeed = a.airNeed + b.airNeed
  to.veLog = a.veLog + b.veLog
  to.upstreamLog = a.upstreamLog + b.upstreamLog
  to.mixtureLog = a.mixtureLog + b.mixtureLog
  to.mixtureSkew = a.mixtureSkew + b.mixtureSkew
  to.densityLog = a.densityLog + b.densityLog
  to.temperatureLog = a.temperatureLog + b.temperatureLog
  to.wander = a.wander + b.wander
  to.speedLog = a.speedLog + b.speedLog
  to.dutyLog = a.dutyLog + b.dutyLog
  to.lostShare = Math.min(MOST_LOST, a.lostShare + b.lostShare)
  return to
}

/** What effects at the points add to every residual, written into `into` from `at`. */
export function predict(set: ObservationSet, effects: readonly Effect[], into: Float64Array, at = 0): Float64Array {
  const obs = set.observations
  for (let i = 0; i < obs.length; i++) into[at + i] = obs[i].predict(effects[obs[i].point])
  return into
}

/** Runs the whole grid of a fault through the forward model. */
export function candidateOf(fault: Fault, set: ObservationSet, v: Vehicle, finer?: number): Candidate {
  const readings = set.observations.length
  const grid = fault.grid(v, finer)
  const predicted = new Float64Array(grid.length * readings)
  const worksAt = (m: number): Effect[] => set.contexts.map((c) => ({ ...NO_EFFECT, ...fault.effect(grid[m], c) }))
  for (let m = 0; m < grid.length; m++) predict(set, worksAt(m), predicted, m * readings)
  // few cells are asked for again, those by pairs: the others are not kept
  const known: Effect[][] = []
  return { fault, grid, predicted, effectsOf: (m) => (known[m] ??= worksAt(m)) }
}

/** What is left of the weight of a cause that comes of work where nobody tells of any: a battery was off, somebody cleaned and did not say, or something holds the plate [–]. */
const UNTOLD = 0.06

/** An idle stands high in its band from here on: on its way down, or one that late spark holds [share of the band]. */
const HIGH_IN_BAND = 0.75

/** Whether an engine asks for more at idle, or where none was read at any speed, than its trims can give or take. */
const isAtStop = ({ observations, points }: ObservationSet): boolean => {
  const isWithout = !points.some((p) => p.kind === 'idle')
  return observations.some(
    (o) => o.group === 'trims' && o.bound !== undefined && (isWithout || points[o.point].kind === 'idle'),
  )
}

/** A fault as it may be in this car; undefined where it cannot be: an idle that is not high was learnt to no opening that has gone. */
function inCar(f: Fault, set: ObservationSet, v: Vehicle, worked: boolean | undefined): Fault | undefined {
  const { min, max } = v.idleSpecRpm
  const isHigh = set.points.some(
    (p) => p.kind === 'idle' && !readsFrozen(p) && p.rpm > min + HIGH_IN_BAND * (max - min),
  )
  const wide = (isHigh && f.gridHigh) || (isAtStop(set) && f.gridAtStop)
  if (!f.afterWork || worked) return wide ? { ...f, grid: wide } : f
  // a valve finds its own way back, a plate keeps what it was taught
  const keeps = v.idleControl === 'electronic-throttle'
  return worked === undefined && isHigh && keeps ? { ...f, weight: UNTOLD * f.weight } : undefined
}

/** Every fault that this engine can have. @param worked - whether its idle opening was worked on and may be learnt wrong; undefined where nobody knows */
export function candidates(set: ObservationSet, v: Vehicle, worked?: boolean): Candidate[] {
  return FAULTS.filter((f) => f.id !== 'none' && f.admissible(v)).flatMap((f) => {
    const fault = inCar(f, set, v, worked)
    return fault ? [candidateOf(fault, set, v)] : []
  })
}
