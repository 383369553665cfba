import type { QuoteLine } from '@uvula/core'

/** Said when the only line of a quote would be taken off. */
export const LAST_LINE = 'A quote of nothing: its last line stays. Change it, or leave the quote as it is.'

/** The line that a quote begins with where nothing is tested or mended yet. */
export const WORK: QuoteLine = { id: 'work', kind: 'remedy', words: 'look and measure', minutes: 30, parts: [] }
