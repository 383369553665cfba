import type { Vehicle } from '../engine/index.js'
import { logSumExp, studentShape, weightedInterval, type Interval } from '../statistics/index.js'
import { addEffects, candidates, predict, type Candidate, type Cell } from './cells.js'
import type { Intent } from './evidence.js'
import { NO_EFFECT, PRIOR, type Effect, type Fault, type FaultId } from './faults.js'
import { scatterOf, soundScatter, UNEXPLAINED_SD, type Scatter } from './healthy.js'
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
  /** Grid of parameters with posterior weights, per fault in order; empty where the hypothesis does not count. */
  readonly grid: readonly { readonly parameters: readonly (readonly number[])[]; readonly weight: number }[]
}

export interface Posterior {
  readonly hypotheses: readonly Hypothesis[]
  /** Probability that nothing in the list explains the readings. */
  readonly unexplained: number
  readonly marginal: ReadonlyMap<FaultId, number>
}

/** log P(discrete evidence | these faults); 0 without any. */
export type DiscreteLogLikelihood = (faults: readonly FaultId[]) => number

/** The forward model run once for one set of readings; asked with other evidence or fewer readings as often as wanted. */
export interface Prepared {
  readonly set: ObservationSet
  readonly candidates: readonly Candidate[]
  readonly scatter: Scatter
}

/** @param sound - observations of this car's own sound record, where there is one */
export function prepare(set: ObservationSet, v: Vehicle, sound?: ObservationSet): Prepared {
  return {
    set,
    candidates: candidates(set, v),
    scatter: soundScatter(set.observations, sound?.observations ?? []),
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

/**
 * Posterior over hypotheses: every fault's grid of parameters is run through the forward model, shared
 * nuisances integrated out as a covariance, the joint density a multivariate Student t.
 */
export function posterior(prepared: Prepared, q: Question): Posterior {
  const { set } = prepared
  const kept = q.kept ?? set.observations.map((_, i) => i)
  const obs = kept.map((i) => set.observations[i])
  const scatter = scatterOf(prepared.scatter, kept)
  const shape = studentShape(scatter.covariance, FREEDOM)
  const residual = new Float64Array(obs.length)
  const densityOf = (predicted: Float64Array): number => {
    for (let i = 0; i < obs.length; i++) {
      const off = obs[i].residual - scatter.mean[i] - predicted[kept[i]]
      const { bound } = obs[i]
      // a value at its stop is a bound: what would lie further out agrees with it
      residual[i] = bound !== undefined && off * bound < 0 ? 0 : off
    }
    return shape.logDensity(residual)
  }
  const all = prepared.candidates
  const shares = priorShares(
    all.map((c) => c.fault),
    q.outcomes,
  )
  const singleMass = 1 - PRIOR.none[q.intent] - PRIOR.pairs - PRIOR.unexplained

  const none: Scored = {
    faults: [],
    logMass: Math.log(PRIOR.none[q.intent]) + q.discrete([]) + densityOf(new Float64Array(set.observations.length)),
    logWeights: new Float64Array(1),
    parametersOf: () => [],
  }
  const singles = all.map((c, i) =>
    scored(
      [c.fault.id],
      Math.log(singleMass * shares[i]) + q.discrete([c.fault.id]),
      Float64Array.from(c.cells, (x) => densityOf(x.predicted)),
      (n) => [c.cells[n].parameters],
    ),
  )
  const pairs = q.sizes ? pairsOf(prepared, singles, shares, q.discrete, densityOf) : []
  const wide = studentShape(
    scatter.covariance.map((row, i) => row.map((x, j) => (i === j ? x + UNEXPLAINED_SD[obs[i].group] ** 2 : x))),
    FREEDOM,
  )
  const average = logSumExp(all.map((c) => q.discrete([c.fault.id]))) - Math.log(all.length)
  const unexplained =
    Math.log(PRIOR.unexplained) + wide.logDensity(obs.map((o, i) => o.residual - scatter.mean[i])) + average
  const every = [none, ...singles, ...pairs]
  const total = logSumExp([...every.map((s) => s.logMass), unexplained])
  const hypotheses = every.map((s) => finish(s, total, q.sizes))
  const marginal = new Map<FaultId, number>()
  for (const h of hypotheses)
    for (const id of h.faults.length ? h.faults : (['none'] as const))
      marginal.set(id, Math.min(1, (marginal.get(id) ?? 0) + h.probability))
  return { hypotheses, unexplained: Math.exp(unexplained - total), marginal }
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
  const leaders = new Set(order.slice(0, PAIR_LEADERS).map((s) => s.faults[0]))
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
  const effects: Effect[] = set.contexts.map(() => ({ ...NO_EFFECT }))
  const predicted = new Float64Array(set.observations.length)
  return list.map(({ i, j, share }) => {
    const [a, b] = [all[i], all[j]]
    const at = (n: number): readonly [Cell, Cell] => [
      a.cells[Math.floor(((n + 0.5) / points) * a.cells.length)],
      b.cells[Math.floor((((n + 1) * golden) % 1) * b.cells.length)],
    ]
    const logWeights = new Float64Array(points)
    for (let n = 0; n < points; n++) {
      const [x, y] = at(n)
      for (let c = 0; c < effects.length; c++) addEffects(effects[c], x.effects[c], y.effects[c])
      logWeights[n] = densityOf(predict(set, effects, predicted))
    }
    const ids = [a.fault.id, b.fault.id]
    return scored(ids, Math.log((PRIOR.pairs * share) / total) + discrete(ids), logWeights, (n) =>
      at(n).map((x) => x.parameters),
    )
  })
}

/** A hypothesis with its mass; its cells are written out only when they count. */
interface Scored {
  readonly faults: readonly FaultId[]
  readonly logMass: number
  readonly logWeights: Float64Array
  readonly parametersOf: (cell: number) => readonly (readonly number[])[]
}

/** Mass of a hypothesis: its prior times the mean density over its grid. */
function scored(
  faults: readonly FaultId[],
  logPrior: number,
  logWeights: Float64Array,
  parametersOf: Scored['parametersOf'],
): Scored {
  return { faults, logWeights, parametersOf, logMass: logPrior - Math.log(logWeights.length) + logSumExp(logWeights) }
}

function finish(s: Scored, total: number, sizes: boolean): Hypothesis {
  const probability = Math.exp(s.logMass - total)
  if (!sizes || probability < UNWRITTEN) return { faults: s.faults, probability, grid: [] }
  const most = logSumExp(s.logWeights)
  const grid = Array.from(s.logWeights, (w, n) => ({ parameters: s.parametersOf(n), weight: Math.exp(w - most) }))
  return { faults: s.faults, probability, grid }
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
  const xs: number[] = []
  const ws: number[] = []
  const marginal = p.marginal.get(fault) ?? 0
  for (const h of p.hypotheses) {
    const at = h.faults.indexOf(fault)
    if (at < 0 || !(h.probability > NEGLIGIBLE * marginal)) continue
    for (const cell of h.grid) {
      if (!(cell.weight > NEGLIGIBLE / h.grid.length)) continue
      const width = half(cell.parameters[at])
      for (const share of width > 0 ? ACROSS : [0]) {
        xs.push(figure(cell.parameters[at]) + share * width)
        ws.push((cell.weight * h.probability) / (width > 0 ? ACROSS.length : 1))
      }
    }
  }
  return xs.length && ws.some((w) => w > 0) ? weightedInterval(xs, ws) : undefined
}
