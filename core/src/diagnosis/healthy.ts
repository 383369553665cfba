import { CholeskyDecomposition, Matrix } from 'ml-matrix'
import type { Observation, ReadingGroup } from './observations.js'
import type { SoundOf } from './evidence.js'
import { LASTING, type Nuisance } from './scatter.js'

/** What the readings of a sound engine scatter round, together: mean shift and covariance of their residuals. */
export interface Scatter {
  /** Expected residual, 0 unless this car's own sound record says otherwise. */
  readonly mean: Float64Array
  readonly covariance: number[][]
}

/** How far readings may lie when nothing in the list is at work [log], own and independent. */
export const UNEXPLAINED_SD: Readonly<Record<ReadingGroup, number>> = {
  trims: 0.16,
  airflow: 0.25,
  pressure: 0.2,
  'full-load': 0.2,
  mixture: 0.16,
  charge: 0.1,
  opening: 0.6,
  plate: 2,
  'idle-speed': 0.15,
  wander: 1,
  barometer: 0.03,
  temperature: 0.05,
}

/** What may have changed in a sound engine since its record was made, one standard deviation [log]. */
const DRIFT = 0.01

/** Observations of one sound record. */
export interface SoundObservations {
  readonly of: SoundOf
  readonly observations: readonly Observation[]
}

/** How two readings are akin: of one record, of two days of one car, or of two cars of one model. */
type Kinship = 'record' | SoundOf

const shareOf = (key: Nuisance, kinship: Kinship): number => {
  // what belongs to a day does not tie that day to another
  if (kinship === 'record') return 1
  const lasting = LASTING[key]
  return lasting ? (kinship === 'same-car' ? 1 : lasting.ofModel) : 0
}

/** Covariance of two readings: what they share, by how they are akin. */
function shared(a: Observation, b: Observation, kinship: Kinship): number {
  let s = 0
  for (const name in a.shared) {
    const key = name as Nuisance
    const [x = 0, y = 0] = [a.shared[key], b.shared[key]]
    if (y !== 0) s += x * y * shareOf(key, kinship)
  }
  return s
}

/** Covariance of residuals of one record: shared nuisances integrated out, own scatter on the diagonal. */
export const covarianceOf = (rows: readonly Observation[]): number[][] =>
  rows.map((a, i) => rows.map((b, j) => shared(a, b, 'record') + (i === j ? a.ownSd ** 2 : 0)))

/**
 * Joint scatter of a sound engine's readings. Sound records narrow it: what stays with a car (its breathing, friction,
 * sensors, fuel) is conditioned on what was measured of it then, what a model has in common on what its other cars showed,
 * the more the more there are.
 *
 * @param sound - observations of sound records, same engine; none gives the prior
 */
export function soundScatter(obs: readonly Observation[], sound: readonly SoundObservations[]): Scatter {
  const prior = covarianceOf(obs)
  const rows = sound.flatMap(({ of, observations }, record) => observations.map((o) => ({ o, of, record })))
  if (!rows.length || !obs.length) return { mean: new Float64Array(obs.length), covariance: prior }
  const between = (a: (typeof rows)[0], b: (typeof rows)[0]): Kinship =>
    // two records of one's own are one car's; every record of the model is another car's
    a.record === b.record ? 'record' : a.of === 'same-car' && b.of === 'same-car' ? 'same-car' : 'same-model'
  const ss = rows.map((a, i) =>
    rows.map((b, j) => shared(a.o, b.o, between(a, b)) + (i === j ? a.o.ownSd ** 2 + DRIFT ** 2 : 0)),
  )
  const cs = new Matrix(obs.map((a) => rows.map((b) => shared(a, b.o, b.of))))
  const solver = new CholeskyDecomposition(new Matrix(ss))
  const mean = cs.mmul(solver.solve(Matrix.columnVector(rows.map(({ o }) => o.residual)))).to1DArray()
  const less = cs.mmul(solver.solve(cs.transpose()))
  return {
    mean: Float64Array.from(mean),
    // rounding must not make it lopsided
    covariance: prior.map((row, i) =>
      row.map((x, j) => x - (less.get(i, j) + less.get(j, i)) / 2 + (i === j ? DRIFT ** 2 : 0)),
    ),
  }
}

/** The same without the readings that are left out. @param kept - indices that stay */
export const scatterOf = (s: Scatter, kept: readonly number[]): Scatter => ({
  mean: Float64Array.from(kept, (i) => s.mean[i]),
  covariance: kept.map((i) => kept.map((j) => s.covariance[i][j])),
})
