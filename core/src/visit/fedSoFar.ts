import { filmSeconds } from '../cleaning/index.js'
import { live, type RunRecord, type VisitFile } from './records.js'
import { fedMl } from './remedies.js'
import { planOfRun } from './runs.js'
import { POOLS_LOOKED } from './pools.js'

/** A label's most is a day's most [ms]. */
const DAY_MS = 24 * 3600_000

/** What went in already, and what of it may still lie in the intake. */
export interface FedSoFar {
  /** Fed within a day [mL]. */
  readonly alreadyMl: number
  /** Film that may be left of the last feed [mL]. */
  readonly filmStartMl: number
}

const endMs = (r: RunRecord): number => Math.max(...r.events.map((e) => e.atMs))

/**
 * What earlier attempts put in: a shot counts whole as soon as it was begun, whatever became of the attempt. The film of the
 * last one goes as a running engine evaporates it; while the engine stands it stays, until somebody has looked for pools.
 * @param except - the run that is asked about
 */
export function fedSoFar(f: VisitFile, nowMs: number, except?: string): FedSoFar {
  const fed = live(f.runs).filter(
    (r) => r.procedure === 'feed' && r.id !== except && r.feed && r.events.length > 1 && endMs(r) <= nowMs,
  )
  const alreadyMl = fed.filter((r) => nowMs - endMs(r) < DAY_MS).reduce((ml, r) => ml + fedMl(f, r), 0)
  const last = fed.reduce<RunRecord | undefined>((a, r) => (a && endMs(a) >= endMs(r) ? a : r), undefined)
  if (!last) return { alreadyMl, filmStartMl: 0 }
  const since = endMs(last)
  const looked = live(f.ticks).some((t) => t.caution === POOLS_LOOKED && Date.parse(t.at) >= since)
  if (looked) return { alreadyMl, filmStartMl: 0 }
  const planned = planOfRun(f, { ...last.feed!, feedRunning: false })
  // a plan that is refused by now left what nobody can reckon: all that went in
  const film = planned.ok ? planned.plan.peakFilmMl : fedMl(f, last)
  const stalled = last.events.some((e) => e.kind === 'stall')
  const stood = stalled || live(f.timers).some((t) => t.kind === 'soak' && Date.parse(t.startedAt) >= since)
  const left = stood ? 1 : Math.exp(-(nowMs - since) / 1000 / filmSeconds(last.feed!.coolantC))
  return { alreadyMl, filmStartMl: film * left }
}
