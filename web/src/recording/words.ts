import type { Alignment, LeftOut, OperatingPoint } from '@uvula/core'

/** What kinds of points are called on a recording. */
export const KINDS: Readonly<Record<OperatingPoint['kind'], string>> = {
  'engine-off': 'engine off',
  'key-on': 'key on',
  idle: 'idle',
  'idle-load': 'idle, loaded',
  hold: 'held',
  cruise: 'cruise',
  pull: 'pull',
  snap: 'snap',
  deceleration: 'deceleration',
  cold: 'cold',
}

/** What a stretch that counts is called: a held one by its speed. */
export const pointName = (p: OperatingPoint): string =>
  p.kind === 'hold' ? `${Math.round(p.rpm / 50) * 50}` : KINDS[p.kind]

/** Why a stretch does not count. */
export const REASONS: Readonly<Record<LeftOut['reason'], readonly [short: string, sentence: string]>> = {
  gap: ['gap', 'No row came: no stretch reaches over it.'],
  'engine-off': ['off', 'The engine stands.'],
  cold: ['cold', 'The coolant is below 75 °C: enrichment moves the trims.'],
  'open-loop': ['open loop', 'The mixture is not under control: the trims stand still or tell nothing.'],
  purge: ['purge', 'Vapour is being purged, and the trims go with it.'],
  rolling: ['rolling', 'Slower than 30 km/h, and not standing: between cruise and idle.'],
  unsteady: ['moving', 'Speed or airflow moved, or it was not held for eight seconds after settling.'],
}

/** How another recording is laid under this one. */
export const LAID: Readonly<Record<Alignment, string>> = {
  time: 'from the start',
  stretches: 'stretch on stretch',
  speed: 'speed on speed',
}

/** Said where no stretch of a recording counts. */
export const NOTHING_HELD = 'Nothing was held steady, warm and in closed loop for eight seconds.'

/** Said of stretches that a person chose. */
export const AS_CHOSEN = 'These stretches were chosen by hand.'

/** How a hand looks closer, and changes what counts. */
export const HOW_TO_LOOK =
  'Drag over a chart to look closer, double tap for the whole. An open stretch has ends to pull.'
