import { planFeed, type FeedRequest, type FeedResult } from '../cleaning/index.js'
import type { Vehicle } from '../engine/index.js'
import {
  feedProcedure,
  KEY_PEDAL_RELEARN,
  PROCEDURES,
  runState,
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

/** Relearn that fits how an engine's idle is held. */
export const relearnFor = (v: Vehicle): Procedure =>
  v.idleControl === 'idle-valve' ? STAGED_IDLE_LEARN : KEY_PEDAL_RELEARN

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
