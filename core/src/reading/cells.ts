import { QUANTITIES, toCanonical, type QuantityId, type Unit } from '../units/index.js'

/** What tools write where there is no value. */
const MISSING = /^(|-+|—|n\/?a|nan|null|none|nil|no data|not supported|unknown|#n\/a|\?|\.|inf|-inf)$/i
const CLOSED = /^(cl\b|closed|cl$|1$|2$|yes|true|on$|active)/i
const OPEN = /^(ol\b|open|0$|4$|8$|no$|false|off$)/i

/** A number as people and tools write it: decimal comma or point, groups of thousands, a real minus. NaN when it is none. */
export function readNumber(text: string, decimalComma: boolean): number {
  const t = text.trim().replace(/[\u2212\u2013]/g, '-')
  const m = /^[+-]?[\d.,'\u00a0\u202f ]*(?:[eE][+-]?\d+)?$/.exec(t)
  if (!m || !/\d/.test(t)) return NaN
  const plain = t.replace(/['\u00a0\u202f ]/g, '')
  const comma = plain.lastIndexOf(',')
  const point = plain.lastIndexOf('.')
  if (comma >= 0 && point >= 0) {
    // the later one is the decimal, the other groups thousands
    const group = comma > point ? /\./g : /,/g
    return Number(plain.replace(group, '').replace(',', '.'))
  }
  // beside decimal commas a point groups thousands: 1.250 revolutions
  if (decimalComma && /^[+-]?[1-9]\d{0,2}(\.\d{3})+$/.test(plain)) return Number(plain.replace(/\./g, ''))
  // in a table parted by commas 1,250 is a thousand and more; 2,5 is not
  if (comma >= 0 && !decimalComma && /^[+-]?\d{1,3}(,\d{3})+$/.test(plain)) return Number(plain.replace(/,/g, ''))
  if (comma >= 0) return decimalComma || plain.indexOf(',') === comma ? Number(plain.replace(',', '.')) : NaN
  return Number(plain)
}

/** What a cell that is not a plain number holds. */
export type Cell =
  { readonly kind: 'value'; readonly value: number } | { readonly kind: 'missing' } | { readonly kind: 'text' }

const bare = (x: string): string => x.toLowerCase().replace(/\s+/g, '')

const only = (symbol: string, factor: number, alias: readonly string[], offset?: number): Unit => ({
  symbol,
  factor,
  offset,
  decimals: 1,
  alias,
})

/** Units that some tools write and nobody reads on a gauge: brought into the canonical one, and chosen nowhere. */
const ONLY_READ: Readonly<Partial<Record<QuantityId, readonly Unit[]>>> = {
  pressure: [
    only('Pa', 0.001, ['pa', 'pascal']),
    only('MPa', 1000, ['mpa']),
    only('kg/cm²', 98.0665, ['kg/cm2', 'kg/cm²', 'kgf/cm2', 'kgf/cm²']),
    only('atm', 101.325, ['atm']),
  ],
  massFlow: [only('kg/s', 1000, ['kg/s', 'kg/sec']), only('kg/min', 1000 / 60, ['kg/min'])],
  temperature: [only('K', 1, ['k', 'kelvin', 'degk'], -273.15)],
  speed: [only('m/s', 3.6, ['m/s', 'm/sec', 'mps']), only('kn', 1.852, ['kn', 'kt', 'kts', 'knots'])],
  voltage: [only('mV', 0.001, ['mv', 'millivolt', 'millivolts'])],
  rotation: [only('1/s', 60, ['1/s', 'rps', 'rev/s', 'r/s'])],
}

const NAMED = new Map(
  Object.values(QUANTITIES).map((q) => [
    q.id,
    new Map([...(ONLY_READ[q.id] ?? []), ...q.units].flatMap((u) => u.alias.map((alias) => [alias, u] as const))),
  ]),
)

/** The unit that a word names within a quantity, or undefined. */
export const unitNamed = (quantity: QuantityId, word: string): Unit | undefined => NAMED.get(quantity)!.get(bare(word))

/** Reads a cell, its unit with it when it names one. @param unit - the column's own */
export function readCell(text: string, quantity: QuantityId, unit: Unit, decimalComma: boolean): Cell {
  const t = text
    .trim()
    .replace(/^"(.*)"$/, '$1')
    .trim()
  if (MISSING.test(t)) return { kind: 'missing' }
  const plain = readNumber(t, decimalComma)
  if (Number.isFinite(plain)) return { kind: 'value', value: toCanonical(plain, unit) }
  const m = /^([+\-\u2212]?[\d.,]+)\s*([^\d\s].*)$/.exec(t)
  const value = m ? readNumber(m[1], decimalComma) : NaN
  if (!m || !Number.isFinite(value)) return { kind: 'text' }
  const named = unitNamed(quantity, m[2])
  return named ? { kind: 'value', value: toCanonical(value, named) } : { kind: 'text' }
}

/** Loop state of a cell: 1 closed, 0 open, NaN when it does not say. Numbers: J1979 PID 03 (2 closed; 1, 4, 8 open) or a flag. */
export function readLoop(text: string): number {
  const t = text
    .trim()
    .replace(/^"(.*)"$/, '$1')
    .trim()
  return CLOSED.test(t) ? 1 : OPEN.test(t) ? 0 : NaN
}

/** Seconds of a clock time or a date with one, NaN when it is none; within a day: whoever reads a column looks after midnight. */
export function readClock(text: string): number {
  const m = /(\d{1,2}):(\d{2}):(\d{2}(?:[.,:]\d+)?)\s*(am|pm)?\s*(?:z|[+-]\d{2}:?\d{2})?"?\s*$/i.exec(text.trim())
  if (!m) return shortClock(text)
  const hour = (Number(m[1]) % (m[4] ? 12 : 24)) + (m[4]?.toLowerCase() === 'pm' ? 12 : 0)
  return hour * 3600 + Number(m[2]) * 60 + Number(m[3].replace(/[,:]/, '.'))
}

/** Seconds of a time that is written with its unit: "350 ms"; NaN when it is none. */
export function readSeconds(text: string, decimalComma: boolean): number {
  const m = /^([\d.,]+)\s*(ms|msec|s|sec|secs|seconds?|min)$/i.exec(text.trim())
  const scale = m && (/^ms/i.test(m[2]) ? 1e-3 : /^min/i.test(m[2]) ? 60 : 1)
  return m ? scale! * readNumber(m[1], decimalComma) : NaN
}

/** mm:ss.s, as stop watches write it. */
function shortClock(text: string): number {
  const m = /^"?(\d{1,3}):(\d{2}(?:[.,]\d+)?)"?$/.exec(text.trim())
  return m ? Number(m[1]) * 60 + Number(m[2].replace(',', '.')) : NaN
}
