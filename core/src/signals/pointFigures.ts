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

/** Least-squares slope of y over t from row `from` to `to`; blanks are passed over [unit/s]. */
export function slope(t: Float64Array, y: Float64Array, from: number, to: number): number {
  let n = 0
  let st = 0
  let sy = 0
  let stt = 0
  let sty = 0
  for (let i = from; i <= to; i++) {
    if (Number.isNaN(y[i])) continue
    const x = t[i] - t[from]
    n++
    st += x
    sy += y[i]
    stt += x * x
    sty += x * y[i]
  }
  const d = n * stt - st * st
  return d > 0 ? (n * sty - st * sy) / d : 0
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
