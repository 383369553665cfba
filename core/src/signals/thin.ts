import type { ChannelId } from './channels.js'
import type { Recording } from './recording.js'

/** Columns for drawing; a missing value is null. */
export type Trace = Record<string, (number | null)[]>

/**
 * A recording thinned for drawing, with the true extremes: each stretch of rows becomes two, its lowest and highest value in
 * the order in which they came. A gap in time stays one, for the times are those of rows.
 * @param wanted - channels; those that are absent are left out; `time_s` always comes
 * @param most - rows at the most, ≥ 2
 * @param span - only the rows from one time to another [s], and one more at either end
 */
export function thinned(
  recording: Recording,
  wanted: readonly string[],
  most: number,
  span?: readonly [number, number],
): Trace {
  const { rows, columns } = span ? within(recording, span) : recording
  const time = columns.time_s ?? new Float64Array(0)
  const ids = (Object.keys(columns) as ChannelId[]).filter((id) => id !== 'time_s' && wanted.includes(id))
  const plain = (x: number): number | null => (Number.isNaN(x) ? null : x)
  if (rows <= most)
    return { time_s: [...time], ...Object.fromEntries(ids.map((id) => [id, Array.from(columns[id]!, plain)])) }
  const stretches = Math.max(1, Math.floor(most / 2))
  const out: Trace = { time_s: [] }
  for (const id of ids) out[id] = []
  for (let s = 0; s < stretches; s++) {
    const from = Math.floor((s * rows) / stretches)
    const to = Math.floor(((s + 1) * rows) / stretches)
    out.time_s.push(time[from], time[from + ((to - from) >> 1)])
    for (const id of ids) {
      const xs = columns[id]!
      let low = -1
      let high = -1
      for (let i = from; i < to; i++) {
        if (Number.isNaN(xs[i])) continue
        if (low < 0 || xs[i] < xs[low]) low = i
        if (high < 0 || xs[i] > xs[high]) high = i
      }
      const pair = low <= high ? [low, high] : [high, low]
      out[id].push(...pair.map((i) => (i < 0 ? null : xs[i])))
    }
  }
  return out
}

/** The rows of a span and the two beside it, without a copy: a line that is drawn goes on to either edge. */
function within(r: Recording, [fromS, toS]: readonly [number, number]): Pick<Recording, 'rows' | 'columns'> {
  const time = r.columns.time_s
  if (!time) return r
  const from = Math.max(0, firstFrom(time, fromS) - 1)
  const to = Math.min(r.rows, firstFrom(time, toS) + 1)
  const columns = Object.fromEntries(Object.entries(r.columns).map(([id, xs]) => [id, xs.subarray(from, to)]))
  return { rows: Math.max(0, to - from), columns }
}

/** Index of the first time that is not before `t`; the times rise. */
function firstFrom(time: Float64Array, t: number): number {
  let [low, high] = [0, time.length]
  while (low < high) {
    const mid = (low + high) >> 1
    if (time[mid] < t) low = mid + 1
    else high = mid
  }
  return low
}

/** A thinned trace with a closer look laid in where it belongs; both hold the same channels. */
export function withDetail<T extends Readonly<Record<string, readonly (number | null)[]>>>(trace: T, detail: T): T {
  const [first, last] = [detail.time_s[0], detail.time_s.at(-1)]
  if (first === undefined || first === null || last === undefined || last === null) return trace
  const before = trace.time_s.findIndex((x) => x! >= first)
  const after = trace.time_s.findIndex((x) => x! > last)
  const [head, tail] = [before < 0 ? trace.time_s.length : before, after < 0 ? trace.time_s.length : after]
  return Object.fromEntries(
    Object.entries(trace).map(([id, xs]) => [id, [...xs.slice(0, head), ...(detail[id] ?? []), ...xs.slice(tail)]]),
  ) as unknown as T
}
