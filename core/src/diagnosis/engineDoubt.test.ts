import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import { HEALTHY, simulateRecording, type SimulatedFaults } from '../simulation/index.js'
import { diagnose, evidenceFromRecording, isGrave } from './index.js'

/** What is said of an engine whose displacement was entered as so many times its own. */
function said(id: string, times: number, faults: Partial<SimulatedFaults> = {}): string | undefined {
  const vehicle: Vehicle = { ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle, name: id, altitudeM: 0 }
  const r = simulateRecording({ vehicle, faults: { ...HEALTHY, ...faults }, drive: 'road', seed: 5 })
  const entered = { ...vehicle, displacementL: Number((times * vehicle.displacementL).toFixed(1)) }
  const d = diagnose(entered, { intent: 'complaint', signs: [], findings: [], ...evidenceFromRecording(r, entered) })
  const w = d.warnings.find((x) => x.code === 'engine-doubtful')
  expect(w === undefined || isGrave(w)).toBe(true)
  return w?.message
}

describe('an engine that was entered in another size', () => {
  it.each([
    ['four-maf', 0.6, 2],
    ['four-maf', 1.5, 2],
    ['v6-maf', 1.5, 2.9],
    ['v8-maf', 0.6, 5.2],
  ])('%s as %f times its size is told with the size that its air has', (id, times, own) => {
    const about = Number(/the air of a (\d+\.\d) L engine/.exec(said(id, times)!)![1])
    expect(Math.abs(about / own - 1)).toBeLessThan(0.08)
  })
  it('is not said of the right one, of one that is near, or of a blocked filter', () => {
    for (const times of [1, 1.15, 0.85]) expect(said('four-maf', times)).toBeUndefined()
    expect(said('four-maf', 1, { restriction: 0.95 })).toBeUndefined()
    expect(said('four-maf', 1, { backPressurePa: 120_000 })).toBeUndefined()
  })
})
