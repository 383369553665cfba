import { stationInfo, type StationId } from '../engine/index.js'
import { gateOf, type Gate, type Refusal } from './gate.js'
import { coolantRefusals, openItems, routingRefusals, sealRefusals } from './closing.js'
import { live, type RunRecord, type VisitFile } from './records.js'
import { fedSoFar } from './fedSoFar.js'
import { sootRefusal } from './feedRequest.js'
import { closeDownRefusals } from './afterFeed.js'
import { diesNow } from './noIdle.js'
import { POOLS_LOOKED, POOLS_OF_BOTH } from './pools.js'
import { mayWork } from './quote.js'
import { fedMl } from './remedies.js'
import { endOfRunMs, feedOfRun, planOfRun, preconditionsOfRun, runsGoingOn } from './runs.js'

/** Tick that unlocks the restart after a stall during a feed. */
export const TURNED_BY_HAND = 'plugs-out-turned-by-hand'

/** True after a stall in a feed, or more liquid than a cylinder bears, until the plugs were out and it was turned by hand. */
export function restartLocked(f: VisitFile): boolean {
  const since = live(f.runs)
    .filter((r) => r.events.some((e) => e.kind === 'stall') || feedOfRun(f, r)?.locks === true)
    .map((r) => endOfRunMs(r))
  if (!since.length) return false
  const freed = live(f.ticks)
    .filter((t) => t.caution === TURNED_BY_HAND)
    .map((t) => Date.parse(t.at))
  return !(freed.length && Math.max(...freed) >= Math.max(...since))
}

const minutesLeft = (seconds: number): string =>
  seconds > 90 ? `${Math.ceil(seconds / 60)} minutes` : `${Math.ceil(seconds)} s`

/** Waits that are not over: parts that dry, liquid that soaks. One that was ended by hand is over by that hand's word. */
export function runningWaits(f: VisitFile, nowMs: number): Refusal[] {
  return live(f.timers).flatMap((t): Refusal[] => {
    const left = t.seconds - (nowMs - Date.parse(t.startedAt)) / 1000
    if (t.ended || left <= 0 || (t.kind !== 'drying' && t.kind !== 'soak')) return []
    return [
      t.kind === 'soak'
        ? {
            rule: 'soak-runs',
            message: `${cap(t.label)}: the soak has ${minutesLeft(left)} left, and nothing is cranked in it.`,
          }
        : {
            rule: 'still-drying',
            message: `${cap(t.label)}: ${minutesLeft(left)} left; no power, no air and no start before it is dry.`,
          },
    ]
  })
}

const cap = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1)

/** After a feed: liquid may stand in plenum or runners until somebody has looked. */
export function poolsUnlooked(f: VisitFile): Refusal[] {
  const fed = live(f.runs).filter((r) => r.procedure === 'feed' && fedMl(f, r) > 0)
  if (!fed.length) return []
  const last = Math.max(...fed.map((r) => endOfRunMs(r)))
  const both = fed.some((r) => r.feed?.together)
  return (both ? POOLS_OF_BOTH : [POOLS_LOOKED])
    .filter((id) => !live(f.ticks).some((t) => t.caution === id && Date.parse(t.at) >= last))
    .map((id) => ({
      rule: id === POOLS_LOOKED ? 'pools-unlooked' : 'pools-unlooked-2',
      message: `Fed since: look for liquid standing in plenum and runners${both ? (id === POOLS_LOOKED ? ', first inlet' : ', second inlet') : ''}, soak it up, then tick that. A pool cranked in bends a rod.`,
    }))
}

/** Why no feed begins whatever its plan: what is off, loose or uncounted in the air path, what dries or soaks, a lock. */
export function feedHindrances(f: VisitFile, nowMs: number): Refusal[] {
  return [...lockRefusals(f), ...openThings(f), ...runningWaits(f, nowMs)]
}

const lockRefusals = (f: VisitFile): Refusal[] =>
  restartLocked(f)
    ? [
        {
          rule: 'restart-locked',
          message:
            'It stalled while liquid was fed, or more stands in the intake than one cylinder bears: plugs out, turn it by hand, then tick that. Waiting does not empty a cylinder.',
        },
      ]
    : []

/**
 * Whether a run may begin: its preconditions, its plan, one feed at a time, no lock, the air path whole. A relearn starts
 * the engine: what forbids a start forbids it too.
 */
export function mayBegin(f: VisitFile, r: RunRecord, nowMs: number): Gate {
  const out = feedHindrances(f, nowMs)
  if (r.procedure !== 'feed') out.push(...closeDownRefusals(f), ...poolsUnlooked(f))
  const feeding = runsGoingOn(f).some((x) => x.procedure === 'feed' && x.id !== r.id)
  if (r.procedure === 'feed') {
    const work = mayWork(f)
    if (!work.ok) out.push(...work.refusals)
    const dies = diesNow(f)
    if (dies)
      out.push({
        rule: 'holds-no-idle',
        message: `It ${dies}: let go, it stalls with liquid in the intake, and all of it may reach one cylinder. What makes it die comes first; the throttle is cleaned by hand.`,
      })
    if (!r.feed) out.push({ rule: 'no-plan', message: 'A feed begins from its plan: make the plan first.' })
    else {
      // what went in already is told by the visit, whatever the request says
      const planned = planOfRun(f, {
        // what nobody has ticked is not so
        filterClear: false,
        ...r.feed,
        feedRunning: feeding,
        ...fedSoFar(f, nowMs, r.id),
      })
      if (!planned.ok) out.push(...planned.refusals)
      const sooted = sootRefusal(f, r.feed.product)
      if (sooted) out.push(sooted)
    }
  }
  const missing = preconditionsOfRun(r).filter((c) => !r.preconditions.includes(c.id))
  if (missing.length)
    out.push({ rule: 'preconditions', message: `Not ticked: ${missing.map((c) => c.label).join('; ')}.` })
  return gateOf(out)
}

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

/** What still stands open, loose, uncounted or unseen, and where. */
export function openThings(f: VisitFile): Refusal[] {
  const out = openItems(f)
  for (const c of countsOf(f))
    if (c.putIn !== c.takenOut)
      out.push({
        rule: 'count',
        message: `${c.thing}: ${c.putIn} in, ${c.takenOut} out, at the ${stationInfo(c.station).label}${c.takenOut > c.putIn ? ': more out than in, count again' : ''}.`,
        left: `${c.thing}: ${c.putIn} in, ${c.takenOut} out, at the ${stationInfo(c.station).label}.`,
      })
  return [...out, ...sealRefusals(f), ...coolantRefusals(f), ...routingRefusals(f)]
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

/** Whether the engine may be started: nothing open, no lock, nothing that dries or soaks, no pool unlooked at. */
export function mayStart(f: VisitFile, nowMs: number): Gate {
  const close = mayCloseUp(f)
  return gateOf([
    ...(close.ok ? [] : close.refusals),
    ...closeDownRefusals(f),
    ...runningWaits(f, nowMs),
    ...poolsUnlooked(f),
  ])
}
