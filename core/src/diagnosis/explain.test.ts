import { describe, expect, it } from '@jest/globals'
import { totalTrimPct } from '../signals/index.js'
import { carOf } from './cars.fixture.js'
import { diagnose, pointFromTyped } from './index.js'

const reasonsOf = (car: string, values: Record<string, number>): readonly string[] => {
  const points = [pointFromTyped({ kind: 'idle', values }, totalTrimPct)]
  const { reasons } = diagnose(carOf(car, 1180), { intent: 'complaint', signs: [], findings: [], points })
  return Object.values(reasons).flatMap((list) => list.map((r) => r.text))
}

describe('a reading in words', () => {
  it('what a gauge read is told as vacuum: low where pressure is high', () => {
    const said = reasonsOf('carb-one', { rpm: 1040, gauge_vacuum_kpa: 42 })
    expect(said).toContainEqual(expect.stringMatching(/^vacuum \d+ % below a sound engine’s$/))
    expect(said.join()).not.toMatch(/pressure/)
  })
  it('what a sensor read is told as pressure, and airflow against what idle needs', () => {
    const said = reasonsOf('turbo-di', { rpm: 720, map_kpa: 48, maf_gs: 1.2, stft1_pct: 4, ltft1_pct: 9 })
    expect(said).toContainEqual(expect.stringMatching(/^pressure \d+ % above a sound engine’s$/))
    expect(said).toContainEqual(expect.stringMatching(/^airflow \d+ % below what idle needs$/))
  })
})
