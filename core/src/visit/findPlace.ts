import { testInfo } from '../diagnosis/index.js'
import type { StationId } from '../engine/index.js'
import { live, type FindingRecord, type VisitFile } from './records.js'

/** Where what was found is to be mended: the place looked at or tested, beyond the air path, or nowhere for a test that names no place. */
export function placeOfFind(x: Pick<FindingRecord, 'test' | 'station'>): StationId | undefined {
  if (x.test === 'look' || x.test === 'note') return x.station
  const { placeless, at } = testInfo(x.test)
  return placeless ? undefined : at === 'beyond' ? at : x.station
}

/** Finds that ask for work: a note and a test that names no place do not. */
export const findsToMend = (f: VisitFile): readonly { readonly find: FindingRecord; readonly place: StationId }[] =>
  live(f.findings).flatMap((find) => {
    const place = find.outcome === 'fail' && find.test !== 'note' ? placeOfFind(find) : undefined
    return place ? [{ find, place }] : []
  })
