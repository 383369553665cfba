import type { OperatingPoint } from '../signals/index.js'
import type { Effect, PointContext } from './effect.js'
import type { Nuisance, ReadingGroup } from './scatter.js'

export type { ReadingGroup } from './scatter.js'

/** One measured number as the model sees it: a logarithm, its expectation without a fault, its scatter. */
export interface Observation {
  readonly group: ReadingGroup
  readonly point: number
  readonly bank?: 1 | 2
  /** Measured minus expected of a healthy engine, in logarithms. */
  readonly residual: number
  /** The same as a gauge shows it, vacuum against a healthy engine's [log]; where a gauge read it. */
  readonly vacuumLog?: number
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
