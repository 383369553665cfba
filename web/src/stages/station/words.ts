import type { Outcome } from '@uvula/core'

/** What a test can answer. */
export const ANSWERS: readonly { readonly outcome: Outcome; readonly word: string }[] = [
  { outcome: 'pass', word: 'nothing' },
  { outcome: 'unclear', word: 'unclear' },
  { outcome: 'fail', word: 'found it' },
]
