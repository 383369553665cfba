const [LF, CR, QUOTE, MINUS, ZERO] = [10, 13, 34, 45, 48]
const TENTHS = Float64Array.from({ length: 16 }, (_, i) => 10 ** i)
/** Digits that a 32-bit whole number holds whatever they are; longer ones go through text. */
const FAST_DIGITS = 9

/** Cells of one piece as they were met, row after row, before they are dealt out to columns. */
export interface Grid {
  /** Value of each cell; NaN where it is no plain number. */
  readonly cells: Float64Array
  /** First cell of each line, and one past the last. */
  readonly lineCell: Int32Array
  readonly lineAt: Int32Array
  /** Cells that are no plain numbers: which, and the bytes they take. */
  readonly oddCell: Int32Array
  readonly oddFrom: Int32Array
  readonly oddTo: Int32Array
  lines: number
  odds: number
}

/** Room for the cells of a piece of so many bytes. */
export const newGrid = (bytes: number): Grid => ({
  cells: new Float64Array(bytes + 1),
  lineCell: new Int32Array(bytes + 2),
  lineAt: new Int32Array(bytes + 2),
  oddCell: new Int32Array(bytes + 1),
  oddFrom: new Int32Array(bytes + 1),
  oddTo: new Int32Array(bytes + 1),
  lines: 0,
  odds: 0,
})

/**
 * The hot loop: every cell of whole lines from its bytes, sign and digits with one decimal mark at once, all else noted as
 * odd. Nothing but locals, so that it is compiled for what it meets.
 */
export function readGrid(
  bytes: Uint8Array,
  from: number,
  to: number,
  delimiter: number,
  decimal: number,
  grid: Grid,
): void {
  const { cells, lineCell, lineAt, oddCell, oddFrom, oddTo } = grid
  let cell = 0
  let line = 0
  let odd = 0
  let i = from
  while (i < to) {
    lineCell[line] = cell
    lineAt[line++] = i
    let b: number
    do {
      const begin = i
      b = bytes[begin]
      const negative = b === MINUS
      if (negative) b = bytes[++i]
      const first = i
      let m = 0
      let digit = b - ZERO
      while (digit >= 0 && digit <= 9) {
        m = (m * 10 + digit) | 0
        b = bytes[++i]
        digit = b - ZERO
      }
      let digits = i - first
      let value = m
      if (b === decimal) {
        const mark = i
        b = bytes[++i]
        digit = b - ZERO
        while (digit >= 0 && digit <= 9) {
          m = (m * 10 + digit) | 0
          b = bytes[++i]
          digit = b - ZERO
        }
        const decimals = i - mark - 1
        digits += decimals
        value = m / TENTHS[decimals & 15]
      }
      if ((b !== delimiter && b !== LF) || (digits - 1) >>> 0 >= FAST_DIGITS) {
        if (b === CR && bytes[i + 1] === LF && (digits - 1) >>> 0 < FAST_DIGITS) i++
        else {
          i = cellEnd(bytes, begin, delimiter)
          value = NaN
          oddCell[odd] = cell
          oddFrom[odd] = begin
          oddTo[odd++] = i
        }
        b = bytes[i]
      }
      cells[cell++] = negative ? -value : value
      i++
    } while (b !== LF)
  }
  lineCell[line] = cell
  lineAt[line] = i
  grid.lines = line
  grid.odds = odd
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
