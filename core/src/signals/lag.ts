import type { ChannelId } from './channels.js'
import { held } from './pointFigures.js'
import type { Recording } from './recording.js'

/** How far a channel comes behind the throttle, by how alike their changes are when one is shifted. */
export interface ChannelLag {
  readonly channel: ChannelId
  /** Behind the throttle [s]; negative where it comes first. */
  readonly seconds: number
  /** Correlation of the changes at that shift [–], 0..1. */
  readonly likeness: number
}

/** Grid on which changes are compared, furthest shift and longest stretch [s]. */
const GRID_S = 0.1
const FURTHEST_S = 2
const LONGEST_S = 1800
/** Changes are taken over this time [s]. */
const CHANGE_S = 0.6
/** Rows further apart cannot tell a lag [s]. */
const COARSEST_S = 0.6
/** Less than this is the engine's own and the turn of the polling [s]. */
const LEAST_S = 0.6
/** A lag is believed from so much likeness on, and where it is so much more alike than without [–]. */
const LIKE = 0.6
const MORE_ALIKE = 0.08
/** What the throttle moves, when nothing is late, within a few tenths of a second. */
const FOLLOWS: readonly ChannelId[] = ['maf_gs', 'map_kpa', 'load_pct']

/** Lags of air channels behind the throttle that are sure; none where rows are too far apart or nothing moved. */
export function channelLags(r: Recording): ChannelLag[] {
  const { time_s: t, throttle_pct: plate } = r.columns
  if (!t || !plate || r.rows < 50) return []
  const span = Math.min(LONGEST_S, t[r.rows - 1] - t[0])
  if (!(span > 0) || span / r.rows > COARSEST_S) return []
  const reference = changes(t, plate, span)
  return FOLLOWS.flatMap((channel) => {
    const xs = r.columns[channel]
    if (!xs) return []
    const other = changes(t, xs, span)
    let best = { shift: 0, likeness: -1 }
    const most = Math.round(FURTHEST_S / GRID_S)
    for (let shift = -most; shift <= most; shift++) {
      const likeness = correlation(reference, other, shift)
      if (likeness > best.likeness) best = { shift, likeness }
    }
    const sure = best.likeness >= LIKE && best.likeness - correlation(reference, other, 0) >= MORE_ALIKE
    const seconds = Math.round(best.shift * GRID_S * 10) / 10
    return sure && Math.abs(seconds) >= LEAST_S ? [{ channel, seconds, likeness: best.likeness }] : []
  })
}

/** The same recording with late channels drawn forward, each value to the row nearest to when it was. */
export function withoutLags(r: Recording, lags: readonly ChannelLag[]): Recording {
  const t = r.columns.time_s
  if (!t || !lags.length) return r
  const columns = { ...r.columns }
  for (const { channel, seconds } of lags) {
    const xs = r.columns[channel]!
    let k = 0
    columns[channel] = Float64Array.from(t, (at) => {
      while (k + 1 < t.length && t[k + 1] <= at + seconds) k++
      while (k > 0 && t[k] > at + seconds) k--
      return xs[k]
    })
  }
  return { ...r, columns }
}

/** Changes of a channel on the grid. */
function changes(t: Float64Array, xs: Float64Array, span: number): Float64Array {
  const values = held(xs, t)
  const n = Math.floor(span / GRID_S)
  const grid = new Float64Array(n)
  let k = 0
  for (let i = 0; i < n; i++) {
    while (k + 1 < t.length && t[k + 1] - t[0] <= i * GRID_S) k++
    grid[i] = values[k]
  }
  const back = Math.round(CHANGE_S / GRID_S)
  return Float64Array.from(grid, (x, i) => {
    const d = i < back ? 0 : x - grid[i - back]
    return Number.isNaN(d) ? 0 : d
  })
}

/** Correlation of two rows of changes, the second shifted back by `shift` steps; 0 where one does not move. */
function correlation(a: Float64Array, b: Float64Array, shift: number): number {
  let [ab, aa, bb] = [0, 0, 0]
  for (let i = Math.max(0, -shift); i < a.length && i + shift < b.length; i++) {
    const y = b[i + shift]
    ab += a[i] * y
    aa += a[i] * a[i]
    bb += y * y
  }
  return aa > 0 && bb > 0 ? ab / Math.sqrt(aa * bb) : 0
}
