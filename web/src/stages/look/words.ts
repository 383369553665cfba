import type { Choice } from '../../kit/Choose.js'

/** In which order things are looked at. */
export const ORDERS: readonly Choice<'likeliest' | 'pipe'>[] = [
  { value: 'likeliest', label: 'likeliest first' },
  { value: 'pipe', label: 'along the pipe' },
]
