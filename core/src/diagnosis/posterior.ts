import type { Vehicle } from '../engine/index.js'
import { logSumExp, studentShape, weightedInterval, type Interval } from '../statistics/index.js'
import { FAULTS, NO_EFFECT, PRIOR, type Effect, type Fault, type FaultId, type PointContext } from './faults.js'
import type { Intent } from './evidence.js'
import type { Observation, ObservationSet } from './observations.js'

/** Degrees of freedom of the joint density: heavy tails, since engines differ from any model. */
const FREEDOM = 6
/** How far readings may lie when nothing in the list is at work [log], own and independent. */
const UNEXPLAINED_SD = { trims: 0.16, airflow: 0.25, opening: 0.6, 'idle-speed': 0.15 } as const
/** Singles kept for pairing. */
const PAIR_LEADERS = 3
/** Points of the lattice on which a pair's parameters are tried together. */
const PAIR_POINTS = 384

/** One hypothesis: no fault, one, or two together. */
export interface Hypothesis {
  readonly faults: readonly FaultId[]
  readonly probability: number
  /** Posterior mean of what the readings should differ by, per observation. */
  readonly predicted: readonly number[]
  /** Grid of parameters with posterior weights, per fault in order. */
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

/**
 * Posterior over hypotheses: every fault's grid of parameters is run through the forward model, shared
 * nuisances integrated out as a covariance, the joint density a multivariate Student t.
 */
export function posterior(
  set: ObservationSet,
  v: Vehicle,
  intent: Intent,
  discrete: DiscreteLogLikelihood,
  withPairs = true,
): Posterior {
  const obs = set.observations
  const shape = studentShape(covariance(obs), FREEDOM)
  const wide = studentShape(
    covariance(obs, (o) => UNEXPLAINED_SD[o.group]),
    FREEDOM,
  )
  const admissible = FAULTS.filter((f) => f.id !== 'none' && f.admissible(v))
  const weightSum = admissible.reduce((s, f) => s + f.weight, 0)
  const nonePrior = PRIOR.none[intent]
  const singleMass = 1 - nonePrior - PRIOR.pairs - PRIOR.unexplained

  const run = (faults: readonly Fault[], logPrior: number): Scored =>
    score(faults, set, v, shape.logDensity, logPrior + discrete(faults.map((f) => f.id)))

  const none = run([], Math.log(nonePrior))
  const singles = admissible.map((f) => run([f], Math.log((singleMass * f.weight) / weightSum)))
  const order = [...singles].sort((a, b) => b.logMass - a.logMass)
  const leaders = new Set(order.slice(0, PAIR_LEADERS).map((s) => s.faults[0].id))
  const pairable = admissible
    .flatMap((a, i) => admissible.slice(i + 1).map((b) => [a, b] as const))
    .filter(([a, b]) => !excluded(a.id, b.id))
  const pairs = withPairs
    ? pairable
        .filter(([a, b]) => leaders.has(a.id) || leaders.has(b.id))
        .map((pair) => run(pair, Math.log(PRIOR.pairs / pairable.length)))
    : []
  const unexplained =
    Math.log(PRIOR.unexplained) + wide.logDensity(obs.map((o) => o.residual)) + averageDiscrete(admissible, discrete)
  const all = [none, ...singles, ...pairs]
  const total = logSumExp([...all.map((s) => s.logMass), unexplained])
  const hypotheses = all.map((s) => finish(s, total, obs.length))
  const marginal = new Map<FaultId, number>()
  for (const h of hypotheses)
    for (const id of h.faults.length ? h.faults : (['none'] as const))
      marginal.set(id, (marginal.get(id) ?? 0) + h.probability)
  return { hypotheses, unexplained: Math.exp(unexplained - total), marginal }
}

/** Pairs that are one fault said twice, or contradict each other. */
function excluded(a: FaultId, b: FaultId): boolean {
  const key = [a, b].sort().join(' ')
  return [
    'maf-over-reads maf-under-reads',
    'fuel-delivery-high fuel-delivery-low',
    'unmetered-air unmetered-air-bank',
  ].includes(key)
}

function averageDiscrete(faults: readonly Fault[], discrete: DiscreteLogLikelihood): number {
  return logSumExp(faults.map((f) => discrete([f.id]))) - Math.log(faults.length)
}

function covariance(obs: readonly Observation[], extraSd?: (o: Observation) => number): number[][] {
  return obs.map((a, i) =>
    obs.map((b, j) => {
      let s = 0
      for (const [key, x] of Object.entries(a.shared)) s += x * (b.shared[key as keyof typeof b.shared] ?? 0)
      return i === j ? s + a.ownSd ** 2 + (extraSd ? extraSd(a) ** 2 : 0) : s
    }),
  )
}

interface Scored {
  readonly faults: readonly Fault[]
  readonly logMass: number
  readonly cells: {
    readonly parameters: readonly (readonly number[])[]
    readonly logWeight: number
    readonly predicted: Float64Array
  }[]
}

function score(
  faults: readonly Fault[],
  set: ObservationSet,
  v: Vehicle,
  logDensity: (r: ArrayLike<number>) => number,
  logPrior: number,
): Scored {
  const obs = set.observations
  const combos = parameterSets(faults.map((f) => f.grid(v)))
  const residual = new Float64Array(obs.length)
  const cells = combos.map((parameters) => {
    const effects = set.contexts.map((c) => combine(faults, parameters, c))
    const predicted = new Float64Array(obs.length)
    for (let i = 0; i < obs.length; i++) {
      predicted[i] = obs[i].predict(effects[obs[i].point])
      residual[i] = obs[i].residual - predicted[i]
    }
    return { parameters, predicted, logWeight: logPrior - Math.log(combos.length) + logDensity(residual) }
  })
  return { faults, cells, logMass: logSumExp(cells.map((c) => c.logWeight)) }
}

/**
 * One fault: its whole grid. Two: a rank-1 lattice over both grids (golden ratio), which meets every
 * value of each far sooner than a thinned product would.
 */
function parameterSets(grids: readonly (readonly (readonly number[])[])[]): (readonly number[])[][] {
  if (grids.length === 0) return [[]]
  if (grids.length === 1) return grids[0].map((p) => [p])
  const [a, b] = grids
  const golden = (Math.sqrt(5) - 1) / 2
  return Array.from({ length: PAIR_POINTS }, (_, i) => [
    a[Math.floor(((i + 0.5) / PAIR_POINTS) * a.length)],
    b[Math.floor((((i + 1) * golden) % 1) * b.length)],
  ])
}

function combine(faults: readonly Fault[], parameters: readonly (readonly number[])[], c: PointContext): Effect {
  const e = { ...NO_EFFECT }
  faults.forEach((f, i) => {
    const part = f.effect(parameters[i], c)
    for (const key of Object.keys(part) as (keyof Effect)[]) e[key] += part[key]!
  })
  return e
}

function finish(s: Scored, total: number, n: number): Hypothesis {
  const probability = Math.exp(s.logMass - total)
  const predicted = new Array<number>(n).fill(0)
  const grid = s.cells.map((c) => {
    const weight = Math.exp(c.logWeight - s.logMass)
    for (let i = 0; i < n; i++) predicted[i] += weight * c.predicted[i]
    return { parameters: c.parameters, weight }
  })
  return { faults: s.faults.map((f) => f.id), probability, predicted, grid }
}

/** Median and 90 % interval of a figure of one fault over every hypothesis that holds it; undefined when none does. */
export function intervalOf(
  p: Posterior,
  fault: FaultId,
  figure: (parameters: readonly number[]) => number,
): Interval | undefined {
  const xs: number[] = []
  const ws: number[] = []
  for (const h of p.hypotheses) {
    const at = h.faults.indexOf(fault)
    if (at < 0 || !(h.probability > 1e-9)) continue
    for (const cell of h.grid) {
      xs.push(figure(cell.parameters[at]))
      ws.push(cell.weight * h.probability)
    }
  }
  return xs.length && ws.some((w) => w > 0) ? weightedInterval(xs, ws) : undefined
}
