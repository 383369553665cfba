/** What each kind of step asks of the hand. */
export const KIND_WORDS = {
  exact: 'at',
  'at-least': 'at least',
  'at-most': 'at most',
  until: 'within',
  count: 'within',
} as const
