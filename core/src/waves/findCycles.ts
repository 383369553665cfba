import type { Vehicle } from '../engine/index.js'
import { quantile } from '../statistics/index.js'
import { averaged, ordersOf, withoutDrift, type CycleSpan, type Orders } from './cycles.js'
import { envelopeAt } from './response.js'
import { spansByPulses } from './spans.js'
import { speedOf } from './speed.js'
import { marksOf, type Marks } from './trigger.js'
import { waveError, type Wave, type WaveResult, type WaveWarning } from './wave.js'

/** Cycles of a signal, and how far their start is known. */
export interface Cycles {
  readonly spans: readonly CycleSpan[]
  /** How far the start of a cycle is known: to the cylinder, to one turn of two, or not. */
  readonly start: 'mark' | 'turn' | 'nothing'
  readonly warnings: readonly WaveWarning[]
}

/** Samples a cylinder's pulse needs at least. */
const SAMPLES_PER_PULSE = 5

/** Strength of each order, 1 first, against what its kind of response has there; what may be chance counts nothing. */
function strengthsOf(mean: Orders, variance: Float64Array, most: number): number[] {
  return Array.from({ length: most }, (_, i) => {
    const k = i + 1
    const seen = mean[2 * k] ** 2 + mean[2 * k + 1] ** 2
    return seen < 8 * variance[k] ? 0 : Math.sqrt(seen) / envelopeAt(k)
  })
}

/** Whether anything repeats with the cycle: a firing order that is no chance, or Σ |P|²/var over the orders above their count. */
function repeats(mean: Orders, variance: Float64Array, most: number, n: number): boolean {
  let sum = 0
  for (let k = 1; k <= most; k++) {
    const over = (mean[2 * k] ** 2 + mean[2 * k + 1] ** 2) / variance[k]
    if (k % n === 0 && over > 14) return true
    sum += over
  }
  return sum > most + 2.5 * Math.sqrt(most)
}

/** An order is the one that the pulses follow when it stands out of the rest by this factor [–]. */
const STANDS_OUT = 3
/** Pulses are counted by orders up to here [Hz], and at least to one beyond the firing order. */
const COUNTED_HZ = 90
/** Cylinder counts at which the draws overlap so that the firing order itself may be next to nothing. */
export const CANCELLING: readonly number[] = [5, 8, 10, 12]

/**
 * Whether the pulses of a span are those of n cylinders: undefined when they are or may be, else the count that stands
 * out; 0 when nothing repeats.
 */
function otherCount(strengths: readonly number[], n: number): number | undefined {
  const top = Math.max(...strengths)
  if (!(top > 0)) return undefined
  const at = strengths.indexOf(top) + 1
  const rest = strengths.filter((_, i) => (i + 1) % at !== 0)
  const clear = top > STANDS_OUT * Math.max(0, ...rest)
  if (at % n === 0) return at === n || !clear || CANCELLING.includes(n) ? undefined : at
  return clear || (top > 2 * strengths[n - 1] && !CANCELLING.includes(n)) ? at : undefined
}

/** More of the marks' intervals than this must be sound ones for the marks to be used [–]. */
const SOUND_LEAST = 0.6
/** From this share of sound intervals a mark is trusted where the pulses themselves nearly cancel [–]. */
const SOUND_ALL_BUT = 0.9

/** Cycles by the mark of cylinder 1 where it can be used, by the firing pulses otherwise. */
export function findCycles(wave: Wave, n: number, idle: Vehicle['idleSpecRpm'] | undefined): WaveResult<Cycles> {
  const marks = wave.trigger && marksOf(wave.trigger)
  const sound = marks ? marks.sound.filter(Boolean).length / marks.sound.length : 0
  if (marks && sound >= SOUND_LEAST) return byMarks(wave, marks, sound, n)
  const warnings: WaveWarning[] = [...(marks?.warnings ?? [])]
  if (wave.trigger)
    warnings.push({
      code: 'trigger-unusable',
      message: marks
        ? `${(100 * (1 - sound)).toFixed(0)} % of the intervals between marks are not one period: the mark is not used, and no cylinder is named.`
        : 'There is no usable mark in its channel: no cylinder is named.',
    })
  const speed = speedOf(wave.signal, wave.sampleHz, { cylinders: n, idle })
  if (!speed.rpm)
    return waveError(
      'speed-not-sure',
      'No steady firing pulse is heard in the signal, and there is no mark of cylinder 1: nothing can be said of its cylinders.',
    )
  const spans = spansByPulses(wave, speed, n)
  return tooSlow(wave, spans, n) ?? { ok: true, value: { spans, start: 'nothing', warnings } }
}

/** Once a cycle, or once a turn: the pulses between two marks tell. */
function byMarks(wave: Wave, { at, sound: whole, warnings }: Marks, sound: number, n: number): WaveResult<Cycles> {
  const found = (spans: readonly CycleSpan[], start: Cycles['start'], more: readonly WaveWarning[] = []) =>
    ({ ok: true, value: { spans, start, warnings: [...warnings, ...more] } }) as const
  const spans = at.slice(1).flatMap((to, i) => (whole[i] ? [{ from: at[i], to }] : []))
  const slow = tooSlow(wave, spans, n)
  if (slow) return slow
  const once = pulsesBetween(wave, spans, n)
  if (once === undefined) return found(spans, 'mark')
  if (once === 0 && sound >= SOUND_ALL_BUT && CANCELLING.includes(n))
    return found(spans, 'mark', [
      {
        code: 'pulses-weak',
        message: `Hardly anything repeats with the mark: the draws of ${n} sound cylinders nearly cancel, or this is not the intake’s pressure.`,
      },
    ])
  // once a turn: two intervals are a cycle, and which of the two begins it is not known
  const pairs: CycleSpan[] = []
  for (let i = 0; i + 2 < at.length; i += 2)
    if (whole[i] && whole[i + 1]) pairs.push({ from: at[i], half: at[i + 1], to: at[i + 2] })
  const twice = pulsesBetween(wave, pairs, n)
  if (twice === undefined)
    return found(pairs, 'turn', [
      {
        code: 'mark-every-turn',
        message:
          'The mark of cylinder 1 comes every turn, not every cycle: a spark that is shared by two cylinders, or a mark on the crank.',
      },
    ])
  if (once || twice)
    return waveError(
      'cylinders-do-not-fit',
      `Over ${once ? 'one interval' : 'two intervals'} of the mark the pressure pulses ${once || twice} times, where ${n} cylinders make ${n}: check the cylinder count, the channel of the mark, and that it is of cylinder 1 alone.`,
    )
  return waveError(
    'no-pulses',
    'Nothing in the signal repeats with the mark of cylinder 1: no pressure pulses, or a foreign mark.',
  )
}

/** Refused when the samples of a cycle are too few to part its pulses. */
function tooSlow(wave: Wave, spans: readonly CycleSpan[], n: number): ReturnType<typeof waveError> | undefined {
  if (!spans.length) return undefined
  const perCycle = quantile(
    spans.map((s) => s.to - s.from),
    0.5,
  )
  if (!(perCycle < SAMPLES_PER_PULSE * n)) return undefined
  const rpm = (120 * wave.sampleHz) / perCycle
  return waveError(
    'sampled-too-slowly',
    `${wave.sampleHz.toFixed(0)} samples a second are too few at ${rpm.toFixed(0)} rpm with ${n} cylinders: at least ${Math.ceil((SAMPLES_PER_PULSE * n * rpm) / 120)}.`,
  )
}

/** The count of pulses in a span where it is not n; undefined where it is or may be, 0 where nothing repeats. */
function pulsesBetween(wave: Wave, spans: readonly CycleSpan[], n: number): number | undefined {
  if (spans.length < 3) return 0
  const length = spans.reduce((s, x) => s + x.to - x.from, 0) / spans.length
  const most = Math.min(3 * n, Math.floor(length / 2.5))
  if (most < 2) return 0
  const { mean, variance } = averaged(ordersOf(withoutDrift(wave.signal, length), spans.slice(0, 200), most))
  if (!repeats(mean, variance, most, n)) return 0
  // above this runners and ports sing, and a harmonic stands out of its own
  const heard = Math.min(most, Math.max(n + 1, Math.floor((COUNTED_HZ * length) / wave.sampleHz)))
  return otherCount(strengthsOf(mean, variance, heard), n)
}
