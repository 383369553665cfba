import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import { totalTrimPct, type ChannelId } from '../signals/index.js'
import { diagnose, pointFromTyped, type Diagnosis, type Evidence } from './index.js'

const car = (id: string): Vehicle => ({
  ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle,
  name: id,
  altitudeM: 0,
})
const weigh = (v: Vehicle, values: Partial<Record<ChannelId, number>>, more: Partial<Evidence> = {}): Diagnosis =>
  diagnose(v, {
    intent: 'complaint',
    points: [
      pointFromTyped({ kind: 'idle', values: { stft1_pct: 0, ltft1_pct: 0, battery_v: 14, ...values } }, totalTrimPct),
    ],
    signs: [],
    findings: [],
    ...more,
  })
const chance = (d: Diagnosis, fault: string): number => d.ranking.find((r) => r.fault === fault)?.probability ?? 0

describe('learnt to deposits that are gone', () => {
  const four = car('four-maf')
  /** Half as fast again as it should idle, all of its air metered. */
  const fast = { rpm: 1060, maf_gs: 3.6, throttle_pct: 3.4 }
  it('of a car of which no work is told it is a cause of an idle that stands high, and of no other', () => {
    const d = weigh(four, fast)
    // a vent that is torn open brings metered air as well: a minute at the oil cap parts them
    const two = d.ranking.slice(0, 2).map((r) => r.fault)
    expect(two.sort()).toEqual(['idle-learnt-past', 'pcv-stuck-open'])
    const found = weigh(four, fast, { findings: [{ test: 'oil-cap', outcome: 'fail', station: 'pcv' }] })
    expect(chance(found, 'pcv-stuck-open')).toBeGreaterThan(0.75)
    expect(chance(weigh(four, fast, { worked: true }), 'idle-learnt-past')).toBeGreaterThan(0.65)
    expect(chance(d, 'idle-learnt-past')).toBeLessThan(chance(weigh(four, fast, { worked: true }), 'idle-learnt-past'))
    for (const known of [weigh(four, { rpm: 690, maf_gs: 2.4 }), weigh(four, fast, { worked: false })])
      expect(known.ranking.map((r) => r.fault)).not.toContain('idle-learnt-past')
  })
  it('where pressure meters the air a leak lifts the idle far more often', () => {
    const d = weigh(car('four-map'), { rpm: 1100, map_kpa: 34 })
    expect(d.ranking[0].fault).toBe('unmetered-air')
    expect(chance(d, 'idle-learnt-past')).toBeLessThan(0.2)
  })
  it('leads after the throttle was cleaned, where the idle is high and the air is metered', () => {
    const d = weigh(four, fast, { worked: true })
    expect(d.ranking[0].fault).toBe('idle-learnt-past')
    expect(d.ranking[0].sentence).toMatch(/opens further than its opening now needs/)
  })
  it('a normal idle after the cleaning is not called learnt wrong', () => {
    const d = weigh(four, { rpm: 690, maf_gs: 2.4, throttle_pct: 2 }, { worked: true })
    expect(d.ranking[0].fault).toBe('none')
    expect(chance(d, 'idle-learnt-past')).toBeLessThan(0.15)
  })
  it('unmetered air is told from it by the trim', () => {
    const d = weigh(four, { rpm: 700, ltft1_pct: 24, maf_gs: 1.9, throttle_pct: 1.5 }, { worked: true })
    expect(d.ranking[0].fault).toMatch(/unmetered-air|maf-under-reads/)
    expect(chance(d, 'idle-learnt-past')).toBeLessThan(0.05)
  })
})
