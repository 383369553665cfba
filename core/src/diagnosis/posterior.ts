import type { Vehicle } from '../engine/index.js'
import { logSumExp, studentShape, weightedInterval, type Interval } from '../statistics/index.js'
import { addEffects, candidates, predict, type Candidate, type Cell } from './cells.js'
import type { Intent } from './evidence.js'
import { NO_EFFECT, PRIOR, type Effect, type Fault, type FaultId } from './faults.js'
import { scatterOf, soundScatter, UNEXPLAINED_SD, type Scatter, type SoundObservations } from './healthy.js'
import type { ObservationSet } from './observations.js'

/** Degrees of freedom of the joint density: heavy tails, since engines differ from any model. */
const FREEDOM = 6
/** Singles kept for pairing. */
const PAIR_LEADERS = 3
/** Points of the lattice on which a pair's parameters are tried together; few readings cannot resolve more than the fewer. */
const PAIR_POINTS = 160
const PAIR_POINTS_FEW = 32
const FEW_READINGS = 8
/** Probability below which a hypothesis' grid is not written out. */
const UNWRITTEN = 1e-5
/** Share of a fault's probability below which a hypothesis adds nothing to its interval. */
const NEGLIGIBLE = 1e-3
/** Cases that the shop's own counts must outweigh: so many stand behind the prior shares. */
const PRIOR_CASES = 20

/** One hypothesis: no fault, one, or two together. */
export interface Hypothesis {
  readonly faults: readonly FaultId[]
  readonly probability: number
  /** Posterior weights over its grid of parameters, sum 1; empty where the hypothesis does not count. */
  readonly weights: Float64Array
}

/** Grid of one fault with its posterior weights over every hypothesis that holds it; the weights need not sum to 1. */
export interface Sizes {
  readonly cells: readonly Cell[]
  readonly weights: Float64Array
}

export interface Posterior {
  readonly hypotheses: readonly Hypothesis[]
  /** Probability that nothing in the list explains the readings. */
  readonly unexplained: number
  readonly marginal: ReadonlyMap<FaultId, number>
  /** Weights over a fault's grid; undefined when no hypothesis that counts holds it. */
  sizesOf(fault: FaultId): Sizes | undefined
}

/** log P(discrete evidence | these faults); 0 without any. */
export type DiscreteLogLikelihood = (faults: readonly FaultId[]) => number

/** The forward model run once for one set of readings; asked with other evidence or fewer readings as often as wanted. */
export interface Prepared {
  readonly set: ObservationSet
  readonly candidates: readonly Candidate[]
  readonly scatter: Scatter
  /** Densities found so far, by the readings that counted: what was seen and found besides does not change them. */
  readonly densities: Map<string, Densities>
}

/** Densities of one choice of readings. */
interface Densities {
  readonly of: (predicted: Float64Array) => number
  readonly none: number
  /** Per candidate, per cell of its grid. */
  readonly singles: readonly Float64Array[]
  /** Per candidate: log of the mean density over its grid. */
  readonly means: Float64Array
  readonly unexplained: number
}

/**
 * @param sound - observations of this car's own sound records and of its model's, where there are any
 * @param worked - its idle opening was worked on
 */
export function prepare(
  set: ObservationSet,
  v: Vehicle,
  sound: readonly SoundObservations[] = [],
  worked = false,
): Prepared {
  return {
    set,
    candidates: candidates(set, v, worked),
    scatter: soundScatter(set.observations, sound),
    densities: new Map(),
  }
}

/** What is asked of the prepared readings. */
export interface Question {
  readonly intent: Intent
  readonly discrete: DiscreteLogLikelihood
  /** Confirmed outcomes of this shop, by cause. */
  readonly outcomes?: Readonly<Partial<Record<FaultId, number>>>
  /** Indices of the readings that count; all when left out. */
  readonly kept?: readonly number[]
  /** Whether sizes are wanted, and with them pairs; without, only how probable each cause is by itself. */
  readonly sizes: boolean
}

const logMean = (logs: Float64Array): number => logSumExp(logs) - Math.log(logs.length)

/** Densities of every single over the readings kept; the innermost loop of the diagnosis, so on flat arrays only. */
function densitiesOf(prepared: Prepared, kept: readonly number[]): Densities {
  const key = kept.join()
  const known = prepared.densities.get(key)
  if (known) return known
  const { observations } = prepared.set
  const n = kept.length
  const scatter = scatterOf(prepared.scatter, kept)
  const shape = studentShape(scatter.covariance, FREEDOM)
  const index = Int32Array.from(kept)
  const base = new Float64Array(n)
  const bound = new Int8Array(n)
  for (let i = 0; i < n; i++) {
    const o = observations[index[i]]
    base[i] = o.residual - scatter.mean[i]
    bound[i] = o.bound ?? 0
  }
  const residual = new Float64Array(n)
  const of = (predicted: Float64Array): number => {
    for (let i = 0; i < n; i++) {
      const off = base[i] - predicted[index[i]]
      // a value at its stop is a bound: what would lie further out agrees with it
      residual[i] = off * bound[i] < 0 ? 0 : off
    }
    return shape.logDensity(residual)
  }
  const singles = prepared.candidates.map(({ cells }) => {
    const logs = new Float64Array(cells.length)
    for (let c = 0; c < logs.length; c++) logs[c] = of(cells[c].predicted)
    return logs
  })
  const wide = studentShape(
    scatter.covariance.map((row, i) =>
      row.map((x, j) => (i === j ? x + UNEXPLAINED_SD[observations[index[i]].group] ** 2 : x)),
    ),
    FREEDOM,
  )
  const densities: Densities = {
    of,
    none: of(new Float64Array(observations.length)),
    singles,
    means: Float64Array.from(singles, logMean),
    unexplained: wide.logDensity(base),
  }
  prepared.densities.set(key, densities)
  return densities
}

/**
 * Posterior over hypotheses: every fault's grid of parameters is run through the forward model, shared
 * nuisances integrated out as a covariance, the joint density a multivariate Student t.
 */
export function posterior(prepared: Prepared, q: Question): Posterior {
  const kept = q.kept ?? prepared.set.observations.map((_, i) => i)
  const densities = densitiesOf(prepared, kept)
  const all = prepared.candidates
  const shares = priorShares(
    all.map((c) => c.fault),
    q.outcomes,
  )
  const singleMass = 1 - PRIOR.none[q.intent] - PRIOR.pairs - PRIOR.unexplained
  const discretes = all.map((c) => q.discrete([c.fault.id]))

  const none: Scored = {
    members: [],
    logMass: Math.log(PRIOR.none[q.intent]) + q.discrete([]) + densities.none,
    logWeights: new Float64Array(1),
    cellOf: () => 0,
  }
  const singles = all.map((c, i): Scored => ({
    members: [c],
    logMass: Math.log(singleMass * shares[i]) + discretes[i] + densities.means[i],
    logWeights: densities.singles[i],
    cellOf: (n) => n,
  }))
  const pairs = q.sizes ? pairsOf(prepared, singles, shares, q.discrete, densities.of) : []
  const average = logSumExp(discretes) - Math.log(all.length)
  const unexplained = Math.log(PRIOR.unexplained) + densities.unexplained + average
  const every = [none, ...singles, ...pairs]
  const total = logSumExp([...every.map((s) => s.logMass), unexplained])
  const hypotheses = every.map((s) => finish(s, total, q.sizes))
  const marginal = new Map<FaultId, number>()
  for (const h of hypotheses)
    for (const id of h.faults.length ? h.faults : (['none'] as const))
      marginal.set(id, Math.min(1, (marginal.get(id) ?? 0) + h.probability))
  const sizes = new Map<FaultId, Sizes | undefined>()
  const sizesOf = (fault: FaultId): Sizes | undefined => {
    if (!sizes.has(fault)) sizes.set(fault, gather(fault, every, hypotheses, marginal.get(fault) ?? 0))
    return sizes.get(fault)
  }
  return { hypotheses, unexplained: Math.exp(unexplained - total), marginal, sizesOf }
}

/** Weights of a fault's cells over every hypothesis that holds it, each hypothesis by its probability. */
function gather(
  fault: FaultId,
  every: readonly Scored[],
  hypotheses: readonly Hypothesis[],
  marginal: number,
): Sizes | undefined {
  let sizes: Sizes | undefined
  every.forEach(({ members, cellOf }, k) => {
    const { probability, weights } = hypotheses[k]
    const at = members.findIndex((c) => c.fault.id === fault)
    if (at < 0 || !weights.length || !(probability > NEGLIGIBLE * marginal)) return
    sizes ??= { cells: members[at].cells, weights: new Float64Array(members[at].cells.length) }
    for (let n = 0; n < weights.length; n++)
      if (weights[n] > NEGLIGIBLE / weights.length) sizes.weights[cellOf(n, at)] += weights[n] * probability
  })
  return sizes
}

/** Prior shares of the faults, sum 1: by their weights, and by what this shop has confirmed. */
function priorShares(faults: readonly Fault[], outcomes: Question['outcomes'] = {}): number[] {
  const weights = faults.reduce((s, f) => s + f.weight, 0)
  const counts = faults.reduce((s, f) => s + (outcomes[f.id] ?? 0), 0)
  return faults.map((f) => ((PRIOR_CASES * f.weight) / weights + (outcomes[f.id] ?? 0)) / (PRIOR_CASES + counts))
}

/** Pairs that are one fault said twice, contradict each other, or show as one of the two. */
const EXCLUDED: ReadonlySet<string> = new Set([
  'maf-over-reads maf-under-reads',
  'fuel-delivery-high fuel-delivery-low',
  'unmetered-air unmetered-air-bank',
  'pcv-blocked pcv-stuck-open',
  'egr-no-flow egr-open-at-idle',
])
const excluded = (a: FaultId, b: FaultId): boolean => EXCLUDED.has([a, b].sort().join(' '))

/**
 * Pairs that hold one of the leading singles, each on a rank-1 lattice over both grids (golden ratio), which meets every
 * value of each far sooner than a thinned product would. A pair's share goes with the shares of its two.
 */
function pairsOf(
  { set, candidates: all }: Prepared,
  singles: readonly Scored[],
  shares: readonly number[],
  discrete: DiscreteLogLikelihood,
  densityOf: (predicted: Float64Array) => number,
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
  const golden = (Math.sqrt(5) - 1) / 2
  const points = set.observations.length <= FEW_READINGS ? PAIR_POINTS_FEW : PAIR_POINTS
  const first = Float64Array.from({ length: points }, (_, n) => (n + 0.5) / points)
  const second = Float64Array.from({ length: points }, (_, n) => ((n + 1) * golden) % 1)
  const effects: Effect[] = set.contexts.map(() => ({ ...NO_EFFECT }))
  const predicted = new Float64Array(set.observations.length)
  return list.map(({ i, j, share }) => {
    const members = [all[i], all[j]]
    const [a, b] = [all[i].cells, all[j].cells]
    const logWeights = new Float64Array(points)
    for (let n = 0; n < points; n++) {
      const [x, y] = [a[Math.floor(first[n] * a.length)].effects, b[Math.floor(second[n] * b.length)].effects]
      for (let c = 0; c < effects.length; c++) addEffects(effects[c], x[c], y[c])
      logWeights[n] = densityOf(predict(set, effects, predicted))
    }
    return {
      members,
      logMass: Math.log((PRIOR.pairs * share) / total) + discrete(members.map((m) => m.fault.id)) + logMean(logWeights),
      logWeights,
      cellOf: (n, at) => (at === 0 ? Math.floor(first[n] * a.length) : Math.floor(second[n] * b.length)),
    }
  })
}

/** A hypothesis with its mass: its prior times the mean density over its grid. */
interface Scored {
  readonly members: readonly Candidate[]
  readonly logMass: number
  readonly logWeights: Float64Array
  /** Which cell of a member a point of the grid stands on. */
  readonly cellOf: (point: number, member: number) => number
}

const NO_WEIGHTS = new Float64Array(0)

function finish(s: Scored, total: number, sizes: boolean): Hypothesis {
  const faults = s.members.map((c) => c.fault.id)
  const probability = Math.exp(s.logMass - total)
  if (!sizes || probability < UNWRITTEN) return { faults, probability, weights: NO_WEIGHTS }
  const sum = logSumExp(s.logWeights)
  return { faults, probability, weights: s.logWeights.map((w) => Math.exp(w - sum)) }
}

/** Where a cell of the grid stands for a width of its figure: at its middle and so far to either side, as shares of the half width. */
const ACROSS = [-0.7, 0, 0.7] as const

/**
 * Median and 90 % interval of a figure of one fault over every hypothesis that holds it; undefined when none does.
 *
 * @param half - half the width that a cell stands for, where its figure is a product of two grids; 0 when left out
 */
export function intervalOf(
  p: Posterior,
  fault: FaultId,
  figure: (parameters: readonly number[]) => number,
  half: (parameters: readonly number[]) => number = () => 0,
): Interval | undefined {
  const sizes = p.sizesOf(fault)
  if (!sizes) return undefined
  const xs: number[] = []
  const ws: number[] = []
  sizes.weights.forEach((weight, n) => {
    if (!(weight > 0)) return
    const { parameters } = sizes.cells[n]
    const width = half(parameters)
    for (const share of width > 0 ? ACROSS : [0]) {
      xs.push(figure(parameters) + share * width)
      ws.push(weight / (width > 0 ? ACROSS.length : 1))
    }
  })
  return xs.length ? weightedInterval(xs, ws) : undefined
}
