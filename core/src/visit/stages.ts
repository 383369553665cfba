import { airPathOf, lookItemsOf } from '../engine/index.js'
import { idleChannels, neededAtIdle, lastRound, pointsOfRound } from './evidence.js'
import { live, type VisitFile } from './records.js'

export type StageId =
  | 'arrive'
  | 'look'
  | 'measure'
  | 'trace'
  | 'open-up'
  | 'clean'
  | 'decarbonize'
  | 'close-up'
  | 'first-start'
  | 'learn'
  | 'prove'
  | 'hand-over'

/** A stage of the visit, in the order of the work. */
export interface StageInfo {
  readonly id: StageId
  readonly label: string
  /** Built in this version. */
  readonly ready: boolean
}

const st = (id: StageId, label: string, ready = true): StageInfo => ({ id, label, ready })

export const STAGES: readonly StageInfo[] = [
  st('arrive', 'Arrive'),
  st('look', 'Look'),
  st('measure', 'Measure'),
  st('trace', 'Trace'),
  st('open-up', 'Open up', false),
  st('clean', 'Clean', false),
  st('decarbonize', 'Decarbonize', false),
  st('close-up', 'Close up', false),
  st('first-start', 'First start', false),
  st('learn', 'Learn', false),
  st('prove', 'Prove'),
  st('hand-over', 'Hand over'),
]

/** What a stage holds so far, in two or three words, and whether it lacks anything. */
export interface StageStatus {
  readonly stage: StageId
  readonly text: string
  readonly state: 'empty' | 'begun' | 'done'
}

/** Status of every stage. */
export function stageStatuses(f: VisitFile): StageStatus[] {
  const items = lookItemsOf(airPathOf(f.vehicle.spec))
  const looks = live(f.findings).filter((x) => x.test === 'look')
  const judged = new Set(looks.map((x) => x.item)).size
  const suspects = looks.filter((x) => x.outcome !== 'pass').length
  const base = pointsOfRound(f, 0)
  const idle = base.find((p) => p.kind === 'idle')
  const baseline = idleChannels(f.vehicle.spec).filter((id) =>
    live(f.readings).some((r) => r.round === 0 && r.slot === 'idle' && r.channel === id),
  ).length
  const complete = isIdleMeasured(f, 0)
  const repairs = live(f.repairs)
  const done = repairs.filter((r) => r.state === 'done')
  const tests = live(f.findings).filter((x) => x.test !== 'look' && x.test !== 'note').length
  const proved = done.length > 0 && isProved(f)
  const s = (stage: StageId, state: StageStatus['state'], text: string): StageStatus => ({ stage, state, text })
  const plural = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`
  return STAGES.map(({ id }) => {
    switch (id) {
      case 'arrive':
        return s(
          id,
          complete && f.visit.signs.length ? 'done' : f.visit.signs.length || baseline || idle ? 'begun' : 'empty',
          baseline
            ? plural(baseline, 'reading')
            : idle
              ? 'recorded'
              : f.visit.signs.length
                ? plural(f.visit.signs.length, 'sign')
                : '',
        )
      case 'look':
        return s(
          id,
          judged === 0 ? 'empty' : judged < items.length ? 'begun' : 'done',
          suspects ? plural(suspects, 'suspect') : judged ? `${judged} of ${items.length}` : '',
        )
      case 'measure':
        return s(
          id,
          base.length >= 3 ? 'done' : base.length ? 'begun' : 'empty',
          base.length ? plural(base.length, 'point') : '',
        )
      case 'trace':
        return s(
          id,
          done.length ? 'done' : tests || repairs.length ? 'begun' : 'empty',
          done.length ? plural(done.length, 'mended', 'mended') : tests ? plural(tests, 'test') : '',
        )
      case 'prove':
        return s(
          id,
          proved ? 'done' : lastRound(f) > 0 ? 'begun' : 'empty',
          proved ? 'measured' : done.length ? 'owed' : '',
        )
      case 'hand-over':
        return s(
          id,
          live(f.reports).length ? 'done' : 'empty',
          live(f.reports).length ? `sheet ${Math.max(...f.reports.map((r) => r.number))}` : '',
        )
      default:
        return s(id, 'empty', '')
    }
  })
}

/** True when a round's idle has every channel that judging needs. */
export function isIdleMeasured(f: VisitFile, round: number): boolean {
  const idle = pointsOfRound(f, round).find((p) => p.kind === 'idle')
  if (!idle) return false
  return neededAtIdle(f.vehicle.spec).every((id) => idle.means[id] !== undefined)
}

/** True when the points of the baseline were measured again after the last remedy. */
export function isProved(f: VisitFile): boolean {
  const done = live(f.repairs).filter((r) => r.state === 'done')
  if (!done.length) return false
  const since = Math.max(...done.map((r) => r.afterRound))
  const last = lastRound(f)
  return last > since && isIdleMeasured(f, last)
}
