import type { ChannelId } from './channels.js'
import type { Recording } from './recording.js'

/** Columns for drawing; a missing value is null. */
export type Trace = Record<string, (number | null)[]>

/**
 * A recording thinned for drawing, with the true extremes: each stretch of rows becomes two, its lowest and highest value in
 * the order in which they came. A gap in time stays one, for the times are those of rows.
 * @param wanted - channels; those that are absent are left out; `time_s` always comes
 * @param most - rows at the most, ≥ 2
 */
export function thinned(recording: Recording, wanted: readonly string[], most: number): Trace {
  const { rows, columns } = recording
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
