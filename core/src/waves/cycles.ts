/** Where a cycle (720° of crank) begins and ends [samples], and where it is cut between. */
export interface CycleSpan {
  readonly from: number
  readonly to: number
  /** Middle of the cycle where a mark stands there too: the speed may change on the way. */
  readonly half?: number
}

/** Complex coefficients of one order after another, 0 first: re, im, re, im … */
export type Orders = Float64Array

/** Angle bins of a cycle for orders up to `most`. */
export const binsFor = (most: number): number => Math.max(96, 8 * most)

/** The signal less its mean over one cycle around each sample: drift goes, what repeats with the cycle stays. */
export function withoutDrift(signal: Float64Array, cycleSamples: number): Float64Array {
  const n = signal.length
  const half = Math.max(1, Math.round(cycleSamples / 2))
  const sums = new Float64Array(n + 1)
  for (let i = 0; i < n; i++) sums[i + 1] = sums[i] + signal[i]
  const out = new Float64Array(n)
  for (let i = 0; i < n; i++) {
    // at the ends the window is a whole cycle all the same, beside its sample
    const a = Math.min(Math.max(0, i - half), Math.max(0, n - 2 * half))
    const b = Math.min(n, a + 2 * half)
    out[i] = signal[i] - (sums[b] - sums[a]) / (b - a)
  }
  return out
}

/** One cycle as bins of equal crank angle: the mean of the samples in each, or the line between samples where there is none. */
export function resampled(signal: Float64Array, span: CycleSpan, bins: number): Float64Array {
  const out = new Float64Array(bins)
  const at = (share: number): number => {
    const { from, to, half } = span
    if (half === undefined) return from + share * (to - from)
    return share < 0.5 ? from + 2 * share * (half - from) : half + (2 * share - 1) * (to - half)
  }
  for (let b = 0; b < bins; b++) {
    const start = at(b / bins)
    const end = at((b + 1) / bins)
    const first = Math.ceil(start)
    let sum = 0
    let n = 0
    for (let i = first; i < end && i < signal.length; i++) {
      sum += signal[i]
      n++
    }
    if (n >= 3) out[b] = sum / n
    else {
      const x = (start + end) / 2
      const i = Math.min(signal.length - 2, Math.max(0, Math.floor(x)))
      out[b] = signal[i] + (x - i) * (signal[i + 1] - signal[i])
    }
  }
  return out
}

/** Tables of cosine and sine for a number of bins, made once. */
function turns(bins: number): { cos: Float64Array; sin: Float64Array } {
  const cos = new Float64Array(bins)
  const sin = new Float64Array(bins)
  for (let b = 0; b < bins; b++) {
    // a bin stands for its middle
    cos[b] = Math.cos((2 * Math.PI * b) / bins)
    sin[b] = Math.sin((2 * Math.PI * b) / bins)
  }
  return { cos, sin }
}

/**
 * Orders of each cycle: cₖ = 1/B · Σ x_b e^(−2πi·k·(b + ½)/B), k = 0 … most half orders of the crank (k = N is the firing
 * order of N cylinders).
 */
export function ordersOf(signal: Float64Array, spans: readonly CycleSpan[], most: number): Orders[] {
  const bins = binsFor(most)
  const { cos, sin } = turns(bins)
  return spans.map((span) => {
    const x = resampled(signal, span, bins)
    const out = new Float64Array(2 * (most + 1))
    for (let k = 0; k <= most; k++) {
      let re = 0
      let im = 0
      for (let b = 0, j = 0; b < bins; b++) {
        re += x[b] * cos[j]
        im -= x[b] * sin[j]
        j += k
        if (j >= bins) j -= bins
      }
      // half a bin of turning, for the bin stands for its middle
      const a = (-Math.PI * k) / bins
      const c = Math.cos(a)
      const s = Math.sin(a)
      out[2 * k] = (re * c - im * s) / bins
      out[2 * k + 1] = (re * s + im * c) / bins
    }
    return out
  })
}

/** Mean over cycles, and the variance of that mean by order (re and im together). */
export function averaged(cycles: readonly Orders[]): { mean: Orders; variance: Float64Array } {
  const n = cycles.length
  const size = cycles[0].length
  const mean = new Float64Array(size)
  for (const c of cycles) for (let i = 0; i < size; i++) mean[i] += c[i] / n
  const variance = new Float64Array(size / 2)
  for (const c of cycles)
    for (let k = 0; k < size / 2; k++)
      variance[k] += ((c[2 * k] - mean[2 * k]) ** 2 + (c[2 * k + 1] - mean[2 * k + 1]) ** 2) / Math.max(1, n - 1) / n
  return { mean, variance }
}
