import { describe, expect, it } from '@jest/globals'
import {
  blockBootstrapStandardError,
  logGamma,
  logSumExp,
  median,
  normalFrom,
  quantile,
  seededRandom,
  standardDeviation,
  studentShape,
  weightedInterval,
} from './index.js'

describe('summary', () => {
  it('quantile, type 7, against values worked by hand', () => {
    expect(quantile([1, 2, 3, 4], 0.25)).toBe(1.75)
    expect(median([5])).toBe(5)
  })
  it('one value has no spread; none is refused', () => {
    expect(standardDeviation([3])).toBe(0)
    expect(() => median([])).toThrow(RangeError)
  })
})

describe('weighted interval', () => {
  it('of an even grid is the even interval', () => {
    const xs = Array.from({ length: 1001 }, (_, i) => i / 1000)
    const i = weightedInterval(
      xs,
      xs.map(() => 1),
    )
    expect([i.low, i.median, i.high].map((x) => Number(x.toFixed(3)))).toEqual([0.05, 0.5, 0.95])
  })
  it('does not give a coarse grid a false edge', () => {
    const i = weightedInterval([1, 2, 3], [0.05, 0.9, 0.05])
    expect(i.low).toBeGreaterThanOrEqual(1)
    expect(i.low).toBeLessThan(2)
    expect(i.high).toBeGreaterThan(2)
  })
  it('one value is itself, three times; no weight is refused', () => {
    expect(weightedInterval([4], [2])).toEqual({ low: 4, median: 4, high: 4 })
    expect(() => weightedInterval([1, 2], [0, 0])).toThrow(/sum of weights/)
  })
})

describe('Student density', () => {
  it('logGamma: Γ(5) = 24, Γ(1/2) = √π', () => {
    expect(logGamma(5)).toBeCloseTo(Math.log(24), 12)
    expect(logGamma(0.5)).toBeCloseTo(0.5 * Math.log(Math.PI), 12)
  })
  it('one dimension, ν = 1 is the Cauchy density', () => {
    const t = studentShape([[1]], 1)
    expect(t.distance2At(t.logDensityAt(7.3))).toBeCloseTo(7.3, 9)
    expect(t.logDensity([0])).toBeCloseTo(-Math.log(Math.PI), 12)
    expect(t.logDensity([2])).toBeCloseTo(-Math.log(Math.PI * 5), 12)
  })
  it('integrates to one over a plane', () => {
    const t = studentShape(
      [
        [1, 0.6],
        [0.6, 2],
      ],
      6,
    )
    let sum = 0
    const h = 0.25
    for (let x = -30; x <= 30; x += h) for (let y = -40; y <= 40; y += h) sum += Math.exp(t.logDensity([x, y])) * h * h
    expect(sum).toBeCloseTo(1, 2)
  })
  it('with a core goes on straight where the residual is small, and is t beyond', () => {
    const identity = Array.from({ length: 8 }, (_, i) => Array.from({ length: 8 }, (_, j) => (i === j ? 1 : 0)))
    const [t, held] = [studentShape(identity, 6), studentShape(identity, 6, 0.5)]
    for (const d2 of [4, 6, 40]) expect(held.logDensityAt(d2)).toBeCloseTo(t.logDensityAt(d2), 12)
    // the slope of t at 4 is (6 + 8) / (2 · (6 + 4)) = 0.7
    expect(held.logDensityAt(0) - held.logDensityAt(4)).toBeCloseTo(0.7 * 4, 12)
    expect(held.logDensityAt(1) - held.logDensityAt(3)).toBeCloseTo(0.7 * 2, 12)
    for (const d2 of [0.5, 3.9, 4.1, 20]) expect(held.distance2At(held.logDensityAt(d2))).toBeCloseTo(d2, 9)
    expect(() => studentShape(identity, 6, 1.5)).toThrow(/core/)
  })
  it('what is whitened adds up, gives the density, and may stand in part already', () => {
    const t = studentShape(
      [
        [1, 0.6, 0.2],
        [0.6, 2, 0.1],
        [0.2, 0.1, 3],
      ],
      6,
    )
    const [a, b, sum] = [new Float64Array(3), new Float64Array(3), new Float64Array(3)]
    t.whiten([0.3, -1, 2], a)
    t.whiten([1, 0.5, -0.4], b)
    const whole = t.whiten([1.3, -0.5, 1.6], sum)
    expect([...sum]).toEqual([...a].map((x, i) => expect.closeTo(x + b[i], 12)))
    expect(t.logDensityAt(whole)).toBeCloseTo(t.logDensity([1.3, -0.5, 1.6]), 12)
    const part = Float64Array.of(sum[0], 0, 0)
    expect(t.whiten([NaN, -0.5, 1.6], part, 1)).toBeCloseTo(whole, 12)
  })
  it('refuses a shape that is none, and answers an empty residual', () => {
    expect(() =>
      studentShape(
        [
          [1, 2],
          [2, 1],
        ],
        6,
      ),
    ).toThrow(/positive definite/)
    expect(studentShape([], 6).logDensity([])).toBe(0)
  })
})

it('logSumExp is stable and empty is nothing', () => {
  expect(logSumExp([1000, 1000])).toBeCloseTo(1000 + Math.log(2), 12)
  expect(logSumExp([])).toBe(-Infinity)
})

describe('bootstrap', () => {
  it('the same seed gives the same numbers', () => {
    const [a, b] = [seededRandom(7), seededRandom(7)]
    expect([a(), a(), a()]).toEqual([b(), b(), b()])
  })
  it('of independent samples is σ/√n within a tenth', () => {
    const normal = normalFrom(seededRandom(3))
    const xs = Array.from({ length: 900 }, () => normal())
    expect(blockBootstrapStandardError(xs, 1, seededRandom(4), 600)).toBeCloseTo(1 / 30, 2)
  })
  it('blocks see the correlation that single draws miss', () => {
    const normal = normalFrom(seededRandom(5))
    let x = 0
    const xs = Array.from({ length: 1200 }, () => (x = 0.95 * x + normal()))
    const single = blockBootstrapStandardError(xs, 1, seededRandom(6))
    expect(blockBootstrapStandardError(xs, 60, seededRandom(6))).toBeGreaterThan(3 * single)
  })
  it('one sample has no error', () => expect(blockBootstrapStandardError([2], 5, seededRandom(1))).toBe(0))
})
