import { describe, expect, it } from '@jest/globals'
import { HEALTHY, simulateRecording } from '../simulation/index.js'
import { carOf } from './cars.fixture.js'
import { diagnose, evidenceFromRecording } from './index.js'

describe('a pressure sensor off its zero', () => {
  it.each(['four-map', 'turbo-di'].flatMap((id) => [8, 18, 25, -12, -18].map((kpa) => [id, kpa] as const)))(
    '%s, by %d kPa: told by its size, however far',
    (id, kpa) => {
      const v = carOf(id, 900)
      const faults = { ...HEALTHY, mapOffsetPa: 1000 * kpa }
      const { points } = evidenceFromRecording(simulateRecording({ vehicle: v, faults, drive: 'road', seed: 5 }), v)
      const once = ['idle', 'hold', 'cruise', 'pull'].flatMap((kind) =>
        points.filter((p) => p.kind === kind).slice(0, 1),
      )
      const d = diagnose(v, {
        ...{ intent: 'complaint', signs: [], findings: [] },
        points: once.map((p) => ({ ...p, n: 1, sds: {} })),
      })
      expect(d.ranking[0].fault).toBe('map-sensor-offset')
      const said = /about [\d.]+ \(([\d.]+) to ([\d.]+)\) kPa too (high|low)/.exec(d.ranking[0].sentence)!
      expect(said[3]).toBe(kpa > 0 ? 'high' : 'low')
      expect(Number(said[1])).toBeLessThanOrEqual(Math.abs(kpa))
      expect(Number(said[2])).toBeGreaterThanOrEqual(Math.abs(kpa))
    },
  )
})
