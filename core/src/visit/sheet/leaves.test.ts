import { describe, expect, it } from '@jest/globals'
import { diagnoseVisit, idleTitle, sheetOf, type Sheet } from '../index.js'
import { pictureOf } from './picture.js'
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
  it('the customer’s picture is of what the customer came with, where that stood out', () => {
    const at = (round: number, rpm: number, kpa: number): ReturnType<typeof reading>[] => [
      ...idleOf(round).filter((r) => r.channel !== 'rpm'),
      reading(round, 'idle', 'rpm', rpm),
      reading(round, 'idle', 'map_kpa', kpa),
    ]
    const f = visitOf({ readings: [...at(0, 800, 90), ...at(1, 700, 34)], repairs }, { metering: 'maf+map' })
    const label = (signs: string[]): string | undefined => pictureOf({ ...f, visit: { ...f.visit, signs } })?.label
    expect(label(['idle-high'])).toBe('idle speed')
    expect(label([])).not.toBe('idle speed')
  })
  it('an idle that stood high by what is confirmed and stands where it belongs is not said to stand high', () => {
    const idle = (round: number, rpm: number, kpa: number, pct: number): ReturnType<typeof reading>[] => [
      reading(round, 'key-on', 'throttle_pct', 1),
      ...Object.entries({ rpm, map_kpa: kpa, stft1_pct: 0.8, ltft1_pct: 2.3, throttle_pct: pct, ect_c: 90 }).map(
        ([channel, value]) => reading(round, 'idle', channel as 'rpm', value),
      ),
    ]
    const f = visitOf(
      { readings: [...idle(0, 930, 50, 1), ...idle(1, 752, 34, 3)], repairs: [repairAt('gaskets', 0)] },
      { displacementL: 1.2, metering: 'map', throttleBoreMm: 46, idleSpecRpm: { min: 700, max: 850 } },
    )
    // before any work one cause is named, with one size, and nobody is told to teach an idle that a hole lifts
    const came = { ...f, repairs: [], readings: idle(0, 930, 50, 1) }
    const first = sheetOf(came, diagnoseVisit(came, 0), 60)
    expect(first.found.join(' ').match(/mm²/g)).toHaveLength(1)
    expect(first.plain).toBe('We measured your engine and found where to look; nothing has been mended yet.')
    const { found } = sheetOf(f, diagnoseVisit(f, 0), 60, diagnoseVisit(f, 1))
    expect(found[0]).toMatch(/^Air let in behind the throttle\. Confirmed/)
    expect(found.join(' ')).not.toContain('Idle stands')
  })
})
