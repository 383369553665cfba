import {
  channelLags,
  findOperatingPoints,
  pointsOfStretches,
  totalTrimPct,
  withoutLags,
  type ChosenStretch,
  type OperatingPoint,
  type Recording,
} from '../signals/index.js'
import { scaleDoubts } from '../expectation/index.js'
import { quantile } from '../statistics/index.js'
import type { Vehicle } from '../engine/index.js'
import { pointFromTyped, type Evidence, type TypedPoint } from './evidence.js'

/**
 * Evidence from a recording alone: its operating points, or those of the stretches chosen by hand, and where
 * its throttle rests. @throws RangeError when a chosen stretch holds too few rows
 */
export function evidenceFromRecording(
  r: Recording,
  v: Vehicle,
  chosen?: readonly ChosenStretch[] | null,
): Pick<Evidence, 'points' | 'closedThrottlePct'> {
  // a pull or a snap must not pair this moment's speed with the last one's air
  const even = rightlyScaled(withoutLags(r, channelLags(r)), v)
  const points = chosen ? pointsOfStretches(even, v, chosen) : findOperatingPoints(even, v)
  return { points, closedThrottlePct: closedThrottle(r) }
}

/** A recording without the channels whose size cannot be: a figure in another unit would be taken for a fault. */
function rightlyScaled(r: Recording, v: Vehicle): Recording {
  const wrong = new Set(scaleDoubts(r, v).map((d) => d.channel as string))
  return wrong.size
    ? { ...r, columns: Object.fromEntries(Object.entries(r.columns).filter(([id]) => !wrong.has(id))) }
    : r
}

/** Lowest throttle readings of a recording, its closed plate; undefined without a throttle channel. */
function closedThrottle(r: Recording): number | undefined {
  const pct = r.columns.throttle_pct
  const finite = pct ? [...pct].filter(Number.isFinite) : []
  // the lowest percent or so: a closed plate on the overrun; single noisy rows do not count
  return finite.length >= 20 ? quantile(finite, 0.005) : undefined
}

/** Typed points as operating points. */
export const pointsFromTyped = (points: readonly TypedPoint[]): OperatingPoint[] =>
  points.map((p) => pointFromTyped(p, totalTrimPct))
