import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import type { OperatingPoint } from '../signals/index.js'
import { diagnose, type Evidence } from './index.js'

const pattern = (id: string): Vehicle => ({
  ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle,
  name: 'test car',
  altitudeM: 0,
})
const point = (kind: 'idle' | 'hold', rpm: number, means: OperatingPoint['means']): OperatingPoint => ({
  kind,
  rpm,
  startS: 0,
  endS: 0,
  n: 1,
  means: { rpm, ...means },
  sds: {},
})
const evidence = (points: readonly OperatingPoint[], codes?: readonly string[]): Evidence => ({
  points,
  signs: ['idle-rough'],
  findings: [],
  ...(codes ? { codes: codes.map((code) => ({ code, state: 'stored' as const })) } : {}),
  intent: 'complaint',
})
const chance = (v: Vehicle, e: Evidence): number =>
  diagnose(v, e).ranking.find((r) => r.fault === 'temperature-sensor-implausible')?.probability ?? 0

describe('a temperature that nobody read', () => {
  const maf = pattern('four-maf')
  const four = (temperatures: OperatingPoint['means']): readonly OperatingPoint[] => [
    point('idle', 715, { maf_gs: 2.45, trim1_pct: 3, ...temperatures }),
    point('hold', 2500, { maf_gs: 8.4, trim1_pct: 2 }),
  ]
  it('is not cleared by another that is plausible', () => {
    // signal of the intake temperature too high: its sensor is open
    const told = (means: OperatingPoint['means']): number => chance(maf, evidence(four(means), ['P0113']))
    expect(told({ ect_c: 91 })).toBeGreaterThan(0.3)
    expect(told({ ect_c: 91, iat_c: 25 })).toBeLessThan(0.15)
    expect(told({ ect_c: 91, iat_c: -40 })).toBeGreaterThan(0.95)
  })
  it('may be what makes an engine rich that is metered by pressure: an open sensor reads as the densest air', () => {
    const map = pattern('four-map')
    // 300 K over 233 K: 29 % more fuel, of which the trims take off 22 %
    const rich = (means: OperatingPoint['means']): Evidence =>
      evidence([
        point('idle', 775, { map_kpa: 35, trim1_pct: -22, ect_c: 90, ...means }),
        point('hold', 2500, { map_kpa: 29.5, trim1_pct: -22 }),
      ])
    expect(chance(map, rich({}))).toBeGreaterThan(chance(map, rich({ iat_c: 28 })) + 0.02)
    expect(chance(map, rich({ iat_c: -40 }))).toBeGreaterThan(0.9)
  })
  it('makes the idle a controller’s choice, where no engine is as cold as it reads: nothing is learnt wrong by it', () => {
    const turbo = pattern('turbo-di')
    const fast = (ect_c: number): number =>
      diagnose(turbo, evidence([point('idle', 1490, { ect_c, iat_c: 28 })])).ranking.find(
        (r) => r.fault === 'idle-learnt-past',
      )?.probability ?? 0
    expect(fast(91)).toBeGreaterThan(0.2)
    expect(fast(-40)).toBeLessThan(0.02)
  })
})
