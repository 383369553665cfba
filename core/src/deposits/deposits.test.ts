import { describe, expect, it } from '@jest/globals'
import { authorityLeft, cleanAreaMm2, lostArea, neededAreaMm2, THROTTLE_STEP_PCT, whyIdle } from './index.js'

const curve = { boreMm: 60, leakageMm2: 3, learnt: true }

it('a 2.4 L idle at 30.2 kPa needs about 11 mm²', () =>
  expect(neededAreaMm2(2.63e-3, { pressurePa: 101_325, temperatureK: 293.15 }, 30_200)).toBeCloseTo(11, 1))

it('one step of 0.39 % near idle is 2.3 to 2.8 mm² of projected opening on a 60 mm bore', () => {
  const cd = 0.75
  const step = (at: number): number => (cleanAreaMm2(curve, at + THROTTLE_STEP_PCT) - cleanAreaMm2(curve, at)) / cd
  expect(step(2)).toBeGreaterThan(2.2)
  expect(step(4)).toBeLessThan(2.95)
})

describe('lost area', () => {
  it('is what a clean throttle would pass less what idle needs', () => {
    const l = lostArea(curve, 3, 10)
    expect(l.mm2.median).toBeCloseTo(cleanAreaMm2(curve, 3) - 10, 9)
    expect(l.mm2.low).toBeLessThan(l.mm2.median)
    expect(l.stepShare).toBeGreaterThan(0)
  })
  it('is wider while this car’s clean record is not known', () => {
    const width = (learnt: boolean): number => {
      const { low, high } = lostArea({ ...curve, learnt }, 3, 10).mm2
      return high - low
    }
    expect(width(false)).toBeGreaterThan(width(true))
  })
  it('below zero is why idle is high after a cleaning', () => {
    const l = lostArea(curve, 2, 20)
    expect(l.mm2.median).toBeLessThan(0)
    const seen = { rpm: 1150, band: { min: 620, max: 780 }, lost: l, authority: 0.7, cleaned: true }
    expect(whyIdle(seen)).toMatch(/learnt to open past the deposits.*370 rpm above/)
    expect(whyIdle({ ...seen, cleaned: false })).toMatch(/cleaned without being taught, or air from elsewhere/)
    expect(whyIdle({ ...seen, lost: undefined, cleaned: false })).toMatch(/extra air before anything is taught/)
    expect(whyIdle({ ...seen, rpm: 700 })).toMatch(/700 rpm, in its band\.$/)
    expect(whyIdle({ ...seen, rpm: 700, authority: 0.1 })).toMatch(/can hardly open further/)
    expect(whyIdle({ ...seen, rpm: 540 })).toMatch(/80 below its band: it gets less air/)
  })
  it('closed is the leakage alone; NaN is refused', () => {
    expect(cleanAreaMm2(curve, 0)).toBe(3)
    expect(() => cleanAreaMm2(curve, NaN)).toThrow(RangeError)
    expect(() => lostArea(curve, 3, NaN)).toThrow(RangeError)
  })
})

it('authority runs out at the limit', () => {
  expect(authorityLeft(3, 12)).toBe(0.75)
  expect(authorityLeft(20, 12)).toBe(0)
  expect(() => authorityLeft(3, 0)).toThrow(RangeError)
})
