import { mayTouch, planFeed, PRODUCTS, type FeedRequest, type FeedResult } from '../cleaning/index.js'
import { stationInfo, type StationId } from '../engine/index.js'
import { feedProcedure, PROCEDURES, runState, type Procedure, type RunState } from '../procedures/index.js'
import { gateOf, type Gate, type Refusal } from './gate.js'
import { live, type ItemRecord, type RunRecord, type StepRecord, type VisitFile } from './records.js'
import { vehicleAtPlace } from './evidence.js'

/** Tick that unlocks the restart after a stall during a feed. */
export const TURNED_BY_HAND = 'plugs-out-turned-by-hand'

/** The feed of a run, planned again from its request: the plan is never stored apart from what it came from. */
export function planOfRun(f: VisitFile, feed: Omit<FeedRequest, 'vehicle'>): FeedResult {
  return planFeed({ ...feed, vehicle: vehicleAtPlace(f) })
}

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

/** True after a stall in a feed, until the plugs were out and the engine was turned by hand. */
export function restartLocked(f: VisitFile): boolean {
  const stalls = live(f.runs).flatMap((r) => r.events.filter((e) => e.kind === 'stall').map((e) => e.atMs))
  if (!stalls.length) return false
  const freed = live(f.ticks)
    .filter((t) => t.caution === TURNED_BY_HAND)
    .map((t) => Date.parse(t.at))
  return !(freed.length && Math.max(...freed) >= Math.max(...stalls))
}

/** Whether a run may begin: its preconditions, its plan, one feed at a time, no lock. */
export function mayBegin(f: VisitFile, r: RunRecord): Gate {
  const out: Refusal[] = []
  if (restartLocked(f))
    out.push({
      rule: 'restart-locked',
      message:
        'The engine stalled while liquid was fed: plugs out, turn it by hand, then tick that. Waiting does not empty a cylinder.',
    })
  const feeding = runsGoingOn(f).some((x) => x.procedure === 'feed' && x.id !== r.id)
  if (r.procedure === 'feed') {
    if (!r.feed) out.push({ rule: 'no-plan', message: 'A feed begins from its plan: make the plan first.' })
    else {
      const planned = planOfRun(f, { ...r.feed, feedRunning: feeding })
      if (!planned.ok) out.push(...planned.refusals)
    }
  }
  const p = procedureOfRun(f, r)
  const missing = p?.preconditions.filter((c) => !r.preconditions.includes(c.id)) ?? []
  if (missing.length)
    out.push({ rule: 'preconditions', message: `Not ticked: ${missing.map((c) => c.label).join('; ')}.` })
  return gateOf(out)
}

/** Rules that a cleaned surface went against. */
export function checkStep(s: StepRecord): Refusal[] {
  const may = mayTouch(s.product, s.surface)
  return may.ok ? [] : [{ rule: 'product-on-surface', message: `${may.reason} Use ${fits(s.surface)}.` }]
}

const fits = (surface: StepRecord['surface']): string =>
  PRODUCTS.filter((p) => p.may.includes(surface))
    .map((p) => p.label)
    .join(' or ') || 'what its label names'

const itemWords = (i: ItemRecord): string => `${i.count} × ${i.name} at the ${stationInfo(i.station).label}`

/** How many of a thing went in and came out, over every hand that counted. */
export interface Counted {
  readonly thing: string
  /** Where the first of them went in. */
  readonly station: StationId
  readonly putIn: number
  readonly takenOut: number
}

/** Counts by thing: each record is a hand putting in or taking out, so that two tablets' counts add up. */
export function countsOf(f: Pick<VisitFile, 'counts'>): Counted[] {
  const by = new Map<string, Counted>()
  for (const c of live(f.counts)) {
    const before = by.get(c.thing)
    by.set(c.thing, {
      thing: c.thing,
      station: before?.station ?? c.station,
      putIn: (before?.putIn ?? 0) + c.putIn,
      takenOut: (before?.takenOut ?? 0) + c.takenOut,
    })
  }
  return [...by.values()]
}

/** What still stands open, loose or uncounted, and where. */
export function openThings(f: VisitFile): Refusal[] {
  const out: Refusal[] = []
  for (const i of live(f.items)) {
    if (i.state === 'off')
      out.push({ rule: 'item-off', message: `Off: ${itemWords(i)}${i.bag ? `, bag ${i.bag}` : ''}.` })
    if (i.state === 'loose')
      out.push({
        rule: 'item-loose',
        message: `Loose on purpose: ${itemWords(i)}${i.until ? `, until ${i.until}` : ''}.`,
      })
  }
  for (const c of countsOf(f))
    if (c.putIn !== c.takenOut)
      out.push({
        rule: 'count',
        message: `${c.thing}: ${c.putIn} in, ${c.takenOut} out, at the ${stationInfo(c.station).label}${c.takenOut > c.putIn ? ': more out than in, count again' : ''}.`,
      })
  return out
}

/** Whether the engine may be called closed. */
export function mayCloseUp(f: VisitFile): Gate {
  const out = openThings(f)
  if (restartLocked(f))
    out.push({
      rule: 'restart-locked',
      message: 'Stalled while liquid was fed: plugs out and turned by hand comes first.',
    })
  return gateOf(out)
}

/** Whether the engine may be started: nothing open, no lock. */
export const mayStart = mayCloseUp
