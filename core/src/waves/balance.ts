import { firingOrderOf, type Vehicle } from '../engine/index.js'
import { quantile, type Interval } from '../statistics/index.js'
import { averaged, ordersOf, withoutDrift, type Orders } from './cycles.js'
import { CANCELLING, findCycles } from './findCycles.js'
import { oddChance, type OddChance, type OddKind } from './odd.js'
import { doubtAt, evidenceOf, grouped, guessesOf, pullsOf, type Candidate, type Guess, type Pulls } from './pulls.js'
import { exhaustResponse, passagesAt, responseOf } from './response.js'
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

/** Usual scatter of one cylinder's pull from cycle to cycle [–], and its spread as a factor (ln). */
const USUAL_SCATTER = 0.07
const SCATTER_SPREAD = 0.75

/** Log of the chance of the scatter from cycle to cycle that a guess makes of the signal: half of a pull, again and again, is none of an engine that runs. */
function scatterLikely({ orders }: Pulls, cycles: number, n: number): number {
  const scatter = Math.sqrt((orders.reduce((s, o) => s + o.variance, 0) / orders.length) * (cycles / n))
  return -0.5 * (Math.log(scatter / USUAL_SCATTER) / SCATTER_SPREAD) ** 2
}

/**
 * Balance of the cylinders from a pressure signal: cycles by the mark of cylinder 1 (or by the pulses), orders of each
 * cycle, pulls by firing position over many guesses of what lies between cylinder and transducer, the odd one with its
 * chance. What one cylinder lacks stands in all orders k/2 below the firing order; two odd ones a turn apart leave no half
 * order, but they leave the whole ones.
 */
export function balanceOf(asked: BalanceAsked): WaveResult<Balance> {
  const { vehicle, wave, side = 'intake', hoseM = 0.3, onProgress } = asked
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
  const found = findCycles(wave, n, vehicle.idleSpecRpm)
  if (!found.ok) return found
  const { spans, start } = found.value
  if (spans.length < FEWEST_CYCLES)
    return waveError(
      'too-short',
      `${spans.length} whole cycles: at least ${FEWEST_CYCLES} are needed, better 30; record 5 s or more.`,
    )
  onProgress?.(0.3)
  const rpms = spans.map((s) => (120 * wave.sampleHz) / (s.to - s.from))
  const rpm = { median: quantile(rpms, 0.5), low: quantile(rpms, 0.05), high: quantile(rpms, 0.95) }
  const perCycle = (120 * wave.sampleHz) / rpm.median
  const most = Math.min(3 * n, Math.floor(perCycle / 2.5))
  const cycles = ordersOf(withoutDrift(wave.signal, perCycle), spans, most)
  onProgress?.(0.6)
  const seen: Seen = { n, most, rpm: rpm.median, cycles, ...averaged(cycles), side, start, hoseM }
  const weighed = weighGuesses(seen)
  if (!weighed)
    return waveError(
      'no-pulses',
      'The signal’s pulses fit no intake of this engine: check cylinders and where it was taken.',
    )
  onProgress?.(0.8)
  const { guesses, pulls, turned } = weighed
  const share = weighted(guesses, (i) => pulls[i].share)
  if (Math.max(...share) > Math.max(ALONE, 0.6 * n))
    return waveError(
      'one-runner',
      'Only one cylinder pulls where this was taken: a throttle or runner of its own. Take it where all draw (a common hose), or compare the throttles by their gauges.',
    )
  const named = side === 'intake' && start === 'mark'
  const odd = oddOf(oddChance(guesses, pulls, n), order, seen)
  const firing = Math.hypot(seen.mean[2 * n], seen.mean[2 * n + 1])
  onProgress?.(1)
  return {
    ok: true,
    value: {
      rpm,
      cycles: cycles.length,
      cylinders: order.map((cylinder, j) => ({
        cylinder: named ? cylinder : null,
        position: j + 1,
        pullPct: pullOf(guesses, pulls, share[j], j),
      })),
      odd,
      orders: Array.from({ length: Math.min(most, 2 * n) }, (_, i) => ({
        order: (i + 1) / 2,
        size: 2 * Math.hypot(seen.mean[2 * i + 2], seen.mean[2 * i + 3]),
        firing: (i + 1) % n === 0,
      })),
      cycleSpreadPct: firing > 0 ? (100 * Math.sqrt(seen.variance[n] * cycles.length)) / firing : 0,
      meanCycle: cycleOf(turned ? seen.mean.map((x) => -x) : seen.mean, most),
      warnings: [
        ...doubts.value,
        ...found.value.warnings,
        ...(turned ? [UPSIDE_DOWN] : []),
        ...(odd && !named ? [notNamed(seen, odd)] : []),
        ...(side === 'intake' && !odd ? [IGNITION_NOT_SEEN] : []),
      ],
    },
  }
}

/** What is worked on: the orders of every cycle, their mean, and how they were taken. */
interface Seen {
  readonly n: number
  /** Highest order [half turns of the crank]. */
  readonly most: number
  readonly rpm: number
  readonly cycles: readonly Orders[]
  readonly mean: Orders
  readonly variance: Float64Array
  readonly side: 'intake' | 'exhaust'
  readonly start: 'mark' | 'turn' | 'nothing'
  readonly hoseM: number
}

/** Delays that are tried [°], and how likely each is: about what hose, transducer and advance make, or anywhere. */
function delaysOf({ n, rpm, side, start, hoseM }: Seen): { delays: number[]; prior: (delayDeg: number) => number } {
  if (side === 'exhaust' || start === 'nothing') {
    const spacing = 720 / n
    const step = Math.min(4, spacing / 12)
    return { delays: Array.from({ length: Math.ceil(spacing / step) }, (_, i) => i * step), prior: () => 0 }
  }
  // the draw comes a turn after the cylinder's own mark
  const expected = 360 + MARK_ADVANCE + 6 * rpm * (hoseM * HOSE_S_PER_M + TRANSDUCER_S)
  return {
    delays: Array.from({ length: 26 }, (_, i) => expected - 40 + 4 * i),
    prior: (d) => -0.5 * ((d - expected) / DELAY_SD) ** 2,
  }
}

/** Guesses that bear out the signal with the pulls by each; turned over where that explains it far better. */
function weighGuesses(
  seen: Seen,
): { readonly guesses: readonly Guess[]; readonly pulls: readonly Pulls[]; readonly turned: boolean } | undefined {
  const { n, most, rpm, cycles, mean, variance, side, start } = seen
  const candidates: Candidate[] =
    side === 'exhaust'
      ? [{ response: exhaustResponse(most) }]
      : passagesAt(rpm).map((passage) => ({ passage, response: responseOf(passage, most) }))
  const { delays, prior } = delaysOf(seen)
  const doubt = doubtAt(most, rpm)
  const weigh = (orders: Orders): Guess[] => guessesOf(orders, variance, n, most, candidates, delays, prior, doubt)
  const upright = weigh(mean)
  // where the firing order cancels, or the start is not known, its sign tells nothing
  const over = side === 'intake' && start === 'mark' && !CANCELLING.includes(n) ? weigh(mean.map((x) => -x)) : []
  const turned = over.length > 0 && (!upright.length || evidenceOf(over) > evidenceOf(upright) + TURNED_OVER)
  const guesses = turned ? over : upright
  if (!guesses.length) return undefined
  const groups = grouped(turned ? cycles.map((c) => c.map((x) => -x)) : cycles)
  const pulls = guesses.map((g) => pullsOf(g, groups, variance, n, most, doubt))
  return {
    guesses: guesses.map((g, i) => ({ ...g, logWeight: g.logWeight + scatterLikely(pulls[i], cycles.length, n) })),
    pulls,
    turned,
  }
}

/** A pull with its 90 %, by the scatter of its mean and by how far the guesses disagree [% of the mean]. */
function pullOf(guesses: readonly Guess[], pulls: readonly Pulls[], middle: number, j: number): Interval {
  const spread = Math.sqrt(weighted(guesses, (i) => [pulls[i].variance[j] + (pulls[i].share[j] - middle) ** 2])[0])
  return { median: 100 * middle, low: 100 * (middle - 1.645 * spread), high: 100 * (middle + 1.645 * spread) }
}

/** The odd cylinder as far as the way it was taken lets it be named; null where none is odd. */
function oddOf(chance: OddChance, order: readonly number[], { n, side, start }: Seen): OddCylinder | null {
  if (chance.any < (CANCELLING.includes(n) ? SAID_WHERE_CANCELLING : SAID)) return null
  if (side === 'exhaust') return { cylinder: null, probability: chance.any, kind: [] }
  const worst = chance.by.indexOf(Math.max(...chance.by))
  const unnamed: OddCylinder = { cylinder: null, probability: chance.any, kind: chance.kinds }
  if (start === 'mark' && chance.by[worst] / chance.any >= NAMED)
    return { ...unnamed, cylinder: order[worst], probability: chance.by[worst] }
  if (start === 'turn' && n % 2 === 0) return { ...unnamed, pair: [order[worst], order[(worst + n / 2) % n]] }
  return unnamed
}

const UPSIDE_DOWN: WaveWarning = {
  code: 'upside-down',
  message:
    'Pressure rises where a cylinder draws: the transducer is connected the wrong way round, or its scale is negative. Read as turned over.',
}

const IGNITION_NOT_SEEN: WaveWarning = {
  code: 'ignition-not-seen',
  message:
    'A cylinder that draws but does not burn leaves hardly a mark in the intake: ignition and injector are judged by a drop test or at the tailpipe.',
}

/** Why the odd one has no name, and how it gets one. */
function notNamed({ side, start }: Seen, odd: OddCylinder): WaveWarning {
  const message =
    side === 'exhaust'
      ? 'An odd puff has no name at the tailpipe: the way there is of unknown length. Take one plug lead or injector off at a time, seconds each, and see which one changes nothing.'
      : start === 'turn'
        ? `The mark comes every turn: of two cylinders a turn apart it cannot tell which. Drop one of ${odd.pair?.join(' and ') ?? 'them'} for seconds: the odd one changes least.`
        : 'No mark of cylinder 1: something is odd, which one is not said. Record once more with a clamp on the plug lead or the injector’s wire of cylinder 1, or drop one cylinder at a time, seconds each.'
  return { code: 'not-named', message }
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
