import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { settledFrom } from './pointFigures.js'

/** Slope by the definition: covariance over variance. */
function slopeOf(t: readonly number[], y: readonly number[]): number {
  const rows = t.map((x, i) => [x, y[i]] as const).filter(([, v]) => !Number.isNaN(v))
  const mean = (k: 0 | 1): number => rows.reduce((s, r) => s + r[k], 0) / rows.length
  const [mt, my] = [mean(0), mean(1)]
  const square = rows.reduce((s, [x]) => s + (x - mt) ** 2, 0)
  return square > 0 ? rows.reduce((s, [x, v]) => s + (x - mt) * (v - my), 0) / square : 0
}

describe('where a window has settled', () => {
  const settled = (y: readonly number[], most = 0.2, leastS = 2, startS = 0): number | undefined => {
    const t = Float64Array.from(y, (_, i) => startS + i / 10)
    return settledFrom(t, Float64Array.from(y), { from: 0, to: y.length - 1 }, most, leastS)
  }
  it('a trim that stands is settled from the first row, one that drifts all the way never', () => {
    expect(settled(Array.from({ length: 100 }, () => 4))).toBe(0)
    expect(settled(Array.from({ length: 100 }, (_, i) => i / 10))).toBeUndefined()
  })
  it('drops eighths until what is left stands; blanks count for nothing', () => {
    const falls = Array.from({ length: 100 }, (_, i) => (i % 7 === 3 ? NaN : i < 40 ? 8 - i / 5 : 0))
    const from = settled(falls)!
    expect(from).toBeGreaterThan(20)
    expect(from).toBeLessThanOrEqual(40)
    expect(falls.slice(0, from).some((x) => !Number.isNaN(x))).toBe(true)
  })
  it('is the first of its cuts at which the least-squares slope of the rest is small, late in a day as well', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.double({ min: -30, max: 30, noNaN: true }), fc.constant(NaN)), {
          minLength: 25,
          maxLength: 120,
        }),
        fc.constantFrom(0, 1800, 86_000),
        (y, startS) => {
          const t = y.map((_, i) => startS + i / 10)
          let from = 0
          let want: number | undefined = 0
          while (Math.abs(slopeOf(t.slice(from), y.slice(from))) > 0.2) {
            from += Math.max(1, Math.floor((y.length - 1 - from) / 8))
            if (t[y.length - 1] - t[from] < 2) {
              want = undefined
              break
            }
            want = from
          }
          expect(settled(y, 0.2, 2, startS)).toBe(want)
        },
      ),
    )
  })
})
