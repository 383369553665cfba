import Papa from 'papaparse'
import { maybeChannel } from '../signals/index.js'
import { readClock, readNumber, readSeconds } from './cells.js'
import { textOf } from './encoding.js'
import { matchesOf, SURE_SCORE } from './labelMatch.js'

/** A table that lies on its side has few lines, and long ones. */
const MOST_LINES = 200
const LEAST_CELLS = 6
/** Channels that it names at least, one a line. */
const NAMED_LEAST = 3
/** Share of a line's cells that are figures, or blank. */
const FIGURES = 0.8
const LONGEST = 16 << 20
const DELIMITERS = ['\t', ';', ',', '|'] as const

const channelOf = (label: string): string | undefined => {
  const exact = maybeChannel(label.trim().toLowerCase())
  const [first] = matchesOf(label)
  return exact?.id ?? (first && first.score >= SURE_SCORE ? first.channel : undefined)
}
const secondsOf = (cell: string): number =>
  [readNumber(cell, true), readSeconds(cell, true), readClock(cell)].find(Number.isFinite) ?? NaN
const isFigure = (cell: string): boolean => /\d/.test(cell) && Number.isFinite(secondsOf(cell))
const isRising = (cells: readonly string[]): boolean => {
  const xs = cells.filter((c) => c.trim() !== '').map(secondsOf)
  return xs.length > 2 && xs.every((x, i) => Number.isFinite(x) && (i === 0 || x > xs[i - 1]))
}
const isMostly = (cells: readonly string[], is: (cell: string) => boolean): boolean =>
  cells.filter(is).length >= FIGURES * cells.length

/** A table of one channel a line and one moment a column, stood up; undefined where it is none. */
export function stoodUp(utf8: Uint8Array): Uint8Array | undefined {
  if (utf8.length > LONGEST) return undefined
  let lines = 0
  for (let at = utf8.indexOf(10); at >= 0; at = utf8.indexOf(10, at + 1)) if (++lines > MOST_LINES) return undefined
  if (lines < NAMED_LEAST - 1) return undefined
  const text = textOf(utf8)
  for (const delimiter of DELIMITERS) {
    if (!text.includes(delimiter)) continue
    const rows = turn(Papa.parse<string[]>(text, { delimiter, skipEmptyLines: true }).data)
    // tabs part what decimal commas would not
    if (rows) return new TextEncoder().encode(rows.map((r) => r.join('\t')).join('\n'))
  }
  return undefined
}

function turn(lines: readonly (readonly string[])[]): string[][] | undefined {
  const wide = lines.filter((cells) => cells.length >= LEAST_CELLS)
  const named = wide.filter((cells) => channelOf(cells[0]) !== undefined)
  if (named.length < NAMED_LEAST) return undefined
  // a column of units may stand between the names and the figures
  const from = named.some((cells) => isFigure(cells[1])) ? 1 : 2
  const figures = (cells: readonly string[]): readonly string[] => cells.slice(from)
  const whole = wide.filter((cells) => isMostly(figures(cells), (c) => c.trim() === '' || isFigure(c)))
  const clock =
    whole.find((cells) => channelOf(cells[0]) === 'time_s') ??
    whole.find((cells) => channelOf(cells[0]) === undefined && isRising(figures(cells)))
  if (!clock || !isRising(figures(clock)) || whole.filter((cells) => named.includes(cells)).length < NAMED_LEAST)
    return undefined
  const label = (cells: readonly string[]): string => {
    const name = cells === clock && channelOf(cells[0]) !== 'time_s' ? 'time' : cells[0].trim()
    const unit = from === 2 ? cells[1].trim().replace(/[[\]()]/g, '') : ''
    return unit === '' ? name : `${name} [${unit}]`
  }
  const moments = figures(clock).length
  return [
    whole.map(label),
    ...Array.from({ length: moments }, (_, i) => whole.map((cells) => (cells[from + i] ?? '').trim())),
  ]
}
