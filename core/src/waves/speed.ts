import { quantile, type Interval } from '../statistics/index.js'
import { FRAME_S, framesOf, HIGHEST_HZ, orderSpectrum, slower, type SpeedAt } from './frames.js'
import type { WaveWarning } from './wave.js'

export type { SpeedAt } from './frames.js'

export interface Speed {
  /** Over the whole signal: middle, and what it stayed between in nine tenths of the time; null when not sure. */
  readonly rpm: Interval | null
  readonly track: readonly SpeedAt[]
  /** Least gap in score between the speed and the speeds it is most easily taken for [–]. */
  readonly margin: number
  readonly warnings: readonly WaveWarning[]
}

export interface SpeedAsked {
  /** Pulses in two turns. */
  readonly cylinders: number
  /** Band of its idle, where the vehicle is known: no engine is looked for far below it. */
  readonly idle?: { readonly min: number; readonly max: number }
  readonly onProgress?: (share: number) => void
}

/** Speeds that are looked for [rpm]. */
const SLOWEST = 380
const FASTEST = 7000
/** Step of the search [–]. */
const STEP = 0.004
/** Share of frames that must hold a firing pulse [–]. */
const SHARE_LEAST = 0.6
/** How much better than its rivals a speed must explain a frame [ln]. */
const MARGIN_LEAST = 1
/** What more is asked against double and three times the speed [ln]. */
const MULTIPLE_EXTRA = 5.5
/** How badly it may explain one frame at worst [ln]. */
const SCORE_LEAST = -18
/** Greatest change of speed from hop to hop that is followed [–]. */
const CHANGE = 0.05

/** Idle of a slow engine [rpm], where the vehicle's band is not known. */
const SLOW_IDLE = 700

/** A speed well below the idle band is heard less often [ln]. */
const unusual = (rpm: number, idle: SpeedAsked['idle']): number => (rpm < 0.8 * (idle?.min ?? SLOW_IDLE) ? -2.5 : 0)

/**
 * Speed of the crank from a pressure ripple or a sound: the firing frequency N·n/120 followed from frame to frame by the
 * path of best score that no engine's inertia forbids. Not sure: null with the reason, never a guess.
 */
export function speedOf(signal: Float64Array, sampleHz: number, { cylinders, idle, onProgress }: SpeedAsked): Speed {
  const unsure = (code: string, message: string, track: readonly SpeedAt[] = [], margin = 0): Speed => ({
    rpm: null,
    track,
    margin,
    warnings: [{ code, message }],
  })
  const low = slower(signal, sampleHz, 3 * HIGHEST_HZ)
  const lowest = idle ? Math.max(SLOWEST, 0.6 * idle.min) : SLOWEST
  const highest = Math.min(FASTEST, (120 * 0.4 * low.sampleHz) / cylinders)
  if (low.signal.length < 0.9 * FRAME_S * low.sampleHz)
    return unsure('too-short', 'Less than a second of signal: record at least three.')
  if (!(highest > 1.5 * lowest))
    return unsure(
      'sampled-too-slowly',
      `${sampleHz.toFixed(0)} samples a second are too few to hear ${cylinders} cylinders: at least ${Math.ceil((cylinders * 3 * lowest) / 60)}.`,
    )
  const { frames, times } = framesOf(low.signal, low.sampleHz, onProgress)
  const count = Math.floor(Math.log(highest / lowest) / Math.log(1 + STEP))
  const rpmAt = (i: number): number => lowest * (1 + STEP) ** i
  const scores = frames.map((f) => Float64Array.from({ length: count }, (_, i) => f.row((cylinders * rpmAt(i)) / 120)))
  const path = bestPath(scores, Math.round(Math.log(1 + CHANGE) / Math.log(1 + STEP)))
  const followed = path.map((i, f) => ({
    t: times[f],
    rpm: (frames[f].refine((cylinders * rpmAt(i)) / 120) * 120) / cylinders,
  }))
  const good = frames.filter((x, f) => x.holds((cylinders * followed[f].rpm) / 120)).length / frames.length
  // what was followed is one order of the engine; which one, the orders of the whole signal tell
  const spectrum = orderSpectrum(low.signal, low.sampleHz, followed, cylinders)
  const usual = quantile(
    followed.map((x) => x.rpm),
    0.5,
  )
  const rated = Array.from({ length: 4 * cylinders }, (_, i) => cylinders / (i + 1))
    .filter((ratio) => ratio * usual >= lowest && ratio * usual <= highest)
    .map((ratio) => ({ ratio, score: spectrum.score(ratio / cylinders, cylinders) + unusual(ratio * usual, idle) }))
    .sort((a, b) => b.score - a.score)
  const best = rated.at(0)
  // uneven pulses look like those of half or a third of the speed sooner than the other way round
  const margin = Math.min(
    ...rated.slice(1).map((r) => {
      const times = r.ratio / best!.ratio
      return best!.score - r.score - (Math.abs(times - 2) < 0.01 || Math.abs(times - 3) < 0.01 ? MULTIPLE_EXTRA : 0)
    }),
    99,
  )
  if (!best || !(good >= SHARE_LEAST && best.score >= SCORE_LEAST))
    return unsure(
      'speed-not-sure',
      'No steady firing pulse stands out of the noise: go nearer, shield the wind, or hold the speed.',
      [],
      margin,
    )
  const doubled = best.ratio * 2 * usual <= highest && spectrum.everySecond(best.ratio)
  if (!(margin > MARGIN_LEAST) || doubled)
    return unsure(
      'octave-not-sure',
      'The pulse could be of this speed or of half or double of it: not said.',
      [],
      margin,
    )
  const exact = spectrum.refine(best.ratio)
  const track = followed.map((x) => ({ t: round(x.t, 3), rpm: round(x.rpm * exact, 1) }))
  const leaps = path
    .slice(1)
    .filter((i, f) => Math.abs(i - path[f]) > Math.log(1 + 0.8 * CHANGE) / Math.log(1 + STEP)).length
  if (leaps > 0.2 * path.length)
    return unsure('not-an-engine', 'The pitch leaps as no engine’s speed does: this is another sound.', [], margin)
  const at = (q: number): number =>
    quantile(
      track.map((x) => x.rpm),
      q,
    )
  const middle = at(0.5)
  // a frame's own figure is good to about 0.4 %
  const own = 0.004 * middle
  return {
    rpm: {
      median: round(middle, 1),
      low: round(Math.min(at(0.05), middle - own), 1),
      high: round(Math.max(at(0.95), middle + own), 1),
    },
    track,
    margin,
    warnings: [],
  }
}

const round = (x: number, digits: number): number => Number(x.toFixed(digits))

/** Path of greatest sum through scores by frame, moving at most so many places a frame. */
function bestPath(scores: readonly Float64Array[], reach: number): number[] {
  const n = scores[0].length
  let best = Float64Array.from(scores[0])
  const from: Int32Array[] = []
  for (let f = 1; f < scores.length; f++) {
    const next = new Float64Array(n)
    const back = new Int32Array(n)
    for (let i = 0; i < n; i++) {
      let top = -Infinity
      let where = i
      for (let j = Math.max(0, i - reach); j <= Math.min(n - 1, i + reach); j++) {
        const s = best[j] - 0.02 * Math.abs(i - j)
        if (s > top) {
          top = s
          where = j
        }
      }
      next[i] = top + scores[f][i]
      back[i] = where
    }
    best = next
    from.push(back)
  }
  let at = 0
  for (let i = 1; i < n; i++) if (best[i] > best[at]) at = i
  const path = [at]
  for (let f = from.length - 1; f >= 0; f--) path.unshift((at = from[f][at]))
  return path
}
