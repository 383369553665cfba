import { describe, expect, it } from '@jest/globals'
import { totalTrimPct } from '../signals/index.js'
import { carOf } from './cars.fixture.js'
import { diagnose, pointFromTyped, type FaultId } from './index.js'

/** A boosted four at 1,180 m that idles and is held at 2500, and what differs of its pressures ahead of the plate. */
const IDLE = { rpm: 720, map_kpa: 33, maf_gs: 2.2, stft1_pct: 0, ltft1_pct: 1 }
const HELD = { rpm: 2500, map_kpa: 29, maf_gs: 6.6, stft1_pct: 0, ltft1_pct: 1 }

function likelihood(fault: FaultId, idle: object, held: object, kind: 'hold' | 'cruise' = 'hold'): number {
  const d = diagnose(carOf('turbo-di', 1180), {
    intent: 'complaint',
    signs: [],
    findings: [],
    points: [
      { ...pointFromTyped({ kind: 'idle', values: { ...IDLE, ...idle } }, totalTrimPct), n: 200 },
      { ...pointFromTyped({ kind, values: { ...HELD, ...held } }, totalTrimPct), n: 200 },
    ],
  })
  return d.ranking.find((r) => r.fault === fault)!.probability
}
const before = likelihood('intake-restriction', {}, {})

describe('pressure ahead of the plate of a turbo that does not blow', () => {
  it('sinks as flow grows: the way in is narrowed', () => {
    const now = likelihood('intake-restriction', { charge_kpa: 87.8 }, { charge_kpa: 85 })
    expect(now).toBeGreaterThan(0.6)
    expect(now).toBeGreaterThan(5 * before)
  })
  it('says nothing where it stands, or is blown up', () => {
    for (const held of [87.8, 88.4, 95])
      expect(likelihood('intake-restriction', { charge_kpa: 87.8 }, { charge_kpa: held })).toBeCloseTo(before, 3)
  })
  it('on the road counts beside the barometer only: a hill moves it', () => {
    const road = (idle: object, held: object): number => likelihood('intake-restriction', idle, held, 'cruise')
    const alone = road({}, {})
    expect(road({ charge_kpa: 87.8 }, { charge_kpa: 85 })).toBeCloseTo(alone, 3)
    const up = { baro_kpa: 87.8, charge_kpa: 87.8 }
    expect(road(up, { baro_kpa: 85, charge_kpa: 85 })).toBeLessThan(1.5 * alone)
    expect(road(up, { baro_kpa: 87.8, charge_kpa: 85 })).toBeGreaterThan(5 * alone)
  })
  it('a sensor that reads too low by as much at every speed is not taken for it', () => {
    expect(likelihood('intake-restriction', { charge_kpa: 80 }, { charge_kpa: 79.8 })).toBeLessThan(1.5 * before)
  })
})
