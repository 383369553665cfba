import { median } from '../statistics/index.js'
import type { ChannelId, Recording } from '../signals/index.js'

/** A row of a table that asks one parameter at a time holds at most this share of the channels. */
const FEW_OF_A_ROW = 0.34
/** Channels and rows below which nothing is put together. */
const LEAST_CHANNELS = 3
const LEAST_ROWS = 12
/** Rows looked at, spread evenly. */
const LOOKED_AT = 2500
/** A channel that was not asked for so many of its own intervals, and so long [s], is unknown meanwhile. */
const MISSED = 4
const MISSED_S = 3
/** Channels whose values are no figures to draw a line between. */
const STATES: ReadonlySet<ChannelId> = new Set(['fuel_status', 'mark'])
/** Channels whose moments make the rows, the first that is there. */
const PACE: readonly ChannelId[] = ['rpm', 'maf_gs', 'map_kpa', 'throttle_pct', 'stft1_pct', 'ltft1_pct']

/** A channel's own values and their own times. */
interface Series {
  readonly times: readonly number[]
  readonly values: readonly number[]
}

function seriesOf(t: Float64Array, xs: Float64Array): Series {
  const times: number[] = []
  const values: number[] = []
  for (let i = 0; i < xs.length; i++)
    if (!Number.isNaN(xs[i])) {
      times.push(t[i])
      values.push(xs[i])
    }
  return { times, values }
}

/** Whether most rows hold but a few of the channels. */
function isOneAtATime(channels: readonly Float64Array[], rows: number): boolean {
  if (channels.length < LEAST_CHANNELS || rows < LEAST_ROWS) return false
  const most = FEW_OF_A_ROW * channels.length
  // some rows of a long one tell as much as all of them
  const step = Math.ceil(rows / LOOKED_AT)
  let [few, looked] = [0, 0]
  for (let i = 0; i < rows; i += step) {
    let held = 0
    for (const xs of channels) if (!Number.isNaN(xs[i])) held++
    if (held <= most) few++
    looked++
  }
  return few > looked / 2
}

/** Values of a channel at other moments: on the line between its neighbours, or the last one where it is a state. */
function valuesAt(moments: readonly number[], { times, values }: Series, state: boolean): Float64Array {
  const steps = times.slice(1).map((t, i) => t - times[i])
  const usual = steps.length ? median(steps) : Infinity
  const longest = Math.max(MISSED_S, MISSED * usual)
  let k = 0
  return Float64Array.from(moments, (t) => {
    while (k + 1 < times.length && times[k + 1] <= t) k++
    const [before, after] = times[k] <= t ? [k, k + 1] : [-1, k]
    const fromBefore = before >= 0 ? t - times[before] : Infinity
    const toAfter = after < times.length ? times[after] - t : Infinity
    if (fromBefore + toAfter > longest) {
      // beyond an end, or in a gap: what is near still holds
      if (fromBefore <= usual) return values[before]
      return toAfter <= usual ? values[after] : NaN
    }
    if (state || fromBefore === 0) return values[before]
    return values[before] + ((values[after] - values[before]) * fromBefore) / (fromBefore + toAfter)
  })
}

/**
 * A recording whose rows hold one parameter each, as tools that ask one at a time write it, as a regular table: one row a
 * round of questions, at the moments of the engine's speed, every other value drawn there from its own times. Any other
 * recording is given back as it is.
 */
export function inRounds(recording: Recording): Recording {
  const { columns } = recording
  const t = columns.time_s
  const ids: readonly ChannelId[] = (Object.keys(columns) as ChannelId[]).filter((id) => id !== 'time_s')
  const own = ids.map((id) => columns[id]!)
  if (!t || !isOneAtATime(own, recording.rows)) return recording
  const series = new Map<ChannelId, Series>(ids.map((id, k) => [id, seriesOf(t, own[k])]))
  const pace = PACE.find((id) => (series.get(id)?.times.length ?? 0) > 1)
  if (!pace) return recording
  const moments = series.get(pace)!.times
  return {
    rows: moments.length,
    columns: {
      time_s: Float64Array.from(moments),
      ...Object.fromEntries(ids.map((id) => [id, valuesAt(moments, series.get(id)!, STATES.has(id))])),
    },
    warnings: [
      ...recording.warnings,
      {
        code: 'in-rounds',
        message: `One parameter was asked at a time: ${recording.rows} rows are put together into ${moments.length}, each value drawn to the moment of the row from its own times.`,
      },
    ],
  }
}
