import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { formatIn, fromCanonical, parseTyped, QUANTITIES, toCanonical, unitOf, type QuantityId } from './index.js'

const kpa = unitOf('pressure', 'kPa')
const pct = unitOf('ratio', '%')
const value = (text: string, quantity: QuantityId = 'pressure', unit = kpa): number | string => {
  const t = parseTyped(text, quantity, unit)
  return t.ok ? t.value : t.message
}

describe('typed figures', () => {
  it.each([
    ['18.5 inHg', 18.5 * 3.386389],
    ['18,5inhg', 18.5 * 3.386389],
    ['1 013 mbar', 101.3],
    ['33', 33],
    ['  -4.5 kPa', -4.5],
    ['\u22124.5', -4.5],
  ])('%s', (text, expected) => expect(value(text)).toBeCloseTo(expected, 6))

  it('a trim with its sign and a decimal comma', () => expect(value('-4,7%', 'ratio', pct)).toBeCloseTo(-4.7, 9))
  it('Fahrenheit', () => expect(value('212 F', 'temperature', unitOf('temperature', '°C'))).toBeCloseTo(100, 9))
  it('lb/min', () => expect(value('1 lb/min', 'massFlow', unitOf('massFlow', 'g/s'))).toBeCloseTo(7.55987, 5))
  it('says what is not a number and what would be', () => expect(value('lots')).toMatch(/"lots" is not a number.*kPa/))
  it('says which units fit', () =>
    expect(value('12 parsec')).toMatch(/"parsec" is not a unit that fits here. Accepted: kPa, inHg/))
})

it('every unit round-trips', () => {
  const all = Object.values(QUANTITIES).flatMap((q) => q.units)
  fc.assert(
    fc.property(fc.constantFrom(...all), fc.double({ min: -1e4, max: 1e4, noNaN: true }), (u, x) => {
      return Math.abs(fromCanonical(toCanonical(x, u), u) - x) < 1e-8
    }),
  )
})

it('shows a real minus and no minus zero', () => {
  expect(formatIn(-4.67, pct)).toBe('\u22124.7')
  expect(formatIn(-0.01, pct)).toBe('0.0')
})
