import { CholeskyDecomposition, Matrix } from 'ml-matrix'
import { hasController, hasMaf, hasMap, hasSteadyVacuum, hasTrims, type Vehicle } from '../engine/index.js'
import { standardPressurePa } from '../air/index.js'
import type { ChannelId, OperatingPoint } from '../signals/index.js'
import { basicsOf } from './basics.js'
import type { Evidence } from './evidence.js'
import { NO_EFFECT, faultOf, type FaultId } from './faults.js'
import { covarianceOf } from './healthy.js'
import { observe, type Observation, type ObservationSet } from './observations.js'
import type { PlateSensor } from './plateObservations.js'
import type { Posterior } from './posterior.js'

/** A reading that nobody has taken yet, and how much it would tell of what is still open. */
export interface MissingReading {
  readonly id: string
  readonly label: string
  /** Mean information about the leading causes [bits]. */
  readonly bits: number
  /** Whether it is read off where the engine stands, in a moment. */
  readonly isAtHand?: true
}

/** One reading that may be missing: what the points would be with it, or undefined where the engine has none or it is there. */
interface Candidate {
  readonly id: string
  readonly label: string
  readonly isAtHand?: true
  readonly add: (points: readonly OperatingPoint[], v: Vehicle) => readonly OperatingPoint[] | undefined
}

/** A sound engine's figures at a point, as far as this engine has channels for them. */
function soundPoint(kind: OperatingPoint['kind'], rpm: number, v: Vehicle): OperatingPoint {
  const bare: OperatingPoint = {
    kind,
    rpm,
    startS: 0,
    endS: 0,
    n: 100,
    means: { rpm, iat_c: 30, ect_c: 88 },
    sds: { rpm: 5 },
  }
  const { soundKgS, soundPa } = basicsOf(bare, v)
  return {
    ...bare,
    means: {
      ...bare.means,
      ...(hasMaf(v) ? { maf_gs: 1e3 * soundKgS } : {}),
      ...(hasMap(v) ? { map_kpa: soundPa / 1e3 } : {}),
      ...(hasTrims(v) ? { trim1_pct: 0, ...(v.banks === 2 ? { trim2_pct: 0 } : {}) } : {}),
    },
  }
}

const idleRpm = (v: Vehicle): number => (v.idleSpecRpm.min + v.idleSpecRpm.max) / 2
const has = (points: readonly OperatingPoint[], kind: string, fromRpm = 0): boolean =>
  points.some((p) => p.kind === kind && p.rpm >= fromRpm)

const point =
  (kind: OperatingPoint['kind'], rpm: (v: Vehicle) => number, fromRpm = 0): Candidate['add'] =>
  (points, v) =>
    has(points, kind, fromRpm) ? undefined : [...points, soundPoint(kind, rpm(v), v)]

/** A channel beside what was read at idle and held speeds. */
const channel =
  (id: ChannelId, value: (p: OperatingPoint, v: Vehicle) => number, can: (v: Vehicle) => boolean): Candidate['add'] =>
  (points, v) => {
    const at = points.filter((p) => p.kind === 'idle' || p.kind === 'hold')
    if (!can(v) || !at.length || at.some((p) => p.means[id] !== undefined)) return undefined
    return points.map((p) => (at.includes(p) ? { ...p, means: { ...p.means, [id]: value(p, v) } } : p))
  }

const CANDIDATES: readonly Candidate[] = [
  { id: 'idle', label: 'a warm idle', add: point('idle', idleRpm) },
  { id: 'hold-2500', label: '2500 rpm held without load', add: point('hold', () => 2500, 2000) },
  { id: 'pull', label: 'a pull with the plate wide open', add: point('pull', () => 4000) },
  {
    id: 'key-on',
    label: 'the manifold pressure with the ignition on and the engine still',
    add: (points, v) =>
      !hasMap(v) || has(points, 'key-on')
        ? undefined
        : [
            ...points,
            {
              ...soundPoint('idle', idleRpm(v), v),
              kind: 'key-on',
              rpm: 0,
              means: { map_kpa: standardPressurePa(v.altitudeM) / 1e3 },
            },
          ],
  },
  { id: 'idle-load', label: 'idle with the consumers on', add: point('idle-load', idleRpm) },
  {
    id: 'gauge',
    label: 'manifold vacuum by a gauge, at idle and held',
    add: channel(
      'gauge_vacuum_kpa',
      (p, v) => (standardPressurePa(v.altitudeM) - basicsOf(p, v).soundPa) / 1e3,
      (v) => !hasMap(v) && hasSteadyVacuum(v),
    ),
  },
  {
    id: 'throttle',
    label: 'the throttle’s reading, at idle and held',
    add: channel(
      'throttle_pct',
      () => 10,
      (v) => v.idleControl === 'electronic-throttle' && v.fuel !== 'diesel',
    ),
  },
  {
    id: 'valve',
    label: 'the idle valve’s duty',
    add: channel(
      'idle_valve_pct',
      () => 28,
      (v) => v.idleControl === 'idle-valve',
    ),
  },
  {
    id: 'intake-temperature',
    label: 'the intake temperature',
    isAtHand: true,
    add: channel('iat_c', () => 30, hasController),
  },
  {
    id: 'mixture',
    label: 'the mixture of a full pull, by the wideband sensor, beside the commanded one',
    add: (points, v) => {
      if (!v.wideband || points.some((p) => p.kind === 'pull' && p.means.lambda1 !== undefined)) return undefined
      const pull = points.find((p) => p.kind === 'pull') ?? soundPoint('pull', 4000, v)
      const mixture = { trim1_pct: 0, trim2_pct: 0, lambda1: 0.88, lambda2: 0.88, lambda_cmd: 0.88 }
      return [...points.filter((p) => p !== pull), { ...pull, means: { ...mixture, ...pull.means } }]
    },
  },
  { id: 'trims', label: 'the fuel trims', add: channel('ltft1_pct', () => 0, hasTrims) },
]

/** Those of an engine that stands, and those that its idle gives. */
const AT_REST: readonly string[] = ['key-on']
const AT_IDLE: readonly string[] = ['idle', 'idle-load']

/** Whether an engine that dies gives a reading. */
const isHad = (id: string, dies: Evidence['dies']): boolean =>
  dies === undefined || (dies === 'always' ? AT_REST.includes(id) : !AT_IDLE.includes(id))

/** Leading single causes that a missing reading is asked to part. */
const PARTED = 4
/** Information below which another reading is not worth naming [bits]. */
const WORTH_NAMING = 0.15

/** How many times sooner a reading is had that the engine need not be brought to another point for; ours. */
const SOONER = 3

/** The same reading in two sets: by what it is and where it was taken. */
const keyOf = (o: Observation, set: ObservationSet): string =>
  [o.group, o.bank ?? '', set.points[o.point].kind, Math.round(set.points[o.point].rpm / 100)].join()

/**
 * The reading that would tell most of what is still open, taking each cause at its likeliest size: how far the leading
 * causes lie apart in it, in its scatter given what was read. Undefined where none would tell much.
 *
 * @param points - merged points of the evidence
 */
export function missingReading(
  points: readonly OperatingPoint[],
  set: ObservationSet,
  p: Posterior,
  v: Vehicle,
  sensor: PlateSensor,
  dies?: Evidence['dies'],
): MissingReading | undefined {
  const leaders = [...p.marginal].sort((a, b) => b[1] - a[1]).slice(0, PARTED)
  const total = leaders.reduce((s, [, x]) => s + x, 0)
  let best: { reading: MissingReading; worth: number } | undefined
  for (const { id, label, isAtHand, add } of CANDIDATES) {
    const more = isHad(id, dies) ? add(points, v) : undefined
    if (!more) continue
    const bits = informationOf(observe(more, v, sensor), set, leaders, total, p)
    const worth = bits * (isAtHand ? SOONER : 1)
    if (bits > WORTH_NAMING && worth > (best?.worth ?? 0))
      best = { reading: { id, label, bits, ...(isAtHand ? { isAtHand } : {}) }, worth }
  }
  return best?.reading
}

/** Mean squared distance of what the causes foretell for the new readings, in bits; at most what is open at all. */
function informationOf(
  whole: ObservationSet,
  set: ObservationSet,
  leaders: readonly (readonly [FaultId, number])[],
  total: number,
  p: Posterior,
): number {
  const known = new Set(set.observations.map((o) => keyOf(o, set)))
  const isNew = whole.observations.map((o) => !known.has(keyOf(o, whole)))
  const fresh = whole.observations.filter((_, i) => isNew[i])
  const old = whole.observations.filter((_, i) => !isNew[i])
  if (!fresh.length) return 0
  const foretold = leaders.map(([fault]) => foretell(fault, whole, p))
  const cov = new Matrix(covarianceOf(whole.observations))
  const at = (flags: boolean): number[] => whole.observations.flatMap((_, i) => (isNew[i] === flags ? [i] : []))
  const [n, o] = [at(true), at(false)]
  let inner = cov.selection(n, n)
  let means = foretold.map((x) => n.map((i) => x[i]))
  if (old.length) {
    const gain = new CholeskyDecomposition(cov.selection(o, o)).solve(cov.selection(o, n)).transpose()
    inner = inner.sub(gain.mmul(cov.selection(o, n)))
    means = foretold.map((x) => {
      const shift = gain.mmul(Matrix.columnVector(o.map((i) => whole.observations[i].residual - x[i]))).to1DArray()
      return n.map((i, k) => x[i] + shift[k])
    })
  }
  const middle = n.map((_, k) => leaders.reduce((s, [, w], h) => s + (w / total) * means[h][k], 0))
  // rounding must not make it lopsided
  const solver = new CholeskyDecomposition(Matrix.add(inner, inner.transpose()).mul(0.5))
  const squared = means.reduce((s, m, h) => {
    const off = Matrix.columnVector(m.map((x, k) => x - middle[k]))
    return s + (leaders[h][1] / total) * off.transpose().mmul(solver.solve(off)).get(0, 0)
  }, 0)
  const open = leaders.reduce((s, [, w]) => (w > 0 ? s - (w / total) * Math.log2(w / total) : s), 0)
  return Math.min(open, 0.5 * Math.log2(1 + squared))
}

/** What a cause of its likeliest size adds to each reading. */
function foretell(fault: FaultId, set: ObservationSet, p: Posterior): number[] {
  const sizes = fault === 'none' ? undefined : p.sizesOf(fault)
  if (!sizes) return set.observations.map(() => 0)
  const best = sizes.weights.reduce((top, w, i) => (w > sizes.weights[top] ? i : top), 0)
  const parameters = sizes.grid[best]
  const effects = set.contexts.map((c) => ({ ...NO_EFFECT, ...faultOf(fault).effect(parameters, c) }))
  return set.observations.map((o) => o.predict(effects[o.point]))
}
