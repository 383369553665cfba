import { CHANNELS, type ChannelId } from './channels.js'
import type { Recording } from './recording.js'

/** One row of live data: what was read in a round and when. */
export interface LiveRow {
  /** Seconds; never falls. */
  readonly t: number
  readonly values: Readonly<Partial<Record<ChannelId, number>>>
}

/** Rows as a recording that begins at 0 s; what a round did not read is NaN. No rows give a recording of none. */
export function recordingOfRows(rows: readonly LiveRow[]): Recording {
  const seen = new Set(rows.flatMap((r) => Object.keys(r.values)))
  const ids = CHANNELS.map((c) => c.id).filter((id) => seen.has(id))
  const start = rows[0]?.t ?? 0
  const columns = Object.fromEntries(ids.map((id) => [id, Float64Array.from(rows, (r) => r.values[id] ?? NaN)]))
  return {
    rows: rows.length,
    columns: { time_s: Float64Array.from(rows, (r) => r.t - start), ...columns },
    warnings: [],
  }
}
