import Papa from 'papaparse'
import { textOf } from './encoding.js'

/** A longer text is not rewritten [bytes]. */
const MOST = 64 << 20
/** Rows from which on a table is one of readings. */
const LEAST_ROWS = 3

const TABLE = /<(table|worksheet)\b[^>]*>([\s\S]*?)<\/\1>/gi
const ROW = /<(tr|row)\b[^>]*>([\s\S]*?)<\/\1>/gi
const CELL = /<(td|th|data)\b[^>]*>([\s\S]*?)<\/\1>/gi
const ENTITIES: Readonly<Record<string, string>> = { amp: '&', lt: '<', gt: '>', quot: '"', nbsp: ' ', deg: '°' }

/** Text between marks: without the marks within it, entities as what they stand for. */
export const plain = (inside: string): string =>
  inside
    .replace(/<[^>]*>/g, '')
    .replace(/&(#(\d+)|\w+);/g, (all, name: string, code?: string) =>
      code ? String.fromCodePoint(Number(code)) : (ENTITIES[name.toLowerCase()] ?? all),
    )
    .trim()

/** The largest table of a page, or of a sheet that is saved as markup, as a table of text; undefined where there is none. */
export function fromMarkup(utf8: Uint8Array): Uint8Array | undefined {
  if (utf8.length > MOST || !/^\s*</.test(textOf(utf8.subarray(0, 64)))) return undefined
  const tables = [...textOf(utf8).matchAll(TABLE)].map(([, , inside]) =>
    [...inside.matchAll(ROW)].map(([, , row]) => [...row.matchAll(CELL)].map(([, , cell]) => plain(cell))),
  )
  const largest = tables.sort((a, b) => b.length - a.length).at(0)
  return largest && largest.length >= LEAST_ROWS ? new TextEncoder().encode(Papa.unparse(largest)) : undefined
}
