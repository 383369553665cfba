import { logSumExp } from '../statistics/index.js'
import { averaged, type Orders } from './cycles.js'
import { envelopeAt, type Passage } from './response.js'

/** A guess of passage and delay, how well the firing orders and their neighbours bear it out, and the pulls by it. */
export interface Guess {
  readonly passage?: Passage
  readonly delayDeg: number
  /** Scale of one cylinder's mean pull in the signal's unit, > 0. */
  readonly scale: number
  readonly logWeight: number
  /** Response by order with its delay, re and im. */
  readonly response: Float64Array
}

/** Pulls by firing position as shares of their mean, and the variance of each. */
export interface Pulls {
  readonly share: Float64Array
  readonly variance: Float64Array
  /** Position-orders 1 to n/2: A_r = Σ pullⱼ·e^(−2πi·r·j/n). */
  readonly orders: readonly PositionOrder[]
}

export interface PositionOrder {
  readonly re: number
  readonly im: number
  /** Of the mean over cycles, re and im together. */
  readonly variance: number
  /** Relative error by what is not known of the passage [–]. */
  readonly error: number
}

/** How far a real passage differs from the likest guess at low frequency, in amplitude and phase [–]; ours. */
const GUESS_ERROR = 0.16
/** Frequency at which runners and ports that nobody has measured make a guess worth nothing [Hz]. */
const DOUBTFUL_HZ = 130

/** Relative error of a guess by order of half the crank. */
export function doubtAt(most: number, rpm: number): Float64Array {
  return Float64Array.from({ length: most + 1 }, (_, k) =>
    Math.hypot(GUESS_ERROR, ((k * rpm) / 120 / DOUBTFUL_HZ) ** 2),
  )
}
/** What a cylinder may lack, where it is weighed against noise [–]. */
const USUAL_LACK = 0.15
/** Part of the greatest order that no guess explains [–]. */
const FLOOR = 0.03
/** Groups of cycles whose scatter tells how well a mean is known. */
const GROUPS = 64

/** The response turned by a delay: e^(−2πi·k·δ/720). */
function delayed(response: Float64Array, delayDeg: number): Float64Array {
  const out = new Float64Array(response.length)
  for (let k = 0; k < response.length / 2; k++) {
    const a = (-2 * Math.PI * k * delayDeg) / 720
    const c = Math.cos(a)
    const s = Math.sin(a)
    out[2 * k] = response[2 * k] * c - response[2 * k + 1] * s
    out[2 * k + 1] = response[2 * k] * s + response[2 * k + 1] * c
  }
  return out
}

const size2 = (x: Float64Array, k: number): number => x[2 * k] ** 2 + x[2 * k + 1] ** 2

/** Square of a response's size where it is known, and of what its kind has there where it cancels. */
const whole2 = (response: Float64Array, k: number): number => Math.max(size2(response, k), (0.5 * envelopeAt(k)) ** 2)

/** How a position-order is read from the orders that belong to it. */
interface Reader {
  readonly rows: readonly { readonly k: number; readonly mirror: boolean; readonly re: number; readonly im: number }[]
  /** Relative error of what is read, by the doubt of its orders [–]. */
  readonly error: number
}

/**
 * Weights of the orders that belong to position-order r of n cylinders: k = r, n − r, n + r … (those above n/2 as their
 * mirror), each re, im of the weighted sum A_r = Σ w·conj(B)·P / Σ w·|B|².
 */
function readerOf(
  r: number,
  n: number,
  most: number,
  response: Float64Array,
  scale: number,
  variance: Float64Array,
  doubt: Float64Array,
): Reader {
  const rows: { k: number; mirror: boolean; re: number; im: number; part: number }[] = []
  let total = 0
  for (let k = 1; k <= most; k++) {
    const rest = k % n
    const mirror = rest === n - r && r !== n - r
    if (rest !== r && !mirror) continue
    const b2 = scale ** 2 * size2(response, k)
    const w = 1 / (variance[k] + (doubt[k] * scale) ** 2 * whole2(response, k) * USUAL_LACK ** 2 + 1e-30)
    total += w * b2
    rows.push({ k, mirror, re: w * scale * response[2 * k], im: -w * scale * response[2 * k + 1], part: w * b2 })
  }
  return {
    rows: rows.map((x) => ({ ...x, re: x.re / total, im: x.im / total })),
    error: Math.sqrt(rows.reduce((s, x) => s + ((x.part / total) * doubt[x.k]) ** 2, 0)),
  }
}

function applied({ rows }: Reader, orders: Float64Array): [number, number] {
  let re = 0
  let im = 0
  for (const x of rows) {
    const pr = orders[2 * x.k]
    const pi = orders[2 * x.k + 1]
    re += x.re * pr - x.im * pi
    // a mirrored order holds the conjugate
    im += (x.mirror ? -1 : 1) * (x.re * pi + x.im * pr)
  }
  return [re, im]
}

/** How a guess explains the mean cycle: log likelihood, or undefined when its sign is wrong. */
function judged(
  mean: Orders,
  variance: Float64Array,
  n: number,
  most: number,
  response: Float64Array,
  doubt: Float64Array,
): Omit<Guess, 'passage' | 'delayDeg'> | undefined {
  let over = 0
  let under = 0
  let top = 0
  for (let k = 1; k <= most; k++) top = Math.max(top, size2(mean, k))
  // roughly, for what each order weighs
  let guess = 0
  for (let k = n; k <= most; k += n) guess = Math.max(guess, Math.sqrt(size2(mean, k) / whole2(response, k)))
  for (let k = n; k <= most; k += n) {
    // the first firing order tells the scale best: its guess is the least uncertain
    const w = 1 / (variance[k] + FLOOR ** 2 * top + doubt[k] ** 2 * whole2(response, k) * guess ** 2)
    over += w * (response[2 * k] * mean[2 * k] + response[2 * k + 1] * mean[2 * k + 1])
    under += w * size2(response, k)
  }
  const scale = over / under / n
  if (!(scale > 0)) return undefined
  let logWeight = 0
  const against = (re: number, im: number, k: number, modelled2: number): void => {
    const v = variance[k] + doubt[k] ** 2 * modelled2 + FLOOR ** 2 * top
    logWeight -= Math.log(v) + ((mean[2 * k] - re) ** 2 + (mean[2 * k + 1] - im) ** 2) / v
  }
  for (let k = n; k <= most; k += n) {
    const f = scale * n
    against(f * response[2 * k], f * response[2 * k + 1], k, f ** 2 * whole2(response, k))
  }
  for (let r = 1; r <= n / 2; r++) {
    const reader = readerOf(r, n, most, response, scale, variance, doubt)
    const [ar, ai] = applied(reader, mean)
    for (const { k, mirror } of reader.rows) {
      const i = mirror ? -ai : ai
      const re = scale * (response[2 * k] * ar - response[2 * k + 1] * i)
      const im = scale * (response[2 * k] * i + response[2 * k + 1] * ar)
      against(re, im, k, scale ** 2 * whole2(response, k) * (ar ** 2 + ai ** 2))
    }
  }
  return { scale, logWeight, response }
}

/** A passage's response, and how likely each delay is before anything was seen. */
export interface Candidate {
  readonly passage?: Passage
  readonly response: Float64Array
}

/** Log of the chance of a delay before anything was seen. */
export type DelayPrior = (delayDeg: number) => number

/** The guesses that bear out the mean cycle, likeliest first; those that hardly count are left out. */
export function guessesOf(
  mean: Orders,
  variance: Float64Array,
  n: number,
  most: number,
  candidates: readonly Candidate[],
  delays: readonly number[],
  prior: DelayPrior,
  doubt: Float64Array,
): Guess[] {
  const all: Guess[] = []
  for (const c of candidates)
    for (const delayDeg of delays) {
      const g = judged(mean, variance, n, most, delayed(c.response, delayDeg), doubt)
      if (g) all.push({ ...g, passage: c.passage, delayDeg, logWeight: g.logWeight + prior(delayDeg) })
    }
  all.sort((a, b) => b.logWeight - a.logWeight)
  return all.slice(0, 60).filter((g) => g.logWeight > all[0].logWeight - 7)
}

/** Log of the whole weight of some guesses: how well their kind explains the signal. */
export const evidenceOf = (guesses: readonly Guess[]): number => logSumExp(guesses.map((g) => g.logWeight))

/** Cycles gathered into groups of neighbours, so that scatter is told by few figures. */
export function grouped(cycles: readonly Orders[]): Orders[] {
  const each = Math.max(1, Math.ceil(cycles.length / GROUPS))
  const out: Orders[] = []
  for (let i = 0; i + each <= cycles.length; i += each) out.push(averaged(cycles.slice(i, i + each)).mean)
  return out
}

/** Pulls by a guess: mean over the cycles, variance of that mean from their scatter. */
export function pullsOf(
  g: Guess,
  groups: readonly Orders[],
  variance: Float64Array,
  n: number,
  most: number,
  doubt: Float64Array,
): Pulls {
  const readers = Array.from({ length: Math.floor(n / 2) }, (_, i) =>
    readerOf(i + 1, n, most, g.response, g.scale, variance, doubt),
  )
  const m = groups.length
  const orders = readers.map((reader): PositionOrder => {
    const seen = groups.map((x) => applied(reader, x))
    const re = seen.reduce((s, x) => s + x[0], 0) / m
    const im = seen.reduce((s, x) => s + x[1], 0) / m
    const scatter = seen.reduce((s, x) => s + (x[0] - re) ** 2 + (x[1] - im) ** 2, 0)
    return { re, im, variance: scatter / Math.max(1, m - 1) / m, error: reader.error }
  })
  const share = new Float64Array(n)
  let spread = 0
  orders.forEach(({ re, im, variance: v, error }, i) => {
    const r = i + 1
    // the mirror of each order but the middle one counts as much again
    const times = 2 * r === n ? 1 : 2
    for (let j = 0; j < n; j++) {
      const turn = (2 * Math.PI * r * j) / n
      share[j] += (times * (re * Math.cos(turn) - im * Math.sin(turn))) / n
    }
    spread += (times * (v + error ** 2 * (re ** 2 + im ** 2))) / n ** 2
  })
  return { share: share.map((x) => 1 + x), variance: new Float64Array(n).fill(spread), orders }
}
