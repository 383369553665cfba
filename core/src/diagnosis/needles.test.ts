import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS } from '../engine/index.js'
import { diagnose, FAULTS, NEEDLES, needleChance } from './index.js'

const vehicle = { ...ENGINE_PATTERNS.find((p) => p.id === 'four-maf')!.vehicle, name: 'x', altitudeM: 0 }
/** Chances after a needle was seen, and nothing else. */
const after = (needle?: string): ReadonlyMap<string, number> =>
  new Map(
    diagnose(vehicle, {
      intent: 'complaint',
      points: [],
      signs: [],
      findings: needle ? [{ test: 'needle', item: needle, outcome: 'fail' }] : [],
    }).ranking.map((r) => [r.fault, r.probability]),
  )

describe('needles', () => {
  it('name causes that exist, with a reason and shares between nothing and all', () => {
    const ids = new Set(FAULTS.map((f) => f.id))
    for (const n of NEEDLES) {
      expect(n.reason.length).toBeGreaterThan(20)
      expect(Object.keys(n.finds).filter((f) => !ids.has(f as never))).toEqual([])
      for (const p of [n.otherwise, ...Object.values(n.finds)]) expect([p > 0, p < 1]).toEqual([true, true])
    }
  })
  it('for any cause the behaviours together are no surer than all', () => {
    for (const f of FAULTS)
      expect(NEEDLES.filter((n) => n.when === 'idle').reduce((s, n) => s + needleChance(n, [f.id]), 0)).toBeLessThan(
        1.35,
      )
  })
  it.each([
    ['needle.regular-tick', 'weak-cylinder'],
    ['needle.irregular-tick', 'ignition-misfire'],
    ['needle.slow-fall', 'exhaust-restriction'],
    ['needle.slow-recovery', 'exhaust-restriction'],
  ])('%s speaks for %s', (needle, fault) => {
    expect(after(needle).get(fault)).toBeGreaterThan(2 * after().get(fault)!)
  })
  it('a steady one speaks against a weak cylinder and does not clear it; it says nothing of a leak', () => {
    const before = after()
    const seen = after('needle.steady')
    expect(seen.get('weak-cylinder')).toBeLessThan(0.6 * before.get('weak-cylinder')!)
    expect(seen.get('weak-cylinder')).toBeGreaterThan(0.1 * before.get('weak-cylinder')!)
    expect(seen.get('unmetered-air')! / before.get('unmetered-air')!).toBeGreaterThan(0.95)
  })
})
