import { addEffects, predict, type Candidate } from './cells.js'
import { logMean, type Densities, type Prepared } from './densities.js'
import { NO_EFFECT, PRIOR, type Effect, type FaultId } from './faults.js'

/** log P(discrete evidence | these faults); 0 without any. */
export type DiscreteLogLikelihood = (faults: readonly FaultId[]) => number

/** Singles kept for pairing. */
const PAIR_LEADERS = 3

/** A rank-1 lattice over the unit square (golden ratio): where a pair's two grids are tried together. */
interface Lattice {
  readonly first: Float64Array
  readonly second: Float64Array
}
const latticeOf = (points: number): Lattice => ({
  first: Float64Array.from({ length: points }, (_, n) => (n + 0.5) / points),
  second: Float64Array.from({ length: points }, (_, n) => (((n + 1) * (Math.sqrt(5) - 1)) / 2) % 1),
})
const FINE = latticeOf(160)
/** Few readings cannot resolve more than the coarser. */
const COARSE = latticeOf(32)
const FEW_READINGS = 8
/** Log of how much less probable than the leading single a pair is that need not be reckoned closely. */
const OUT_OF_THE_RUNNING = 8

/** A hypothesis with its mass: its prior times the mean density over its grid. */
export interface Scored {
  readonly members: readonly Candidate[]
  readonly logMass: number
  readonly logWeights: Float64Array
  /** Which cell of a member a point of the grid stands on. */
  readonly cellOf: (point: number, member: number) => number
}

/** Pairs that are one fault said twice, contradict each other, or show as one of the two. */
const EXCLUDED: readonly (readonly [FaultId, FaultId])[] = [
  ['maf-over-reads', 'maf-under-reads'],
  ['fuel-delivery-high', 'fuel-delivery-low'],
  ['unmetered-air', 'unmetered-air-bank'],
  ['pcv-blocked', 'pcv-stuck-open'],
  ['egr-no-flow', 'egr-open-at-idle'],
]
const excluded = (a: FaultId, b: FaultId): boolean =>
  EXCLUDED.some(([x, y]) => (x === a && y === b) || (x === b && y === a))

/**
 * Pairs that hold one of the leading singles, each on a rank-1 lattice over both grids (golden ratio), which meets every
 * value of each far sooner than a thinned product would. A pair's share goes with the shares of its two.
 */
export function pairsOf(
  { set, candidates: all }: Prepared,
  singles: readonly Scored[],
  shares: readonly number[],
  discrete: DiscreteLogLikelihood,
  { of, summed }: Densities,
): Scored[] {
  const order = [...singles].sort((a, b) => b.logMass - a.logMass)
  const leaders = new Set(order.slice(0, PAIR_LEADERS).map((s) => s.members[0].fault.id))
  const list: { i: number; j: number; share: number }[] = []
  let total = 0
  for (let i = 0; i < all.length; i++)
    for (let j = i + 1; j < all.length; j++) {
      if (excluded(all[i].fault.id, all[j].fault.id)) continue
      const share = shares[i] * shares[j]
      total += share
      if (leaders.has(all[i].fault.id) || leaders.has(all[j].fault.id)) list.push({ i, j, share })
    }
  const { first, second } = set.observations.length <= FEW_READINGS ? COARSE : FINE
  const effects: Effect[] = set.contexts.map(() => ({ ...NO_EFFECT }))
  const predicted = new Float64Array(set.observations.length)
  /** Together as the forward model has it. */
  const together = (a: readonly Effect[], b: readonly Effect[]): Float64Array => {
    for (let c = 0; c < effects.length; c++) addEffects(effects[c], a[c], b[c])
    return predict(set, effects, predicted)
  }
  const running = order[0].logMass - OUT_OF_THE_RUNNING
  /** Cells of each grid that a lattice's side stands on. */
  const standing = (side: Float64Array): Uint16Array[] =>
    all.map(({ grid }) => Uint16Array.from(side, (x) => Math.floor(x * grid.length)))
  const [firsts, seconds] = [standing(first), standing(second)]
  return list.map(({ i, j, share }) => {
    const [a, b, cellsA, cellsB] = [all[i], all[j], firsts[i], seconds[j]]
    const members = [a, b]
    const cellOf = (n: number, at: number): number => (at === 0 ? cellsA[n] : cellsB[n])
    const logPrior = Math.log((PRIOR.pairs * share) / total) + discrete([a.fault.id, b.fault.id])
    const logWeights = new Float64Array(first.length)
    // as if the two added up is a small part of the work, and near enough to tell what is out of the running
    for (let k = 0; k < logWeights.length; k++) logWeights[k] = summed(i, cellsA[k], j, cellsB[k])
    const rough = logPrior + logMean(logWeights)
    if (rough < running) return { members, logMass: rough, logWeights, cellOf }
    for (let k = 0; k < logWeights.length; k++)
      logWeights[k] = of(together(a.effectsOf(cellsA[k]), b.effectsOf(cellsB[k])))
    return { members, logMass: logPrior + logMean(logWeights), logWeights, cellOf }
  })
}
