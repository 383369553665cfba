import { lookItemsOf } from '../engine/index.js'
import { isReadAsItCame } from './noIdle.js'
import { idleChannels, lastRound, pointsOfRound } from './points.js'
import { isProved, remediesOf } from './remedies.js'
import { live, type VisitFile } from './records.js'
import { stateOfRun, taughtRuns } from './runs.js'
import { openThings, restartLocked } from './service.js'

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
}

const st = (id: StageId, label: string): StageInfo => ({ id, label })

export const STAGES: readonly StageInfo[] = [
  st('arrive', 'Arrive'),
  st('look', 'Look'),
  st('measure', 'Measure'),
  st('trace', 'Trace'),
  st('open-up', 'Open up'),
  st('clean', 'Clean'),
  st('decarbonize', 'Decarbonize'),
  st('close-up', 'Close up'),
  st('first-start', 'First start'),
  st('learn', 'Learn'),
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
  const items = lookItemsOf(f.vehicle.spec)
  const looks = live(f.findings).filter((x) => x.test === 'look')
  // as each was judged last: one made again after the work stands for it
  const lastLooks = new Map(
    [...looks].sort((a, b) => (a.afterWork ?? 0) - (b.afterWork ?? 0)).map((x) => [x.item, x.outcome]),
  )
  const judged = lastLooks.size
  const [failed, suspects] = (['fail', 'unclear'] as const).map(
    (outcome) => [...lastLooks.values()].filter((x) => x === outcome).length,
  )
  const base = pointsOfRound(f, 0)
  const idle = base.find((p) => p.kind === 'idle')
  const baseline = idleChannels(f.vehicle.spec).filter((id) =>
    live(f.readings).some((r) => r.round === 0 && r.slot === 'idle' && r.channel === id),
  ).length
  const complete = isReadAsItCame(f)
  const repairs = live(f.repairs)
  const done = remediesOf(f)
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
          failed
            ? `${failed} failed`
            : suspects
              ? plural(suspects, 'suspect')
              : judged
                ? `${judged} of ${items.length}`
                : '',
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
          done.length ? plural(done.length, 'done', 'done') : tests ? plural(tests, 'test') : '',
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
      case 'open-up': {
        const off = live(f.items).filter((x) => x.state !== 'on').length
        const all = live(f.items).length
        return s(id, all ? 'begun' : 'empty', all ? (off ? `${off} off` : 'all on') : '')
      }
      case 'clean': {
        const cleaned = live(f.steps)
        return s(
          id,
          cleaned.some((x) => x.passed) ? 'done' : cleaned.length ? 'begun' : 'empty',
          cleaned.length ? plural(cleaned.length, 'surface') : '',
        )
      }
      case 'decarbonize': {
        const fed = live(f.runs).filter((x) => x.procedure === 'feed')
        const passed = fed.some((x) => stateOfRun(f, x)?.status === 'passed')
        return s(id, passed ? 'done' : fed.length ? 'begun' : 'empty', passed ? 'fed' : fed.length ? 'not ended' : '')
      }
      case 'close-up': {
        const open = openThings(f).length
        const any = live(f.items).length + live(f.counts).length
        return s(id, !any ? 'empty' : open ? 'begun' : 'done', !any ? '' : open ? `${open} open` : 'closed')
      }
      case 'first-start':
        return s(
          id,
          restartLocked(f) ? 'begun' : live(f.codes).length ? 'done' : 'empty',
          restartLocked(f) ? 'locked' : live(f.codes).length ? plural(live(f.codes).length, 'code') : '',
        )
      case 'learn': {
        const taught = taughtRuns(f)
        const passed = taught.some((x) => stateOfRun(f, x)?.status === 'passed')
        return s(
          id,
          passed ? 'done' : taught.length ? 'begun' : 'empty',
          passed ? 'taught' : taught.length ? plural(taught.length, 'attempt') : '',
        )
      }
    }
  })
}
