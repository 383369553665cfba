import { formatIn, maybeChannel, SLOTS, stationInfo, type ReadingRecord, type StationId } from '@uvula/core'
import type { WriteNoun } from '@uvula/contract'
import type { Unit } from '@uvula/core'

/** What each noun's entries are called. */
const NOUN_WORDS: Readonly<Record<WriteNoun, string>> = {
  vehicles: 'the car',
  visits: 'the visit',
  readings: 'a reading',
  findings: 'a look or test',
  repairs: 'a repair',
  recordings: 'a recording',
  photos: 'a photo',
  reports: 'the sheet',
  items: 'a thing taken off',
  counts: 'a count',
  steps: 'a surface cleaned',
  ticks: 'a STOP tick',
  runs: 'a timed run',
  timers: 'a timer',
  codes: 'a code',
  balances: 'a balance',
  quotes: 'the quote',
  procedures: 'a procedure',
  fills: 'a fill',
}

type Fields = Readonly<Record<string, unknown>>
const textOf = (x: unknown): string | undefined => (typeof x === 'string' && x !== '' ? x : undefined)
const stationOf = (r: Fields): string => (r.station ? stationInfo(r.station as StationId).label : '')

/** Which entry it is, in words: "engine speed at warm idle". */
export function entryName(noun: WriteNoun, data: Fields): string {
  if (noun === 'readings') {
    const { channel, slot } = data as unknown as ReadingRecord
    return `${maybeChannel(channel)?.label ?? channel}, ${SLOTS[slot]?.label ?? slot}`
  }
  const thing = textOf(data.thing) ?? textOf(data.name) ?? textOf(data.code) ?? textOf(data.label)
  return [thing ?? NOUN_WORDS[noun], stationOf(data)].filter(Boolean).join(', ')
}

/** What an entry says, in words; a reading in the unit that is shown everywhere. */
export function entryValue(noun: WriteNoun, data: Fields, unitOfReading?: Unit): string {
  if (data.deleted === true) return 'taken off'
  switch (noun) {
    case 'readings':
      return unitOfReading
        ? `${formatIn(data.value as number, unitOfReading)} ${unitOfReading.symbol}`
        : String(data.typed)
    case 'counts':
      return `${String(data.putIn)} in, ${String(data.takenOut)} out`
    case 'items':
      return `${String(data.count)}, ${String(data.state)}`
    default:
      return (
        textOf(data.note) ??
        textOf(data.outcome) ??
        textOf(data.kind) ??
        textOf(data.state) ??
        textOf(data.complaint) ??
        textOf(data.plate) ??
        textOf(data.product) ??
        ''
      )
  }
}
