import type { FaultId, SoundOf, SoundRecord, VisitFile } from '@uvula/core'

/** What the weigher's thread is asked. */
export type Question =
  | { readonly kind: 'confirmed'; readonly visit: VisitFile }
  | { readonly kind: 'sound'; readonly visits: readonly VisitFile[]; readonly of: SoundOf }

/** What it answers to each kind of question. */
export interface Answers {
  /** The cause that the visit confirmed; null without one. */
  readonly confirmed: FaultId | null
  /** What a car's visits say of it when it was sound; null without such a one. */
  readonly sound: SoundRecord | null
}

/** A question on its way to the thread, and its answer back; what went wrong there is a sentence. */
export interface Asked {
  readonly id: number
  readonly question: Question
}
export type Told =
  { readonly id: number; readonly answer: Answers[Question['kind']] } | { readonly id: number; readonly failed: string }
