import { describe, expect, it } from '@jest/globals'
import { HEALTHY, simulateRecording } from '../simulation/index.js'
import { carOf } from './cars.fixture.js'
import { diagnose, evidenceFromRecording } from './index.js'

describe('a valve that lets exhaust gas in at idle', () => {
  // gas comes besides the air that is metered; taken for a part of it, twice as much pressure was expected of it
  it.each(
    (['v6-maf', 'v8-maf'] as const).flatMap((id) =>
      (['maf', 'maf+map'] as const).flatMap((metering) => [3, 5].map((mm2) => [id, metering, mm2] as const)),
    ),
  )('%s by %s, %d mm² a litre: its interval holds it', (id, metering, mm2) => {
    const v = carOf(id, 900, { metering })
    const faults = { ...HEALTHY, egrMm2: mm2 * v.displacementL }
    const recording = simulateRecording({ vehicle: v, faults, drive: 'road', seed: 5, gauge: metering === 'maf' })
    const { ranking } = diagnose(v, {
      ...{ intent: 'complaint', signs: [], findings: [] },
      ...evidenceFromRecording(recording, v),
    })
    expect(ranking[0].fault).toBe('egr-open-at-idle')
    const { low, high } = ranking[0].effectiveAreaMm2!
    expect(low).toBeLessThan(mm2 * v.displacementL)
    expect(high).toBeGreaterThan(mm2 * v.displacementL)
  })
})
