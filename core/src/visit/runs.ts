import { planFeed, type FeedRequest, type FeedResult } from '../cleaning/index.js'
import type { Vehicle } from '../engine/index.js'
import {
  BATTERY_OFF,
  feedProcedure,
  KEY_PEDAL_RELEARN,
  PROCEDURES,
  runState,
  SCAN_RESET,
  STAGED_IDLE_LEARN,
  type Procedure,
  type RunState,
} from '../procedures/index.js'
import { vehicleAtPlace } from './place.js'
import { live, type RunRecord, type VisitFile } from './records.js'

/** The feed of a run, planned again from its request: the plan is never stored apart from what it came from. */
export function planOfRun(f: VisitFile, feed: Omit<FeedRequest, 'vehicle'>): FeedResult {
  return planFeed({ ...feed, vehicle: vehicleAtPlace(f) })
}

/** Procedures that this engine's controller can be taught or reset by, the one that fits best first; none without a controller. */
export function proceduresFor(v: Vehicle): readonly Procedure[] {
  if (v.injection === 'carburettor') return []
  if (v.idleControl === 'none') return [SCAN_RESET, BATTERY_OFF]
  return v.idleControl === 'idle-valve'
    ? [STAGED_IDLE_LEARN, KEY_PEDAL_RELEARN, SCAN_RESET, BATTERY_OFF]
    : [KEY_PEDAL_RELEARN, STAGED_IDLE_LEARN, SCAN_RESET, BATTERY_OFF]
}

/** What is taught after work on this engine, as an act; undefined where there is nothing to teach. */
export const teachAct = (v: Vehicle): string | undefined => proceduresFor(v)[0]?.verb

/** Procedure of a run, or undefined when its feed is refused. */
export function procedureOfRun(f: VisitFile, r: RunRecord): Procedure | undefined {
  if (r.procedure !== 'feed') return PROCEDURES.find((p) => p.id === r.procedure)
  if (!r.feed) return undefined
  const planned = planOfRun(f, { ...r.feed, feedRunning: false })
  return planned.ok ? feedProcedure(planned.plan) : undefined
}

/** State of a run, whatever page or tablet asks. */
export function stateOfRun(f: VisitFile, r: RunRecord): RunState | undefined {
  const p = procedureOfRun(f, r)
  return p && runState(p, r.events)
}

/** Runs that go on now. */
export const runsGoingOn = (f: VisitFile): readonly RunRecord[] =>
  live(f.runs).filter((r) => r.events.length > 0 && stateOfRun(f, r)?.status === 'running')
