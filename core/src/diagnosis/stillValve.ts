import { MANY_ROWS, type OperatingPoint } from '../signals/index.js'
import type { FaultId } from './faults.js'

/** Between points whose reading differs by less, and moves by less at each, a valve's duty stood still [%]. */
const STILL_PCT = 0.4
const CALM_PCT = 0.1
/** A reading beyond these stands at its end, where any control that asks for more stands still [%]. */
const ENDS_PCT = { low: 8, high: 75 }
/** Speed above which an engine runs [rpm]. */
const RUNS_RPM = 300

const RUNNING: readonly OperatingPoint['kind'][] = ['idle', 'idle-load', 'hold', 'cruise', 'pull', 'deceleration']

/** Where an idle valve's duty stood, if it stood still within its range while the load changed [%]; undefined where it followed or nothing tells. */
export function stillValve(points: readonly OperatingPoint[]): number | undefined {
  const told = points.filter(
    (p) => p.n >= MANY_ROWS && p.rpm > RUNS_RPM && RUNNING.includes(p.kind) && p.means.idle_valve_pct !== undefined,
  )
  const read = told.map((p) => p.means.idle_valve_pct!)
  const [low, high] = [Math.min(...read), Math.max(...read)]
  const kinds = new Set(told.map((p) => p.kind))
  // under a foot many controls hold their valve where it stands: what a load at idle asks for tells
  const still =
    kinds.has('idle') &&
    kinds.has('idle-load') &&
    high - low <= STILL_PCT &&
    told.every((p) => (p.sds.idle_valve_pct ?? 0) <= CALM_PCT)
  return still && low > ENDS_PCT.low && high < ENDS_PCT.high ? (low + high) / 2 : undefined
}

/** P(its duty stands still | the valve sticks), and otherwise: a figure that the controller fills in, or that the tool holds; ours. */
const STANDS = { stuck: 0.7, otherwise: 0.004 }

/** Chance that a valve's duty is seen to stand still with these causes. */
export const stillChance = (faults: readonly FaultId[]): number =>
  faults.includes('idle-valve-stuck') ? STANDS.stuck : STANDS.otherwise
