import { planFeed, type FeedRequest, type FeedResult } from '../cleaning/index.js'
import type { Vehicle } from '../engine/index.js'
import {
  BATTERY_OFF,
  CLEAR_OUT,
  DRIVE_LEARN,
  FEED_PRECONDITIONS,
  feedRunState,
  KEY_CYCLES,
  KEY_PEDAL_RELEARN,
  procedureOfOwn,
  PROCEDURES,
  runState,
  SCAN_RESET,
  STAGED_IDLE_LEARN,
  type FeedRunState,
  type Precondition,
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
  if (v.idleControl === 'none') return [SCAN_RESET, DRIVE_LEARN, BATTERY_OFF]
  return v.idleControl === 'idle-valve'
    ? [STAGED_IDLE_LEARN, KEY_PEDAL_RELEARN, SCAN_RESET, DRIVE_LEARN, BATTERY_OFF]
    : [KEY_PEDAL_RELEARN, STAGED_IDLE_LEARN, KEY_CYCLES, SCAN_RESET, DRIVE_LEARN, BATTERY_OFF]
}

/** What is taught after work on this engine, as an act; undefined where there is nothing to teach. */
export const teachAct = (v: Vehicle): string | undefined => proceduresFor(v)[0]?.verb

/** Procedure of a run that steps lead, a shop's own as it was when the run was armed; a feed is led by the clock. */
export const procedureOfRun = (r: Pick<RunRecord, 'procedure' | 'own'>): Procedure | undefined =>
  r.own ? procedureOfOwn(r.own) : PROCEDURES.find((p) => p.id === r.procedure)

/** What is seen to before a run begins. */
export const preconditionsOfRun = (r: RunRecord): readonly Precondition[] =>
  r.procedure === 'feed' ? FEED_PRECONDITIONS : (procedureOfRun(r)?.preconditions ?? [])

/** The last thing that is known of a run [ms]; 0 before it began. */
export const endOfRunMs = (r: RunRecord): number => Math.max(0, ...r.events.map((e) => e.atMs))

/**
 * Where a feed stands; undefined for another run, and where its plan would be refused today.
 * @param nowMs - the present; the last event where left out
 */
export function feedOfRun(f: VisitFile, r: RunRecord, nowMs = endOfRunMs(r)): FeedRunState | undefined {
  if (r.procedure !== 'feed' || !r.feed) return undefined
  const planned = planOfRun(f, { ...r.feed, feedRunning: false })
  return planned.ok ? feedRunState(planned.plan, r.feed, r.events, nowMs) : undefined
}

/** State of a run, whatever page or tablet asks. */
export function stateOfRun(f: VisitFile, r: RunRecord): RunState | undefined {
  if (r.procedure !== 'feed') {
    const p = procedureOfRun(r)
    return p && runState(p, r.events)
  }
  const fed = feedOfRun(f, r)
  if (!fed) return undefined
  const status = FEED_STATUS[fed.phase]
  return {
    status,
    step: fed.shots.length,
    stepStartMs: 0,
    count: 0,
    results: [],
    ...(fed.reason ? { reason: fed.reason } : {}),
  }
}

const FEED_STATUS: Readonly<Record<FeedRunState['phase'], RunState['status']>> = {
  ready: 'ready',
  'count-in': 'running',
  shot: 'running',
  pause: 'running',
  held: 'running',
  done: 'passed',
  stopped: 'stopped',
}

/** Runs that teach or reset something: neither a feed nor its clearing out. */
export const taughtRuns = (f: VisitFile): readonly RunRecord[] =>
  live(f.runs).filter((r) => r.procedure !== 'feed' && r.procedure !== CLEAR_OUT.id)

/** Runs that go on now. */
export const runsGoingOn = (f: VisitFile): readonly RunRecord[] =>
  live(f.runs).filter((r) => r.events.length > 0 && stateOfRun(f, r)?.status === 'running')
