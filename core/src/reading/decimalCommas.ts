import type { ChannelId } from '../signals/index.js'
import { textOf } from './encoding.js'
import { usually } from './sanity.js'
import type { Layout } from './sniff.js'

/** Rows that are looked at, and below which nothing is told by them. */
const LOOKED_AT = 120
const HEAD = 1 << 14
const ENOUGH = 8
/** A longer text is not rewritten [bytes]. */
const MOST = 64 << 20
/** Ways that are followed at most until it is said that none is the only one. */
const WAYS_MOST = 20_000
const WHOLE = /^\s*[-+]?\d+\s*$/
const FRACTION = /^\s*\d+\s*$/
/** Speeds of an engine that runs, in the middle of a recording [rpm]. */
const RUNS = { low: 300, high: 8000 }

/** A table whose decimal commas stand between commas that part its cells. */
export type DecimalCommas =
  /** With decimal points in their place. */
  | { readonly kind: 'read'; readonly utf8: Uint8Array }
  /** Its rows hold more cells than are named, and which of them belong together cannot be told. */
  | { readonly kind: 'unclear'; readonly cells: number }

/**
 * Rows that hold more whole numbers than the header has names, alike: decimals that are written with commas, between commas. They are
 * put together where one way only gives a clock that rises and figures that an engine has; undefined where rows are as the header says.
 */
export function decimalCommas(utf8: Uint8Array, layout: Layout): DecimalCommas | undefined {
  if (layout.delimiter !== ',' || layout.long || utf8.length > MOST) return undefined
  const names = layout.header.length
  const head = textOf(utf8.subarray(layout.bodyAt, layout.bodyAt + HEAD)).split('\n')
  // the last may be cut
  const rows = head
    .slice(0, Math.min(LOOKED_AT, head.length - 1))
    .map(cellsOf)
    .filter((cells) => cells.length > 1)
  const cells = Math.max(0, ...rows.map((r) => r.length))
  const isMore = rows.filter((r) => r.length > names).length > rows.length / 2
  if (rows.length < ENOUGH || !isMore || cells > 2 * names) return undefined
  if (!rows.every((r) => r.every((c) => WHOLE.test(c) || !/\d/.test(c)))) return undefined
  // 2,5 beside 2: which cells belong together changes from row to row
  if (!rows.every((r) => r.length === cells)) return { kind: 'unclear', cells }
  const ways = waysOf(rows, layout)
  // cells behind the last name that nobody named are left aside, as ever
  if (!ways.some((w) => w.includes(true))) return undefined
  return ways.length > 1 ? { kind: 'unclear', cells } : { kind: 'read', utf8: rewritten(utf8, layout.bodyAt, ways[0]) }
}

/** Cells of a row, without blank ones at its end. */
const cellsOf = (line: string): string[] =>
  line
    .replace(/\r$/, '')
    .replace(/(,\s*)+$/, '')
    .split(',')

/** Every way to give each name one cell or two that leaves a rising clock and figures that can be; a way is told by which names have two. */
function waysOf(rows: readonly (readonly string[])[], layout: Layout): boolean[][] {
  const names = layout.header.length
  const cells = rows[0].length
  const channels = new Map(layout.columns.map((c) => [c.at, c.channel.id]))
  const memo = new Map<string, boolean>()
  const can = (column: number, at: number, isTwo: boolean): boolean => {
    const key = `${column} ${at} ${isTwo}`
    const known = memo.get(key) ?? isPossible(rows, channels.get(column), at, isTwo)
    memo.set(key, known)
    return known
  }
  const out: boolean[][] = []
  let followed = 0
  const follow = (way: boolean[], at: number): void => {
    if (followed++ > WAYS_MOST || out.length > 1) return
    const column = way.length
    if (column === names) {
      if (at === cells || way.every((x) => !x)) out.push(way)
      return
    }
    // so many cells are left that every name could have two of them, or one
    for (const isTwo of [true, false]) {
      const next = at + (isTwo ? 2 : 1)
      if (next <= cells && can(column, at, isTwo)) follow([...way, isTwo], next)
    }
  }
  follow([], 0)
  // not all were looked at: the one that was found need not be the only one
  return followed > WAYS_MOST ? [...out, ...out] : out
}

/** Whether a column's figures can be those of the cells from `at` on: digits behind its mark, a clock that rises, a running engine. */
function isPossible(
  rows: readonly (readonly string[])[],
  channel: ChannelId | undefined,
  at: number,
  isTwo: boolean,
): boolean {
  if (isTwo && !rows.every((r) => WHOLE.test(r[at]) && FRACTION.test(r[at + 1]))) return false
  const xs = rows.map((r) => (isTwo ? Number(`${r[at].trim()}.${r[at + 1].trim()}`) : Number(r[at])))
  if (channel === undefined) return true
  if (channel === 'time_s') return xs.every((x, i) => i === 0 || x > xs[i - 1])
  const figures = xs.filter(Number.isFinite).sort((a, b) => a - b)
  if (!figures.length) return !isTwo
  const middle = figures[figures.length >> 1]
  const band = channel === 'rpm' ? RUNS : usually(channel)
  return (
    figures.every((x) => x >= band.low - Math.abs(band.low) && x <= 2 * band.high) &&
    middle >= band.low &&
    middle <= band.high
  )
}

/** The table with a point for each comma that is a decimal mark; a row of another length is left as it is. */
function rewritten(utf8: Uint8Array, bodyAt: number, way: readonly boolean[]): Uint8Array {
  const cells = way.reduce((n, isTwo) => n + (isTwo ? 2 : 1), 0)
  const lines = textOf(utf8.subarray(bodyAt))
    .split('\n')
    .map((line) => {
      const row = cellsOf(line)
      if (row.length !== cells) return line
      let at = 0
      return way.map((isTwo) => (isTwo ? `${row[at++].trim()}.${row[at++].trim()}` : row[at++])).join(',')
    })
  const body = new TextEncoder().encode(lines.join('\n'))
  const out = new Uint8Array(bodyAt + body.length)
  out.set(utf8.subarray(0, bodyAt))
  out.set(body, bodyAt)
  return out
}
