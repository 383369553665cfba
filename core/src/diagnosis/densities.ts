import type { Vehicle } from '../engine/index.js'
import { logSumExp, studentShape } from '../statistics/index.js'
import { candidateOf, candidates, type Candidate } from './cells.js'
import { scatterOf, soundScatter, UNEXPLAINED_SD, type Scatter, type SoundObservations } from './healthy.js'
import type { ObservationSet } from './observations.js'

/** Degrees of freedom of the joint density: heavy tails, since engines differ from any model. */
const FREEDOM = 6
/**
 * Readings that agree better than they need say that the links were quiet and the holds steady, and little of what a day, a
 * fuel or another maker changes in all of them alike: half the variance is the least that is taken from them.
 */
const CORE = 0.5

/** The forward model run once for one set of readings; asked with other evidence or fewer readings as often as wanted. */
export interface Prepared {
  readonly set: ObservationSet
  readonly candidates: readonly Candidate[]
  readonly scatter: Scatter
  /** Densities found so far, by the readings that counted: what was seen and found besides does not change them. */
  readonly densities: Map<string, Densities>
}

/** Densities of one choice of readings. */
export interface Densities {
  /** log density of what a cell or cells together add to every reading. */
  readonly of: (predicted: Float64Array) => number
  readonly none: number
  /** Per candidate, per cell of its grid. */
  readonly singles: readonly Float64Array[]
  /** Per candidate: log of the mean density over its grid. */
  readonly means: Float64Array
  readonly unexplained: number
  /** How far the readings lie from the nearest of none and the single causes: squared distance over their number [–]. */
  readonly distance: number
  /** log density of two cells (by candidate and cell) as if what they do to the readings added up, as small things do; of all readings only. */
  readonly summed: (i: number, cellI: number, j: number, cellJ: number) => number
}

/**
 * @param sound - observations of this car's own sound records and of its model's, where there are any
 * @param worked - whether its idle opening was worked on; undefined where nobody knows
 */
export function prepare(
  set: ObservationSet,
  v: Vehicle,
  sound: readonly SoundObservations[] = [],
  worked?: boolean,
): Prepared {
  const first: Prepared = {
    set,
    candidates: candidates(set, v, worked),
    scatter: soundScatter(set.observations, sound),
    densities: new Map(),
  }
  const { singles, none } = densitiesOf(first, [...set.observations.keys()])
  const nearest = singles.reduce((most, s) => Math.max(most, ...s), none)
  const all = first.candidates.map((c, i) => {
    const { gridBeyond } = c.fault
    const isEnd = gridBeyond !== undefined && isAtEnd(singles[i], c.grid, nearest, none)
    const fault = isEnd ? { ...c.fault, grid: gridBeyond } : c.fault
    return isMissed(singles[i], nearest, none)
      ? candidateOf(fault, set, v, FINER)
      : isEnd
        ? candidateOf(fault, set, v)
        : c
  })
  return all.some((c, i) => c !== first.candidates[i]) ? { ...first, candidates: all, densities: new Map() } : first
}

/** A grid counts as too coarse where fewer of its cells than these share its density, by their effective number. */
const CELLS_LEAST = 4
/** How far behind the nearest of all cells [log] the nearest of such a grid may lie, between whose cells the truth may be. */
const MAY_BE_MISSED = 12
/** How much nearer than that nothing is wrong it has to come [log]. */
const BETTER = 2
/** So many times as many steps then. */
const FINER = 4

/** Whether a cause of which `most` is the best log density may be what the readings show: where no size is better than none, it is none. */
const mayBeIt = (most: number, nearest: number, none: number): boolean =>
  most >= nearest - MAY_BE_MISSED && most >= none + BETTER

/** The last cells of a grid lie within this of its largest size [share]. */
const LAST = 0.2

/** Whether the likeliest of a cause's sizes is about the largest that its grid has, and the cause may be what the readings show. */
function isAtEnd(logs: Float64Array, grid: Candidate['grid'], nearest: number, none: number): boolean {
  const most = Math.max(...logs)
  if (!mayBeIt(most, nearest, none)) return false
  const sizes = grid.map(([size]) => Math.abs(size))
  return sizes[logs.indexOf(most)] > (1 - LAST) * Math.max(...sizes)
}

/** Whether readings tell a size closer than the cells of its grid lie: a cause would be weighed by where its cells happen to stand. */
function isMissed(logs: Float64Array, nearest: number, none: number): boolean {
  const most = Math.max(...logs)
  if (!mayBeIt(most, nearest, none)) return false
  let [sum, squares] = [0, 0]
  for (const x of logs) {
    const weight = Math.exp(x - most)
    sum += weight
    squares += weight * weight
  }
  return (sum * sum) / squares < CELLS_LEAST
}

/** What a cause must be able to move a reading by before that reading can show it [log]. */
const LEAST_MARK = 0.01

/** Whether a cause of any size shows in any reading. */
export const leavesMark = ({ predicted }: Candidate): boolean => predicted.some((x) => Math.abs(x) >= LEAST_MARK)

/** log of the mean of what is given as logs. */
export const logMean = (logs: Float64Array): number => logSumExp(logs) - Math.log(logs.length)

/** Densities of every single over the readings kept; on flat arrays, for it is the inner loop. @param kept - indices of the readings that count */
export function densitiesOf(prepared: Prepared, kept: readonly number[]): Densities {
  const key = kept.join()
  const known = prepared.densities.get(key)
  if (known) return known
  const { observations } = prepared.set
  const n = kept.length
  // readings at a stop come last: what is left of the others adds up when it is whitened
  const order = [...kept].sort((a, b) => Number(!!observations[a].bound) - Number(!!observations[b].bound))
  const free = order.filter((k) => !observations[k].bound).length
  const scatter = scatterOf(prepared.scatter, order)
  const shape = studentShape(scatter.covariance, FREEDOM, CORE)
  const index = Int32Array.from(order)
  const base = Float64Array.from(order, (k, i) => observations[k].residual - scatter.mean[i])
  const bound = Int8Array.from(order, (k) => observations[k].bound ?? 0)
  const residual = new Float64Array(n)
  const leave = (i: number, predicted: number): void => {
    const off = base[i] - predicted
    // a value at its stop is a bound: what would lie further out agrees with it
    residual[i] = off * bound[i] < 0 ? 0 : off
  }
  /** Density where what a cell adds begins at `from`; its whitened rest is written from `to`. */
  const density = (predicted: Float64Array, from: number, whitened: Float64Array, to: number): number => {
    for (let i = 0; i < n; i++) leave(i, predicted[from + index[i]])
    return shape.logDensityAt(shape.whiten(residual, whitened, 0, to))
  }
  const scratch = new Float64Array(n)
  const readings = observations.length
  // pairs are weighed by all readings only
  const paired = n === readings
  const whitened = prepared.candidates.map(({ grid }) => (paired ? new Float64Array(grid.length * n) : scratch))
  const singles = prepared.candidates.map(({ grid, predicted }, i) => {
    const logs = new Float64Array(grid.length)
    for (let m = 0; m < logs.length; m++) logs[m] = density(predicted, m * readings, whitened[i], paired ? m * n : 0)
    return logs
  })
  const clean = new Float64Array(n)
  const none = density(new Float64Array(readings), 0, clean, 0)
  const summed: Densities['summed'] = (i, cellI, j, cellJ) => {
    const [a, b, atA, atB] = [whitened[i], whitened[j], cellI * n, cellJ * n]
    for (let k = 0; k < free; k++) scratch[k] = a[atA + k] + b[atB + k] - clean[k]
    const [x, y] = [prepared.candidates[i].predicted, prepared.candidates[j].predicted]
    for (let k = free; k < n; k++) leave(k, x[atA + index[k]] + y[atB + index[k]])
    return shape.logDensityAt(shape.whiten(residual, scratch, free))
  }
  const wide = studentShape(
    scatter.covariance.map((row, i) =>
      row.map((x, j) => (i === j ? x + UNEXPLAINED_SD[observations[index[i]].group] ** 2 : x)),
    ),
    FREEDOM,
    CORE,
  )
  const nearest = singles.reduce((most, s) => Math.max(most, ...s), none)
  const densities: Densities = {
    of: (predicted) => density(predicted, 0, scratch, 0),
    none,
    singles,
    means: Float64Array.from(singles, logMean),
    unexplained: wide.logDensity(base),
    distance: n ? shape.distance2At(nearest) / n : 0,
    summed,
  }
  prepared.densities.set(key, densities)
  return densities
}
