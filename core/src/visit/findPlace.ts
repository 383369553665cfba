import { testInfo } from '../diagnosis/index.js'
import type { StationId } from '../engine/index.js'
import { live, type FindingRecord, type VisitFile } from './records.js'
import { remediesOf } from './remedies.js'

/** Where what was found is to be mended: the place looked at or tested, beyond the air path, or nowhere for a test that names no place or finds dirt. */
export function placeOfFind(x: Pick<FindingRecord, 'test' | 'station'>): StationId | undefined {
  if (x.test === 'look' || x.test === 'note') return x.station
  const { placeless, dirt, at } = testInfo(x.test)
  return placeless || dirt ? undefined : at === 'beyond' ? at : x.station
}

/** Finds that ask for work: a note and a test that names no place do not. */
export const findsToMend = (f: VisitFile): readonly { readonly find: FindingRecord; readonly place: StationId }[] =>
  live(f.findings).flatMap((find) => {
    const place = find.outcome === 'fail' && find.test !== 'note' ? placeOfFind(find) : undefined
    return place ? [{ find, place }] : []
  })

/** Whether what a test finds is dirt, and no part. */
export const findsDirt = (x: Pick<FindingRecord, 'test'>): boolean =>
  x.test !== 'look' && x.test !== 'note' && testInfo(x.test).dirt === true

/** Dirt that a test found and that nothing done since has answered. */
export function dirtLeft(f: VisitFile): FindingRecord[] {
  const done = remediesOf(f)
  const answered = (x: FindingRecord): boolean =>
    done.some((r) => r.at > x.at && r.answers.some((cause) => testInfo(x.test).finds[cause]))
  return live(f.findings).filter((x) => x.outcome === 'fail' && findsDirt(x) && !answered(x))
}
