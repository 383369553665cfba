import type { RecordMeta } from './meta.js'
import type { Proof } from './proofs.js'
import { VISIT_NOUNS, type VisitFile, type VisitNoun } from './records.js'
import { remediesOf } from './remedies.js'

/** A visit as it stood before some of its work: the rounds read until then, and what was found and done in them. */
export function asItStood(f: VisitFile, { before, remedies }: Proof): VisitFile {
  const began = remedies.map((r) => r.at).reduce((first, at) => (at < first ? at : first))
  const later = new Set(remediesOf(f).flatMap((r) => (r.afterRound >= before ? r.ids : [])))
  const stood = (x: RecordMeta & { readonly round?: number }): boolean =>
    !later.has(x.id) && (x.round === undefined ? x.at < began : x.round <= before)
  const lists = Object.fromEntries(VISIT_NOUNS.map((noun) => [noun, f[noun].filter(stood)])) as unknown as Pick<
    VisitFile,
    VisitNoun
  >
  return { ...f, ...lists }
}
