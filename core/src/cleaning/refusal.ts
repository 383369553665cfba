/** A rule that forbids a feed, in a sentence. */
export interface FeedRefusal {
  readonly rule: string
  readonly message: string
  /** What may be, and what is, where the rule is a number. */
  readonly limit?: number
  readonly value?: number
}
