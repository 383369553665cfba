const LETTERS = 'PCBU'

/** Two bytes of a trouble code. Source: SAE J2012, J1979 table of service 03. @throws RangeError when it is none */
export function encodeTroubleCode(code: string): [number, number] {
  const m = /^([PCBU])([0-3])([0-9A-F])([0-9A-F]{2})$/.exec(code)
  if (!m) throw new RangeError(`trouble code "${code}", accepted: a letter of P, C, B, U and four digits`)
  return [(LETTERS.indexOf(m[1]) << 6) | (Number(m[2]) << 4) | parseInt(m[3], 16), parseInt(m[4], 16)]
}

/** A trouble code from its two bytes, as in P0171. */
export function decodeTroubleCode(high: number, low: number): string {
  const hex = (x: number): string => x.toString(16).toUpperCase()
  return LETTERS[high >> 6] + ((high >> 4) & 3) + hex(high & 0xf) + hex(low).padStart(2, '0')
}
