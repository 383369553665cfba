/** WHATWG Encoding: in every browser, worker and Node. */
declare const TextDecoder: new (label: string, options?: { fatal?: boolean }) => { decode(bytes: Uint8Array): string }
declare const TextEncoder: new () => { encode(text: string): Uint8Array }

/** How much of a file is looked at to tell what it is [bytes]. */
const LOOKED_AT = 4096

/** What a file's bytes are, before anything is read from them. */
export type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252' | 'zip' | 'not-text' | 'empty'

/** Tells a table of text from what only bears its name, and its encoding with or without a mark. */
export function encodingOf(bytes: Uint8Array): Encoding {
  if (bytes.length === 0) return 'empty'
  const starts = (...mark: number[]): boolean => mark.every((b, i) => bytes[i] === b)
  if (starts(0x50, 0x4b, 0x03, 0x04) || starts(0x1f, 0x8b)) return 'zip'
  if (starts(0xff, 0xfe)) return 'utf-16le'
  if (starts(0xfe, 0xff)) return 'utf-16be'
  const head = bytes.subarray(0, LOOKED_AT)
  const zeros = [0, 0]
  let control = 0
  head.forEach((b, i) => {
    if (b === 0) zeros[i & 1]++
    else if (b < 9 || (b > 13 && b < 32)) control++
  })
  const half = head.length / 2
  // text in two bytes a letter: every second one is zero
  if (zeros[1] > 0.4 * half && zeros[0] < 0.05 * half) return 'utf-16le'
  if (zeros[0] > 0.4 * half && zeros[1] < 0.05 * half) return 'utf-16be'
  if (zeros[0] + zeros[1] + control > 0) return 'not-text'
  if (head.every((b) => b === 32 || (b >= 9 && b <= 13))) return bytes.length <= LOOKED_AT ? 'empty' : 'utf-8'
  return isUtf8(bytes) ? 'utf-8' : 'windows-1252'
}

/** Only what lies beyond ASCII tells: a cut letter at the end of the part that is looked at is allowed. */
function isUtf8(bytes: Uint8Array): boolean {
  const head = bytes.subarray(0, 1 << 16)
  for (let i = 0; i < head.length; i++) {
    const b = head[i]
    if (b < 0x80) continue
    const more = b >= 0xc2 && b < 0xe0 ? 1 : b >= 0xe0 && b < 0xf0 ? 2 : b >= 0xf0 && b < 0xf5 ? 3 : -1
    if (more < 0) return false
    for (let k = 1; k <= more; k++) if (i + k < head.length && (head[i + k] & 0xc0) !== 0x80) return false
    i += more
  }
  return true
}

/** The same text as UTF-8 with line ends that have a line feed; the bytes themselves when they are that already. */
export function toUtf8(bytes: Uint8Array, encoding: Encoding): Uint8Array {
  if (encoding !== 'utf-8') return withLineFeeds(new TextEncoder().encode(new TextDecoder(encoding).decode(bytes)))
  return withLineFeeds(bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? bytes.subarray(3) : bytes)
}

/** How far names are looked for that stand on two lines, and how long a name may be [bytes]. */
const HEAD = 1 << 13
const LONGEST_NAME = 200
const [QUOTE, SPACE] = [34, 32]
/** What a cell stands between: line ends, and what parts cells. */
const BESIDE_A_CELL: readonly (number | undefined)[] = [undefined, 10, 13, 44, 59, 9, 124]

/** Names of a header that are broken in two, as a spreadsheet breaks them, on one line: cells in quotes, near the beginning. */
export function namesOnOneLine(utf8: Uint8Array): Uint8Array {
  let made: Uint8Array | undefined
  // a file without a quote is not looked through to its end
  const head = utf8.subarray(0, HEAD + LONGEST_NAME + 2)
  for (let at = head.indexOf(QUOTE); at >= 0 && at < HEAD;) {
    const end = head.indexOf(QUOTE, at + 1)
    const isCell =
      end > at &&
      end - at <= LONGEST_NAME &&
      BESIDE_A_CELL.includes(head[at - 1]) &&
      BESIDE_A_CELL.includes(head[end + 1])
    if (isCell && head.subarray(at, end).includes(LF)) {
      made ??= utf8.slice()
      for (let i = at; i < end; i++) if (made[i] === LF || made[i] === CR) made[i] = SPACE
    }
    at = isCell ? head.indexOf(QUOTE, end + 1) : end
  }
  return made ?? utf8
}

/** Lines that end in a carriage return alone; the beginning tells. */
function withLineFeeds(bytes: Uint8Array): Uint8Array {
  const head = bytes.subarray(0, 1 << 16)
  return head.includes(LF) || !head.includes(CR) ? bytes : bytes.map((b) => (b === CR ? LF : b))
}
const [LF, CR] = [10, 13]

/** Text of a part of a file that is UTF-8, without the marks that files put together carry where each began. */
export const textOf = (bytes: Uint8Array): string => decoder.decode(bytes).replaceAll('\ufeff', '')
const decoder = new TextDecoder('utf-8')
