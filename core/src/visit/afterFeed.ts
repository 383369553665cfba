import { methodInfo } from '../cleaning/index.js'
import type { Refusal } from './gate.js'
import { live, type RunRecord, type VisitFile } from './records.js'
import { fedMl } from './remedies.js'
import { endOfRunMs, stateOfRun } from './runs.js'

/** Tick of one step of a closing-down, as a run keeps it among what was seen to. */
export const closedId = (step: number): string => `closed-${step + 1}`

/** Feeds of which something went in, the last one last. */
export const feedsOf = (f: VisitFile): readonly RunRecord[] =>
  live(f.runs)
    .filter((r) => r.procedure === 'feed' && r.feed && fedMl(f, r) > 0)
    .sort((a, b) => endOfRunMs(a) - endOfRunMs(b))

/** Steps of a feed's closing-down with what of them is done: in their order, none before the one ahead of it. */
export function closeDownOf(
  r: RunRecord,
): readonly { readonly id: string; readonly words: string; readonly done: boolean }[] {
  return (methodInfo(r.feed!.method).closeDown ?? []).map((words, k) => ({
    id: closedId(k),
    words: r.feed!.together && !/engine|soak|run on/.test(words) ? `${words}: both inlets` : words,
    done: r.preconditions.includes(closedId(k)),
  }))
}

/** What of the last feed's closing-down is still to be done, once it is over. Feeds led by taps kept none. */
export function closeDownRefusals(f: VisitFile): Refusal[] {
  const last = feedsOf(f).at(-1)
  if (!last || stateOfRun(f, last)?.status === 'running' || !last.events.some((e) => e.kind === 'open')) return []
  const next = closeDownOf(last).find((s) => !s.done)
  return next
    ? [
        {
          rule: 'close-down',
          message: `The feed is not closed down: ${next.words} comes next, then ${afterIt(last, next.id)}.`,
        },
      ]
    : []
}

function afterIt(r: RunRecord, id: string): string {
  const all = closeDownOf(r)
  const rest = all.slice(all.findIndex((s) => s.id === id) + 1).map((s) => s.words)
  return rest.length ? rest.join('; ') : 'it is closed'
}
