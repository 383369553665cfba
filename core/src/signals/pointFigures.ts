import { median } from '../statistics/index.js'
import type { ChannelId } from './channels.js'
import { STEADY, totalTrimPct, type OperatingPoint } from './point.js'
import type { Recording } from './recording.js'

/** Total trim of each bank, row by row; none without trims. */
export function trimColumns(recording: Recording): readonly Float64Array[] {
  const { time_s: t } = recording.columns
  const of = (id: ChannelId): Float64Array | undefined => {
    const xs = recording.columns[id]
    return xs && held(xs, t!)
  }
  const [s1, l1, s2, l2] = [of('stft1_pct'), of('ltft1_pct'), of('stft2_pct'), of('ltft2_pct')]
  if (!s1 && !l1) return []
  const total = (short?: Float64Array, long?: Float64Array): Float64Array => {
    const out = new Float64Array(recording.rows)
    for (let i = 0; i < out.length; i++) out[i] = totalTrimPct(short ? short[i] : 0, long ? long[i] : 0)
    return out
  }
  return s2 || l2 ? [total(s1, l1), total(s2, l2)] : [total(s1, l1)]
}

/** A channel polled in turn, its last value standing until it is too old. */
export function held(xs: Float64Array, t: Float64Array): Float64Array {
  if (!xs.includes(NaN)) return xs
  const { heldS } = STEADY
  const out = new Float64Array(xs.length)
  let last = NaN
  let lastAt = -Infinity
  for (let i = 0; i < xs.length; i++) {
    const x = xs[i]
    if (x === x) {
      last = x
      lastAt = t[i]
    }
    out[i] = t[i] - lastAt <= heldS ? last : NaN
  }
  return out
}

/** Sums for a least-squares slope of y over t; rows are put in and taken out, blanks are passed over. */
class SlopeSums {
  private n = 0
  private st = 0
  private sy = 0
  private stt = 0
  private sty = 0

  constructor(
    private readonly t: Float64Array,
    private readonly y: Float64Array,
    private readonly origin: number,
  ) {}

  /** @param sign - 1 puts the rows from `from` up to `to` in, -1 takes them out */
  put(from: number, to: number, sign: 1 | -1): void {
    const { t, y, origin } = this
    let [n, st, sy, stt, sty] = [0, 0, 0, 0, 0]
    for (let i = from; i < to; i++) {
      const v = y[i]
      if (v !== v) continue
      const x = t[i] - origin
      n++
      st += x
      sy += v
      stt += x * x
      sty += x * v
    }
    this.n += sign * n
    this.st += sign * st
    this.sy += sign * sy
    this.stt += sign * stt
    this.sty += sign * sty
  }

  /** [unit/s] */
  get slope(): number {
    const { n, st, sy, stt, sty } = this
    const d = n * stt - st * st
    return d > 0 ? (n * sty - st * sy) / d : 0
  }
}

/**
 * Where the tail of a window begins that has settled: an eighth is dropped from the left as long as `y` drifts by more than
 * `most` [unit/s]. Each row is summed twice at most, however often that is.
 * @returns undefined where less than `leastS` would be left
 */
export function settledFrom(
  t: Float64Array,
  y: Float64Array,
  window: { readonly from: number; readonly to: number },
  most: number,
  leastS: number,
): number | undefined {
  const { to } = window
  let { from } = window
  const sums = new SlopeSums(t, y, t[from])
  sums.put(from, to + 1, 1)
  while (Math.abs(sums.slope) > most) {
    const later = from + Math.max(1, Math.floor((to - from) / 8))
    if (t[to] - t[later] < leastS) return undefined
    sums.put(from, later, -1)
    from = later
  }
  return from
}

/** Mean and standard deviation of every channel over the rows `from` to `to`, both included. */
export function meansOf(
  recording: Recording,
  trims: readonly Float64Array[],
  from: number,
  to: number,
): Pick<OperatingPoint, 'means' | 'sds'> {
  const means: Record<string, number> = {}
  const sds: Record<string, number> = {}
  const put = (id: string, xs: Float64Array): void => {
    // about the first value, so that one pass is enough
    let about = NaN
    let n = 0
    let sum = 0
    let squares = 0
    for (let i = from; i <= to; i++) {
      const x = xs[i]
      if (x !== x) continue
      if (n++ === 0) about = x
      const off = x - about
      sum += off
      squares += off * off
    }
    if (!n) return
    means[id] = about + sum / n
    sds[id] = n > 1 ? Math.sqrt(Math.max(0, squares - (sum * sum) / n) / (n - 1)) : 0
  }
  for (const [id, xs] of Object.entries(recording.columns)) if (id !== 'time_s') put(id, xs)
  trims.forEach((xs, b) => put(`trim${b + 1}_pct`, xs))
  return { means, sds }
}

/** Rows that tell the middle of a window well enough. */
const MIDDLE_OF = 101

/** The middle of what is there, of a hundred rows at most; 0 when nothing is. */
export function middleOf(xs: Float64Array, from: number, to: number): number {
  const every = Math.max(1, Math.floor((to - from) / MIDDLE_OF))
  const list: number[] = []
  for (let i = from; i <= to; i += every) if (!Number.isNaN(xs[i])) list.push(xs[i])
  return list.length ? median(list) : 0
}
