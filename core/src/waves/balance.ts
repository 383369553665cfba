import { firingOrderOf } from '../engine/index.js'
import type { Vehicle } from '../engine/index.js'
import type { Interval } from '../statistics/index.js'
import { averaged, ordersOf, withoutDrift, type CycleSpan, type Orders } from './cycles.js'
import { oddChance, type OddKind } from './odd.js'
import { doubtAt, evidenceOf, grouped, guessesOf, pullsOf, type Candidate, type Guess, type Pulls } from './pulls.js'
import { envelopeAt, exhaustResponse, passagesAt, responseOf } from './response.js'
import { speedOf } from './speed.js'
import { spansByPulses } from './spans.js'
import { marksOf } from './trigger.js'
import { waveDoubts, waveError, type Wave, type WaveResult, type WaveWarning } from './wave.js'

/** What a cylinder draws against the mean of all. */
export interface CylinderPull {
  /** Number of the cylinder; null where nothing says which position is which. */
  readonly cylinder: number | null
  /** Place in the firing order, 1 first. */
  readonly position: number
  /** [% of the mean]. */
  readonly pullPct: Interval
}

/** Strength of one order of the crank (half orders too) in the mean cycle. */
export interface OrderStrength {
  /** Turns of the crank [–]: 0.5, 1, 1.5 … */
  readonly order: number
  /** Peak amplitude in the signal's unit. */
  readonly size: number
  readonly firing: boolean
}

export interface OddCylinder {
  /** Null where it cannot be named. */
  readonly cylinder: number | null
  /** That one is odd at all, where it is not named; else that it is this one [–]. */
  readonly probability: number
  /** Both of a pair, where the mark cannot tell one turn from the next. */
  readonly pair?: readonly number[]
  readonly kind: readonly { readonly id: OddKind; readonly probability: number }[]
}

export interface Balance {
  readonly rpm: Interval
  readonly cycles: number
  readonly cylinders: readonly CylinderPull[]
  readonly odd: OddCylinder | null
  readonly orders: readonly OrderStrength[]
  /** Scatter of the firing pulse from cycle to cycle against its size [%]. */
  readonly cycleSpreadPct: number
  /** Mean cycle, one figure every 3° from the mark (or from anywhere without one), in the signal's unit, less its mean. */
  readonly meanCycle: readonly number[]
  readonly warnings: readonly WaveWarning[]
}

/** What is known of how a signal was taken. */
export interface BalanceAsked {
  readonly vehicle: Pick<Vehicle, 'cylinders' | 'banks'> & {
    readonly firingOrder?: readonly number[]
    readonly idleSpecRpm?: Vehicle['idleSpecRpm']
    readonly plenum?: Vehicle['plenum']
  }
  readonly wave: Wave
  /** Where it was taken; intake when left out. */
  readonly side?: 'intake' | 'exhaust'
  /** Hose between manifold and transducer [m]; 0.3 when left out. */
  readonly hoseM?: number
  /** Told of the share that is done, 0..1. */
  readonly onProgress?: (share: number) => void
}

/** From this chance one cylinder is said to be odd at all, and from this share of it that it is named [–]. */
const SAID = 0.78
const SAID_WHERE_CANCELLING = 0.88
const NAMED = 0.6
/** How much better a signal turned over must be explained [ln]. */
const TURNED_OVER = 10
/** A pull of this many times the mean is that of a runner of its own [–]. */
const ALONE = 2.2
/** Fewest whole cycles. */
const FEWEST_CYCLES = 6
/** A mark comes before the top by the spark's advance [°]; middle and spread of the delay behind the mark [°]. */
const MARK_ADVANCE = 8
const DELAY_SD = 14
/** Delay of a hose [s per m], sound at 340 m/s, and of an ordinary transducer [s]. */
const HOSE_S_PER_M = 1 / 340
const TRANSDUCER_S = 0.0004
/** Samples a cylinder's pulse needs at least. */
const SAMPLES_PER_PULSE = 5

interface Cycles {
  readonly spans: readonly CycleSpan[]
  /** How far the start of a cycle is known: to the cylinder, to one turn of two, or not. */
  readonly start: 'mark' | 'turn' | 'nothing'
  readonly warnings: readonly WaveWarning[]
}

/** Strength of each order, 1 first, against what its kind of response has there; what may be chance counts nothing. */
function strengthsOf(mean: Orders, variance: Float64Array, most: number): number[] {
  return Array.from({ length: most }, (_, i) => {
    const k = i + 1
    const seen = mean[2 * k] ** 2 + mean[2 * k + 1] ** 2
    return seen < 8 * variance[k] ? 0 : Math.sqrt(seen) / envelopeAt(k)
  })
}

/** Usual scatter of one cylinder's pull from cycle to cycle [–], and its spread as a factor (ln). */
const USUAL_SCATTER = 0.07
const SCATTER_SPREAD = 0.75

/** Log of the chance of the scatter from cycle to cycle that a guess makes of the signal: half of a pull, again and again, is none of an engine that runs. */
function scatterLikely({ orders }: Pulls, cycles: number, n: number): number {
  const scatter = Math.sqrt((orders.reduce((s, o) => s + o.variance, 0) / orders.length) * (cycles / n))
  return -0.5 * (Math.log(scatter / USUAL_SCATTER) / SCATTER_SPREAD) ** 2
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
const CANCELLING: readonly number[] = [5, 8, 10, 12]

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

/**
 * Balance of the cylinders from a pressure signal: cycles by the mark of cylinder 1 (or by the pulses), orders of each
 * cycle, pulls by firing position over many guesses of what lies between cylinder and transducer, the odd one with its
 * chance. What one cylinder lacks stands in all orders k/2 below the firing order; two odd ones a turn apart leave no half
 * order, but they leave the whole ones.
 */
export function balanceOf({
  vehicle,
  wave,
  side = 'intake',
  hoseM = 0.3,
  onProgress,
}: BalanceAsked): WaveResult<Balance> {
  const n = vehicle.cylinders
  if (!(n >= 2))
    return waveError('cylinders', `cylinders is ${n}, accepted: 2 and more; one cylinder has none to be compared with.`)
  if (vehicle.plenum === 'individual' && side === 'intake')
    return waveError(
      'one-runner',
      'Each cylinder of this engine has a throttle of its own: one hose feels one cylinder. Compare the throttles by their gauges.',
    )
  const order = vehicle.firingOrder ?? firingOrderOf(vehicle)
  const doubts = waveDoubts(wave.signal)
  if (!doubts.ok) return doubts
  onProgress?.(0.05)
  const cut = cyclesOf(wave, n, vehicle.idleSpecRpm)
  if (!cut.ok) return cut
  const { spans, start } = cut.value
  const warnings: WaveWarning[] = [...doubts.value, ...cut.value.warnings]
  if (spans.length < FEWEST_CYCLES)
    return waveError(
      'too-short',
      `${spans.length} whole cycles: at least ${FEWEST_CYCLES} are needed, better 30; record 5 s or more.`,
    )
  onProgress?.(0.3)
  const lengths = spans.map((s) => s.to - s.from)
  const rpms = lengths.map((l) => (120 * wave.sampleHz) / l).sort((a, b) => a - b)
  const rpm = { median: at(rpms, 0.5), low: at(rpms, 0.05), high: at(rpms, 0.95) }
  const perCycle = (120 * wave.sampleHz) / rpm.median
  const most = Math.min(3 * n, Math.floor(perCycle / 2.5))
  const flat = withoutDrift(wave.signal, perCycle)
  const cycles = ordersOf(flat, spans, most)
  onProgress?.(0.6)
  const { mean, variance } = averaged(cycles)

  const passages: Candidate[] =
    side === 'exhaust'
      ? [{ response: exhaustResponse(most) }]
      : passagesAt(rpm.median).map((passage) => ({ passage, response: responseOf(passage, most) }))
  const named = side === 'intake' && start === 'mark'
  // the firing interval and half a turn around what a hose, a transducer and the spark's advance make
  const expected = 360 + MARK_ADVANCE + 6 * rpm.median * (hoseM * HOSE_S_PER_M + TRANSDUCER_S)
  const spacing = 720 / n
  const delays: number[] = []
  if (named || (side === 'intake' && start === 'turn')) for (let d = -40; d <= 60; d += 4) delays.push(expected + d)
  else for (let d = 0; d < spacing; d += Math.min(4, spacing / 12)) delays.push(d)
  const prior = (d: number): number => (named || start === 'turn' ? -0.5 * ((d - expected) / DELAY_SD) ** 2 : 0)
  const doubt = doubtAt(most, rpm.median)
  const flipped = mean.map((x) => -x)
  let guesses = guessesOf(mean, variance, n, most, passages, delays, prior, doubt)
  // where the firing order cancels, its sign tells nothing
  const inverse =
    side === 'intake' && !CANCELLING.includes(n)
      ? guessesOf(flipped, variance, n, most, passages, delays, prior, doubt)
      : []
  let turned = false
  if (inverse.length && (!guesses.length || evidenceOf(inverse) > evidenceOf(guesses) + TURNED_OVER) && named) {
    guesses = inverse
    turned = true
    warnings.push({
      code: 'upside-down',
      message:
        'Pressure rises where a cylinder draws: the transducer is connected the wrong way round, or its scale is negative. Read as turned over.',
    })
  }
  if (!guesses.length)
    return waveError(
      'no-pulses',
      'The signal’s pulses fit no intake of this engine: check cylinders and where it was taken.',
    )
  onProgress?.(0.8)
  const used = turned ? cycles.map((c) => c.map((x) => -x)) : cycles
  const groups = grouped(used)
  const pulls = guesses.map((g) => pullsOf(g, groups, variance, n, most, doubt))
  guesses = guesses.map((g, i) => ({ ...g, logWeight: g.logWeight + scatterLikely(pulls[i], cycles.length, n) }))
  const chance = oddChance(guesses, pulls, n)
  const share = weighted(guesses, (i) => pulls[i].share)
  if (Math.max(...share) > Math.max(ALONE, 0.6 * n))
    return waveError(
      'one-runner',
      'Only one cylinder pulls where this was taken: a throttle or runner of its own. Take it where all draw (a common hose), or compare the throttles by their gauges.',
    )
  const cylinders = order.map((cylinder, j): CylinderPull => {
    const m = share[j]
    const spread = Math.sqrt(weighted(guesses, (i) => [pulls[i].variance[j] + (pulls[i].share[j] - m) ** 2])[0])
    const pct = (x: number): number => 100 * x
    return {
      cylinder: named ? cylinder : null,
      position: j + 1,
      pullPct: { median: pct(m), low: pct(m - 1.645 * spread), high: pct(m + 1.645 * spread) },
    }
  })
  const worst = chance.by.indexOf(Math.max(...chance.by))
  let odd: OddCylinder | null = null
  if (chance.any >= (CANCELLING.includes(n) ? SAID_WHERE_CANCELLING : SAID)) {
    const kind = side === 'intake' ? chance.kinds : []
    const alone = chance.by[worst] / chance.any >= NAMED
    const twin = (worst + n / 2) % n
    if (named && alone) odd = { cylinder: order[worst], probability: chance.by[worst], kind }
    else if (start === 'turn' && side === 'intake' && n % 2 === 0)
      odd = { cylinder: null, probability: chance.any, pair: [order[worst], order[twin]], kind }
    else odd = { cylinder: null, probability: chance.any, kind }
  }
  if (!named && odd)
    warnings.push({
      code: 'not-named',
      message:
        side === 'exhaust'
          ? 'An odd puff has no name at the tailpipe: the way there is of unknown length. Take one plug lead or injector off at a time, seconds each, and see which one changes nothing.'
          : start === 'turn'
            ? `The mark comes every turn: of two cylinders a turn apart it cannot tell which. Drop one of ${odd.pair?.join(' and ') ?? 'them'} for seconds: the odd one changes least.`
            : 'No mark of cylinder 1: something is odd, which one is not said. Record once more with a clamp on the lead of cylinder 1, or drop one cylinder at a time, seconds each.',
    })
  if (side === 'intake' && !odd)
    warnings.push({
      code: 'ignition-not-seen',
      message:
        'A cylinder that draws but does not burn leaves hardly a mark in the intake: ignition and injector are judged by a drop test or at the tailpipe.',
    })
  onProgress?.(1)
  const top = 2 * Math.hypot(mean[2 * n], mean[2 * n + 1])
  return {
    ok: true,
    value: {
      rpm,
      cycles: cycles.length,
      cylinders,
      odd,
      orders: Array.from({ length: Math.min(most, 2 * n) }, (_, i) => ({
        order: (i + 1) / 2,
        size: 2 * Math.hypot(mean[2 * i + 2], mean[2 * i + 3]),
        firing: (i + 1) % n === 0,
      })),
      cycleSpreadPct: top > 0 ? (100 * 2 * Math.sqrt(variance[n] * cycles.length)) / top : 0,
      meanCycle: cycleOf(turned ? flipped : mean, most),
      warnings,
    },
  }
}

/** Cycles by the mark where it can be used, by the pulses otherwise. */
function cyclesOf(wave: Wave, n: number, idle: Vehicle['idleSpecRpm'] | undefined): WaveResult<Cycles> {
  const marks = wave.trigger && marksOf(wave.trigger)
  const warnings: WaveWarning[] = [...(marks?.warnings ?? [])]
  const bad = marks ? marks.sound.filter((s) => !s).length / marks.sound.length : 1
  if (marks && bad <= 0.4) {
    const spans: CycleSpan[] = []
    for (let i = 0; i + 1 < marks.at.length; i++)
      if (marks.sound[i]) spans.push({ from: marks.at[i], to: marks.at[i + 1] })
    const slow = tooSlow(wave, spans, n)
    if (slow) return slow
    const whole = pulsesBetween(wave, spans, n)
    if (whole === 0 && bad < 0.1 && CANCELLING.includes(n))
      return {
        ok: true,
        value: {
          spans,
          start: 'mark',
          warnings: [
            ...warnings,
            {
              code: 'pulses-weak',
              message: `Hardly anything repeats with the mark: the draws of ${n} sound cylinders nearly cancel, or this is not the intake’s pressure.`,
            },
          ],
        },
      }
    if (whole === undefined) return { ok: true, value: { spans, start: 'mark', warnings } }
    // once a turn: two intervals are a cycle, and which of the two begins it is not known
    const pairs: CycleSpan[] = []
    for (let i = 0; i + 2 < marks.at.length; i += 2)
      if (marks.sound[i] && marks.sound[i + 1])
        pairs.push({ from: marks.at[i], half: marks.at[i + 1], to: marks.at[i + 2] })
    const twice = pairs.length >= 3 ? pulsesBetween(wave, pairs, n) : 0
    if (twice === undefined)
      return {
        ok: true,
        value: {
          spans: pairs,
          start: 'turn',
          warnings: [
            ...warnings,
            {
              code: 'mark-every-turn',
              message:
                'The mark of cylinder 1 comes every turn, not every cycle: a spark that is shared by two cylinders, or a mark on the crank.',
            },
          ],
        },
      }
    const seen = whole || twice
    if (seen)
      return waveError(
        'cylinders-do-not-fit',
        `Between two marks the pressure pulses ${whole} times, where ${n} cylinders make ${n}: check the cylinder count, the channel of the mark, and that it is of cylinder 1 alone.`,
      )
    return waveError(
      'no-pulses',
      'Nothing in the signal repeats with the mark of cylinder 1: no pressure pulses, or a foreign mark.',
    )
  }
  if (wave.trigger)
    warnings.push({
      code: 'trigger-unusable',
      message: marks
        ? `${(100 * bad).toFixed(0)} % of the intervals between marks are not one period: the mark is not used, and no cylinder is named.`
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

/** Refused when the samples of a cycle are too few to part its pulses. */
function tooSlow(wave: Wave, spans: readonly CycleSpan[], n: number): ReturnType<typeof waveError> | undefined {
  const lengths = spans.map((s) => s.to - s.from).sort((a, b) => a - b)
  const perCycle = at(lengths, 0.5)
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

/** The mean cycle, every 3°. */
function cycleOf(mean: Float64Array, most: number): number[] {
  return Array.from({ length: 240 }, (_, b) => {
    let x = 0
    for (let k = 1; k <= most; k++) {
      const a = (2 * Math.PI * k * b) / 240
      x += 2 * (mean[2 * k] * Math.cos(a) - mean[2 * k + 1] * Math.sin(a))
    }
    return x
  })
}

/** Mean over guesses by their weight. */
function weighted(guesses: readonly Guess[], of: (i: number) => ArrayLike<number>): Float64Array {
  const top = guesses[0].logWeight
  const ws = guesses.map((g) => Math.exp(g.logWeight - top))
  const total = ws.reduce((a, b) => a + b, 0)
  const out = new Float64Array(of(0).length)
  guesses.forEach((_, i) => {
    const x = of(i)
    for (let j = 0; j < out.length; j++) out[j] += (ws[i] * x[j]) / total
  })
  return out
}

/** Quantile of a sorted list. */
const at = (sorted: readonly number[], q: number): number =>
  sorted[Math.min(sorted.length - 1, Math.floor(q * sorted.length))]
