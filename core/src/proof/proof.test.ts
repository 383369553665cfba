import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import type { OperatingPoint } from '../signals/index.js'
import { CHANGE_RULES, compareRuns, judgeChange, trimBand } from './index.js'

const trim = CHANGE_RULES.find((r) => r.quantity === 'trim1_pct')!
const point = (kind: OperatingPoint['kind'], rpm: number, means: OperatingPoint['means']): OperatingPoint => ({
  kind,
  rpm,
  startS: 0,
  endS: 0,
  n: 1,
  means,
  sds: {},
})

describe('one change', () => {
  it('nearer to zero and beyond noise is better', () => expect(judgeChange(trim, 18, 2, 0).verdict).toBe('better'))
  it('farther is worse', () => expect(judgeChange(trim, 2, 18, 0).verdict).toBe('worse'))
  it('within what two runs differ by is no change seen', () =>
    expect(judgeChange(trim, 5, 2.5, 0).verdict).toBe('no change seen'))
  it('half width is 1.645·√2·1.5 points for typed trims', () =>
    expect(judgeChange(trim, 0, 0, 0).uncertainty).toBeCloseTo(1.645 * Math.SQRT2 * 1.5, 12))
  it('a relative rule scales with the reading', () => {
    const maf = CHANGE_RULES.find((r) => r.quantity === 'maf_gs')!
    expect(judgeChange(maf, 10, 10.3, 0).verdict).toBe('no change seen')
    expect(judgeChange(maf, 10, 11, 0).verdict).toBe('changed')
  })
  it('an unchanged car is called changed in fewer than one run of twenty', () => {
    fc.assert(
      fc.property(fc.constantFrom(...CHANGE_RULES), fc.double({ min: 1, max: 100, noNaN: true }), (rule, x) => {
        const sd = rule.betweenRuns * (rule.relative ? x : 1)
        return judgeChange(rule, x, x + 1.9 * sd, 0).verdict === 'no change seen'
      }),
    )
  })
  it('refuses an error below zero', () => expect(() => judgeChange(trim, 0, 0, -1)).toThrow(RangeError))
})

describe('runs', () => {
  it('matches holds by speed and not by opening', () => {
    const changes = compareRuns(
      [point('hold', 2500, { trim1_pct: 9, throttle_pct: 6 }), point('idle', 700, { trim1_pct: 20 })],
      [
        point('hold', 1500, { trim1_pct: 1 }),
        point('hold', 2550, { trim1_pct: 2, throttle_pct: 8 }),
        point('idle', 720, { trim1_pct: 1 }),
      ],
    )
    expect(changes.filter((c) => c.quantity === 'trim1_pct').map((c) => [c.kind, c.after])).toEqual([
      ['hold', 2],
      ['idle', 1],
    ])
  })
  it('compares only what both have', () =>
    expect(compareRuns([point('idle', 700, { maf_gs: 2 })], [point('idle', 700, { map_kpa: 30 })])).toEqual([]))
})

it('trims: ±5 good, ±10 acceptable', () => {
  expect([4.9, -7, 12].map(trimBand)).toEqual(['good', 'acceptable', 'outside'])
  expect(() => trimBand(NaN)).toThrow(RangeError)
})
