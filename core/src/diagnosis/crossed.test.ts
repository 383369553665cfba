import { describe, expect, it } from '@jest/globals'
import { totalTrimPct } from '../signals/index.js'
import { addFault, HEALTHY, simulateRecording } from '../simulation/index.js'
import { carOf } from './cars.fixture.js'
import { diagnose, evidenceFromRecording, faultOf, pointFromTyped, testInfo, type Diagnosis } from './index.js'

/** An idle and a hold by typed figures. @param banks - short and long trim of bank 1, of bank 2 */
const typed = (idle: readonly number[], hold: readonly number[]): Diagnosis => {
  const point = (kind: 'idle' | 'hold', rpm: number, maf_gs: number, [s1, l1, s2, l2]: readonly number[]) =>
    pointFromTyped(
      { kind, values: { rpm, maf_gs, stft1_pct: s1, ltft1_pct: l1, stft2_pct: s2, ltft2_pct: l2 } },
      totalTrimPct,
    )
  return diagnose(carOf('v6-maf', 300), {
    intent: 'complaint',
    signs: [],
    findings: [],
    points: [point('idle', 680, 3.6, idle), point('hold', 2500, 12, hold)],
  })
}
const shareOf = (d: Diagnosis): number => d.ranking.find((r) => r.fault === 'oxygen-sensors-crossed')!.probability

describe('oxygen sensors on each other’s bank', () => {
  it.each(['maf', 'map'] as const)('leads in a recording of an engine fuelled by %s', (metering) => {
    const v = carOf('v6-maf', 300, { metering })
    const crossed = addFault(HEALTHY, 'oxygen-sensors-crossed', v)
    if (!crossed.ok) throw new Error('not possible here')
    const { points, closedThrottlePct } = evidenceFromRecording(
      simulateRecording({ vehicle: v, faults: crossed.faults, drive: 'shop', seed: 4 }),
      v,
    )
    const d = diagnose(v, { intent: 'complaint', signs: [], findings: [], points, closedThrottlePct })
    expect(d.ranking[0].fault).toBe('oxygen-sensors-crossed')
    expect(d.unexplained).toBeLessThan(0.05)
  })
  it('leads by typed trims that stand apart alike at idle and 2500, and says which bank is given more', () => {
    const d = typed([20, 25, -20, -25], [20, 25, -20, -25])
    expect(d.ranking[0].fault).toBe('oxygen-sensors-crossed')
    expect(d.ranking[0].sentence).toMatch(/bank 1 is given more and more fuel and bank 2 less and less/)
    expect(typed([-20, -25, 20, 25], [-20, -25, 20, 25]).ranking[0].sentence).toMatch(/bank 2 is given more/)
  })
  it('leads where the control was switched off for it and only what was learnt is left', () => {
    expect(typed([0, 25, 0, -25], [0, 25, 0, -25]).ranking[0].fault).toBe('oxygen-sensors-crossed')
  })
  it('no longer stands out where both banks are seen at rest', () => {
    expect(shareOf(typed([1, 24, -1, -20], [-2, 26, 1, -22]))).toBeLessThan(0.5)
  })
  it('is not told of one bank that asks for fuel while the other is as it should be', () => {
    expect(shareOf(typed([3, 18, 0, 1], [1, 6, 0, 0]))).toBeLessThan(0.02)
  })
  it('belongs to engines with two banks only, and so does its test', () => {
    const four = carOf('four-maf', 300)
    expect(faultOf('oxygen-sensors-crossed').admissible(four)).toBe(false)
    expect(testInfo('oxygen-sensor-plugs').admissible(four)).toBe(false)
    expect(testInfo('oxygen-sensor-plugs').admissible(carOf('v6-maf', 300))).toBe(true)
  })
})
