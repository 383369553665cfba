import { describe, expect, it } from '@jest/globals'
import { sayClock, sayDay, sayShare, saySkew, sayTime } from './format.js'

const at = (y: number, m: number, d: number, h: number, min: number): string =>
  new Date(y, m - 1, d, h, min).toISOString()

describe('times in words', () => {
  it('a day by its name, its number and its month, by the clock of this place', () => {
    expect(sayDay(at(2026, 11, 28, 0, 5))).toBe('Sat 28 Nov')
    expect(sayDay(at(2026, 3, 1, 23, 59))).toBe('Sun 1 Mar')
  })
  it('a time of day with two figures each', () => {
    expect(sayTime(at(2026, 11, 28, 9, 5))).toBe('09:05')
    expect(sayTime(at(2026, 11, 28, 0, 0))).toBe('00:00')
  })
  it('how far a clock is off, and which way', () => {
    expect(saySkew(-3 * 3_600_000 - 120_000)).toBe('3 h 2 min ahead')
    expect(saySkew(45_000)).toBe('45 s behind')
  })
  it('minutes of a recording; a share that never says all or nothing of what is open', () => {
    expect(sayClock(125.9)).toBe('2:05')
    expect([sayShare(0.999), sayShare(0.004), sayShare(0.456)]).toEqual(['>99', '<1', '46'])
  })
})
