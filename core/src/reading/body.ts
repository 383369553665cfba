import { readClock, readNumber, readSeconds } from './cells.js'
import { textOf } from './encoding.js'
import { newGrid, readGrid, type Grid } from './grid.js'
import type { Column, Layout } from './sniff.js'
import { Words, type OddCell } from './words.js'

/** Rows read from the body of a table. */
export interface Body {
  rows: number
  readonly columns: readonly Float64Array[]
  /** Times as they stand, before they are put in order; seconds, milliseconds or a clock's. */
  readonly times: Float64Array
  /** Some time was written as a clock's, or with its unit: it is in seconds. */
  clock: boolean
  /** Cells outside physics or not understood, rows without a time, rows that break off, headers that come again. */
  dropped: number
  untimed: number
  short: number
  headers: number
  odd?: OddCell
  /** Where a header stands that names other columns, and its line: nothing is read from there on. */
  changed?: { readonly at: number; readonly line: number }
}

/** Bytes read in one go: short, so that the hot loop is entered often and compiled for what it meets. */
const PIECE = 1 << 14
/** Pieces after which progress is told. */
const TELL_EVERY = 256
const [LF, CR, POINT, COMMA] = [10, 13, 46, 44]
/** Places of `target` that hold no channel. */
const ASIDE = -1
const TIME = -2

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
    if (reader.changed) return reader.done()
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

/** One column of a piece, scaled; outside physics is blank. @returns how many were outside */
function dealScaled(
  cells: Float64Array,
  first: Int32Array,
  at: number,
  factor: number,
  offset: number,
  low: number,
  high: number,
  to: Float64Array,
): number {
  let lost = 0
  for (let r = 0; r < to.length; r++) {
    const x = cells[first[r] + at] * factor + offset
    if (x >= low && x <= high) to[r] = x
    else {
      to[r] = NaN
      if (x === x) lost++
    }
  }
  return lost
}

class BodyReader {
  private readonly wanted: readonly Column[]
  private readonly target: Int16Array
  private readonly loop: number
  private readonly timeAt: number
  private readonly columns: Float64Array[]
  private times: Float64Array
  private rows = 0
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
  changed?: Body['changed']
  private grid: Grid
  /** Some row of the piece has too few cells. */
  private brokenOff = false
  /** First cell of each kept line of the piece, and the line's number in the file; negative where it breaks off. */
  private kept = new Int32Array(0)
  private keptLine = new Int32Array(0)

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
    this.loop = wanted.findIndex((c) => c.channel.id === 'fuel_status')
    this.delimiter = layout.delimiter.charCodeAt(0)
    this.decimal = layout.decimalComma ? COMMA : POINT
    this.width = layout.header.length
    this.need = Math.ceil(layout.columns.length / 2)
    this.room = estimateRows(bytes, layout.bodyAt)
    const [times, ...columns] = side(wanted.length + 1, this.room)
    this.times = times
    this.columns = columns
    this.line = layout.bodyLine - 1
    this.words = new Words(layout, wanted)
    this.grid = newGrid(Math.min(PIECE, bytes.length))
  }

  /** Reads lines that end where `to` does. @param cut - it is the file's last line, and may be broken off */
  lines(bytes: Uint8Array, from: number, to: number, cut: boolean): void {
    // a line longer than a piece
    if (to - from >= this.grid.cells.length) this.grid = newGrid(to - from)
    readGrid(bytes, from, to, this.delimiter, this.decimal, this.grid)
    const began = this.rows
    this.keepLines(bytes, cut)
    for (let k = 0; k < this.wanted.length; k++) this.deal(k, began)
    this.dealOdd(bytes, began)
  }

  /** Decides which lines are rows, and takes their times. */
  private keepLines(bytes: Uint8Array, cut: boolean): void {
    const { grid, width, timeAt } = this
    const { cells, lineCell, lineAt, lines, odds, oddCell, oddFrom, oddTo } = grid
    if (this.kept.length < lines) {
      this.kept = new Int32Array(lines)
      this.keptLine = new Int32Array(lines)
    }
    while (this.rows + lines > this.room) this.grow()
    let odd = 0
    let kept = 0
    this.brokenOff = false
    for (let r = 0; r < lines; r++) {
      const at = lineCell[r]
      const count = lineCell[r + 1] - at
      this.line++
      let time = timeAt < count ? cells[at + timeAt] : NaN
      if (time !== time && timeAt < count) {
        while (odd < odds && oddCell[odd] < at + timeAt) odd++
        if (odd < odds && oddCell[odd] === at + timeAt) time = this.timeOf(bytes, oddFrom[odd], oddTo[odd])
      }
      if ((count < width || time !== time) && !this.isRow(bytes, lineAt[r], lineAt[r + 1], count, time, cut)) {
        if (this.changed) break
        continue
      }
      this.kept[kept] = at
      this.brokenOff ||= count < width
      this.keptLine[kept++] = count >= width ? this.line : -this.line
      this.times[this.rows++] = time
    }
  }

  /** Deals the plain numbers of one column out, scaled; what is outside physics is blanked and counted. */
  private deal(k: number, began: number): void {
    const { at, unit, unitAssumed, channel } = this.wanted[k]
    const { cells } = this.grid
    const { kept, keptLine, rows, width } = this
    const xs = this.columns[k].subarray(began, rows)
    if (k === this.loop) for (let r = 0; r < xs.length; r++) xs[r] = loopOf(cells[kept[r] + at])
    else {
      const low = unitAssumed ? -Infinity : channel.min
      const high = unitAssumed ? Infinity : channel.max
      this.dropped += dealScaled(cells, kept, at, unit.factor, unit.offset ?? 0, low, high, xs)
    }
    // rows that break off before this column
    for (let r = 0; this.brokenOff && r < xs.length; r++)
      if (keptLine[r] < 0 && at >= this.countOf(kept[r], width)) xs[r] = NaN
  }

  /** Cells of the line that begins with the cell `first`, at most `width`. */
  private countOf(first: number, width: number): number {
    const { lineCell, lines } = this.grid
    let [low, high] = [0, lines]
    while (low < high) {
      const mid = (low + high) >> 1
      if (lineCell[mid] > first) high = mid
      else low = mid + 1
    }
    return Math.min(width, lineCell[low] - first)
  }

  /** Cells that were no plain numbers go through text. */
  private dealOdd(bytes: Uint8Array, began: number): void {
    const { kept, keptLine, target, width, words } = this
    const { odds, oddCell, oddFrom, oddTo } = this.grid
    const count = this.rows - began
    let r = 0
    for (let o = 0; o < odds && count; o++) {
      while (r + 1 < count && kept[r + 1] <= oddCell[o]) r++
      const at = oddCell[o] - kept[r]
      if (at < 0 || at >= width) continue
      const place = target[at]
      if (place < 0 || (keptLine[r] < 0 && at >= this.countOf(kept[r], width))) continue
      const [from, to] = [oddFrom[o], oddTo[o]]
      if (to === from || (to - from === 1 && bytes[from] === CR)) continue
      this.columns[place][began + r] = words.read(bytes, from, to, place, Math.abs(keptLine[r]))
      this.dropped += words.dropped
    }
  }

  /** Whether a line that lacks cells or a time is a row all the same; counts it where it is not. */
  private isRow(bytes: Uint8Array, from: number, to: number, cells: number, time: number, cut: boolean): boolean {
    if (cells === 1 && to - from < 3) return false
    if (Number.isNaN(time)) {
      const { header, delimiter } = this.layout
      if (!isHeaderAgain(bytes, from, to, header[this.timeAt])) this.untimed++
      else if (!cut && isOtherHeader(bytes, from, to, header, delimiter)) this.changed = { at: from, line: this.line }
      else this.headers++
      return false
    }
    // cut off by the file's end: its last figure may be half of one
    if (cells < this.need || (cut && cells < this.width)) {
      this.short++
      return false
    }
    return true
  }

  done(): Body {
    const { rows, clock, dropped, untimed, short, headers, changed } = this
    return {
      changed,
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

  private timeOf(bytes: Uint8Array, from: number, to: number): number {
    const text = textOf(bytes.subarray(from, to))
      .trim()
      .replace(/^"(.*)"$/, '$1')
    if (text === '') return NaN
    const plain = readNumber(text, this.layout.decimalComma)
    if (!Number.isNaN(plain)) return plain
    const clock = readClock(text)
    const seconds = Number.isNaN(clock) ? readSeconds(text, this.layout.decimalComma) : clock
    this.clock ||= !Number.isNaN(seconds)
    return seconds
  }

  private grow(): void {
    this.room = Math.ceil(this.room * 1.5) + 16
    const [times, ...columns] = side(this.columns.length + 1, this.room)
    times.set(this.times)
    this.times = times
    for (let k = 0; k < columns.length; k++) {
      columns[k].set(this.columns[k])
      this.columns[k] = columns[k]
    }
  }
}

/** Columns side by side in one block: one allocation instead of many. */
function side(columns: number, room: number): Float64Array[] {
  const all = new Float64Array(columns * room)
  return Array.from({ length: columns }, (_, k) => all.subarray(k * room, (k + 1) * room))
}

/** Whether a line is the header once more. */
const isHeaderAgain = (bytes: Uint8Array, from: number, to: number, label: string): boolean =>
  label !== '' && textOf(bytes.subarray(from, to)).includes(label)

/**
 * Whether a line is a header that names other columns, or in another order: it shares names with the one before. Names there
 * may have been put together from two lines.
 */
function isOtherHeader(
  bytes: Uint8Array,
  from: number,
  to: number,
  header: readonly string[],
  delimiter: string,
): boolean {
  const cells = textOf(bytes.subarray(from, to))
    .split(delimiter)
    .map((cell) =>
      cell
        .trim()
        .replace(/^"(.*)"$/, '$1')
        .trim(),
    )
  const isShared = cells.filter((cell) => cell !== '' && header.includes(cell)).length >= SHARED_NAMES
  return isShared && !cells.every((cell, k) => (header[k] ?? '').endsWith(cell))
}
/** Names that a header further down shares with the first, its time among them. */
const SHARED_NAMES = 2

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
