import { readCell, readClock, readLoop, readNumber } from './cells.js'
import { textOf } from './encoding.js'
import type { Column, Layout } from './sniff.js'

/** Rows read from the body of a table. */
export interface Body {
  rows: number
  readonly columns: readonly Float64Array[]
  /** Times as they stand, before they are put in order; seconds, milliseconds or a clock's. */
  readonly times: Float64Array
  /** Some time was written as a clock's. */
  clock: boolean
  /** Cells outside physics or not understood, rows without a time, rows that break off, headers that come again. */
  dropped: number
  untimed: number
  short: number
  headers: number
  /** The first cell that was not understood: its line, column and text. */
  odd?: { readonly line: number; readonly label: string; readonly text: string }
}

/** Bytes after which progress is told. */
const TELL_EVERY = 1 << 22
const QUOTE = 34
const [LF, CR, SPACE, PLUS, MINUS, POINT, COMMA, ZERO] = [10, 13, 32, 43, 45, 46, 44, 48]
const TENTHS = Float64Array.from({ length: 23 }, (_, i) => 10 ** i)
/** Digits that a double holds exactly. */
const EXACT_DIGITS = 15

/**
 * Reads the rows of a table from its bytes. A cell that is a plain number is read where it stands; everything else (units,
 * words, clocks, quotes, exponents) goes through text. Where the unit is a guess, what is physics is decided later. A quote that is never closed ends with its line.
 * @param tell - called now and then with the share that is read
 */
export function readBody(bytes: Uint8Array, layout: Layout, tell?: (share: number) => void): Body {
  const delimiter = layout.delimiter.charCodeAt(0)
  const timeAt = layout.columns.find((c) => c.channel.id === 'time_s')!.at
  const wanted = layout.columns.filter((c) => c.channel.id !== 'time_s')
  const width = layout.header.length
  /** Index into `wanted` by place; −1 not wanted, −2 the time. */
  const target = new Int16Array(width + 1).fill(-1)
  wanted.forEach((c, k) => (target[c.at] = k))
  target[timeAt] = -2
  const need = Math.ceil(layout.columns.length / 2)
  let room = estimateRows(bytes, layout.bodyAt)
  const columns: Float64Array[] = wanted.map(() => new Float64Array(room))
  let times: Float64Array = new Float64Array(room)
  let rows = 0
  const factor = Float64Array.from(wanted, (c) => c.unit.factor)
  const offset = Float64Array.from(wanted, (c) => c.unit.offset ?? 0)
  const low = Float64Array.from(wanted, (c) => (c.unitAssumed ? -Infinity : c.channel.min))
  const high = Float64Array.from(wanted, (c) => (c.unitAssumed ? Infinity : c.channel.max))
  const loop = wanted.findIndex((c) => c.channel.id === 'fuel_status')
  const comma = layout.decimalComma
  const body: Body = { rows: 0, columns, times, clock: false, dropped: 0, untimed: 0, short: 0, headers: 0 }
  const n = bytes.length
  const words = new Words(bytes, layout, wanted)
  const row = new Float64Array(wanted.length)
  const plain = new Float64Array(1)
  let line = layout.bodyLine - 1
  let at = layout.bodyAt
  let told = at + TELL_EVERY
  while (at < n) {
    line++
    // a row, cell by cell
    let cell = 0
    let time = NaN
    let seenTime = false
    let cellsDropped = 0
    row.fill(NaN)
    let i = at
    let ended = false
    while (!ended) {
      const place = cell < width ? target[cell] : -1
      if (place === -1) {
        if (bytes[i] === QUOTE) i = closing(bytes, i, n)
        while (i < n && bytes[i] !== delimiter && bytes[i] !== LF) i++
      } else {
        const from = i
        const stop = plainNumber(bytes, i, n, delimiter, comma, plain)
        if (stop >= 0) {
          i = stop
          const value = plain[0]
          if (place >= 0 && place !== loop) {
            const x = value * factor[place] + offset[place]
            if (x >= low[place] && x <= high[place]) row[place] = x
            else cellsDropped++
          } else if (place === loop) row[place] = loopOf(value)
          else {
            time = value
            seenTime = true
          }
        } else {
          if (bytes[i] === QUOTE) i = closing(bytes, i, n)
          while (i < n && bytes[i] !== delimiter && bytes[i] !== LF) i++
          const empty = i === from || (i - from === 1 && bytes[from] === CR)
          if (place === -2) {
            const t = textOf(bytes.subarray(from, i))
              .trim()
              .replace(/^"(.*)"$/, '$1')
            seenTime = t !== ''
            time = readNumber(t, comma)
            if (Number.isNaN(time)) {
              time = readClock(t)
              if (!Number.isNaN(time)) body.clock = true
            }
          } else if (!empty) {
            row[place] = words.read(from, i, place, line)
            cellsDropped += words.dropped
          }
        }
      }
      ended = i >= n || bytes[i] === LF
      i++
      cell++
    }
    at = i
    if (at > told) {
      tell?.(at / n)
      told = at + TELL_EVERY
    }
    if (cell === 1 && !seenTime) continue
    if (Number.isNaN(time)) {
      if (isHeaderAgain(bytes, at, layout.header[timeAt])) body.headers++
      else body.untimed++
      continue
    }
    // cut off by the file's end: its last figure may be half of one
    if (cell < need || (cell < width && at > n)) {
      body.short++
      continue
    }
    body.dropped += cellsDropped
    if (rows === room) {
      room = Math.ceil(room * 1.5) + 16
      times = longer(times, room)
      for (let k = 0; k < columns.length; k++) columns[k] = longer(columns[k], room)
    }
    times[rows] = time
    for (let k = 0; k < columns.length; k++) columns[k][rows] = row[k]
    rows++
  }
  return {
    ...body,
    rows,
    columns: columns.map((x) => x.subarray(0, rows)),
    times: times.subarray(0, rows),
    odd: words.odd,
  }
}

/** Longer by half. */
function longer(xs: Float64Array, room: number): Float64Array {
  const more = new Float64Array(room)
  more.set(xs)
  return more
}

/** Whether the line that ends here is the header once more. */
function isHeaderAgain(bytes: Uint8Array, end: number, label: string): boolean {
  let start = end - 2
  while (start > 0 && bytes[start - 1] !== LF) start--
  return label !== '' && textOf(bytes.subarray(start, end)).includes(label)
}

/** Cells that are no plain numbers: words, units, quotes. One that stands in row after row is read once. */
class Words {
  /** What the last cell held that cannot be used: 1, else 0. */
  dropped = 0
  odd: Body['odd']
  private readonly from: Float64Array
  private readonly to: Float64Array
  private readonly value: Float64Array
  private readonly lost: Uint8Array

  constructor(
    private readonly bytes: Uint8Array,
    private readonly layout: Layout,
    private readonly wanted: readonly Column[],
  ) {
    const n = wanted.length
    this.from = new Float64Array(n)
    this.to = new Float64Array(n)
    this.value = new Float64Array(n)
    this.lost = new Uint8Array(n)
  }

  read(from: number, to: number, place: number, line: number): number {
    if (!same(this.bytes, from, to, this.from[place], this.to[place])) {
      this.from[place] = from
      this.to[place] = to
      this.lost[place] = 0
      this.value[place] = this.figure(textOf(this.bytes.subarray(from, to)), place, line)
    }
    this.dropped = this.lost[place]
    return this.value[place]
  }

  private figure(text: string, place: number, line: number): number {
    const { channel, unit, at, unitAssumed } = this.wanted[place]
    if (channel.id === 'fuel_status') return readLoop(text)
    const cell = readCell(text, channel.quantity, unit, this.layout.decimalComma)
    if (cell.kind === 'missing') return NaN
    if (cell.kind === 'value' && (unitAssumed || (cell.value >= channel.min && cell.value <= channel.max)))
      return cell.value
    if (cell.kind === 'text') this.odd ??= { line, label: this.layout.header[at], text: text.trim().slice(0, 40) }
    this.lost[place] = 1
    return NaN
  }
}

/**
 * A plain number: spaces, sign, digits with one decimal mark, up to the end of its cell. Small, so that it is compiled early.
 * @param out - the value, when it is one
 * @returns where the cell ends, or −1 when it is anything else (an empty cell too)
 */
function plainNumber(
  bytes: Uint8Array,
  start: number,
  n: number,
  delimiter: number,
  comma: boolean,
  out: Float64Array,
): number {
  let i = start
  let b = bytes[i]
  while (b === SPACE) b = bytes[++i]
  const negative = b === MINUS
  if (negative || b === PLUS) b = bytes[++i]
  const first = i
  let mantissa = 0
  let point = -1
  for (; ; b = bytes[++i]) {
    const digit = b - ZERO
    if (digit >= 0 && digit <= 9) mantissa = mantissa * 10 + digit
    else if (point < 0 && (b === POINT || (comma && b === COMMA))) point = i
    else break
  }
  const digits = i - first - (point < 0 ? 0 : 1)
  if (digits < 1 || digits > EXACT_DIGITS) return -1
  const decimals = point < 0 ? 0 : i - point - 1
  while (b === SPACE || b === CR) b = bytes[++i]
  if (i < n && b !== delimiter && b !== LF) return -1
  const value = decimals > 0 ? mantissa / TENTHS[decimals] : mantissa
  out[0] = negative ? -value : value
  return i
}

/** Whether two stretches hold the same bytes; an empty one is like none. */
function same(bytes: Uint8Array, a: number, aEnd: number, b: number, bEnd: number): boolean {
  if (aEnd - a !== bEnd - b || b === bEnd) return false
  for (let i = 0; a + i < aEnd; i++) if (bytes[a + i] !== bytes[b + i]) return false
  return true
}

/** After the quote that closes a cell, or its own place when none does on the line. */
function closing(bytes: Uint8Array, from: number, n: number): number {
  let i = from + 1
  while (i < n && bytes[i] !== LF) {
    if (bytes[i] === QUOTE) {
      if (bytes[i + 1] !== QUOTE) return i + 1
      i++
    }
    i++
  }
  return from
}

/** Fuel system status as a number: 2 is closed, so is a flag of 1. */
const loopOf = (x: number): number => (x === 1 || x === 2 || x === 16 ? 1 : x === 0 || x === 4 || x === 8 ? 0 : NaN)

/** Rows by the length of the first hundred lines, and some room. */
function estimateRows(bytes: Uint8Array, from: number): number {
  let at = from
  let lines = 0
  while (lines < 100) {
    const next = bytes.indexOf(LF, at)
    if (next < 0) break
    at = next + 1
    lines++
  }
  return lines < 100 ? lines + 2 : Math.ceil((1.02 * (bytes.length - from) * lines) / (at - from)) + 16
}
