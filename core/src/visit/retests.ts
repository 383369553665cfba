import { testInfo } from '../diagnosis/index.js'
import { overtaken, workOn } from './findPlace.js'
import { live, type FindingRecord, type VisitFile } from './records.js'
import { lower } from './words.js'

/** A test that found something, and how it ended when it was made again on what was done since. */
export interface Retest {
  readonly before: FindingRecord
  readonly after: FindingRecord
}

/** Whether a finding is that of a test that can be made again: what a look sees is mended in sight, and a note is none. */
const isTest = (x: FindingRecord): boolean => x.test !== 'look' && x.test !== 'note'

const byWork = (a: FindingRecord, b: FindingRecord): number => (a.afterWork ?? 0) - (b.afterWork ?? 0)

/** The same test at the same place, each in the order of the work between. */
function madeOnce(f: VisitFile): FindingRecord[][] {
  const by = new Map<string, FindingRecord[]>()
  for (const x of live(f.findings).filter(isTest)) {
    const key = `${x.test} ${x.station}`
    by.set(key, [...(by.get(key) ?? []), x])
  }
  return [...by.values()].map((list) => list.sort(byWork))
}

/** Tests made again on what was done since they found something; of each the last that nothing has overtaken. */
export function retestsOf(f: VisitFile): Retest[] {
  const isPast = overtaken(f)
  return madeOnce(f).flatMap((list) => {
    const after = list.at(-1)!
    // work that was taken back since was not what it was made on
    if (!after.afterWork || isPast(after) || workOn(f, after) < after.afterWork) return []
    const before = list.filter((x) => x.outcome === 'fail' && (x.afterWork ?? 0) < after.afterWork!).at(-1)
    return before ? [{ before, after }] : []
  })
}

/** Finds of tests that something was done about since, and that nobody has tried again. */
export const retestsOwed = (f: VisitFile): FindingRecord[] => {
  const isPast = overtaken(f)
  return madeOnce(f).flatMap((list) => {
    const last = list.at(-1)!
    return last.outcome === 'fail' && isPast(last) ? [last] : []
  })
}

/** How a find stands that was made again after the work, to go on with. */
export const againSaid = (find: FindingRecord): string =>
  find.test === 'look'
    ? 'looked at again after the work, still not in order'
    : `${lower(testInfo(find.test).label)}, tried again after the work, still finds something`

/** Whether the tests that found what was worked on were made again, and none finds it any more. */
export function isFoundGone(f: VisitFile): boolean {
  const made = retestsOf(f)
  return made.length > 0 && made.every((x) => x.after.outcome === 'pass')
}
