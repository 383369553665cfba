/** How the time of a step is bound, in words. */
export const KIND_WORDS = {
  exact: 'at',
  'at-least': 'at least',
  'at-most': 'at most',
  until: 'within',
  count: 'within',
} as const
