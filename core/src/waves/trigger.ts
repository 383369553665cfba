import { quantile } from '../statistics/index.js'
import type { WaveWarning } from './wave.js'

/** Marks of cylinder 1, cleaned: where each stands, and between which of them the angle may be trusted. */
export interface Marks {
  /** Times of the marks [samples], rising, with a part of a sample. */
  readonly at: readonly number[]
  /** For each interval between two marks: whether it is one period of the mark and nothing is missing or doubled in it. */
  readonly sound: readonly boolean[]
  readonly warnings: readonly WaveWarning[]
}

/** A mark within this share of the usual interval after another is the same mark seen twice [–]. */
const DOUBLE = 0.35
/** An interval is one period when it differs from its neighbours' middle by less than this [–]. */
const ODD_INTERVAL = 0.25
/** Fewest marks to work with. */
const FEWEST = 4

function crossings(trigger: Float64Array): number[] {
  const n = trigger.length
  const step = Math.max(1, Math.floor(n / 20_000))
  const thinned: number[] = []
  for (let i = 0; i < n; i += step) thinned.push(trigger[i])
  const rest = quantile(thinned, 0.5)
  let top = -Infinity
  let bottom = Infinity
  for (const x of trigger) {
    if (x > top) top = x
    if (x < bottom) bottom = x
  }
  // a spike of either sign: the greater one is the mark
  const sign = top - rest >= rest - bottom ? 1 : -1
  const height = sign > 0 ? top - rest : rest - bottom
  if (!(height > 0)) return []
  const over = 0.5 * height
  const under = 0.3 * height
  const found: number[] = []
  let armed = sign * (trigger[0] - rest) < under
  for (let i = 1; i < n; i++) {
    const x = sign * (trigger[i] - rest)
    if (armed && x >= over) {
      const before = sign * (trigger[i - 1] - rest)
      found.push(i - 1 + (x > before ? (over - before) / (x - before) : 1))
      armed = false
    } else if (!armed && x < under) armed = true
  }
  return found
}

const middle = (xs: readonly number[]): number => quantile(xs, 0.5)

/**
 * Marks of cylinder 1 from its channel. A mark that rings is one mark; where one is missing or a foreign one stands, the
 * cycles there are left out, and how many is said.
 *
 * @returns undefined when there is nothing that could be a mark
 */
export function marksOf(trigger: Float64Array): Marks | undefined {
  let at = crossings(trigger)
  if (at.length < FEWEST) return undefined
  const gaps = (xs: readonly number[]): number[] => xs.slice(1).map((x, i) => x - xs[i])
  // most of a ringing mark's intervals are short ones: the longer half tells the period
  const period = quantile(gaps(at), 0.75)
  const kept: number[] = []
  for (const x of at) if (!kept.length || x - kept[kept.length - 1] > DOUBLE * period) kept.push(x)
  const doubled = at.length - kept.length
  at = kept
  if (at.length < FEWEST) return undefined
  const intervals = gaps(at)
  const sound = intervals.map((g, i) => {
    const near = intervals.slice(Math.max(0, i - 4), i + 5)
    return Math.abs(g / middle(near) - 1) < ODD_INTERVAL
  })
  const bad = sound.filter((s) => !s).length
  const warnings: WaveWarning[] = []
  if (doubled)
    warnings.push({
      code: 'trigger-double',
      message: `The mark of cylinder 1 was counted twice ${doubled} times; the second was dropped.`,
    })
  if (bad)
    warnings.push({
      code: 'trigger-missing',
      message: `${bad} of ${intervals.length} intervals between marks are not one period: a mark is missing or foreign. Those cycles are left out.`,
    })
  return { at, sound, warnings }
}
