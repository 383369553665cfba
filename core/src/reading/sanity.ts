import { QUANTITIES, type Unit } from '../units/index.js'
import { maybeChannel, type ChannelId } from '../signals/index.js'
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
  lambda1: { low: 0.6, high: 2 },
  lambda2: { low: 0.6, high: 2 },
  lambda_cmd: { low: 0.6, high: 2 },
}

/** The band of a channel's middle in a running car; without one of its own what is physics. */
export function usually(id: ChannelId): Usual {
  const { min, max } = maybeChannel(id)!
  return USUAL[id] ?? { low: min, high: max }
}

const SHORT: readonly ChannelId[] = ['stft1_pct', 'stft2_pct']
const TRIMS: readonly ChannelId[] = [...SHORT, 'ltft1_pct', 'ltft2_pct']
/** A trim written as what the fuel is multiplied by: 1 is none, or a hundred. */
const FACTOR: Unit = { symbol: 'a factor', factor: 100, offset: -100, decimals: 1, alias: [] }
const HUNDRED: Unit = { symbol: 'a share of the fuel', factor: 1, offset: -100, decimals: 1, alias: [] }
/** A trim written as a share of one. */
const SHARE: Unit = { symbol: 'a share of one', factor: 100, offset: 0, decimals: 1, alias: [] }
/** How they are told: what no correction is, and how far corrections reach. */
const WRITTEN = [
  { unit: FACTOR, none: 1, reach: 0.3 },
  { unit: HUNDRED, none: 100, reach: 30 },
  { unit: SHARE, none: 0, reach: 0.35 },
] as const
/** Step in which a trim of J1979 is written, as a share, and how far rounding takes it: small percentages stand anywhere. */
const TRIM_STEP = { share: 1 / 128, off: 0.0006 }
const isStep = (x: number): boolean =>
  x !== x || Math.abs(x - TRIM_STEP.share * Math.round(x / TRIM_STEP.share)) <= TRIM_STEP.off
const FACTOR_NAMED = /\b(factor|faktor|facteur|fattore|multiplier|ratio)\b/i
/** Rows below which nothing is told of how trims are written. */
const ENOUGH = 20

/** How the trims of a table are written, and what no correction is then. */
export type TrimsWritten = (typeof WRITTEN)[number]

/**
 * Whether the trims of a table are factors, or shares of the fuel: by their name, or because no short trim ever leaves the
 * neighbourhood of 1 or of a hundred, which one in percent does all the time.
 */
export function trimsWritten(
  columns: readonly { readonly id: ChannelId; readonly label: string; readonly values: Float64Array }[],
): TrimsWritten | undefined {
  const trims = columns.filter((c) => TRIMS.includes(c.id) && c.values.some((x) => x === x))
  if (!trims.length) return undefined
  return WRITTEN.find(({ unit, none, reach }) => {
    // blank or near: most tables in percent are told by their first rows
    const near = (x: number): boolean => x !== x || Math.abs(x - none) <= reach
    if (!trims.every(({ values }) => values.every(near))) return false
    if (unit === SHARE && !trims.every(({ values }) => values.every(isStep))) return false
    if (unit === FACTOR && trims.some((c) => FACTOR_NAMED.test(c.label))) return true
    return trims.some(({ id, values }) => {
      const there = SHORT.includes(id) ? values.filter((x) => !Number.isNaN(x)) : []
      return there.length >= ENOUGH && new Set(there).size > 2
    })
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

/** Units that a scan tool hardly ever writes, where another fits too. */
const SELDOM: readonly string[] = ['mmHg', 'cmHg']

/**
 * Whether values without a named unit look like another unit of their quantity: inHg read as kPa, °F as °C.
 * @returns the unit they are in, or undefined when they fit as they are or fit nothing
 */
export function unitByValue(column: Column, values: Float64Array): Unit | undefined {
  const usual = USUAL[column.channel.id]
  const mid = usual && middle(values)
  if (!usual || mid === undefined || (mid >= usual.low && mid <= usual.high)) return undefined
  const fitting = otherUnits(column, mid, usual)
  return fitting.find((u) => !SELDOM.includes(u.symbol)) ?? fitting.at(0)
}

const otherUnits = (column: Column, mid: number, { low, high }: Usual): readonly Unit[] =>
  QUANTITIES[column.channel.quantity].units.filter((u) => {
    const x = mid * u.factor + (u.offset ?? 0)
    return u !== column.unit && x >= low && x <= high
  })

/** The unit of one temperature without a named one, where another's values told it: a tool writes them all alike. */
export function alikeTemperature(column: Column, values: Float64Array, told: readonly Unit[]): Unit | undefined {
  const usual = USUAL[column.channel.id]
  const mid = usual && middle(values)
  if (column.channel.quantity !== 'temperature' || mid === undefined) return undefined
  return otherUnits(column, mid, usual!).find((u) => told.includes(u))
}

/** An engine was driven so that its throttle was wide open at some moment, or nearly: speed without load, load, pressure. */
const DRIVEN = { rpm: 3000, load_pct: 70, map_kpa: 75 } as const
/** A throttle's voltage lies between these [V]; a share ends at 1, and a little more by its sensor. */
const VOLTAGE = { low: 0.2, high: 5.1 }
const WHOLE_SHARE = 1.05
/** Step in which an opening of J1979 is written [%], and how far rounding takes it. */
const OPENING_STEP = { pct: 100 / 255, off: 0.06 }

/** The least and the most of what is there. */
function endsOf(xs: Float64Array | undefined): readonly [number, number] {
  let [low, high] = [Infinity, -Infinity]
  for (const x of xs ?? []) {
    if (x < low) low = x
    if (x > high) high = x
  }
  return [low, high]
}

/**
 * What a throttle's figures without a named unit are where they are no percent: however hard the engine was driven they stay
 * below 1, or below 5.
 */
export function openingWritten(
  columns: Readonly<Partial<Record<ChannelId, Float64Array>>>,
): 'share' | 'voltage' | undefined {
  const values = columns.throttle_pct
  const isDriven = Object.entries(DRIVEN).some(([id, least]) => endsOf(columns[id as ChannelId])[1] >= least)
  if (!values || !isDriven) return undefined
  const [low, high] = endsOf(values)
  if (high <= WHOLE_SHARE) return low < high ? 'share' : undefined
  const inSteps = (x: number): boolean =>
    x !== x || Math.abs(x - OPENING_STEP.pct * Math.round(x / OPENING_STEP.pct)) <= OPENING_STEP.off
  return low >= VOLTAGE.low && high <= VOLTAGE.high && !values.every(inSteps) ? 'voltage' : undefined
}
