import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus'
import { requireRange } from './guards.js'

/** A reproducible source of numbers in [0, 1). */
export type Random = () => number

/** Uniform numbers in [0, 1) from a seed: the only randomness the core knows. */
export function seededRandom(seed: number): Random {
  const generator = xoroshiro128plus(seed | 0)
  return () => (generator.next() >>> 0) / 0x100000000
}

/** Standard normal numbers (Box and Muller 1958). */
export function normalFrom(random: Random): () => number {
  return () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random())
}

/**
 * Standard error of a mean of correlated samples by circular block bootstrap
 * (Politis and Romano 1992): blocks keep the correlation that single draws would destroy.
 * One sample gives 0.
 *
 * @param blockLength - samples a block, ≥ 1; about the correlation length
 */
export function blockBootstrapStandardError(
  xs: readonly number[],
  blockLength: number,
  random: Random,
  draws = 200,
): number {
  requireRange('blockLength', blockLength, blockLength >= 1, '≥ 1')
  const n = xs.length
  requireRange('length', n, n >= 1, '≥ 1')
  if (n === 1) return 0
  const length = Math.min(Math.floor(blockLength), n)
  const blocks = Math.ceil(n / length)
  let sum = 0
  let sum2 = 0
  for (let d = 0; d < draws; d++) {
    let s = 0
    let taken = 0
    for (let b = 0; b < blocks && taken < n; b++) {
      const start = Math.floor(random() * n)
      for (let k = 0; k < length && taken < n; k++, taken++) s += xs[(start + k) % n]
    }
    const m = s / n
    sum += m
    sum2 += m * m
  }
  return Math.sqrt(Math.max(0, (sum2 - (sum * sum) / draws) / (draws - 1)))
}
