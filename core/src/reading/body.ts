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

/** Bytes read in one go: short, so that the hot loop is entered often and compiled for what it meets. */
const PIECE = 1 << 16
/** Pieces after which progress is told. */
const TELL_EVERY = 64
const [LF, CR, SPACE, QUOTE, PLUS, MINUS, POINT, COMMA, ZERO] = [10, 13, 32, 34, 43, 45, 46, 44, 48]
const TENTHS = Float64Array.from({ length: 10 }, (_, i) => 10 ** i)
/** Digits that a 32-bit whole number holds whatever they are; longer ones go through text. */
const FAST_DIGITS = 9
/** Places of `target` that hold no channel. */
const ASIDE = -1
const TIME = -2
const LOOP = -3

/**
 * Reads the rows of a table from its bytes. A cell that is a plain number is read where it stands; everything else (units,
 * words, clocks, quotes, exponents) goes through text. Where the unit is a guess, what is physics is decided later. A quote
 * that is never closed ends with its line.
 * @param tell - called now and then with the share that is read
 */
export function readBody(bytes: Uint8Array, layout: Layout, tell?: (share: number) => void): Body {
  const reader = new BodyReader(bytes, layout)
  const end = bytes.lastIndexOf(LF) + 1
  for (let at = layout.bodyAt, n = 1; at < end; n++) {
    // pieces of whole lines
    let to = Math.min(end, at + PIECE)
    to = bytes.lastIndexOf(LF, to - 1) + 1
    if (to <= at) to = bytes.indexOf(LF, at) + 1
    reader.lines(bytes, at, to, false)
    at = to
    if (n % TELL_EVERY === 0) tell?.(at / bytes.length)
  }
  const from = Math.max(end, layout.bodyAt)
  if (from < bytes.length) {
    // the last line without its end: the reader relies on one
    const last = new Uint8Array(bytes.length - from + 1)
    last.set(bytes.subarray(from))
    last[last.length - 1] = LF
    reader.lines(last, 0, last.length, true)
  }
  return reader.done()
}

class BodyReader {
  private readonly wanted: readonly Column[]
  private readonly target: Int16Array
  /** Factor, offset, lowest and highest of each column, side by side. */
  private readonly scale: Float64Array
  private readonly loop: number
  private readonly timeAt: number
  private readonly columns: Float64Array[]
  private times: Float64Array
  private rows = 0
  /** Of the line that is being read. */
  private time = NaN
  private lost = 0
  private readonly delimiter: number
  private readonly decimal: number
  private readonly width: number
  private readonly need: number
  private room: number
  private line: number
  private clock = false
  private dropped = 0
  private untimed = 0
  private short = 0
  private headers = 0
  private readonly words: Words

  constructor(
    bytes: Uint8Array,
    private readonly layout: Layout,
  ) {
    this.timeAt = layout.columns.find((c) => c.channel.id === 'time_s')!.at
    const wanted = layout.columns.filter((c) => c.channel.id !== 'time_s')
    this.wanted = wanted
    this.target = new Int16Array(layout.header.length + 1).fill(ASIDE)
    wanted.forEach((c, k) => (this.target[c.at] = k))
    this.target[this.timeAt] = TIME
    this.scale = Float64Array.from(
      wanted.flatMap(({ unit, unitAssumed, channel }) => [
        unit.factor,
        unit.offset ?? 0,
        unitAssumed ? -Infinity : channel.min,
        unitAssumed ? Infinity : channel.max,
      ]),
    )
    this.loop = wanted.findIndex((c) => c.channel.id === 'fuel_status')
    if (this.loop >= 0) this.target[wanted[this.loop].at] = LOOP
    this.delimiter = layout.delimiter.charCodeAt(0)
    this.decimal = layout.decimalComma ? COMMA : POINT
    this.width = layout.header.length
    this.need = Math.ceil(layout.columns.length / 2)
    this.room = estimateRows(bytes, layout.bodyAt)
    this.columns = wanted.map(() => new Float64Array(this.room))
    this.times = new Float64Array(this.room)
    this.line = layout.bodyLine - 1
    this.words = new Words(layout, wanted)
  }

  /** Reads lines that end where `to` does. @param cut - it is the file's last line, and may be broken off */
  lines(bytes: Uint8Array, from: number, to: number, cut: boolean): void {
    const { target, width } = this
    let i = from
    while (i < to) {
      const start = i
      let cell = 0
      this.line++
      this.time = NaN
      this.lost = 0
      if (this.rows === this.room) this.grow()
      do {
        i = this.cell(bytes, i, cell < width ? target[cell] : ASIDE) + 1
        cell++
      } while (bytes[i - 1] !== LF)
      if (cell < width || this.time !== this.time) {
        if (!this.isRow(bytes, start, i, cell, cut)) continue
      }
      this.dropped += this.lost
      this.times[this.rows++] = this.time
    }
  }

  /** Reads one cell into the present row. @returns where it ends */
  private cell(bytes: Uint8Array, begin: number, place: number): number {
    const { delimiter, decimal } = this
    if (place === ASIDE) return cellEnd(bytes, begin, delimiter)
    // the plain case: spaces, sign, digits with one decimal mark
    let i = begin
    let b = bytes[i]
    while (b === SPACE) b = bytes[++i]
    const negative = b === MINUS
    if (negative || b === PLUS) b = bytes[++i]
    let mantissa = 0
    let digits = 0
    let decimals = 0
    let digit = b - ZERO
    while (digit >= 0 && digit <= 9) {
      mantissa = (mantissa * 10 + digit) | 0
      digits++
      b = bytes[++i]
      digit = b - ZERO
    }
    if ((b === POINT || b === decimal) && b !== delimiter) {
      b = bytes[++i]
      digit = b - ZERO
      while (digit >= 0 && digit <= 9) {
        mantissa = (mantissa * 10 + digit) | 0
        decimals++
        b = bytes[++i]
        digit = b - ZERO
      }
      digits += decimals
    }
    while (b === SPACE || b === CR) b = bytes[++i]
    if ((b !== delimiter && b !== LF) || digits === 0 || digits > FAST_DIGITS) return this.word(bytes, begin, place)
    const value = (negative ? -mantissa : mantissa) / TENTHS[decimals]
    if (place === TIME) this.time = value
    else if (place === LOOP) this.columns[this.loop][this.rows] = loopOf(value)
    else {
      const k = place << 2
      const { scale } = this
      const x = value * scale[k] + scale[k + 1]
      const inside = x >= scale[k + 2] && x <= scale[k + 3]
      this.columns[place][this.rows] = inside ? x : NaN
      if (!inside) this.lost++
    }
    return i
  }

  /** A cell that is no plain number. @returns where it ends */
  private word(bytes: Uint8Array, begin: number, place: number): number {
    const end = cellEnd(bytes, begin, this.delimiter)
    const empty = end === begin || (end - begin === 1 && bytes[begin] === CR)
    if (place === TIME) {
      const text = textOf(bytes.subarray(begin, end))
      this.time = empty ? NaN : this.timeOf(text.trim().replace(/^"(.*)"$/, '$1'))
      return end
    }
    const k = place === LOOP ? this.loop : place
    this.columns[k][this.rows] = empty ? NaN : this.words.read(bytes, begin, end, k, this.line)
    if (!empty) this.lost += this.words.dropped
    return end
  }

  /** Whether a line that lacks cells or a time is a row all the same; counts it where it is not. */
  private isRow(bytes: Uint8Array, from: number, to: number, cells: number, cut: boolean): boolean {
    const { wanted, target, loop, width } = this
    if (cells === 1 && to - from < 3) return false
    if (Number.isNaN(this.time)) {
      if (isHeaderAgain(bytes, from, to, this.layout.header[this.timeAt])) this.headers++
      else this.untimed++
      return false
    }
    // cut off by the file's end: its last figure may be half of one
    if (cells < this.need || (cut && cells < width)) {
      this.short++
      return false
    }
    for (const c of wanted)
      if (c.at >= cells) this.columns[target[c.at] === LOOP ? loop : target[c.at]][this.rows] = NaN
    return true
  }

  done(): Body {
    const { rows, clock, dropped, untimed, short, headers } = this
    return {
      rows,
      columns: this.columns.map((x) => x.subarray(0, rows)),
      times: this.times.subarray(0, rows),
      clock,
      dropped,
      untimed,
      short,
      headers,
      odd: this.words.odd,
    }
  }

  private timeOf(text: string): number {
    const plain = readNumber(text, this.layout.decimalComma)
    if (!Number.isNaN(plain)) return plain
    const clock = readClock(text)
    this.clock ||= !Number.isNaN(clock)
    return clock
  }

  private grow(): void {
    this.room = Math.ceil(this.room * 1.5) + 16
    this.times = longer(this.times, this.room)
    for (let k = 0; k < this.columns.length; k++) this.columns[k] = longer(this.columns[k], this.room)
  }
}

/** Where a cell ends: at its delimiter or line end; a quote that is closed on its line hides both. */
function cellEnd(bytes: Uint8Array, from: number, delimiter: number): number {
  let i = from
  if (bytes[i] === QUOTE) {
    let k = i + 1
    while (bytes[k] !== LF && (bytes[k] !== QUOTE || bytes[k + 1] === QUOTE)) k += bytes[k] === QUOTE ? 2 : 1
    if (bytes[k] === QUOTE) i = k + 1
  }
  while (bytes[i] !== delimiter && bytes[i] !== LF) i++
  return i
}

/** Longer by half. */
function longer(xs: Float64Array, room: number): Float64Array {
  const more = new Float64Array(room)
  more.set(xs)
  return more
}

/** Whether a line is the header once more. */
const isHeaderAgain = (bytes: Uint8Array, from: number, to: number, label: string): boolean =>
  label !== '' && textOf(bytes.subarray(from, to)).includes(label)

/** Cells that are no plain numbers: words, units, quotes. One that stands in row after row is read once. */
class Words {
  /** What the last cell held that cannot be used: 1, else 0. */
  dropped = 0
  odd: Body['odd']
  private bytes: Uint8Array | undefined
  private readonly from: Float64Array
  private readonly to: Float64Array
  private readonly value: Float64Array
  private readonly lost: Uint8Array

  constructor(
    private readonly layout: Layout,
    private readonly wanted: readonly Column[],
  ) {
    const n = wanted.length
    this.from = new Float64Array(n)
    this.to = new Float64Array(n)
    this.value = new Float64Array(n)
    this.lost = new Uint8Array(n)
  }

  read(bytes: Uint8Array, from: number, to: number, place: number, line: number): number {
    if (bytes !== this.bytes || !same(bytes, from, to, this.from[place], this.to[place])) {
      if (bytes !== this.bytes) this.to.fill(0)
      this.bytes = bytes
      this.from[place] = from
      this.to[place] = to
      this.lost[place] = 0
      this.value[place] = this.figure(textOf(bytes.subarray(from, to)), place, line)
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

/** Whether two stretches hold the same bytes; an empty one is like none. */
function same(bytes: Uint8Array, a: number, aEnd: number, b: number, bEnd: number): boolean {
  if (aEnd - a !== bEnd - b || b === bEnd) return false
  for (let i = 0; a + i < aEnd; i++) if (bytes[a + i] !== bytes[b + i]) return false
  return true
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
