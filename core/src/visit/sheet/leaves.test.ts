import { describe, expect, it } from '@jest/globals'
import { diagnoseVisit, idleTitle, sheetOf, type Sheet } from '../index.js'
import { idleOf, reading, repairAt, visitOf } from '../remedies.fixture.js'

const sheet = (part: Parameters<typeof visitOf>[0]): Sheet => {
  const f = visitOf(part)
  return sheetOf(f, diagnoseVisit(f, 0), 60)
}
const repairs = [repairAt('duct', 0)]

describe('the idle on a sheet', () => {
  it('is as it leaves only where it was measured after the work', () => {
    expect(idleTitle(sheet({ readings: idleOf(0) }))).toBe('its warm idle as measured')
    expect(idleTitle(sheet({ readings: idleOf(0), repairs }))).toBe('its warm idle before the work; not measured since')
    expect(idleTitle(sheet({ readings: [...idleOf(0), ...idleOf(1)], repairs }))).toBe('its warm idle as it leaves')
  })
  it('one that was issued before this was told says what it said', () => {
    const { measured: _, ...earlier } = sheet({ readings: idleOf(0) })
    expect(idleTitle(earlier)).toBe('its warm idle as it leaves')
  })
  it('the air around the car is not pooled with the pressure in its manifold', () => {
    const at = (round: number, idle: number): ReturnType<typeof reading>[] => [
      reading(round, 'key-on', 'map_kpa', 98.7),
      reading(round, 'idle', 'map_kpa', idle),
    ]
    const s = sheet({ readings: [...idleOf(0), ...idleOf(1), ...at(0, 50), ...at(1, 34)], repairs })
    expect(s.proved!.join(' ')).toMatch(/Manifold pressure: 16\.0 ± [\d.]+ kPa lower than before/)
    expect(s.proved!.join(' ')).not.toContain('points')
  })
})
