import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS } from '../engine/index.js'
import { adjustersOf, throttleAdvice, type ThrottleReading } from '../vacuum/index.js'
import { SimulatedThrottles, type ThrottleSpeed } from './index.js'

const engine = (throttles: number) => ({
  ...ENGINE_PATTERNS.find((p) => p.id === 'four-bodies')!.vehicle,
  name: 'test',
  altitudeM: 1180,
  cylinders: throttles,
  throttleBodies: throttles,
})

/** A second of gauges as one row. */
function read(row: SimulatedThrottles, speed: ThrottleSpeed): number[] {
  const rows = Array.from({ length: 10 }, () => row.vacuumKpa(speed))
  return rows[0].map((_, i) => rows.reduce((s, r) => s + r[i], 0) / rows.length)
}

/** Turns until the advice is content at a speed. */
function balance(row: SimulatedThrottles, layout: 'each' | 'pairs', speed: ThrottleSpeed): number {
  const readings: ThrottleReading[] = [{ vacuumKpa: read(row, speed) }]
  for (let turns = 0; turns < 40; turns++) {
    const advice = throttleAdvice(layout, readings)
    if (advice.balanced) return turns
    row.turn(speed, advice.adjuster!.moves, advice.turns!)
    readings.push({ vacuumKpa: read(row, speed), turned: { adjuster: advice.adjuster!.id, turns: advice.turns! } })
  }
  return Infinity
}

describe('simulated throttles', () => {
  it('a throttle that is opened draws less deep, and only that one', () => {
    const row = new SimulatedThrottles(engine(4), 1)
    const before = read(row, 'hold-2500')
    row.turn('hold-2500', [3], 0.5)
    const after = read(row, 'hold-2500')
    expect(after[2]).toBeLessThan(before[2] - 0.5)
    for (const i of [0, 1, 3]) expect(Math.abs(after[i] - before[i])).toBeLessThan(0.4)
  })
  it.each([
    [2, 'each'],
    [3, 'each'],
    [4, 'each'],
    [4, 'pairs'],
    [6, 'each'],
    [8, 'each'],
  ] as const)('%i throttles, %s: balanced in two turns an adjuster in 95 of 100 starts', (n, layout) => {
    const turns = Array.from({ length: 100 }, (_, s) =>
      balance(new SimulatedThrottles(engine(n), s + 1), layout, 'hold-2500'),
    )
    expect(turns.filter((x) => x <= 2 * (n - 1)).length).toBeGreaterThanOrEqual(95)
  })
  it('bypass screws after the linkage', () => {
    const row = new SimulatedThrottles(engine(4), 5)
    balance(row, 'each', 'hold-2500')
    expect(balance(row, 'each', 'idle')).toBeLessThanOrEqual(8)
    expect(adjustersOf('each', row.throttles)).toHaveLength(3)
  })
  it('one throttle has none to be compared with', () => {
    expect(() => new SimulatedThrottles({ ...engine(4), throttleBodies: 1 }, 1)).toThrow(RangeError)
  })
})
