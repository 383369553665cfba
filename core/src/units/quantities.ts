import { requireRange } from '../statistics/index.js'

/** One unit: value in the canonical unit = value · factor + offset. */
export interface Unit {
  readonly symbol: string
  /** Other spellings that entry understands, lower case, without spaces. */
  readonly alias: readonly string[]
  readonly factor: number
  readonly offset?: number
  /** Decimals a reading is shown with. */
  readonly decimals: number
}

/** A measured quantity with its canonical unit first. */
export interface Quantity {
  readonly id: QuantityId
  readonly units: readonly [Unit, ...Unit[]]
}

export type QuantityId =
  | 'pressure'
  | 'massFlow'
  | 'temperature'
  | 'speed'
  | 'distance'
  | 'ratio'
  | 'rotation'
  | 'voltage'
  | 'torque'
  | 'altitude'
  | 'duration'
  | 'mixture'
  | 'number'

const u = (symbol: string, factor: number, decimals: number, alias: readonly string[] = [], offset?: number): Unit => ({
  symbol,
  factor,
  decimals,
  alias: [symbol.toLowerCase(), ...alias],
  offset,
})

/**
 * Units by quantity; the first is canonical (the unit of the recording format).
 * Factors: NIST SP 811 (2008), appendix B: inHg at 0 °C 3.386389 kPa, mmHg at 0 °C 0.1333224 kPa, psi 6.894757 kPa,
 * lb 0.45359237 kg, mile 1.609344 km, ft·lbf 1.355818 N·m, foot 0.3048 m.
 */
export const QUANTITIES: Readonly<Record<QuantityId, Quantity>> = {
  pressure: {
    id: 'pressure',
    units: [
      u('kPa', 1, 1, ['kpaabs', 'kpaa']),
      u('inHg', 3.386389, 1, ['"hg', 'inhg', 'in.hg', 'inchhg', 'incheshg']),
      u('mmHg', 0.1333224, 0, ['mmhg', 'torr']),
      u('cmHg', 1.333224, 1, ['cmhg']),
      u('mbar', 0.1, 0, ['hpa']),
      u('psi', 6.894757, 2),
      u('bar', 100, 3),
    ],
  },
  massFlow: {
    id: 'massFlow',
    units: [
      u('g/s', 1, 2, ['gs', 'g/sec', 'gm/s', 'gm/sec', 'gps', 'gr/s']),
      u('lb/min', 453.59237 / 60, 3, ['lbs/min', 'lb/m', 'lbm/min']),
      u('kg/h', 1 / 3.6, 1, ['kg/hr', 'kg/std']),
    ],
  },
  temperature: {
    id: 'temperature',
    units: [
      u('°C', 1, 0, ['c', 'degc', 'celsius', 'ºc']),
      u('°F', 5 / 9, 0, ['f', 'degf', 'fahrenheit', 'ºf'], -160 / 9),
    ],
  },
  speed: {
    id: 'speed',
    units: [u('km/h', 1, 0, ['kph', 'kmh', 'km/std']), u('mph', 1.609344, 0, ['mi/h', 'mil/h'])],
  },
  distance: {
    id: 'distance',
    units: [u('km', 1, 0), u('mi', 1.609344, 0, ['mile', 'miles'])],
  },
  ratio: { id: 'ratio', units: [u('%', 1, 1, ['pct', 'percent'])] },
  rotation: {
    id: 'rotation',
    units: [
      u('rpm', 1, 0, [
        '/min',
        '1/min',
        'min-1',
        'min⁻¹',
        'u/min',
        'tr/min',
        'obr/min',
        'giri/min',
        'g/min',
        'r/min',
        'rev/min',
        'min^-1',
        'r.p.m.',
      ]),
    ],
  },
  voltage: { id: 'voltage', units: [u('V', 1, 1, ['volt', 'volts'])] },
  torque: {
    id: 'torque',
    units: [
      u('N·m', 1, 1, ['nm']),
      u('ft·lb', 1.355818, 1, ['ftlb', 'ft-lb']),
      u('in·lb', 1.355818 / 12, 0, ['inlb', 'in-lb']),
    ],
  },
  altitude: { id: 'altitude', units: [u('m', 1, 0), u('ft', 0.3048, 0)] },
  duration: { id: 'duration', units: [u('s', 1, 0, ['sec', 'seconds', 'sek']), u('min', 60, 0), u('h', 3600, 1)] },
  // what tools write as air to fuel is the λ that they measured, times that of plain gasoline
  mixture: { id: 'mixture', units: [u('λ', 1, 2, ['lambda']), u('AFR', 1 / 14.7, 1, [':1', 'a/f', 'afr:1', 'ratio'])] },
  number: { id: 'number', units: [u('', 1, 2)] },
}

/** A unit of a quantity by its symbol. @throws RangeError on an unknown symbol */
export function unitOf(quantity: QuantityId, symbol: string): Unit {
  const unit = QUANTITIES[quantity].units.find((x) => x.symbol === symbol)
  if (!unit) throw new RangeError(`${quantity} has no unit "${symbol}"`)
  return unit
}

/** Converts a value in a unit to the canonical unit of its quantity. */
export function toCanonical(value: number, unit: Unit): number {
  requireRange('value', value, true, 'a number')
  return value * unit.factor + (unit.offset ?? 0)
}

/** Converts a canonical value to a unit. */
export function fromCanonical(value: number, unit: Unit): number {
  requireRange('value', value, true, 'a number')
  return (value - (unit.offset ?? 0)) / unit.factor
}

/** What a typed text means, or why it means nothing. */
export type Typed =
  { readonly ok: true; readonly value: number; readonly unit: Unit } | { readonly ok: false; readonly message: string }

/**
 * Reads a typed figure: "18.5 inHg", "-4.7%", "3,41", "1 013 mbar". Without a unit the given one holds.
 * A single comma is a decimal comma; a comma before exactly three digits after a longer number is too,
 * for no reading here needs a thousands separator.
 *
 * @param assumed - the unit when none is typed
 * @returns the value in the canonical unit
 */
export function parseTyped(text: string, quantity: QuantityId, assumed: Unit): Typed {
  const t = text.trim().replace(/[\u2212\u2013]/g, '-')
  const m = /^([+-]?)\s*((?:\d[\d ]*)?(?:[.,]\d*)?)\s*(.*)$/.exec(t)
  const accepted = QUANTITIES[quantity].units
    .map((x) => x.symbol)
    .filter(Boolean)
    .join(', ')
  const digits = m?.[2].replace(/ /g, '').replace(',', '.') ?? ''
  if (!m || digits === '' || digits === '.')
    return {
      ok: false,
      message: `"${text.trim()}" is not a number. Type a figure${accepted ? `, with ${accepted} if it is not ${assumed.symbol}` : ''}.`,
    }
  const word = m[3].toLowerCase().replace(/\s+/g, '')
  const unit = word === '' ? assumed : QUANTITIES[quantity].units.find((x) => x.alias.includes(word))
  if (!unit)
    return { ok: false, message: `"${m[3].trim()}" is not a unit that fits here. Accepted: ${accepted || 'no unit'}.` }
  return { ok: true, value: toCanonical(Number(m[1] + digits), unit), unit }
}

/** A figure as it is printed: a real minus sign, and none before what rounds to nothing. */
export function figureText(x: number, decimals: number): string {
  const s = x.toFixed(decimals)
  return (Number(s) === 0 ? s.replace('-', '') : s).replace('-', '\u2212')
}

/** A canonical value as text in a unit, with that unit's decimals (a real minus sign). */
export function formatIn(value: number, unit: Unit, decimals = unit.decimals): string {
  return figureText(fromCanonical(value, unit), decimals)
}

/** “a, b and c”. */
export const andList = (xs: readonly string[]): string =>
  xs.length < 2 ? xs.join('') : `${xs.slice(0, -1).join(', ')} and ${xs[xs.length - 1]}`
