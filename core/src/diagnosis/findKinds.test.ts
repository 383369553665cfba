import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import { totalTrimPct } from '../signals/index.js'
import { actOf, diagnose, pointFromTyped, spokenBy, TESTS, type Diagnosis, type Finding } from './index.js'

const car = (id: string): Vehicle => ({
  ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle,
  name: id,
  altitudeM: 0,
})
const tried = (id: string, finding: Finding): Diagnosis =>
  diagnose(car(id), {
    intent: 'complaint',
    points: [
      pointFromTyped({ kind: 'idle', values: { rpm: 700, map_kpa: 33, stft1_pct: 0, ltft1_pct: 0 } }, totalTrimPct),
    ],
    signs: [],
    findings: [finding],
  })
const chance = (d: Diagnosis, fault: string): number => d.ranking.find((r) => r.fault === fault)?.probability ?? 0

describe('what a test found, where it may be unlike things', () => {
  it('the kinds of a test share out its finds, of every cause and of none', () => {
    for (const t of TESTS.filter((x) => x.kinds)) {
      for (const [fault, p] of Object.entries(t.finds))
        expect([t.id, fault, t.kinds!.reduce((s, k) => s + (k.finds[fault as keyof typeof k.finds] ?? 0), 0)]).toEqual([
          t.id,
          fault,
          expect.closeTo(p, 6),
        ])
      expect(t.kinds!.reduce((s, k) => s + k.otherwise, 0)).toBeCloseTo(t.otherwise, 6)
    }
  })
  it.each([
    ['diesel-four', 'runner-look', 'runners-1', 'all-sooted', 'intake-restriction', 'runner-restriction'],
    ['diesel-four', 'runner-look', 'runners-1', 'one-narrower', 'runner-restriction', 'intake-restriction'],
    ['four-map', 'pcv-grommet', 'pcv', 'no-pull', 'pcv-blocked', 'pcv-stuck-open'],
    ['four-map', 'pcv-grommet', 'pcv', 'strong-pull', 'pcv-stuck-open', 'pcv-blocked'],
    ['four-map', 'oil-cap', 'pcv', 'hard-suck', 'pcv-stuck-open', 'pcv-blocked'],
    ['four-map', 'fuel-pressure', 'beyond', 'too-low', 'fuel-delivery-low', 'fuel-delivery-high'],
    ['diesel-four', 'egr-passage-look', 'egr', 'passage-blocked', 'egr-no-flow', 'egr-open-at-idle'],
    ['v6-maf', 'egr-hand-pump', 'egr', 'no-stumble', 'egr-no-flow', 'egr-open-at-idle'],
  ] as const)('%s, %s: of %s, %s speaks for %s and not for %s', (id, test, station, item, one, other) => {
    const unsaid = tried(id, { test, station, outcome: 'fail' })
    const said = tried(id, { test, station, outcome: 'fail', item })
    expect(chance(said, one)).toBeGreaterThan(chance(unsaid, one))
    expect(chance(said, other)).toBeLessThan(0.7 * chance(unsaid, other))
    expect(Object.keys(spokenBy({ test, item }))).toContain(one)
    expect(Object.keys(spokenBy({ test, item }))).not.toContain(other)
  })
  it('a seat that was looked at and is sound is not to be looked at again', () => {
    const seat = [{ test: 'egr-passage-look', outcome: 'pass' as const }]
    for (const egrControl of ['vacuum', 'electric'] as const) {
      expect(actOf('egr-open-at-idle', { fuel: 'gasoline', egrControl })).toMatch(/^(Hand pump|EGR valve off)/)
      expect(actOf('egr-open-at-idle', { fuel: 'gasoline', egrControl }, seat)).toMatch(/^What moves the EGR valve/)
    }
  })
  it('a find of which nobody said what it was speaks for all that the test finds', () =>
    expect(Object.keys(spokenBy({ test: 'pcv-grommet' }))).toEqual(['pcv-blocked', 'pcv-stuck-open']))
})
