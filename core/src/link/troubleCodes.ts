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

/** What a code is about, in our own words. Numbers: SAE J2012. Only those that touch what Uvula is for. */
const MEANINGS: Readonly<Record<string, string>> = {
  P0011: 'intake cam of bank 1 stands too early',
  P0014: 'exhaust cam of bank 1 stands too early',
  P0016: 'crank and cam of bank 1 do not agree',
  P0068: 'airflow or pressure does not fit the throttle',
  P0069: 'manifold and ambient pressure do not agree',
  P0101: 'airflow sensor out of its range',
  P0102: 'airflow signal low or missing',
  P0103: 'airflow signal high',
  P0106: 'manifold pressure implausible',
  P0107: 'manifold pressure signal low',
  P0108: 'manifold pressure signal high',
  P0111: 'intake temperature implausible',
  P0112: 'intake temperature signal low',
  P0113: 'intake temperature signal high: open circuit',
  P0116: 'coolant temperature implausible',
  P0117: 'coolant temperature signal low',
  P0118: 'coolant temperature signal high: open circuit',
  P0121: 'throttle position implausible',
  P0128: 'coolant stays below its working temperature',
  P0171: 'bank 1 too lean',
  P0172: 'bank 1 too rich',
  P0174: 'bank 2 too lean',
  P0175: 'bank 2 too rich',
  P0236: 'charge pressure signal implausible',
  P0234: 'charge pressure too high',
  P0299: 'charge pressure too low',
  P0300: 'misfire on several cylinders',
  P0400: 'exhaust gas flow not as commanded',
  P0401: 'too little exhaust gas comes through',
  P0402: 'too much exhaust gas comes through',
  P0420: 'catalyst of bank 1 below its threshold',
  P0441: 'purge flow not as commanded',
  P0442: 'small leak in the vapour system',
  P0496: 'purge flows without a command',
  P0505: 'idle control beyond its limits',
  P0506: 'idle below its target',
  P0507: 'idle above its target',
  P0562: 'supply voltage low',
  P2096: 'lean after the catalyst, bank 1',
  P2135: 'throttle position signals disagree',
  P2177: 'lean off idle, bank 1',
  P2187: 'lean at idle, bank 1',
  P2189: 'lean at idle, bank 2',
  P2279: 'air leaks into the intake',
}

/** What a code is about, or undefined when Uvula has no words for it. */
export function troubleCodeMeaning(code: string): string | undefined {
  const misfire = /^P030([1-9])$/.exec(code)
  return misfire ? `misfire on cylinder ${misfire[1]}` : MEANINGS[code]
}
