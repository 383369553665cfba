import type { Vehicle } from '../engine/index.js'
import type { Finding } from './evidence.js'
import type { Posterior } from './posterior.js'
import { findChance, TESTS } from './tests.js'

/** A test worth doing next. */
export interface NextTest {
  readonly test: string
  /** Expected fall of uncertainty about which faults are there [bits]. */
  readonly bits: number
  readonly minutes: number
}

const entropy = (ps: readonly number[]): number => -ps.reduce((s, p) => (p > 0 ? s + p * Math.log2(p) : s), 0)

/**
 * Tests by expected information per minute: mutual information between the outcome and the hypothesis.
 * Tests already done are left out; so are those that would tell less than a hundredth of a bit.
 */
export function nextTests(p: Posterior, v: Vehicle, done: readonly Finding[]): NextTest[] {
  const doneIds = new Set(done.filter((f) => f.outcome !== 'unclear').map((f) => f.test))
  const ps = [...p.hypotheses.map((h) => h.probability), p.unexplained]
  const before = entropy(ps)
  return TESTS.filter((t) => t.admissible(v) && !doneIds.has(t.id))
    .map((t) => {
      const find = [...p.hypotheses.map((h) => findChance(t, h.faults)), t.otherwise]
      const pFind = ps.reduce((s, x, i) => s + x * find[i], 0)
      const after = (w: (i: number) => number, z: number): number =>
        z > 0 ? entropy(ps.map((x, i) => (x * w(i)) / z)) : 0
      const expected = pFind * after((i) => find[i], pFind) + (1 - pFind) * after((i) => 1 - find[i], 1 - pFind)
      return { test: t.id, bits: Math.max(0, before - expected), minutes: t.minutes }
    })
    .filter((t) => t.bits > 0.01)
    .sort((a, b) => b.bits / b.minutes - a.bits / a.minutes)
}
