import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS } from '../engine/index.js'
import { expectedAlong, kindAt } from './index.js'

const v = { ...ENGINE_PATTERNS.find((p) => p.id === 'four-maf')!.vehicle, name: 'x', altitudeM: 0 }
const map = { ...v, metering: 'maf+map' as const }

describe('expected along a recording', () => {
  it.each([
    [{}, false, 'key-on'],
    [{ rpm: 700 }, false, 'idle'],
    [{ rpm: 700 }, true, 'idle-load'],
    [{ rpm: 2500, speed_kph: 0 }, false, 'hold'],
    [{ rpm: 2500, speed_kph: 60 }, true, 'cruise'],
  ] as const)('%j, loaded %s: %s', (values, loaded, kind) => expect(kindAt(values, v, loaded)).toBe(kind))
  it('standing engines have none, the road has none without pressure, the bounds hold the sound engine between', () => {
    const rows = { rpm: [0, 700, 2500, 2000, null], speed_kph: [0, null, 0, 60, 60] }
    const { low, high } = expectedAlong(rows, v, 20)
    expect(low.map((x) => x !== null)).toEqual([false, true, true, false, false])
    // 2.4 L at 700 rpm needs about 11 mm² of choked opening: 2.6 g/s at sea level
    const perL = v.displacementL / 2.4
    expect(low[1]!).toBeLessThan(2.6 * perL)
    expect(high[1]!).toBeGreaterThan(2.6 * perL)
  })
  it('with pressure the road is known too, and the last pressure stands', () => {
    const rows = { rpm: [2000, 2000], speed_kph: [60, 60], map_kpa: [50, null] }
    const { low, high } = expectedAlong(rows, map, 20)
    expect(low[1]).toBe(low[0])
    expect(high[0]! / low[0]!).toBeLessThan(2)
  })
})
