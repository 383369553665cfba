import { findKind, type FindingRecord, type Outcome, type TestInfo } from '@uvula/core'

/** One answer of a test: how it ends, and which of its unlike finds it made. */
interface Answer {
  readonly outcome: Outcome
  readonly item?: string
  readonly word: string
}

const NOTHING: Answer = { outcome: 'pass', word: 'nothing' }
const UNCLEAR: Answer = { outcome: 'unclear', word: 'unclear' }
const FOUND: Answer = { outcome: 'fail', word: 'found it' }

/** What a test can answer: of one whose finds are of unlike kinds, each of them. @param kept - what is kept of it: a find may not say of which kind it is */
export const answersOf = (
  { kinds }: Pick<TestInfo, 'kinds'>,
  kept?: Pick<FindingRecord, 'outcome' | 'item'>,
): readonly Answer[] => [
  NOTHING,
  UNCLEAR,
  ...(kinds?.map((k): Answer => ({ outcome: 'fail', item: k.id, word: k.label })) ?? []),
  ...(!kinds || (kept?.outcome === 'fail' && !kept.item) ? [FOUND] : []),
]

/** How a test was answered. */
export const answerWord = (x: Pick<FindingRecord, 'test' | 'outcome' | 'item'>): string =>
  x.outcome === 'fail'
    ? (findKind(x.test, x.item)?.label ?? FOUND.word)
    : (x.outcome === 'pass' ? NOTHING : UNCLEAR).word
