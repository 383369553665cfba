import { logSumExp, weightedInterval, type Interval } from '../statistics/index.js'
import { densitiesOf, type Prepared } from './densities.js'
import type { Evidence, Intent, WorkDone } from './evidence.js'
import { PRIOR, type Fault, type FaultId } from './faults.js'
import { pairsOf, type DiscreteLogLikelihood, type Scored } from './pairs.js'

/** Probability below which a hypothesis adds nothing to a size. */
const UNWRITTEN = 1e-5
/** Share of a fault's probability below which a hypothesis adds nothing to its interval. */
const NEGLIGIBLE = 1e-3
/** Cases that the shop's own counts must outweigh: so many stand behind the prior shares. */
const PRIOR_CASES = 20

/** One hypothesis: no fault, one, or two together. */
export interface Hypothesis {
  readonly faults: readonly FaultId[]
  readonly probability: number
}

/** Grid of one fault with its posterior weights over every hypothesis that holds it; the weights need not sum to 1. */
export interface Sizes {
  /** Parameters of every cell. */
  readonly grid: readonly (readonly number[])[]
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

/** What is asked of the prepared readings. */
export interface Question {
  readonly intent: Intent
  /** How the engine was seen to die, where it does. */
  readonly dies?: Evidence['dies']
  readonly discrete: DiscreteLogLikelihood
  /** Confirmed outcomes of this shop, by cause. */
  readonly outcomes?: Readonly<Partial<Record<FaultId, number>>>
  /** What was done before: of what may still be wrong, how much of it is left to each cause. */
  readonly done?: readonly WorkDone[]
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
  const kept = q.kept ?? prepared.set.observations.map((_, i) => i)
  const densities = densitiesOf(prepared, kept)
  const all = prepared.candidates
  const shares = priorShares(
    all.map((c) => c.fault),
    q.outcomes,
  )
  const sound = q.dies ? PRIOR.noneOfDying : PRIOR.none[q.intent]
  const singleMass = 1 - sound - PRIOR.pairs - PRIOR.unexplained
  const discretes = all.map((c) => q.discrete([c.fault.id]))

  const none: Scored = {
    members: [],
    logMass: Math.log(sound) + q.discrete([]) + densities.none,
    logWeights: new Float64Array(1),
    cellOf: () => 0,
  }
  const singles = all.map((c, i): Scored => ({
    members: [c],
    logMass: Math.log(singleMass * shares[i]) + discretes[i] + densities.means[i],
    logWeights: densities.singles[i],
    cellOf: (n) => n,
  }))
  const pairs = q.sizes ? pairsOf(prepared, singles, shares, q.discrete, densities) : []
  const average = logSumExp(discretes) - Math.log(all.length)
  const every = [none, ...afterWork([...singles, ...pairs], q.done ?? [])]
  const explained = logSumExp(every.map((s) => s.logMass))
  const strange = densities.distance > FAR && !isLed(every, explained)
  const unexplained = Math.max(
    Math.log(PRIOR.unexplained) + densities.unexplained + average,
    strange ? explained : -Infinity,
  )
  const total = logSumExp([explained, unexplained])
  const hypotheses = every.map<Hypothesis>((s) => ({
    faults: s.members.map((c) => c.fault.id),
    probability: Math.exp(s.logMass - total),
  }))
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

/** Hypotheses after some work, of the same mass together: what was worked on is less likely among them, and whether anything is wrong the readings tell. */
function afterWork(faulty: readonly Scored[], done: readonly WorkDone[]): readonly Scored[] {
  if (!done.length) return faulty
  const left = (s: Scored): number =>
    s.members.reduce((sum, c) => done.reduce((x, w) => x + Math.log(w.left[c.fault.id] ?? 1), sum), s.logMass)
  const changed = faulty.map((s) => ({ ...s, logMass: left(s) }))
  const lost = logSumExp(faulty.map((s) => s.logMass)) - logSumExp(changed.map((s) => s.logMass))
  return changed.map((s) => ({ ...s, logMass: s.logMass + lost }))
}

/**
 * Squared distance a reading beyond which readings lie far from all that is weighed [–]. Heavy tails forgive one strange engine, and
 * compare strange with strange: what fits nothing would be shared out by the priors. Of 2000 simulated cases one lies so far with nothing that leads.
 */
const FAR = 3
/** Share from which one cause leads nevertheless, and pairs together. */
const LEADS = 0.6

/** Whether one cause alone or with others leads by far, or pairs together do: none by itself does not count. */
function isLed(every: readonly Scored[], explained: number): boolean {
  const shares = new Map<string, number>()
  for (const s of every) {
    const share = Math.exp(s.logMass - explained)
    const names =
      s.members.length > 1 ? ['pairs', ...s.members.map((c) => c.fault.id)] : s.members.map((c) => c.fault.id)
    for (const name of names) shares.set(name, (shares.get(name) ?? 0) + share)
  }
  return [...shares.values()].some((x) => x > LEADS)
}

/** Weights of a fault's cells over every hypothesis that holds it, each hypothesis by its probability. */
function gather(
  fault: FaultId,
  every: readonly Scored[],
  hypotheses: readonly Hypothesis[],
  marginal: number,
): Sizes | undefined {
  let sizes: Sizes | undefined
  every.forEach(({ members, logWeights, cellOf }, k) => {
    const { probability } = hypotheses[k]
    const at = members.findIndex((c) => c.fault.id === fault)
    if (at < 0 || probability < UNWRITTEN || !(probability > NEGLIGIBLE * marginal)) return
    sizes ??= { grid: members[at].grid, weights: new Float64Array(members[at].grid.length) }
    const sum = logSumExp(logWeights)
    for (let n = 0; n < logWeights.length; n++) {
      const weight = Math.exp(logWeights[n] - sum)
      if (weight > NEGLIGIBLE / logWeights.length) sizes.weights[cellOf(n, at)] += weight * probability
    }
  })
  return sizes
}

/** Prior shares of the faults, sum 1: by their weights, and by what this shop has confirmed. */
function priorShares(faults: readonly Fault[], outcomes: Question['outcomes'] = {}): number[] {
  const weights = faults.reduce((s, f) => s + f.weight, 0)
  const counts = faults.reduce((s, f) => s + (outcomes[f.id] ?? 0), 0)
  return faults.map((f) => ((PRIOR_CASES * f.weight) / weights + (outcomes[f.id] ?? 0)) / (PRIOR_CASES + counts))
}

/** Where a cell of the grid stands for a width of its figure: at its middle and so far to either side, as shares of the half width. */
const ACROSS = [-0.8, -0.4, 0, 0.4, 0.8] as const

/** Half of what lies between each figure of a grid and its neighbours: no figure is known finer than it was weighed. */
function halfSteps(figures: readonly number[]): (figure: number) => number {
  const steps = [...new Set(figures)].filter((x) => !Number.isNaN(x)).sort((a, b) => a - b)
  const halves = new Map(
    steps.map((x, i) => {
      const [below, above] = [x - (steps[i - 1] ?? NaN), (steps[i + 1] ?? NaN) - x]
      return [x, Math.max(...[below, above].filter((gap) => !Number.isNaN(gap)), 0) / 2]
    }),
  )
  return (x) => halves.get(x) ?? 0
}

/**
 * Median and 90 % interval of a figure of one fault over every hypothesis that holds it; undefined when none does.
 *
 * @param figure - NaN where a cell does not count
 * @param half - half the width that a cell stands for, where its figure is a product of two grids; the grid's own steps when left out
 */
export function intervalOf(
  p: Posterior,
  fault: FaultId,
  figure: (parameters: readonly number[]) => number,
  half?: (parameters: readonly number[]) => number,
): Interval | undefined {
  const sizes = p.sizesOf(fault)
  if (!sizes) return undefined
  const figures = sizes.grid.map(figure)
  const step = half ? undefined : halfSteps(figures)
  const xs: number[] = []
  const ws: number[] = []
  sizes.weights.forEach((weight, n) => {
    const x = figures[n]
    if (!(weight > 0) || Number.isNaN(x)) return
    const width = step ? step(x) : half!(sizes.grid[n])
    for (const share of width > 0 ? ACROSS : [0]) {
      xs.push(x + share * width)
      ws.push(weight / (width > 0 ? ACROSS.length : 1))
    }
  })
  return xs.length ? weightedInterval(xs, ws) : undefined
}
