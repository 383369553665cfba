import { CholeskyDecomposition, Matrix } from 'ml-matrix'
import { requireRange } from './guards.js'

/** log Γ(x), Lanczos approximation (g = 7, n = 9), relative error below 1e-14 for x > 0. */
export function logGamma(x: number): number {
  requireRange('x', x, x > 0, '> 0')
  // Lanczos coefficients for g = 7, n = 9 (Godfrey's tabulation)
  const c = [
    0.99999999999980993, 676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059,
    12.507343278686905, -0.13857109526572012, 9.9843695780195716e-6, 1.5056327351493116e-7,
  ]
  if (x < 0.5) return Math.log(Math.PI / Math.sin(Math.PI * x)) - logGamma(1 - x)
  const y = x - 1
  let a = c[0]
  for (let i = 1; i < 9; i++) a += c[i] / (y + i)
  const t = y + 7.5
  return 0.5 * Math.log(2 * Math.PI) + (y + 0.5) * Math.log(t) - t + Math.log(a)
}

/** A multivariate Student density about the origin, its covariance shape factored once. */
export interface StudentShape {
  readonly dimension: number
  /** ν, degrees of freedom [–]. */
  readonly freedom: number
  /** log density at a residual vector. */
  logDensity(residual: ArrayLike<number>): number
  /**
   * Writes L⁻¹r with Σ = LLᵀ into `into`, d figures: what adds up in r adds up in it. Returns its squared length, rᵀΣ⁻¹r.
   * @param from - how many leading figures stand there already and are only counted; 0 when left out
   * @param at - where in `into` they begin; 0 when left out
   */
  whiten(residual: ArrayLike<number>, into: Float64Array, from?: number, at?: number): number
  /** log density at a squared Mahalanobis distance rᵀΣ⁻¹r [–]. */
  logDensityAt(distance2: number): number
  /** The squared distance at which the log density is so much. */
  distance2At(logDensity: number): number
}

/**
 * A t density is a Gaussian whose scale is learnt from the residual itself: one that lies closer than it need narrows every
 * direction of Σ with it. Below `core·d` the scale is held: log density goes on straight from there, value and slope alike, so
 * that closeness in some figures never makes the others' known spread less. What is left is a density but for its constant.
 *
 *   log t(r) = log Γ((ν+d)/2) − log Γ(ν/2) − d/2·log(νπ) − ½·log|Σ| − (ν+d)/2·log(1 + rᵀΣ⁻¹r/ν)
 *
 * Source: Kotz and Nadarajah, Multivariate t Distributions and Their Applications, eq. 1.1.
 * Degenerate: dimension 0 gives log density 0 for the empty residual.
 *
 * @param shape - Σ, symmetric positive definite, d × d
 * @param freedom - ν > 0; a small ν gives heavy tails
 * @param core - squared distance a dimension [–], 0..1, below which the scale is held; 0 (left out) is t throughout
 * @throws RangeError when Σ is not positive definite
 */
export function studentShape(shape: number[][], freedom: number, core = 0): StudentShape {
  requireRange('freedom', freedom, freedom > 0, '> 0')
  requireRange('core', core, core >= 0 && core <= 1, '0 to 1')
  const d = shape.length
  if (d === 0)
    return { dimension: 0, freedom, logDensity: () => 0, whiten: () => 0, logDensityAt: () => 0, distance2At: () => 0 }
  const cholesky = new CholeskyDecomposition(new Matrix(shape))
  if (!cholesky.isPositiveDefinite()) throw new RangeError('shape matrix is not positive definite')
  const factor = cholesky.lowerTriangularMatrix
  let logDet = 0
  for (let i = 0; i < d; i++) logDet += 2 * Math.log(factor.get(i, i))
  // rows of the factor one after another, its diagonal inverted: the density is asked for tens of thousands of times
  const lower = new Float64Array((d * (d + 1)) / 2)
  for (let i = 0, k = 0; i < d; i++)
    for (let j = 0; j <= i; j++) lower[k++] = i === j ? 1 / factor.get(i, i) : factor.get(i, j)
  const constant =
    logGamma((freedom + d) / 2) - logGamma(freedom / 2) - (d / 2) * Math.log(freedom * Math.PI) - logDet / 2
  const z = new Float64Array(d)
  const whiten = (r: ArrayLike<number>, into: Float64Array, from = 0, at = 0): number => {
    let sum = 0
    for (let i = at; i < at + from; i++) sum += into[i] * into[i]
    for (let i = from, k = (from * (from + 1)) / 2; i < d; i++) {
      let s = r[i]
      for (let j = 0; j < i; j++) s -= lower[k++] * into[at + j]
      const x = s * lower[k++]
      into[at + i] = x
      sum += x * x
    }
    return sum
  }
  const tail = (distance2: number): number => constant - ((freedom + d) / 2) * Math.log1p(distance2 / freedom)
  const [held, slope] = [core * d, (freedom + d) / (2 * (freedom + core * d))]
  const atHeld = tail(held)
  const logDensityAt = (distance2: number): number =>
    distance2 < held ? atHeld + slope * (held - distance2) : tail(distance2)
  const distance2At = (logDensity: number): number =>
    logDensity > atHeld
      ? held - (logDensity - atHeld) / slope
      : freedom * Math.expm1((2 * (constant - logDensity)) / (freedom + d))
  return { dimension: d, freedom, whiten, logDensityAt, distance2At, logDensity: (r) => logDensityAt(whiten(r, z)) }
}

/** log Σ exp(xᵢ), stable; −∞ for an empty list. */
export function logSumExp(xs: ArrayLike<number>): number {
  let m = -Infinity
  for (let i = 0; i < xs.length; i++) if (xs[i] > m) m = xs[i]
  if (!Number.isFinite(m)) return m
  let s = 0
  for (let i = 0; i < xs.length; i++) s += Math.exp(xs[i] - m)
  return m + Math.log(s)
}
