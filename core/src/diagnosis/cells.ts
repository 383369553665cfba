import type { Vehicle } from '../engine/index.js'
import { FAULTS, NO_EFFECT, type Effect, type Fault } from './faults.js'
import type { ObservationSet } from './observations.js'

/** One grid point of a fault run through the forward model. */
export interface Cell {
  readonly parameters: readonly number[]
  /** What the fault does at each point of the set. */
  readonly effects: readonly Effect[]
  /** What it adds to each residual. */
  readonly predicted: Float64Array
}

/** A fault that this engine can have, with its grid. */
export interface Candidate {
  readonly fault: Fault
  readonly cells: readonly Cell[]
}

const KEYS = Object.keys(NO_EFFECT) as (keyof Effect)[]
/** Most of an idle opening that faults together can close. */
const MOST_LOST = 0.97

/** Effects of faults together add up. Writes into `to`, so that a hot loop allocates nothing. */
export function addEffects(to: Effect, a: Effect, b: Effect): Effect {
  for (const k of KEYS) to[k] = a[k] + b[k]
  if (to.lostShare > MOST_LOST) to.lostShare = MOST_LOST
  return to
}

/** What effects at the points add to every residual. */
export function predict(set: ObservationSet, effects: readonly Effect[], into: Float64Array): Float64Array {
  const obs = set.observations
  for (let i = 0; i < obs.length; i++) into[i] = obs[i].predict(effects[obs[i].point])
  return into
}

/** Runs the whole grid of every fault that this engine can have through the forward model. */
export function candidates(set: ObservationSet, v: Vehicle): Candidate[] {
  return FAULTS.filter((f) => f.id !== 'none' && f.admissible(v)).map((fault) => ({
    fault,
    cells: fault.grid(v).map((parameters) => {
      const effects = set.contexts.map((c) => ({ ...NO_EFFECT, ...fault.effect(parameters, c) }))
      return { parameters, effects, predicted: predict(set, effects, new Float64Array(set.observations.length)) }
    }),
  }))
}
