import { describe, expect, it } from '@jest/globals'
import type { Vehicle } from '../engine/index.js'
import { HEALTHY, simulateRecording, type SimulatedFaults } from '../simulation/index.js'
import { carOf } from './cars.fixture.js'
import { diagnose, evidenceFromRecording, type Diagnosis } from './index.js'

/** A small four fuelled by pressure, its plate moved by a motor. */
const BY_PRESSURE = carOf('four-maf', 200, {
  displacementL: 1.2,
  metering: 'map',
  throttleBoreMm: 46,
  idleSpecRpm: { min: 700, max: 850 },
})
const BY_AIRFLOW = carOf('four-maf', 200)

function told(v: Vehicle, part: Partial<SimulatedFaults>): { d: Diagnosis; kinds: Map<string, number> } {
  const recording = simulateRecording({ vehicle: v, faults: { ...HEALTHY, ...part }, drive: 'shop', seed: 4 })
  const { points, closedThrottlePct } = evidenceFromRecording(recording, v)
  return {
    d: diagnose(v, { intent: 'complaint', signs: [], findings: [], codes: [], points, closedThrottlePct }),
    kinds: new Map(points.map((p) => [p.kind, p.rpm])),
  }
}
const leak = (d: Diagnosis): { low: number; high: number; p: number } => {
  const r = d.ranking.find((x) => x.fault === 'unmetered-air')!
  return { low: r.effectiveAreaMm2!.low, high: r.effectiveAreaMm2!.high, p: r.probability }
}

describe('a hole so large that the idle is no longer held', () => {
  it.each([14, 24])('fuelled by pressure: %d mm² lead, and the interval holds them', (leakMm2) => {
    const { d } = told(BY_PRESSURE, { leakMm2 })
    expect(d.ranking[0].fault).toBe('unmetered-air')
    expect(d.unexplained).toBeLessThan(0.3)
    expect(leak(d).low).toBeLessThan(leakMm2)
    expect(leak(d).high).toBeGreaterThan(leakMm2)
  })
  it('an idle faster than others are held is an idle where plate and foot rest', () => {
    const { kinds } = told(BY_PRESSURE, { leakMm2: 24 })
    expect(kinds.get('idle')).toBeGreaterThan(1200)
    expect(told(BY_PRESSURE, {}).kinds.get('idle')).toBeLessThan(850)
  })
  it('with an airflow sensor and trims at their stop the lean engine asks for more air, and the hole still leads', () => {
    const { d } = told(BY_AIRFLOW, { leakMm2: 6.5 * BY_AIRFLOW.displacementL })
    expect(d.ranking[0].fault).toBe('unmetered-air')
    expect(leak(d).p).toBeGreaterThan(0.9)
  })
  it('what else drives trims to their stop keeps its lead', () => {
    expect(told(BY_AIRFLOW, { fuelErrorIdle: -0.42, fuelErrorFull: -0.45 }).d.ranking[0].fault).toBe(
      'fuel-delivery-low',
    )
    expect(told(BY_AIRFLOW, { mafErrorIdle: -0.42, mafErrorFull: -0.42 }).d.ranking[0].fault).toBe('maf-under-reads')
  })
})
