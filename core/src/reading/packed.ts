import { gunzipSync, unzipSync, strFromU8 } from 'fflate'
import Papa from 'papaparse'
import { plain } from './markup.js'

/** What a packed file may hold at most, unpacked [bytes]; a sheet of it is rewritten, so less. */
const MOST = 256 << 20
const MOST_OF_A_SHEET = 64 << 20
/** Tables of a packed file that are tried at most. */
const MOST_TABLES = 8

/** A table that was inside a packed file; the name is left out where it has none. */
export interface Unpacked {
  readonly bytes: Uint8Array
  readonly name?: string
}

/** Names of what may be a table of text; what a computer leaves beside is none. */
const TABLE_NAME = /\.(csv|txt|tsv|log|dat|asc|json|jsonl|xml|html?|xls)$/i
const LEFT_BESIDE = /(^|\/)(__MACOSX|\.)/
const SHEET = /^xl\/worksheets\/[^/]+\.xml$/
const SHARED = 'xl/sharedStrings.xml'

/**
 * The tables inside a packed file, the longest first: of an archive its files, of a spreadsheet its sheets as text. Empty
 * where it is damaged, holds none, or holds more than is unpacked.
 */
export function unpacked(bytes: Uint8Array): readonly Unpacked[] {
  try {
    return bytes[0] === 0x1f ? fromGzip(bytes) : fromZip(bytes)
  } catch {
    // whatever a damaged file makes the library throw
    return []
  }
}

function fromGzip(bytes: Uint8Array): Unpacked[] {
  // the last four bytes tell how long it is
  const length = new DataView(bytes.buffer, bytes.byteOffset).getUint32(bytes.length - 4, true)
  return length > MOST ? [] : [{ bytes: gunzipSync(bytes) }]
}

function fromZip(bytes: Uint8Array): Unpacked[] {
  const names: string[] = []
  unzipSync(bytes, { filter: (f) => (names.push(f.name), false) })
  if (names.some((n) => SHEET.test(n))) return fromSpreadsheet(bytes)
  let room = MOST
  const files = unzipSync(bytes, {
    filter: ({ name, originalSize }) => TABLE_NAME.test(name) && !LEFT_BESIDE.test(name) && (room -= originalSize) >= 0,
  })
  return Object.entries(files)
    .map(([name, inside]) => ({ name, bytes: inside }))
    .sort((a, b) => b.bytes.length - a.bytes.length)
    .slice(0, MOST_TABLES)
}

/** The sheets of a spreadsheet, of office open XML (ISO/IEC 29500). */
function fromSpreadsheet(bytes: Uint8Array): Unpacked[] {
  let room = MOST_OF_A_SHEET
  const files = unzipSync(bytes, {
    filter: ({ name, originalSize }) => (SHEET.test(name) || name === SHARED) && (room -= originalSize) >= 0,
  })
  const text = (name: string): string => (name in files ? strFromU8(files[name]) : '')
  const shared = [...text(SHARED).matchAll(/<si\b[^>]*>([\s\S]*?)<\/si>/g)].map(([, inside]) => plain(inside))
  return Object.keys(files)
    .filter((name) => SHEET.test(name))
    .map((name) => rowsOf(text(name), shared))
    .filter((rows) => rows.length)
    .sort((a, b) => b.length - a.length)
    .map((rows) => ({ bytes: new TextEncoder().encode(Papa.unparse(rows)) }))
}

/** Rows of a sheet; a cell says in which column it stands, and empty ones are left out of the file. */
const rowsOf = (sheet: string, shared: readonly string[]): string[][] =>
  [...sheet.matchAll(/<row\b[^>]*?(?:\/>|>([\s\S]*?)<\/row>)/g)].map(([, row = '']) => {
    const cells: string[] = []
    for (const [, attributes, inside = ''] of row.matchAll(/<c\b([^>]*?)(?:\/>|>([\s\S]*?)<\/c>)/g)) {
      const column = /\br="([A-Z]{1,3})\d+"/.exec(attributes)?.[1]
      const at = column === undefined ? cells.length : columnNumber(column)
      while (cells.length < at) cells.push('')
      cells[at] = cellText(/\bt="(\w+)"/.exec(attributes)?.[1], inside, shared)
    }
    return cells
  })

const columnNumber = (letters: string): number =>
  [...letters].reduce((n, letter) => 26 * n + letter.charCodeAt(0) - 64, 0) - 1

/** Text of a cell by its type: of a shared string its number is told, of a number its digits. */
function cellText(type: string | undefined, inside: string, shared: readonly string[]): string {
  if (type === 'inlineStr') return plain(inside)
  const value = plain(/<v\b[^>]*>([\s\S]*?)<\/v>/.exec(inside)?.[1] ?? '')
  if (type === 's') return shared[Number(value)] ?? ''
  if (type === 'e') return ''
  // 3.1000000000000001, as it is kept, is 3.1
  return type === undefined || type === 'n' ? String(value === '' ? '' : Number(value)) : value
}
