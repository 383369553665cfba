import type { Intent } from '@uvula/core'
import type { Choice } from '../../kit/Choose.js'

/** What the car is here for. */
export const INTENTS: readonly Choice<Intent>[] = [
  { value: 'complaint', label: 'complaint' },
  { value: 'check-up', label: 'check-up' },
]
