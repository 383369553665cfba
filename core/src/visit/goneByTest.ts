import { type Diagnosis, type FaultId, spokenBy, testInfo } from '../diagnosis/index.js'
import { placeOfFind } from './findPlace.js'
import { HAD_A_CHANCE, MAY_HAVE_BEEN } from './heldAgainst.js'
import type { VisitFile } from './records.js'
import { remediesOf, type Remedy } from './remedies.js'
import { retestsOf } from './retests.js'

/** From this chance that a test finds a cause the test made again tells of it [–]. */
const TELLS = 0.5

/** Causes that tests found and do not find any more since something was done that answers them. */
export function goneByTest(
  f: VisitFile,
  knownBefore: (r: Remedy) => Diagnosis,
): {
  readonly fault: FaultId
  readonly or: readonly FaultId[]
  /** Answered by the same work, and found by the same test: of them one at most was there. */
  readonly alike: readonly FaultId[]
  readonly by: readonly Remedy[]
  /** What was known before that work. */
  readonly d: Diagnosis
}[] {
  const done = remediesOf(f)
  return retestsOf(f).flatMap(({ before, after }) => {
    if (after.outcome !== 'pass') return []
    const { finds } = testInfo(after.test)
    const spoken = spokenBy(before)
    const place = placeOfFind(after)
    const by = done.filter((r) => !place || r.station === place)
    if (!by.length) return []
    const answered = new Set(by.flatMap((r) => r.answers))
    const d = knownBefore(by.find((r) => r.at > before.at) ?? by[by.length - 1])
    const [found, ...others] = d.ranking.filter(
      (r) =>
        answered.has(r.fault) && r.fault in spoken && (finds[r.fault] ?? 0) >= TELLS && r.probability >= HAD_A_CHANCE,
    )
    if (!found) return []
    // the same test finds them alike
    const or = others.filter((r) => r.probability >= MAY_HAVE_BEEN * found.probability).map((r) => r.fault)
    return [{ fault: found.fault, or, alike: [found, ...others].map((r) => r.fault), by, d }]
  })
}
