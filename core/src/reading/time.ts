/** Half a day: a clock that falls by more has passed midnight [s]. */
const HALF_DAY_S = 43_200
const DAY_S = 86_400
/** Whole numbers that step by this much are milliseconds, whatever the header leaves out: nobody polls so seldom. */
const MS_STEP_LEAST = 20
/** Longer than this nobody records, a row every few seconds [s]: then whole numbers are milliseconds. */
const LONGEST_S = 4 * 3600
/** Parts that step by no more than this are days, ten seconds of one at most: nobody polls ten thousand times a second. */
const DAY_STEP_MOST = 10 / DAY_S
/** Steps that fall before a table is taken to be written from its end, and their share of all that are not level. */
const FALLING_ROWS = 5
const FALLING_SHARE = 0.9

/** Rows that must rise before a fall is taken for a new beginning, and how far it falls at least [s]; what is left between the two [s]. */
const RISING_ROWS = 5
const FALLS_S = 10
export const BETWEEN_S = 10

/** Share of steps without any time between from which on the clock is too coarse for the rows; how coarse clocks are [s]. */
const STANDING_SHARE = 0.3
const CLOCK_STEP_S = 1

/** Times in order. */
export interface Timeline {
  /** Seconds from the first row. */
  readonly seconds: Float64Array
  /** Rows that are kept; undefined when all are. */
  readonly kept: Uint32Array | undefined
  /** Rows whose time went backwards, how often it began again, and steps without any time between. */
  readonly backwards: number
  readonly restarts: number
  readonly stands: number
}

/**
 * Brings times as they stand in a file into seconds from the first row. Clocks may pass midnight; a row that goes backwards
 * is left out.
 * @param label - the column's header, for its unit
 */
export function timeline(times: Float64Array, clock: boolean, label: string): Timeline {
  const scale = clock ? 1 : scaleOf(times, label)
  const n = times.length
  const seconds = new Float64Array(n)
  const kept = new Uint32Array(n)
  let added = 0
  let before = -Infinity
  let beforeRaw = -Infinity
  let origin = 0
  let m = 0
  let backwards = 0
  let restarts = 0
  let stands = 0
  for (let i = 0; i < n; i++) {
    const raw = times[i]
    if (clock && beforeRaw - raw > HALF_DAY_S) added += DAY_S
    let t = raw * scale + added
    if (m > 0 && t < before && beginsAgain(times, i, scale)) {
      added += before + BETWEEN_S - t
      t = before + BETWEEN_S
      restarts++
    }
    if (m > 0 && t < before) {
      backwards++
      continue
    }
    if (m === 0) origin = t
    else if (t === before) stands++
    before = t
    beforeRaw = raw
    kept[m] = i
    seconds[m++] = t - origin
  }
  if (stands > STANDING_SHARE * (m - 1) && stands < m - 1) spread(seconds.subarray(0, m))
  return {
    seconds: seconds.subarray(0, m),
    kept: m === n ? undefined : kept.subarray(0, m),
    backwards,
    restarts,
    stands,
  }
}

/** Rows of one time, one behind the other until the next time: a clock of whole seconds under a faster recording. */
function spread(seconds: Float64Array): void {
  let last = 0
  for (let from = 0; from < seconds.length;) {
    let to = from + 1
    while (to < seconds.length && seconds[to] === seconds[from]) to++
    // the last ones stand as far apart as those before; a pause is no part of a row
    const step =
      to < seconds.length ? Math.min((seconds[to] - seconds[from]) / (to - from), CLOCK_STEP_S / (to - from)) : last
    for (let i = from + 1; i < to; i++) seconds[i] = seconds[from] + (i - from) * step
    last = step
    from = to
  }
}

/** Whether at a row whose time fell another recording begins: it fell far, rises from there, and does not come back to what came before. */
function beginsAgain(times: Float64Array, at: number, scale: number): boolean {
  const before = times[at - 1]
  if ((before - times[at]) * scale < FALLS_S || at + RISING_ROWS >= times.length) return false
  for (let i = at + 1; i <= at + RISING_ROWS; i++) if (times[i] < times[i - 1] || times[i] >= before) return false
  return true
}

/** Seconds of one unit of the column: by its name, else by how it steps. */
function scaleOf(times: Float64Array, label: string): number {
  if (/\b(ms|msec|milli\w*)\b|_ms\b/i.test(label)) return 1e-3
  if (/\b(us|µs|micro\w*)\b|_us\b/i.test(label)) return 1e-6
  if (/\bmin(utes)?\b/i.test(label)) return 60
  if (/\b(s|sec|seconds)\b|_s\b/i.test(label)) return 1
  const steps: number[] = []
  let isWhole = true
  for (let i = 1; i < Math.min(times.length, 200); i++) {
    isWhole &&= Number.isInteger(times[i])
    const step = times[i] - times[i - 1]
    if (step > 0) steps.push(step)
  }
  steps.sort((a, b) => a - b)
  const middle = steps[steps.length >> 1] ?? 1
  const span = times.length ? Math.abs(times[times.length - 1] - times[0]) : 0
  if (isWhole && middle > 1 && span > LONGEST_S) return 1e-3
  if (!isWhole) return middle <= DAY_STEP_MOST ? DAY_S : 1
  return middle >= MS_STEP_LEAST ? 1e-3 : 1
}

/** Whether the newest row stands first: nearly every step falls. */
export function newestFirst(times: Float64Array): boolean {
  let [falls, rises] = [0, 0]
  for (let i = 1; i < times.length; i++) {
    if (times[i] < times[i - 1]) falls++
    else if (times[i] > times[i - 1]) rises++
  }
  return falls >= FALLING_ROWS && falls > FALLING_SHARE * (falls + rises)
}
