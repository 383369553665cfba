import { expect, it } from '@jest/globals'
import fc from 'fast-check'
import { normalFrom, seededRandom, theilSen, theilSenSlope } from './index.js'

it('a line is found, and its interval is the line', () => {
  const t = theilSen([0, 1, 2, 3, 4].map((x) => ({ x, y: 3 + 2 * x })))!
  expect(t).toMatchObject({ slope: 2, low: 2, high: 2, n: 5 })
})
it('one point gone wild does not turn it', () =>
  expect(theilSenSlope([0, 1, 2, 3, 4, 5, 6].map((x) => ({ x, y: x === 6 ? 90 : x })))).toBeCloseTo(1, 9))
it('three points, or points at one place, are no trend', () => {
  expect(theilSen([0, 1, 2].map((x) => ({ x, y: x })))).toBeUndefined()
  expect(theilSen([1, 1, 1, 1].map((x, y) => ({ x, y })))).toBeUndefined()
  expect(() => theilSen([{ x: NaN, y: 0 }])).toThrow(RangeError)
})
it('its interval holds the truth about nine times in ten', () => {
  const normal = normalFrom(seededRandom(4))
  let held = 0
  for (let k = 0; k < 400; k++) {
    const t = theilSen(Array.from({ length: 8 }, (_, x) => ({ x, y: 0.5 * x + normal() })))!
    if (t.low <= 0.5 && t.high >= 0.5) held++
  }
  expect(held / 400).toBeGreaterThan(0.86)
})
it('a stretched time stretches the slope', () =>
  fc.assert(
    fc.property(fc.array(fc.integer({ min: -50, max: 50 }), { minLength: 4, maxLength: 12 }), (ys) => {
      const [a, b] = [1, 2].map((k) => theilSenSlope(ys.map((y, x) => ({ x: k * x, y }))))
      return Math.abs(a - 2 * b) < 1e-9
    }),
  ))
