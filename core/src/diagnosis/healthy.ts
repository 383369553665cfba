import { CholeskyDecomposition, Matrix } from 'ml-matrix'
import type { Observation, ReadingGroup } from './observations.js'
import { LASTING } from './scatter.js'

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
  opening: 0.6,
  'idle-speed': 0.15,
  wander: 1,
  barometer: 0.03,
  temperature: 0.05,
}

/** What may have changed in a sound engine since its record was made, one standard deviation [log]. */
const DRIFT = 0.01

/** Covariance of residuals: shared nuisances integrated out, own scatter on the diagonal. */
function covarianceOf(rows: readonly Observation[], columns: readonly Observation[], ofRecord = false): number[][] {
  const same = rows === columns
  return rows.map((a, i) =>
    columns.map((b, j) => {
      let s = 0
      for (const [key, x = 0] of Object.entries(a.shared))
        // what belongs to a day does not tie that day to another
        if (!ofRecord || LASTING.has(key)) s += x * (b.shared[key as keyof typeof b.shared] ?? 0)
      return same && i === j ? s + a.ownSd ** 2 : s
    }),
  )
}

/**
 * Joint scatter of a sound engine's readings. This car's own sound record narrows it: what stays with a car (its breathing,
 * friction, sensors, fuel) is conditioned on what was measured then.
 *
 * @param sound - observations of the sound record, same engine; none gives the prior
 */
export function soundScatter(obs: readonly Observation[], sound: readonly Observation[]): Scatter {
  const prior = covarianceOf(obs, obs)
  if (!sound.length || !obs.length) return { mean: new Float64Array(obs.length), covariance: prior }
  const ss = covarianceOf(sound, sound)
  for (let i = 0; i < sound.length; i++) ss[i][i] += DRIFT ** 2
  const cs = new Matrix(covarianceOf(obs, sound, true))
  const solver = new CholeskyDecomposition(new Matrix(ss))
  const mean = cs.mmul(solver.solve(Matrix.columnVector(sound.map((o) => o.residual)))).to1DArray()
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
