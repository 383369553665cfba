import {
  bandOf,
  narrowestBand,
  totalTrimPct,
  type Band,
  type BandPlace,
  type ChannelId,
  type SoundPoints,
} from '@uvula/core'
import type { LinkSample } from '@uvula/contract'

/** How long a value stands after it was read [s]. */
const STANDS_S = 5

/** The newest value of every channel that still stands. */
export function newestValues(samples: readonly LinkSample[]): Partial<Record<ChannelId, number>> {
  const out: Partial<Record<ChannelId, number>> = {}
  const last = samples.at(-1)
  if (!last) return out
  for (let i = samples.length - 1; i >= 0 && last.t - samples[i].t <= STANDS_S; i--)
    for (const [id, x] of Object.entries(samples[i].values) as [ChannelId, number][]) out[id] ??= x
  return out
}

/** A figure on the live bench. */
export interface Figure {
  readonly id: string
  readonly label: string
  readonly quantity: 'massFlow' | 'pressure' | 'ratio' | 'temperature' | 'voltage'
  readonly value: number | undefined
  readonly band: Band | undefined
  /** Smaller print under the name. */
  readonly note?: string
  /** The figure in one sample, for its strip. */
  readonly of: (values: LinkSample['values']) => number | undefined
}

/** The least height of a strip in its own unit, so that noise does not look like a swing. */
export const STRIP_SPAN: Readonly<Record<Figure['quantity'], number>> = {
  massFlow: 1.5,
  pressure: 8,
  ratio: 12,
  temperature: 10,
  voltage: 1,
}

type Values = Partial<Record<ChannelId, number>>

/**
 * What stands large, in the order in which it is looked at; only what this vehicle gives.
 * @param sound - records of this car and of cars like it, which narrow the bands as they do where figures are typed
 */
export function figuresOf(
  values: Values,
  given: readonly ChannelId[],
  place: BandPlace,
  sound: readonly SoundPoints[] = [],
): Figure[] {
  const has = (id: ChannelId): boolean => given.includes(id)
  const one = (id: ChannelId, label: string, quantity: Figure['quantity']): Figure[] =>
    has(id) ? [{ id, label, quantity, value: values[id], band: narrowestBand(id, place, sound), of: (x) => x[id] }] : []
  const trim = (bank: 1 | 2): Figure[] => {
    const [s, l] = [`stft${bank}_pct`, `ltft${bank}_pct`] as const
    if (!has(s)) return []
    const [short, long] = [values[s], values[l]]
    let held = long
    return [
      {
        id: `trim${bank}_pct`,
        label: `total trim ${bank}`,
        quantity: 'ratio',
        value: short === undefined || long === undefined ? undefined : totalTrimPct(short, long),
        note: long === undefined ? undefined : `long ${signed(long)}`,
        band: bandOf(s, place),
        // the long part is asked less often: what it last was stands
        of: (x) => {
          held = x[l] ?? held
          const now = x[s]
          return now === undefined || held === undefined ? undefined : totalTrimPct(now, held)
        },
      },
    ]
  }
  return [
    ...one('maf_gs', 'airflow', 'massFlow'),
    ...one('map_kpa', 'manifold pressure', 'pressure'),
    ...trim(1),
    ...trim(2),
    ...one('throttle_pct', 'throttle', 'ratio'),
    ...one('charge_kpa', 'charge pressure', 'pressure'),
    ...one('egr_pct', 'exhaust gas', 'ratio'),
    ...one('load_pct', 'load', 'ratio'),
    ...one('ect_c', 'coolant', 'temperature'),
    ...one('battery_v', 'supply', 'voltage'),
  ]
}

const signed = (x: number): string => `${x < 0 ? '−' : '+'}${Math.abs(x).toFixed(1)}`
