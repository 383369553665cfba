import type { TrimRow, OddKind, Slot } from '@uvula/core'

/** Moments of a gauge sheet, in the order they are read. */
export const GAUGE_SLOTS: readonly Slot[] = [
  'idle',
  'idle-load',
  'hold-1500',
  'hold-2500',
  'snap',
  'deceleration',
  'cranking',
]

/** How each moment is read off. */
export const GAUGE_HOW: Readonly<Partial<Record<Slot, string>>> = {
  idle: 'Warm, nothing on, behind the plate. Read the middle of the needle.',
  'idle-load': 'A/C and lights on.',
  'hold-1500': 'Held half a minute.',
  'hold-2500': 'Held half a minute: it must not sink.',
  snap: 'Open and shut once; the lowest figure. Then it swings past idle and settles.',
  deceleration: 'Plate shut from 3000 down; the deepest figure.',
  cranking: 'Fuel and spark off, plate shut. At most ten seconds of starter.',
}

/** What an odd cylinder may suffer from. */
export const KIND_WORDS: Readonly<Record<OddKind, string>> = {
  runner: 'its runner is narrower, or air joins it',
  'valve-sealing': 'a valve lets gas back',
  ignition: 'ignition',
  injector: 'injector',
}

/** Speed of a row of throttles, as it is said behind a verb. */
export const SLOT_WORDS = { idle: 'at idle', 'hold-2500': 'at 2500' } as const

/** Speeds at which throttles are set, in the order of the work. */
export const SLOT_CHOICES = [
  { value: 'hold-2500', label: '1. linkage, 2500' },
  { value: 'idle', label: '2. bypass, idle' },
] as const

/** How the throttles are linked. */
export const LAYOUT_CHOICES = [
  { value: 'each', label: 'own screws' },
  { value: 'pairs', label: 'pairs' },
] as const

/** What the points of a trim sheet are called. */
export const TRIM_KINDS: Readonly<Partial<Record<TrimRow['kind'], string>>> = {
  idle: 'warm idle',
  'idle-load': 'idle, loaded',
  hold: 'held',
  cruise: 'cruise',
  cold: 'cold',
}

/** Columns of the trim sheet. */
export const TRIM_HEAD = [
  'point',
  'rpm',
  'bank',
  'short %',
  'long %',
  'total %',
  'judged',
  'airflow g/s',
  'belongs g/s',
] as const
