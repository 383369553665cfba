import { describe, expect, it } from '@jest/globals'
import { proofFigure } from '../../proof/index.js'
import { diagnoseVisit, sheetInUnits, sheetOf, unitsFromText, unitsToText } from '../index.js'
import { idleOf, repairAt, reading, visitOf } from '../remedies.fixture.js'

const f = visitOf({
  readings: [
    ...idleOf(0, { trim: 12 }),
    ...idleOf(1),
    reading(0, 'idle', 'map_kpa', 34),
    reading(1, 'idle', 'map_kpa', 31),
    reading(0, 'idle', 'ect_c', 90),
  ],
  repairs: [repairAt('duct', 0)],
})
const d = diagnoseVisit(f, 0)
const sheet = sheetOf(f, d, 60)

describe('a sheet in other units', () => {
  it('tables follow, differences without the offset, the rest stays', () => {
    const us = sheetInUnits(sheet, { pressure: 'inHg', massFlow: 'lb/min', temperature: '°F' })
    const row = us.technical!.readings.find((r) => r.label === 'coolant')!
    expect([row.unit, row.values[0]]).toEqual(['°F', expect.closeTo(194, 6)])
    const air = us.technical!.readings.find((r) => r.unit === 'lb/min')!
    // 2.4 g/s by NIST SP 811
    expect(air.values[0]).toBeCloseTo((2.4 * 60) / 453.59237, 9)
    expect(proofFigure(air.values[0]!, air.unit)).toBe('0.317')
    const map = us.changes.find((c) => c.quantity === 'map_kpa')!
    expect([map.unit, map.before, map.difference]).toEqual([
      'inHg',
      expect.closeTo(34 / 3.386389, 9),
      expect.closeTo(-3 / 3.386389, 9),
    ])
    expect(us.found).toEqual(sheet.found)
    expect(us.changes.find((c) => c.quantity === 'trim1_pct')).toEqual(
      sheet.changes.find((c) => c.quantity === 'trim1_pct'),
    )
  })
  it('nothing chosen changes nothing', () => expect(sheetInUnits(sheet, {})).toEqual(sheet))
  it('a link carries them there and back, and names a unit that is none', () => {
    const units = { pressure: 'mbar', temperature: '°F' }
    expect(unitsFromText(unitsToText(units))).toEqual(units)
    expect(unitsFromText('')).toEqual({})
    expect(() => unitsFromText('kPa,furlong')).toThrow(/"furlong" is no unit/)
  })
})
