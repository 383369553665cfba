import { requireRange } from './guards.js'

/** Arithmetic mean. @throws RangeError on an empty list */
export function mean(xs: readonly number[]): number {
  requireRange('mean: length', xs.length, xs.length > 0, '≥ 1')
  let s = 0
  for (const x of xs) s += x
  return s / xs.length
}

/** Sample standard deviation (n − 1); exactly 0 for one value. @throws RangeError on an empty list */
export function standardDeviation(xs: readonly number[]): number {
  const m = mean(xs)
  if (xs.length === 1) return 0
  let s = 0
  for (const x of xs) s += (x - m) ** 2
  return Math.sqrt(s / (xs.length - 1))
}

/**
 * Quantile by linear interpolation between order statistics (Hyndman and Fan 1996, type 7).
 * The list need not be sorted and is not changed.
 *
 * @param q - 0 to 1
 * @throws RangeError on an empty list or q outside 0..1
 */
export function quantile(xs: readonly number[], q: number): number {
  requireRange('quantile: length', xs.length, xs.length > 0, '≥ 1')
  requireRange('q', q, q >= 0 && q <= 1, '0..1')
  const s = [...xs].sort((a, b) => a - b)
  const at = q * (s.length - 1)
  const i = Math.floor(at)
  const hi = Math.min(i + 1, s.length - 1)
  return s[i] + (at - i) * (s[hi] - s[i])
}

/** Median. @throws RangeError on an empty list */
export const median = (xs: readonly number[]): number => quantile(xs, 0.5)

/** Median and the bounds of the central 90 %. */
export interface Interval {
  readonly median: number
  readonly low: number
  readonly high: number
}

/** Index of a value among ascending ones that hold it. */
function placeOf(values: Float64Array, x: number): number {
  let [low, high] = [0, values.length - 1]
  while (low < high) {
    const middle = (low + high) >> 1
    if (values[middle] < x) low = middle + 1
    else high = middle
  }
  return low
}

/**
 * Weighted 5 %, 50 % and 95 % points of values on a grid. Equal values are one; the weight of each is spread
 * evenly between the middles to its neighbours, so that a coarse grid does not give a false edge.
 * One distinct value gives itself three times.
 *
 * @param weights - ≥ 0, same length, sum > 0
 * @throws RangeError on an empty list, unequal lengths or no weight
 */
export function weightedInterval(xs: readonly number[], weights: readonly number[]): Interval {
  requireRange('weightedInterval: length', xs.length, xs.length > 0, '≥ 1')
  requireRange('weights.length', weights.length, weights.length === xs.length, String(xs.length))
  let total = 0
  for (let i = 0; i < weights.length; i++) total += weights[i]
  requireRange('sum of weights', total, total > 0, '> 0')
  const sorted = Float64Array.from(xs).sort()
  // each value once, at the front
  let n = 0
  for (let i = 0; i < sorted.length; i++) if (i === 0 || sorted[i] !== sorted[n - 1]) sorted[n++] = sorted[i]
  const values = sorted.subarray(0, n)
  const shares = new Float64Array(n)
  for (let i = 0; i < xs.length; i++) shares[placeOf(values, xs[i])] += weights[i] / total
  const edge = (i: number): number => (i <= 0 ? values[0] : i >= n ? values[n - 1] : (values[i - 1] + values[i]) / 2)
  const at = (q: number): number => {
    let before = 0
    for (let i = 0; i < n; i++) {
      if (shares[i] > 0 && before + shares[i] >= q)
        return edge(i) + ((q - before) / shares[i]) * (edge(i + 1) - edge(i))
      before += shares[i]
    }
    return values[n - 1]
  }
  return { low: at(0.05), median: at(0.5), high: at(0.95) }
}
