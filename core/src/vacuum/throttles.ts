import { requireRange } from '../statistics/index.js'

/** How throttles hang together: what each adjuster moves, against which reference. */
export type ThrottleLayoutId = 'each' | 'pairs'

/** An adjuster: throttles it opens when it is turned in, and those they are compared with. */
export interface Adjuster {
  readonly id: string
  readonly label: string
  /** Throttles that it moves, 1 first. */
  readonly moves: readonly number[]
  readonly against: readonly number[]
}

/** One turn of an adjuster. */
export interface ThrottleTurn {
  readonly adjuster: string
  /** Turns; above 0 opens the throttles that it moves. */
  readonly turns: number
}

/** One reading of all throttles, and what was turned since the one before. */
export interface ThrottleReading {
  /** Gauge vacuum, throttle 1 first [kPa]. */
  readonly vacuumKpa: readonly number[]
  readonly turned?: ThrottleTurn
}

/** Greatest less smallest vacuum of a row [kPa]. */
export const spreadOf = (vacuumKpa: readonly number[]): number => Math.max(...vacuumKpa) - Math.min(...vacuumKpa)

/** Whether a row is in balance, told as it is read: to a tenth of a kPa. @param limitKpa - what they may differ by [kPa] */
export const isBalanced = (vacuumKpa: readonly number[], limitKpa = SPREAD_LIMIT_KPA): boolean =>
  Math.round(spreadOf(vacuumKpa) * 10) <= Math.round(limitKpa * 10)

/** What to turn next, or that nothing is left to turn. */
export interface ThrottleAdvice {
  /** Greatest less smallest vacuum [kPa]. */
  readonly spreadKpa: number
  readonly limitKpa: number
  readonly balanced: boolean
  readonly adjuster?: Adjuster
  /** Above 0: open. Rounded to a sixteenth. */
  readonly turns?: number
  /** Whether the effect of this adjuster has been seen. */
  readonly learnt?: boolean
  readonly say: string
  readonly why?: string
}

/** Vacuums of balanced throttles differ by no more [kPa], at idle and at 2500; ours, until a book says otherwise. */
export const SPREAD_LIMIT_KPA = 1.7
/** What a turn does before any was made [kPa of vacuum lost per turn], and how unsure that is (ln). */
const USUAL_EFFECT = 6
const EFFECT_SPREAD = 0.7
/** Noise of reading two gauges [kPa]. */
const READING_SD = 0.35
/** Least and greatest turn that is advised. */
const LEAST_TURN = 1 / 16
const MOST_TURN = 3
/** A first turn is a guess: no further than this. */
const MOST_FIRST_TURN = 1.25
/** A first turn goes only so far of the way: an adjuster that bites twice as hard must not overshoot the other way. */
const FIRST_SHARE = 0.8

/** Adjusters of a row of throttles. @throws RangeError below two, or pairs of any other number than four */
export function adjustersOf(layout: ThrottleLayoutId, throttles: number): Adjuster[] {
  requireRange('throttles', throttles, Number.isInteger(throttles) && throttles >= 2 && throttles <= 12, '2 to 12')
  if (layout === 'pairs') {
    requireRange('throttles in pairs', throttles, throttles === 4, '4')
    return [
      { id: 'pair-1', label: 'screw between 1 and 2', moves: [1], against: [2] },
      { id: 'pair-2', label: 'screw between 3 and 4', moves: [4], against: [3] },
      { id: 'middle', label: 'screw between the pairs', moves: [3, 4], against: [1, 2] },
    ]
  }
  return Array.from({ length: throttles - 1 }, (_, i) => ({
    id: `throttle-${i + 2}`,
    label: `screw of throttle ${i + 2}`,
    moves: [i + 2],
    against: [1],
  }))
}

const meanOf = (row: readonly number[], which: readonly number[]): number =>
  which.reduce((s, i) => s + row[i - 1], 0) / which.length

/** How much deeper the throttles of an adjuster draw than those they are compared with [kPa]. */
const differenceOf = (a: Adjuster, row: readonly number[]): number => meanOf(row, a.moves) - meanOf(row, a.against)

/**
 * Effect of an adjuster by the turns that were made: y = −g·t + noise, g log-normal before; the likeliest g by a
 * least-squares step from the usual one, weighed by what is known of it.
 */
function effectOf(
  a: Adjuster,
  readings: readonly ThrottleReading[],
  usual = USUAL_EFFECT,
): { kpaPerTurn: number; learnt: boolean } {
  const sd = usual * EFFECT_SPREAD
  let weight = 1 / sd ** 2
  let sum = usual * weight
  let seen = 0
  for (let i = 1; i < readings.length; i++) {
    const { turned, vacuumKpa } = readings[i]
    if (turned?.adjuster !== a.id || Math.abs(turned.turns) < LEAST_TURN / 2) continue
    const moved = differenceOf(a, readings[i - 1].vacuumKpa) - differenceOf(a, vacuumKpa)
    const w = turned.turns ** 2 / (2 * READING_SD ** 2)
    sum += (moved / turned.turns) * w
    weight += w
    seen++
  }
  return { kpaPerTurn: Math.max(0.1 * usual, sum / weight), learnt: seen > 0 }
}

/** What a turn does on this engine, by the screws that were turned already: they are of one kind. */
function usualHere(adjusters: readonly Adjuster[], readings: readonly ThrottleReading[]): number {
  const learnt = adjusters.map((a) => effectOf(a, readings)).filter((e) => e.learnt)
  return learnt.length ? learnt.reduce((s, e) => s + e.kpaPerTurn, 0) / learnt.length : USUAL_EFFECT
}

/** A turn as a hand can make it: sixteenths below a half, eighths below one, quarters from there. */
export function handTurn(turns: number): number {
  const size = Math.abs(turns)
  const parts = size < 0.5 ? 16 : size < 1 ? 8 : 4
  return (Math.sign(turns) * Math.max(1, Math.round(parts * size))) / parts
}

const WORDS: Readonly<Record<number, string>> = {
  1: 'a sixteenth of a turn',
  2: 'an eighth of a turn',
  3: 'three sixteenths of a turn',
  4: 'a quarter turn',
  6: 'three eighths of a turn',
  8: 'half a turn',
  10: 'five eighths of a turn',
  12: 'three quarters of a turn',
  14: 'seven eighths of a turn',
}

/** A turn in the words of the bay. */
export function turnWords(turns: number): string {
  const all = Math.round(16 * Math.abs(turns))
  const whole = Math.floor(all / 16)
  const rest = all % 16
  const part = WORDS[rest] ?? `${rest} sixteenths of a turn`
  if (!whole) return part
  const count = whole === 1 ? 'one turn' : `${whole} turns`
  return rest ? `${count} and ${part.replace(/ of a turn$| turn$/, '')}` : count
}

/**
 * What to turn next. Within pairs first, then between them; among several the one that is furthest out. A throttle that
 * draws deeper than its reference is shut further: it is opened.
 *
 * @param readings - oldest first, of one speed
 * @throws RangeError without a reading, or when rows differ in length
 */
export function throttleAdvice(
  layout: ThrottleLayoutId,
  readings: readonly ThrottleReading[],
  limitKpa = SPREAD_LIMIT_KPA,
): ThrottleAdvice {
  requireRange('readings', readings.length, readings.length > 0, '≥ 1')
  const row = readings[readings.length - 1].vacuumKpa
  for (const r of readings)
    requireRange('throttles read', r.vacuumKpa.length, r.vacuumKpa.length === row.length, String(row.length))
  const spreadKpa = spreadOf(row)
  if (isBalanced(row, limitKpa))
    return {
      spreadKpa,
      limitKpa,
      balanced: true,
      say: `Balanced: they differ by ${spreadKpa.toFixed(1)} kPa, ${limitKpa.toFixed(1)} is allowed.`,
    }
  const adjusters = adjustersOf(layout, row.length)
  const out = (a: Adjuster): number => Math.abs(differenceOf(a, row))
  const inner = adjusters.filter((a) => a.id !== 'middle').sort((a, b) => out(b) - out(a))
  const middle = adjusters.find((a) => a.id === 'middle')
  const adjuster = middle && out(inner[0]) <= 0.4 * limitKpa ? middle : inner[0]
  const difference = differenceOf(adjuster, row)
  const { kpaPerTurn, learnt } = effectOf(adjuster, readings, usualHere(adjusters, readings))
  const wanted = (difference / kpaPerTurn) * (learnt ? 1 : FIRST_SHARE)
  const size = Math.min(learnt ? MOST_TURN : MOST_FIRST_TURN, Math.max(LEAST_TURN, handTurn(Math.abs(wanted))))
  const turns = Math.sign(difference) * size
  return {
    spreadKpa,
    limitKpa,
    balanced: false,
    adjuster,
    turns,
    learnt,
    say: `${turns > 0 ? 'Open' : 'Close'} the ${adjuster.label} by about ${turnWords(turns)}.`,
    why: `Throttle ${adjuster.moves.join(' and ')} draw${adjuster.moves.length > 1 ? '' : 's'} ${Math.abs(difference).toFixed(1)} kPa ${difference > 0 ? 'deeper' : 'less deep'} than ${adjuster.against.join(' and ')}.${learnt ? '' : ' A guess: the first turn shows what it does.'}`,
  }
}
