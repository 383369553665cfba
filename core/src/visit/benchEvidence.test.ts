import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS } from '../engine/index.js'
import { diagnoseVisit, sheetOf, type VisitFile } from './index.js'
import { holdOf, idleOf, meta, reading, visitOf } from './remedies.fixture.js'

const sheet = (f: VisitFile, round: number): ReturnType<typeof sheetOf> =>
  sheetOf(f, diagnoseVisit(f, 0), 60, diagnoseVisit(f, round))

describe('what the fall of speed without each cylinder says', () => {
  const carb = { ...ENGINE_PATTERNS.find((p) => p.id === 'carb-one')!.vehicle }
  const idle = (round: number, rpm: number): VisitFile['readings'] => [
    reading(round, 'idle', 'rpm', rpm),
    reading(round, 'idle', 'gauge_vacuum_kpa', 54),
  ]
  const drops = (rpm: readonly number[]): VisitFile['balances'] =>
    rpm.map((rpmDrop, i) => ({
      ...meta(`v:0:drop:${i + 1}`, 5),
      visitId: 'v',
      round: 0,
      taken: { kind: 'drop', cylinder: i + 1, rpmDrop },
    }))
  const of = (balances: VisitFile['balances']): VisitFile => visitOf({ readings: idle(0, 800), balances }, carb)
  const chance = (f: VisitFile, fault: string): number =>
    diagnoseVisit(f, 0).ranking.find((r) => r.fault === fault)?.probability ?? 0
  it('is evidence, and stands on the sheet', () => {
    const one = of(drops([110, 20, 105, 115]))
    expect(chance(one, 'ignition-misfire')).toBeGreaterThan(3 * chance(of([]), 'ignition-misfire'))
    expect(sheet(one, 0).found.join(' ')).toMatch(
      /Cylinder 2 does \d+ % of what the others do \(\d+ to \d+\), by the fall/,
    )
    const alike = of(drops([110, 100, 105, 115]))
    expect(chance(alike, 'ignition-misfire')).toBeLessThan(0.5 * chance(of([]), 'ignition-misfire'))
    expect(sheet(alike, 0).found.join(' ')).toMatch(/No cylinder does surely less than the others/)
    // of those that were not put out nothing is said
    const three = sheet(of(drops([110, 100, 105])), 0).found.join(' ')
    expect(three).toMatch(/Of 3 cylinders that were put out none does surely less/)
    expect(three).not.toMatch(/No cylinder/)
  })
  it('clears nothing as long as a cylinder was not put out', () =>
    expect(chance(of(drops([110, 100, 105])), 'ignition-misfire')).toBeCloseTo(chance(of([]), 'ignition-misfire'), 9))
  it('is the test that this engine is asked for, where nothing counts misfires', () =>
    expect(diagnoseVisit(of([]), 0).nextTests.map((t) => t.test)).toContain('cylinder-drop'))
})

describe('a purge valve on the hand pump', () => {
  const pumped = (loss: number): VisitFile =>
    visitOf({
      readings: [...idleOf(0, { trim: 12 }), ...holdOf(0, 4, 8.2)],
      balances: [
        {
          ...meta('v:0:pump:purge', 5),
          visitId: 'v',
          round: 0,
          taken: { kind: 'pump', part: 'purge', samples: [0, 15, 30].map((t) => ({ t, kpa: 50 - (loss * t) / 60 })) },
        },
      ],
    })
  const purge = (f: VisitFile): number =>
    diagnoseVisit(f, 0).ranking.find((r) => r.fault === 'purge-stuck-open')?.probability ?? 0
  it('is evidence of what it holds', () => {
    const unsaid = purge({ ...pumped(0), balances: [] })
    expect(purge(pumped(60))).toBeGreaterThan(2 * unsaid)
    expect(purge(pumped(0.5))).toBeLessThan(0.3 * unsaid)
    // and is not asked twice, in two ways
    const next = (f: VisitFile): readonly string[] => diagnoseVisit(f, 0).nextTests.map((t) => t.test)
    expect(next({ ...pumped(0), balances: [] }).filter((t) => t.startsWith('purge'))).toEqual(['purge-pinch'])
    expect(next(pumped(60)).filter((t) => t.startsWith('purge'))).toEqual([])
  })
})
