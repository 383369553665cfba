import { readCell, readLoop } from './cells.js'
import { textOf } from './encoding.js'
import type { Column, Layout } from './sniff.js'

/** The first cell that was not understood: its line, column and text. */
export interface OddCell {
  readonly line: number
  readonly label: string
  readonly text: string
}

/** Cells that are no plain numbers: words, units, quotes. One that stands in row after row is read once. */
export class Words {
  /** What the last cell held that cannot be used: 1, else 0. */
  dropped = 0
  odd: OddCell | undefined
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
