import { MANY_ROWS, type OperatingPoint } from './point.js'

/** A short-term trim beyond this stands at its stop [%]; from the second figure on it does where it no longer moves. */
const TRIM_STOP_PCT = 24
const STILL_STOP_PCT = 12
/** Standard deviation of a short-term trim that no longer switches [%]. */
const STILL_PCT = 0.1

/** A typed short-term trim from this that reads alike at two speeds stands at its stop [%]; alike is within half a step of its byte. */
const ALIKE_STOP_PCT = 15
const ALIKE_PCT = 0.4
/** One that reads so much more at another speed is not at its stop here [%]: more than a glance at a figure that moves. */
const MORE_PCT = 2
/** A long-term trim from this stands at its usual end [%]: a typed short one that pulls on the same way from ALIKE_STOP_PCT on does too. */
export const LONG_STOP_PCT = 24
/** Speeds further apart than this are two [rpm]. */
const OTHER_SPEED_RPM = 300

/**
 * End of its range at which a short-term trim stands, if it does: the total is then a bound, and no value.
 * @param beside - the other points of the round: a typed figure does not show whether it still moves, one that is the same at another speed does
 */
export function trimStop(p: OperatingPoint, bank: 1 | 2, beside: readonly OperatingPoint[] = []): 1 | -1 | undefined {
  const id = bank === 1 ? 'stft1_pct' : 'stft2_pct'
  const short = p.means[id] ?? 0
  const long = p.means[bank === 1 ? 'ltft1_pct' : 'ltft2_pct'] ?? 0
  const still = p.n >= MANY_ROWS && (p.sds[id] ?? 1) < STILL_PCT && Math.abs(short) >= STILL_STOP_PCT
  const isMost = !beside.some((o) => Math.sign(short) * (o.means[id] ?? 0) > Math.abs(short) + MORE_PCT)
  const spent =
    p.n < MANY_ROWS &&
    isMost &&
    Math.abs(short) >= ALIKE_STOP_PCT &&
    (Math.sign(short) * long >= LONG_STOP_PCT ||
      beside.some(
        (o) => Math.abs(o.rpm - p.rpm) > OTHER_SPEED_RPM && Math.abs((o.means[id] ?? 0) - short) <= ALIKE_PCT,
      ))
  return Math.abs(short) >= TRIM_STOP_PCT || still || spent ? (short > 0 ? 1 : -1) : undefined
}

/** Ends at which the trims of a point stand, by bank. */
export const trimStopsOf = (
  p: OperatingPoint,
  beside: readonly OperatingPoint[],
): Readonly<Partial<Record<1 | 2, 1 | -1>>> => ({ 1: trimStop(p, 1, beside), 2: trimStop(p, 2, beside) })
