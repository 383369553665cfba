import { testInfo, type FindingRecord, type Outcome, type TestInfo } from '@uvula/core'

/** One answer of a test: how it ends, and which of its unlike finds it made. */
interface Answer {
  readonly outcome: Outcome
  readonly item?: string
  readonly word: string
}

const NOTHING: Answer = { outcome: 'pass', word: 'nothing' }
/** Where what is felt or seen may itself be nothing, that would be said of two things. */
const RIGHT: Answer = { outcome: 'pass', word: 'as it should be' }
const UNCLEAR: Answer = { outcome: 'unclear', word: 'unclear' }
const FOUND: Answer = { outcome: 'fail', word: 'found it' }

/** What a test can answer: of one whose finds are of unlike kinds, each of them. @param kept - what is kept of it: a find may not say of which kind it is */
export function answersOf(
  { kinds }: Pick<TestInfo, 'kinds'>,
  kept?: Pick<FindingRecord, 'outcome' | 'item'>,
): readonly Answer[] {
  if (!kinds) return [NOTHING, UNCLEAR, FOUND]
  const each = kinds.map((k): Answer => ({ outcome: 'fail', item: k.id, word: k.label }))
  return [RIGHT, UNCLEAR, ...each, ...(kept?.outcome === 'fail' && !kept.item ? [FOUND] : [])]
}

/** How a test was answered. */
export function answerWord(x: Pick<FindingRecord, 'test' | 'outcome' | 'item'>): string {
  const answers = answersOf(testInfo(x.test), x)
  return answers.find((a) => a.outcome === x.outcome && (a.item ?? x.item) === x.item)?.word ?? FOUND.word
}
