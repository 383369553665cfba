import { median } from '../statistics/index.js'
import { held } from './pointFigures.js'
import { STEADY, type MomentFigure } from './point.js'
import type { Recording } from './recording.js'

/** How a snap is read; ours, but for the pedal's half-way and the tenth of the speed's rise, which are usual for steps. */
const SNAP = {
  /** The idle before it is read over so long [s]. */
  beforeS: 4,
  /** Pedal or plate has moved when its reading rises by so much [% of its range]. */
  opensPct: 8,
  /** It counts at half of its way, the speed at a tenth of its rise. */
  footAt: 0.5,
  speedAt: 0.1,
  /** Settled: within so much of the idle before, for so long, sought for so long after the peak. */
  withinRpm: 50,
  staysS: 3,
  soughtS: 25,
  /** Rows further apart tell no delay [s]. */
  coarsestS: 0.6,
} as const

/**
 * What a snap of the throttle tells beyond its heights: how long speed follows pedal or plate [s], how long until it is the idle of
 * before again, counted from the peak [s], and how far it falls below that idle on the way [rpm]. Times come with the
 * error that the spacing of the rows leaves; what the rows cannot tell is left out.
 *
 * @param from - row at which the speed begins to rise
 * @param peak - row of the highest speed
 */
export function snapFigures(
  r: Recording,
  from: number,
  peak: number,
): { readonly means: Partial<Record<MomentFigure, number>>; readonly sds: Partial<Record<MomentFigure, number>> } {
  const means: Partial<Record<MomentFigure, number>> = {}
  const sds: Partial<Record<MomentFigure, number>> = {}
  const near = aroundSnap(r, from, peak)
  if (!near) return { means, sds }
  return read(near.columns, from - near.at, peak - near.at)
}

type Columns = Recording['columns'] & { readonly time_s: Float64Array; readonly rpm: Float64Array }

/**
 * The rows that can say something of a snap, from where a value may still stand at the idle before it to where settling is given
 * up: a drive of hours has thousands of snaps, and none of them needs the others' rows. @returns `at` is its first row
 */
function aroundSnap(r: Recording, from: number, peak: number): { columns: Columns; at: number } | undefined {
  const { time_s: t, rpm, throttle_pct, pedal_pct } = r.columns
  if (!t || !rpm) return undefined
  let at = from
  while (at > 0 && t[at - 1] >= t[from] - SNAP.beforeS - STEADY.heldS) at--
  let end = peak + 1
  while (end < t.length && t[end] - t[peak] <= SNAP.soughtS) end++
  const cut = (xs: Float64Array): Float64Array => xs.subarray(at, end)
  return {
    at,
    columns: {
      time_s: cut(t),
      rpm: cut(rpm),
      ...(throttle_pct ? { throttle_pct: cut(throttle_pct) } : {}),
      ...(pedal_pct ? { pedal_pct: cut(pedal_pct) } : {}),
    },
  }
}

/** Figures of a snap from the rows around it. */
function read(columns: Columns, from: number, peak: number): ReturnType<typeof snapFigures> {
  const { time_s: t, rpm, throttle_pct: plate, pedal_pct: pedal } = columns
  const means: Partial<Record<MomentFigure, number>> = {}
  const sds: Partial<Record<MomentFigure, number>> = {}
  const n = held(rpm, t)
  const first = t.findIndex((x) => x >= t[from] - SNAP.beforeS)
  const standing = [...n.subarray(first, from + 1)].filter(Number.isFinite)
  if (t[from] - t[first] < SNAP.beforeS / 2 || !standing.length) return { means, sds }
  const idle = median(standing)
  const spacing = spacingOf(rpm, t, first, peak)
  // an electronic plate follows the foot by its own delay: one is never taken for the other
  const foot = pedal ?? plate
  if (foot) {
    const id = pedal ? 'pedal_delay_s' : 'plate_delay_s'
    const down = halfWay(held(foot, t), t, first, peak)
    const rise = crossing(n, t, from, peak, idle + SNAP.speedAt * (n[peak] - idle))
    const footSpacing = spacingOf(foot, t, first, peak)
    if (down !== undefined && rise !== undefined && Math.max(spacing, footSpacing) <= SNAP.coarsestS) {
      means[id] = rise - down
      sds[id] = Math.hypot(spacing, footSpacing) / Math.sqrt(12)
    }
  }
  const settled = settledAt(n, t, peak, idle)
  if (settled !== undefined) {
    means.settle_s = settled - t[peak]
    sds.settle_s = (spacing * Math.SQRT2) / Math.sqrt(12)
    const last = t.findIndex((x) => x >= settled)
    means.dip_rpm = Math.max(0, idle - Math.min(...n.subarray(peak, last + 1)))
    sds.dip_rpm = 0
  }
  return { means, sds }
}

/** Middle of the times between values that were really read [s]. */
function spacingOf(xs: Float64Array, t: Float64Array, from: number, to: number): number {
  const at: number[] = []
  for (let i = from; i <= to; i++) if (!Number.isNaN(xs[i])) at.push(t[i])
  return at.length > 1 ? median(at.slice(1).map((x, i) => x - at[i])) : Infinity
}

/** When pedal or plate was half-way down; undefined where it did not move. */
function halfWay(plate: Float64Array, t: Float64Array, first: number, peak: number): number | undefined {
  const rest = plate[first]
  let top = first
  for (let i = first; i <= peak; i++) if (plate[i] > plate[top]) top = i
  if (!(plate[top] - rest >= SNAP.opensPct)) return undefined
  return crossing(plate, t, first, top, rest + SNAP.footAt * (plate[top] - rest))
}

/** When a rising figure passes a level, between the rows. */
function crossing(xs: Float64Array, t: Float64Array, from: number, to: number, level: number): number | undefined {
  for (let i = Math.max(1, from); i <= to; i++)
    if (xs[i] >= level && xs[i - 1] < level)
      return t[i - 1] + ((level - xs[i - 1]) / (xs[i] - xs[i - 1])) * (t[i] - t[i - 1])
  return undefined
}

/** From when on the speed stays at the idle of before; undefined where it is left, or the recording ends, too soon. */
function settledAt(n: Float64Array, t: Float64Array, peak: number, idle: number): number | undefined {
  let since = -1
  for (let i = peak; i < n.length && t[i] - t[peak] <= SNAP.soughtS; i++) {
    if (!(Math.abs(n[i] - idle) <= SNAP.withinRpm)) since = -1
    else if (since < 0) since = i
    if (since >= 0 && t[i] - t[since] >= SNAP.staysS) return t[since]
  }
  return undefined
}
