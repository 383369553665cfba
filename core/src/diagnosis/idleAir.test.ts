import { describe, expect, it } from '@jest/globals'
import type { Vehicle } from '../engine/index.js'
import { HEALTHY, simulateRecording, type SimulatedFaults } from '../simulation/index.js'
import { carOf } from './cars.fixture.js'
import { diagnose, evidenceFromRecording, type Diagnosis } from './index.js'

/** Its idle, held speeds, road and pull, each read once. */
function typed(v: Vehicle, faults: Partial<SimulatedFaults>): Diagnosis {
  const gauge = v.metering === 'maf'
  const r = simulateRecording({ vehicle: v, faults: { ...HEALTHY, ...faults }, drive: 'road', seed: 5, gauge })
  const { points } = evidenceFromRecording(r, v)
  const once = ['idle', 'hold', 'cruise', 'pull'].flatMap((kind) => points.filter((p) => p.kind === kind).slice(0, 1))
  return diagnose(v, {
    ...{ intent: 'complaint', signs: [], findings: [] },
    points: once.map((p) => ({ ...p, n: 1, sds: {} })),
  })
}
const holds = (d: Diagnosis, mm2: number): void => {
  const { low, high } = d.ranking[0].effectiveAreaMm2!
  expect(low).toBeLessThan(mm2)
  expect(high).toBeGreaterThan(mm2)
}

describe('a vent that is torn open', () => {
  it.each(['four-maf', 'v6-maf', 'v8-twin'])('%s runs up to 1500 on it, and its size is told', (id) => {
    const v = carOf(id, 900)
    const d = typed(v, { ventExtraMm2: 7 * v.displacementL })
    expect(d.ranking[0].fault).toBe('pcv-stuck-open')
    expect(d.ranking[0].probability).toBeGreaterThan(0.8)
    holds(d, 7 * v.displacementL)
  })
})

describe('a purge valve that stands open', () => {
  it.each(['four-maf', 'v6-maf'])('%s: vapour that makes up for its air is one cause, and no hole besides', (id) => {
    const v = carOf(id, 900)
    const d = typed(v, { purgeMm2: 2 * v.displacementL, canisterLoad: 0.28 })
    expect(d.ranking[0].fault).toBe('purge-stuck-open')
    expect(d.ranking[0].sentence).toMatch(/no trim that tells of it/)
    expect(d.ranking.find((r) => r.fault === 'unmetered-air')!.probability).toBeLessThan(0.2)
    holds(d, 2 * v.displacementL)
  })
  it('where pressure meters the air its vapour is too much fuel, whatever it is', () => {
    const v = carOf('four-map', 900)
    const d = typed(v, { purgeMm2: 3 * v.displacementL, canisterLoad: 0.3 })
    expect(d.ranking[0].fault).toBe('purge-stuck-open')
    expect(d.ranking[0].sentence).toMatch(/loaded canister: rich/)
    holds(d, 3 * v.displacementL)
  })
})

describe('a duct that is off', () => {
  it('is told by its share of the air, and not of what is metered', () => {
    const v = carOf('four-maf', 900)
    const sound = typed(v, {}).ranking
    expect(sound[0].fault).toBe('none')
    const duct = typed(v, { ductLeakMm2: 200 }).ranking.find((r) => r.fault === 'unmetered-air-duct')!
    // the sensor of this engine told 0.77 of what it breathed
    const [, low, high] = /\((\d+) to (\d+)\) % of the air comes in/.exec(duct.sentence)!.map(Number)
    expect(low).toBeLessThan(23)
    expect(high).toBeGreaterThan(22)
    expect(high).toBeLessThan(29)
  })
})
