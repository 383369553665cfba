import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { economyOf, fillProblem, tanksOf, type Fill } from './economy.js'

const fill = (on: string, odometerKm: number, litres: number, full = true): Fill => ({ on, odometerKm, litres, full })
/** A brim every half month from January on, 600 km each, so many litres. */
const year = (litres: (i: number) => number, count: number, from = 0): Fill[] =>
  Array.from({ length: count }, (_, k) => {
    const i = k + from
    const day = `2026-${String(1 + Math.floor(i / 2)).padStart(2, '0')}-${i % 2 ? '20' : '05'}`
    return fill(day, 10_000 + 600 * i, litres(i))
  })

describe('tanks', () => {
  it('a part fill counts into the tank that ends at the next brim', () => {
    // 20 L in between and 28 L at the end, over 600 km: 8.0 L/100 km
    const tanks = tanksOf([
      fill('2026-03-01', 1000, 40),
      fill('2026-03-05', 1300, 20, false),
      fill('2026-03-09', 1600, 28),
    ])
    expect(tanks).toEqual([{ from: '2026-03-01', to: '2026-03-09', km: 600, litres: 48, per100: 8 }])
  })
  it('what went in before the first brim counts nowhere', () =>
    expect(tanksOf([fill('2026-03-01', 900, 10, false), fill('2026-03-02', 1000, 40)])).toEqual([]))
  it('litres are neither lost nor counted twice', () => {
    const any = fc.array(
      fc.record({ km: fc.integer({ min: 50, max: 900 }), l: fc.integer({ min: 5, max: 70 }), full: fc.boolean() }),
      { minLength: 2, maxLength: 30 },
    )
    fc.assert(
      fc.property(any, (xs) => {
        let km = 0
        const fills = xs.map((x) => fill('2026-01-01', (km += x.km), x.l, x.full))
        const brims = fills.map((f, i) => (f.full ? i : -1)).filter((i) => i >= 0)
        if (brims.length < 2) return tanksOf(fills).length === 0
        const between = fills.slice(brims[0] + 1, brims.at(-1)! + 1).reduce((s, f) => s + f.litres, 0)
        const tanks = tanksOf(fills)
        const long = tanks.length < brims.length - 1
        return long || Math.abs(tanks.reduce((s, t) => s + t.litres, 0) - between) < 1e-9
      }),
    )
  })
})

describe('before and after', () => {
  it('a sixth less over many tanks is told, with its interval', () => {
    const e = economyOf(
      year((i) => (i < 10 ? 60 : 50) + (i % 2), 20),
      '2026-05-25',
    )
    expect(e.verdict).toBe('better')
    expect(e.change!.median).toBeCloseTo(-1.67, 1)
    expect(e.change!.high).toBeLessThan(0)
    expect(e.say).toMatch(/L\/100 km before \(9 tanks\)/)
  })
  it('a twentieth is not told from two tanks a side, and it says how many more it takes', () => {
    const e = economyOf(
      year((i) => (i < 3 ? 60 : 57.5), 6),
      '2026-02-10',
    )
    expect(e.verdict).toBe('no change seen')
    expect(e.say).toMatch(/no change that can be told/)
    expect(e.say).toMatch(/more tanks a change of 5 % can be told|can never be told/)
  })
  it('the season is named and its share is not called a gain', () => {
    const e = economyOf(
      year((i) => (i < 6 ? 60 : 57.5), 13),
      '2026-03-28',
    )
    expect(e.say).toMatch(/season alone/)
    expect(e.seasonShare!).toBeLessThan(0)
    expect(e.verdict).toBe('no change seen')
  })
  it('a tank that reaches over the day belongs to neither side', () =>
    expect(
      economyOf(
        year(() => 60, 6),
        '2026-02-10',
      ).tanks,
    ).toEqual({ before: 2, after: 2, across: 1 }))
  it('without tanks on a side it says which', () => {
    expect(economyOf([], '2026-02-10').say).toMatch(/on either side/)
    expect(
      economyOf(
        year(() => 60, 4),
        '2026-12-10',
      ).say,
    ).toMatch(/after it/)
    expect(() => economyOf([], 'soon')).toThrow(RangeError)
  })
})

it('a fill that cannot be is named', () => {
  const others = [fill('2026-03-01', 1000, 40), fill('2026-04-01', 2000, 40)]
  expect(fillProblem(fill('2026-03-10', 1500, -3), others)).toMatch(/more than 0 and at most 400 L/)
  expect(fillProblem(fill('2026-03-10', 900, 40), others)).toMatch(/runs backwards: an earlier fill stands at 1000/)
  expect(fillProblem(fill('2026-03-10', 2100, 40), others)).toMatch(/runs backwards: a later fill stands at 2000/)
  expect(fillProblem(fill('2026-03-10', 1500, 40), others)).toBeUndefined()
})
