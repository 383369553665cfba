import type { OperatingPoint } from './point.js'
import type { Trace } from './thin.js'

/** How another recording is laid under this one: from its start, stretch on stretch, or where the engine ran as fast. */
export const ALIGNMENTS = ['time', 'stretches', 'speed'] as const
export type Alignment = (typeof ALIGNMENTS)[number]

/** A recording as it is laid: its drawn rows, and the stretches that count. */
export interface Laid {
  readonly trace: Readonly<Record<string, readonly (number | null)[]>>
  readonly points: readonly OperatingPoint[]
}

/** Held speeds that are one and the same on two days differ by less [rpm]. */
const SAME_HOLD_RPM = 250
/** Pairs of stretches that are held against each other at the most: a log of thousands of snaps is laid by what it holds. */
const MOST_PAIRS = 1_000_000
/** Points of each recording between which a way by speed is sought. */
const STEPS = 500
/** What it costs to let one recording stand while the other goes on, a step [log of speed]: less than any change of speed. */
const STAND = 0.004
/** A standing engine's speed, so that its logarithm is one [rpm]. */
const LEAST_RPM = 200

const timesOf = ({ trace }: Laid): readonly number[] => trace.time_s as readonly number[]

/** In which of these ways one recording can be laid under another: a stretch that both have, a speed that both recorded. */
export function waysToLay(mine: Laid, theirs: Laid): readonly Alignment[] {
  const hasRpm = ({ trace }: Laid): boolean => trace.rpm?.some((x) => x !== null) ?? false
  const can: Readonly<Record<Alignment, () => boolean>> = {
    time: () => true,
    stretches: () => anchorsOf(mine.points, theirs.points).length > 0,
    speed: () => hasRpm(mine) && hasRpm(theirs),
  }
  return timesOf(mine).length < 2 || timesOf(theirs).length < 2 ? [] : ALIGNMENTS.filter((by) => can[by]())
}

/**
 * Time of the other recording that belongs beside each drawn row of this one [s]; beyond its ends where it has none.
 * @returns undefined where it cannot be laid so: no stretch of the same kind in both, or a speed missing in one
 */
export function timesBeside(by: Alignment, mine: Laid, theirs: Laid): readonly number[] | undefined {
  const times = timesOf(mine)
  if (times.length < 2 || timesOf(theirs).length < 2) return undefined
  switch (by) {
    case 'time':
      return times
    case 'stretches': {
      const anchors = anchorsOf(mine.points, theirs.points)
      return anchors.length ? times.map((t) => along(anchors, t)) : undefined
    }
    case 'speed': {
      const way = wayBySpeed(mine, theirs)
      return way && times.map((t) => along(way, t))
    }
  }
}

/** The other recording's values beside each row of this one: its row nearest to each time, none beyond its ends. */
export function laidUnder(beside: readonly number[], theirs: Laid): Trace {
  const times = timesOf(theirs)
  const [first, last] = [times[0], times[times.length - 1]]
  let k = 0
  const rows = beside.map((t) => {
    while (k + 1 < times.length && Math.abs(times[k + 1] - t) <= Math.abs(times[k] - t)) k++
    return t < first || t > last ? -1 : k
  })
  const columns = Object.entries(theirs.trace).filter(([id]) => id !== 'time_s')
  return Object.fromEntries(columns.map(([id, xs]) => [id, rows.map((i) => (i < 0 ? null : xs[i]))]))
}

type Anchor = readonly [mine: number, theirs: number]

const isSame = (a: OperatingPoint, b: OperatingPoint): boolean =>
  a.kind === b.kind && (a.kind !== 'hold' || Math.abs(a.rpm - b.rpm) < SAME_HOLD_RPM)

/**
 * Starts and ends of stretches that both have, in the order in which both have them: the longest such series, so that a stretch
 * which one drive took earlier does not turn time round.
 */
function anchorsOf(mine: readonly OperatingPoint[], theirs: readonly OperatingPoint[]): Anchor[] {
  const byTime = (xs: readonly OperatingPoint[]): OperatingPoint[] => [...xs].sort((x, y) => x.startS - y.startS)
  const held = (xs: readonly OperatingPoint[]): OperatingPoint[] => xs.filter((p) => p.kind !== 'snap')
  const all = mine.length * theirs.length <= MOST_PAIRS
  const [a, b] = all ? [byTime(mine), byTime(theirs)] : [byTime(held(mine)), byTime(held(theirs))]
  if (a.length * b.length > MOST_PAIRS) return []
  // longest common subsequence, from the back
  const most = Array.from({ length: a.length + 1 }, () => new Int32Array(b.length + 1))
  for (let i = a.length - 1; i >= 0; i--)
    for (let j = b.length - 1; j >= 0; j--)
      most[i][j] = isSame(a[i], b[j]) ? 1 + most[i + 1][j + 1] : Math.max(most[i + 1][j], most[i][j + 1])
  const out: Anchor[] = []
  for (let i = 0, j = 0; i < a.length && j < b.length;) {
    if (isSame(a[i], b[j])) {
      out.push([a[i].startS, b[j].startS])
      // a stretch of one moment has no end of its own
      if (a[i].endS > a[i].startS && b[j].endS > b[j].startS) out.push([a[i].endS, b[j].endS])
      i++
      j++
    } else if (most[i + 1][j] >= most[i][j + 1]) i++
    else j++
  }
  return out.filter(([m, t], k) => k === 0 || (m > out[k - 1][0] && t > out[k - 1][1]))
}

/** Between two anchors by their share, before the first and after the last second by second. */
function along(anchors: readonly Anchor[], t: number): number {
  const [first, last] = [anchors[0], anchors[anchors.length - 1]]
  if (t <= first[0]) return first[1] + (t - first[0])
  if (t >= last[0]) return last[1] + (t - last[0])
  let [low, high] = [0, anchors.length - 1]
  while (high - low > 1) {
    const mid = (low + high) >> 1
    if (anchors[mid][0] <= t) low = mid
    else high = mid
  }
  const [[m0, t0], [m1, t1]] = [anchors[low], anchors[high]]
  return t0 + ((t - m0) / (m1 - m0)) * (t1 - t0)
}

/** Log of the speed at even times, the last known one held; undefined where it was not recorded. */
function speedsOf(laid: Laid): { readonly at: (i: number) => number; readonly logs: Float64Array } | undefined {
  const times = timesOf(laid)
  const rpm = laid.trace.rpm
  const known = rpm?.find((x) => x !== null)
  if (!rpm || known === undefined || known === null) return undefined
  const [from, to] = [times[0], times[times.length - 1]]
  const at = (i: number): number => from + ((to - from) * i) / (STEPS - 1)
  const logs = new Float64Array(STEPS)
  let [k, held] = [0, known]
  for (let i = 0; i < STEPS; i++) {
    for (; k < times.length && times[k] <= at(i); k++) held = rpm[k] ?? held
    logs[i] = Math.log(Math.max(LEAST_RPM, held))
  }
  return { at, logs }
}

/** The cheapest way through both recordings from start to end along which their speeds agree (dynamic time warping, Sakoe 1978). */
function wayBySpeed(mine: Laid, theirs: Laid): Anchor[] | undefined {
  const [a, b] = [speedsOf(mine), speedsOf(theirs)]
  if (!a || !b) return undefined
  const cost = new Float64Array(STEPS * STEPS)
  for (let i = 0; i < STEPS; i++)
    for (let j = 0; j < STEPS; j++) {
      const here = Math.abs(a.logs[i] - b.logs[j])
      const both = i && j ? cost[(i - 1) * STEPS + j - 1] : i || j ? Infinity : 0
      const one = Math.min(i ? cost[(i - 1) * STEPS + j] : Infinity, j ? cost[i * STEPS + j - 1] : Infinity)
      cost[i * STEPS + j] = here + Math.min(both, one + STAND)
    }
  const back: Anchor[] = []
  for (let i = STEPS - 1, j = STEPS - 1; ;) {
    // of several of theirs beside one of mine the last met counts: the way stays single-valued
    if (back.length && back[back.length - 1][0] === a.at(i)) back.pop()
    back.push([a.at(i), b.at(j)])
    if (!i && !j) break
    const [both, mineOnly, theirsOnly] = [
      i && j ? cost[(i - 1) * STEPS + j - 1] : Infinity,
      i ? cost[(i - 1) * STEPS + j] + STAND : Infinity,
      j ? cost[i * STEPS + j - 1] + STAND : Infinity,
    ]
    if (both <= mineOnly && both <= theirsOnly) {
      i--
      j--
    } else if (mineOnly <= theirsOnly) i--
    else j--
  }
  return back.reverse()
}
