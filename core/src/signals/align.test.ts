import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import { HEALTHY, simulateRecording } from '../simulation/index.js'
import {
  ALIGNMENTS,
  findOperatingPoints,
  laidUnder,
  thinned,
  timesBeside,
  waysToLay,
  type Laid,
  type OperatingPoint,
} from './index.js'

const point = (kind: OperatingPoint['kind'], startS: number, endS: number, rpm = 700): OperatingPoint => ({
  kind,
  rpm,
  startS,
  endS,
  n: 80,
  means: {},
  sds: {},
})

/** Rows a second apart, with the speed of each. */
const drive = (rpm: readonly (number | null)[], points: readonly OperatingPoint[] = []): Laid => ({
  trace: { time_s: rpm.map((_, i) => i), rpm, maf_gs: rpm.map((x) => (x === null ? null : x / 300)) },
  points,
})
const repeat = (x: number, n: number): number[] => Array.from({ length: n }, () => x)

describe('by time', () => {
  const mine = drive([700, 710, 720, 730])
  it('row by row, and nothing beyond the other’s end', () => {
    const theirs = drive([800, 810])
    expect(timesBeside('time', mine, theirs)).toEqual([0, 1, 2, 3])
    expect(laidUnder([0, 1, 2, 3], theirs)).toEqual({
      rpm: [800, 810, null, null],
      maf_gs: [800 / 300, 2.7, null, null],
    })
  })
  it('nothing before its start, and nothing of a recording without rows', () => {
    expect(laidUnder([-5, 0.4], drive([800, 810])).rpm).toEqual([null, 800])
    for (const by of ALIGNMENTS) expect(timesBeside(by, mine, drive([]))).toBeUndefined()
    expect(waysToLay(mine, drive([]))).toEqual([])
    expect(waysToLay(mine, drive([800, 810]))).toEqual(['time', 'speed'])
  })
})

describe('stretch on stretch', () => {
  const mine = drive(repeat(700, 120), [point('idle', 10, 30), point('hold', 50, 70, 2500)])
  it('lays the start and the end of each on the same of the other, and goes evenly between', () => {
    const theirs = drive(repeat(700, 200), [point('idle', 40, 60), point('hold', 100, 140, 2480)])
    const beside = timesBeside('stretches', mine, theirs)!
    for (const [m, t] of [
      [10, 40],
      [30, 60],
      [40, 80],
      [50, 100],
      [60, 120],
      [70, 140],
    ])
      expect(beside[m]).toBeCloseTo(t, 9)
    // before the first and after the last second by second
    expect(beside[0]).toBeCloseTo(30, 9)
    expect(beside[80]).toBeCloseTo(150, 9)
  })
  it('a log of thousands of snaps is laid by what it holds, at once', () => {
    const snaps = Array.from({ length: 6000 }, (_, i) => point('snap', 200 + i, 200.5 + i))
    const many = (points: readonly OperatingPoint[]): Laid => drive(repeat(700, 200), [...points, ...snaps])
    const began = performance.now()
    const beside = timesBeside('stretches', many([point('idle', 10, 30)]), many([point('idle', 40, 60)]))!
    expect(performance.now() - began).toBeLessThan(500)
    expect(beside[10]).toBeCloseTo(40, 9)
  })
  it('time never runs back where one drive had another order; another speed is another stretch', () => {
    const turned = drive(repeat(700, 200), [
      point('hold', 10, 30, 2500),
      point('idle', 60, 90),
      point('hold', 120, 140, 1500),
    ])
    const beside = timesBeside('stretches', mine, turned)!
    expect(beside.every((t, i) => i === 0 || t >= beside[i - 1])).toBe(true)
    expect(timesBeside('stretches', mine, drive(repeat(700, 9), [point('hold', 1, 8, 1500)]))).toBeUndefined()
  })
})

describe('by speed', () => {
  const shape = (idle: number, hold: number): number[] => [
    ...repeat(700, idle),
    ...repeat(2500, hold),
    ...repeat(700, 20),
  ]
  it('finds the held speed that began later and lasted longer', () => {
    const mine = drive(shape(30, 20))
    const theirs = drive(shape(60, 45))
    const under = laidUnder(timesBeside('speed', mine, theirs)!, theirs).rpm
    const wrong = under.filter((x, i) => Math.abs(x! - (mine.trace.rpm[i] as number)) > 100).length
    expect(wrong).toBeLessThanOrEqual(3)
    // laid by time it would be wrong for as long as the one waits for the other
    expect(
      laidUnder(timesBeside('time', mine, theirs)!, theirs).rpm.filter((x, i) => x !== mine.trace.rpm[i]).length,
    ).toBe(30)
  })
  it('rows without a value are passed over; a recording without speed cannot be laid so', () => {
    const gaps = shape(30, 20).map((x, i) => (i % 3 ? x : null))
    expect(timesBeside('speed', drive(gaps), drive(shape(60, 45)))).toHaveLength(70)
    const { rpm: _, ...without } = drive(shape(30, 20)).trace
    expect(timesBeside('speed', drive(gaps), { trace: without, points: [] })).toBeUndefined()
  })
})

describe('two drives of one simulated car', () => {
  const vehicle: Vehicle = { ...ENGINE_PATTERNS[0].vehicle, name: 'test', altitudeM: 0 }
  const laid = (seed: number, dropS: number): Laid => {
    const r = simulateRecording({ vehicle, faults: HEALTHY, drive: 'shop', seed, ambientC: 15 })
    const { time_s, rpm } = thinned(r, ['rpm'], 4000)
    const from = time_s.findIndex((t) => t! >= dropS)
    const points = findOperatingPoints(r, vehicle).filter((p) => p.startS > dropS)
    return {
      trace: { time_s: time_s.slice(from).map((t) => t! - dropS), rpm: rpm.slice(from) },
      points: points.map((p) => ({ ...p, startS: p.startS - dropS, endS: p.endS - dropS })),
    }
  }
  // the second was begun late
  const [mine, theirs] = [laid(3, 0), laid(3, 40)]
  const off = (by: (typeof ALIGNMENTS)[number]): number => {
    const under = laidUnder(timesBeside(by, mine, theirs)!, theirs).rpm
    const pairs = under.flatMap((x, i) => (x === null ? [] : [Math.abs(x - (mine.trace.rpm[i] as number))]))
    return pairs.reduce((s, d) => s + d, 0) / pairs.length
  }
  it('by stretches or by speed they lie on each other, by time they do not', () => {
    expect(off('time')).toBeGreaterThan(150)
    expect(off('stretches')).toBeLessThan(40)
    expect(off('speed')).toBeLessThan(0.5 * off('time'))
  })
})
