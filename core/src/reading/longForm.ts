import Papa from 'papaparse'
import { maybeChannel, type ChannelId } from '../signals/index.js'
import { QUANTITIES } from '../units/index.js'
import { readCell, readClock, readLoop, readNumber, unitNamed } from './cells.js'
import { textOf } from './encoding.js'
import { matchesOf, SURE_SCORE } from './labelMatch.js'
import type { Layout, Mapping } from './sniff.js'

/** A table of one value a line: time, channel, value. */
export interface LongBody {
  readonly times: Float64Array
  readonly clock: boolean
  readonly columns: ReadonlyMap<ChannelId, Float64Array>
  readonly dropped: number
  /** Names that were not understood. */
  readonly unknown: readonly string[]
}

/** Reads the long form; values of one time stand in one row. */
export function readLong(bytes: Uint8Array, layout: Layout, mapping: Mapping): LongBody {
  const { time: timeAt, name: nameAt, value: valueAt, unit: unitAt } = layout.long!
  const lines = Papa.parse<string[]>(textOf(bytes.subarray(layout.bodyAt)), {
    delimiter: layout.delimiter,
    skipEmptyLines: true,
  }).data
  const meaning = new Map<string, ChannelId | undefined>()
  const met: { t: number; channel: ChannelId; value: number }[] = []
  let clock = false
  let dropped = 0
  for (const cells of lines) {
    const label = cells[nameAt]?.trim() ?? ''
    if (!meaning.has(label)) meaning.set(label, meaningOf(label, mapping))
    const channel = meaning.get(label)
    if (!channel) continue
    const text = cells[timeAt] ?? ''
    let t = readNumber(text, layout.decimalComma)
    if (Number.isNaN(t)) {
      t = readClock(text)
      clock ||= !Number.isNaN(t)
    }
    const info = maybeChannel(channel)!
    const named = unitAt === undefined ? undefined : unitNamed(info.quantity, cells[unitAt] ?? '')
    const bracket = /[([]([^)\]]*)[)\]]/.exec(label)?.[1]
    const unit =
      named ?? (bracket ? unitNamed(info.quantity, bracket) : undefined) ?? QUANTITIES[info.quantity].units[0]
    const cell =
      channel === 'fuel_status'
        ? { kind: 'value' as const, value: readLoop(cells[valueAt] ?? '') }
        : readCell(cells[valueAt] ?? '', info.quantity, unit, layout.decimalComma)
    if (cell.kind === 'missing') continue
    const value = cell.kind === 'value' ? cell.value : NaN
    if (!(value >= info.min && value <= info.max) || Number.isNaN(t)) {
      dropped++
      continue
    }
    met.push({ t, channel, value })
  }
  const entries = inOrder(met)
  const times: number[] = []
  const rows = entries.map(({ t }) => {
    if (times.at(-1) !== t) times.push(t)
    return times.length - 1
  })
  const columns = new Map<ChannelId, Float64Array>()
  entries.forEach((e, i) => {
    let xs = columns.get(e.channel)
    if (!xs) columns.set(e.channel, (xs = new Float64Array(times.length).fill(NaN)))
    xs[rows[i]] = e.value
  })
  const unknown = [...meaning].filter(([, id]) => id === undefined).map(([label]) => label)
  return { times: Float64Array.from(times), clock, columns, dropped, unknown }
}

/** Values in the order of their times, where each channel's own rise: one channel after the other is no clock that goes backwards. */
function inOrder<T extends { readonly t: number; readonly channel: ChannelId }>(met: readonly T[]): readonly T[] {
  const last = new Map<ChannelId, number>()
  for (const { t, channel } of met) {
    if (t < (last.get(channel) ?? -Infinity)) return met
    last.set(channel, t)
  }
  return [...met].sort((a, b) => a.t - b.t)
}

function meaningOf(label: string, mapping: Mapping): ChannelId | undefined {
  const told = mapping[label]
  if (told !== undefined) return told === 'none' ? undefined : told
  const exact = maybeChannel(label.toLowerCase())
  if (exact) return exact.id
  const [best] = matchesOf(label)
  return best && best.score >= SURE_SCORE ? best.channel : undefined
}
