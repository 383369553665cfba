import type { Choice } from '../kit/Choose.js'
import type { QuantityId } from '@uvula/core'

/** Quantities whose unit is chosen, and what they are called there. */
export const CHOSEN: readonly [QuantityId, string][] = [
  ['pressure', 'pressure, vacuum'],
  ['massFlow', 'airflow'],
  ['temperature', 'temperature'],
  ['mixture', 'mixture'],
  ['distance', 'distance'],
]

/** Light of the screen. */
export const THEMES: readonly Choice<'day' | 'night'>[] = [
  { value: 'day', label: 'day' },
  { value: 'night', label: 'night' },
]

/** A plain answer. */
export const YES_NO: readonly Choice<'yes' | 'no'>[] = [
  { value: 'yes', label: 'yes' },
  { value: 'no', label: 'no' },
]
