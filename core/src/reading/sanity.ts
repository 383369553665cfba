import { QUANTITIES, type Unit } from '../units/index.js'
import type { ChannelId } from '../signals/index.js'
import type { Column } from './sniff.js'

/** Where the middle of a channel's values lies in a running car, canonical; and where a unit is told by it. */
interface Usual {
  readonly low: number
  readonly high: number
}

/**
 * Bands in which the middle of a recording lies, whatever the engine does: barometer from a pass to the sea, manifold pressure
 * of throttled and of boosted engines, coolant and intake air from a frosty start to a hot day. Ours, wide on purpose.
 */
const USUAL: Partial<Record<ChannelId, Usual>> = {
  baro_kpa: { low: 60, high: 108 },
  map_kpa: { low: 17, high: 220 },
  charge_kpa: { low: 60, high: 280 },
  ect_c: { low: -30, high: 118 },
  iat_c: { low: -30, high: 75 },
  maf_gs: { low: 0.9, high: 120 },
  battery_v: { low: 9, high: 16 },
}

const SHORT: readonly ChannelId[] = ['stft1_pct', 'stft2_pct']
const TRIMS: readonly ChannelId[] = [...SHORT, 'ltft1_pct', 'ltft2_pct']
/** A trim written as what the fuel is multiplied by: 1 is none. */
export const FACTOR: Unit = { symbol: 'a factor', factor: 100, offset: -100, decimals: 1, alias: [] }
const FACTORS = { low: 0.7, high: 1.3 }
const FACTOR_NAMED = /\b(factor|faktor|facteur|fattore|multiplier|ratio)\b/i
/** Rows below which nothing is told of how trims are written. */
const ENOUGH = 20

/**
 * Whether the trims of a table are factors: by their name, or because no short trim ever leaves the neighbourhood of 1, which
 * one in percent does all the time.
 */
export function trimsAsFactors(
  columns: readonly { readonly id: ChannelId; readonly label: string; readonly values: Float64Array }[],
): boolean {
  const trims = columns.filter((c) => TRIMS.includes(c.id) && c.values.some((x) => x === x))
  // blank or near 1: most tables in percent are told by their first rows
  const near = (x: number): boolean => x !== x || (x >= FACTORS.low && x <= FACTORS.high)
  if (!trims.length || !trims.every(({ values }) => values.every(near))) return false
  if (trims.some((c) => FACTOR_NAMED.test(c.label))) return true
  return trims.some(({ id, values }) => {
    const there = SHORT.includes(id) ? values.filter((x) => !Number.isNaN(x)) : []
    return there.length >= ENOUGH && new Set(there).size > 2
  })
}

/** The middle of the values that are there, or undefined. */
function middle(xs: Float64Array): number | undefined {
  const every = Math.max(1, Math.floor(xs.length / 2000))
  const list: number[] = []
  for (let i = 0; i < xs.length; i += every) if (!Number.isNaN(xs[i])) list.push(xs[i])
  if (list.length < 2) return undefined
  list.sort((a, b) => a - b)
  return list[list.length >> 1]
}

/**
 * Whether values without a named unit look like another unit of their quantity: inHg read as kPa, °F as °C.
 * @param factors - whether trims are written as factors
 * @returns the unit they are in, or undefined when they fit as they are or fit nothing
 */
export function unitByValue(column: Column, values: Float64Array, factors = false): Unit | undefined {
  if (factors && TRIMS.includes(column.channel.id)) return FACTOR
  const usual = USUAL[column.channel.id]
  const mid = usual && middle(values)
  if (!usual || mid === undefined || (mid >= usual.low && mid <= usual.high)) return undefined
  return QUANTITIES[column.channel.quantity].units.find((u) => {
    const x = mid * u.factor + (u.offset ?? 0)
    return u !== column.unit && x >= usual.low && x <= usual.high
  })
}
