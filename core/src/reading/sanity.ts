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
 * @returns the unit they are in, or undefined when they fit as they are or fit nothing
 */
export function unitByValue(column: Column, values: Float64Array): Unit | undefined {
  const usual = USUAL[column.channel.id]
  const mid = usual && middle(values)
  if (!usual || mid === undefined || (mid >= usual.low && mid <= usual.high)) return undefined
  return QUANTITIES[column.channel.quantity].units.find((u) => {
    const x = mid * u.factor + (u.offset ?? 0)
    return u !== column.unit && x >= usual.low && x <= usual.high
  })
}
