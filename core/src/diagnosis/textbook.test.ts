import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import { totalTrimPct } from '../signals/index.js'
import { diagnose, pointFromTyped, type Diagnosis, type Evidence, type TypedPoint } from './index.js'

const car = (id: string): Vehicle => ({
  ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle,
  name: id,
  altitudeM: 0,
})
/** An idle and a hold at 2500 as they are typed, both trims of an engine alike. */
function typed(
  id: string,
  idle: TypedPoint['values'] & { trim: number },
  hold: TypedPoint['values'] & { trim: number },
  more: Partial<Evidence> = {},
): Diagnosis {
  const v = car(id)
  const values = ({ trim, ...rest }: typeof idle): TypedPoint['values'] => ({
    ...rest,
    stft1_pct: 0,
    ltft1_pct: trim,
    ...(v.banks === 2 ? { stft2_pct: 0, ltft2_pct: trim } : {}),
  })
  return diagnose(v, {
    intent: 'complaint',
    signs: [],
    findings: [],
    points: [
      pointFromTyped({ kind: 'idle', values: values(idle) }, totalTrimPct),
      pointFromTyped({ kind: 'hold', values: { rpm: 2500, ...values(hold) } }, totalTrimPct),
    ],
    ...more,
  })
}
const chance = (d: Diagnosis, fault: string): number => d.ranking.find((r) => r.fault === fault)?.probability ?? 0

describe('lean at a held speed and not at idle', () => {
  it('is fuel that does not keep up', () => {
    const d = typed('four-map', { rpm: 775, map_kpa: 33, trim: 0 }, { map_kpa: 30, trim: 20 })
    expect(d.ranking[0].fault).toBe('fuel-delivery-low')
    expect(d.ranking[0].sentence).toMatch(
      /^Fuel does not keep up with the flow, about [12] % too little at idle and \d+ \(\d+ to \d+\) % at a held speed/,
    )
    expect(d.unexplained).toBeLessThan(0.15)
  })
  it('or, where an airflow sensor meters it, that sensor: both are named, and its pressure is tested', () => {
    const d = typed('four-maf', { rpm: 715, maf_gs: 2.5, trim: 0 }, { maf_gs: 8.3, trim: 20 })
    const two = d.ranking.slice(0, 2).map((r) => r.fault)
    expect(two.sort()).toEqual(['fuel-delivery-low', 'maf-under-reads'])
    expect(chance(d, 'fuel-delivery-low')).toBeGreaterThan(0.25)
    expect(d.unexplained).toBeLessThan(0.15)
    const low = { findings: [{ test: 'fuel-pressure', outcome: 'fail' as const, station: 'beyond' as const }] }
    const tested = typed('four-maf', { rpm: 715, maf_gs: 2.5, trim: 0 }, { maf_gs: 8.3, trim: 20 }, low)
    expect(tested.ranking[0].fault).toBe('fuel-delivery-low')
  })
  it('an airflow that reads as much too low there is the sensor', () => {
    const d = typed('four-maf', { rpm: 715, maf_gs: 2.45, trim: 1 }, { maf_gs: 7, trim: 18 })
    expect(d.ranking[0].fault).toBe('maf-under-reads')
  })
  it('as lean at idle it is the pressure at every flow', () => {
    const d = typed('four-map', { rpm: 775, map_kpa: 33, trim: 18 }, { map_kpa: 30, trim: 19 })
    expect(d.ranking[0].fault).toBe('fuel-delivery-low')
    expect(d.ranking[0].sentence).toMatch(/^About \d+ \(\d+ to \d+\) % too little fuel at idle/)
  })
})

describe('an idle below its band', () => {
  it('that takes a fifth more air burns it badly: exhaust gas that leaks in', () => {
    const d = typed('v6-maf', { rpm: 560, maf_gs: 3.9, trim: 0 }, { maf_gs: 12, trim: 0 }, { signs: ['idle-rough'] })
    expect(d.ranking[0].fault).toBe('egr-open-at-idle')
    expect(d.ranking[0].probability).toBeGreaterThan(0.8)
  })
  it('that takes less is short of it', () => {
    const d = typed('four-maf', { rpm: 560, maf_gs: 1.9, trim: 1 }, { maf_gs: 8.3, trim: 1 }, { signs: ['idle-low'] })
    expect(d.ranking[0].fault).toBe('throttle-deposits')
    expect(chance(d, 'egr-open-at-idle')).toBe(0)
  })
})
