import { carriedOver, type FedSoFar } from '../cleaning/index.js'
import { POOLS_LOOKED, POOLS_OF_BOTH } from './pools.js'
import { live, type VisitFile } from './records.js'
import { fedMl } from './remedies.js'
import { endOfRunMs, feedOfRun } from './runs.js'

/**
 * What earlier attempts of a visit put in: a shot counts whole as soon as it was begun, whatever became of the attempt.
 * @param except - the run that is asked about
 */
export function fedSoFar(f: VisitFile, nowMs: number, except?: string): FedSoFar {
  const lookedSince = (ms: number, both: boolean | undefined): boolean =>
    (both ? POOLS_OF_BOTH : [POOLS_LOOKED]).every((id) =>
      live(f.ticks).some((t) => t.caution === id && Date.parse(t.at) >= ms),
    )
  const soaks = live(f.timers).filter((t) => t.kind === 'soak')
  return carriedOver(
    live(f.runs)
      .filter((r) => r.procedure === 'feed' && r.id !== except && r.feed && fedMl(f, r) > 0)
      .map((r) => {
        const endMs = endOfRunMs(r)
        const state = feedOfRun(f, r)
        const stalled = state?.locks ?? r.events.some((e) => e.kind === 'stall')
        return {
          endMs,
          fedMl: fedMl(f, r),
          // a plan that is refused by now left what nobody can reckon
          filmMl: state?.filmMl,
          coolantC: r.feed!.coolantC,
          stood: stalled || soaks.some((t) => Date.parse(t.startedAt) >= endMs),
          looked: lookedSince(endMs, r.feed!.together),
        }
      }),
    nowMs,
  )
}
