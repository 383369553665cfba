// Which cases can be identified at all, by the joint scatter of sound engines: decided before and without the diagnosis.
import {
  findOperatingPoints,
  mergePoints,
  standardPressurePa,
  type CodeSeen,
  type Recording,
  type Vehicle,
} from '@uvula/core'
import { CholeskyDecomposition, Matrix } from 'ml-matrix'
import { classesOf } from './classes.js'
import { nominal, nominalVehicle, soundOf, type Drawn, type ReadEngine } from './population.js'

/** Features by name. */
export type Features = Readonly<Record<string, number>>

/** What a class shows at each node. */
interface Signature {
  readonly fault: string
  readonly variant: string
  readonly nodes: readonly Features[]
}

/** Sound engines of a kind and what its faults show. */
export interface Signatures {
  readonly kind: string
  readonly sound: readonly Features[]
  readonly classes: readonly Signature[]
}

/** Severities at which signatures are taken; between them they are drawn straight. */
const NODES = [0, 0.25, 0.5, 0.75, 1]
/** Sound engines of a kind. */
const SOUND = 150
/** Classes that count as one answer; listed by the open format's rules. */
const ONE_ANSWER: readonly (readonly string[])[] = [
  ['fuel-delivery-low', 'oxygen-sensor-biased'],
  ['fuel-delivery-high', 'oxygen-sensor-biased'],
  ['maf-under-reads', 'unmetered-air-duct'],
  ['throttle-deposits', 'pcv-blocked'],
  // an empty canister's branch is a place of unmetered air
  ['unmetered-air', 'purge-stuck-open'],
]
export function sameAnswer(a: string, b: string, v: Pick<Vehicle, 'metering'>): boolean {
  if (a === b) return true
  const pairs = v.metering === 'map' ? [...ONE_ANSWER, ['unmetered-air', 'pcv-stuck-open']] : ONE_ANSWER
  return pairs.some((p) => p.includes(a) && p.includes(b))
}

/** Codes of monitors that watch the part itself; those that only repeat trims, airflow or speed add nothing to these. */
const OWN_CODES = ['P0016', 'P0106', 'P0113', 'P0118', 'P0299', 'P030', 'P0401', 'P0402', 'P0441']

/** Mark of a feature that is told against this car's own earlier recording. */
const AGAINST = 'own:'
const bare = (key: string): string => (key.startsWith(AGAINST) ? key.slice(AGAINST.length) : key)
const yesOrNo = (key: string): boolean => key.startsWith('code:') || key.startsWith('open:')

/** Features of a case. With an earlier recording of the same car, sound, what both show is told against that one. */
export function featuresOf(one: ReadEngine): Features {
  const now = features(one.recording, one.vehicle, one.codes)
  if (!one.earlier) return now
  const then = features(one.earlier, one.vehicle)
  return Object.fromEntries(
    Object.entries(now).map(([k, x]) => (k in then && !yesOrNo(k) ? [AGAINST + k, x - then[k]] : [k, x])),
  )
}

/** Features of a recording and codes by name; what is not there is left out. @param codes - undefined where they were cleared */
function features(recording: Recording, v: Vehicle, codes?: readonly CodeSeen[]): Features {
  const out: Record<string, number> = {}
  if (codes) for (const id of OWN_CODES) out[`code:${id}`] = codes.some((c) => c.code.startsWith(id)) ? 1 : 0
  const turning = recording.columns.rpm!.map((x) => (x > 300 ? 1 : 0))
  for (const id of ['iat_c', 'ect_c'] as const) {
    const early = recording.columns[id]?.find((_, i) => turning[i] === 1 && i > 20)
    if (early !== undefined) out[`open:${id}`] = early < -30 ? 1 : 0
  }
  const pa = standardPressurePa(v.altitudeM) / 1000
  const lowest = Math.min(...(recording.columns.throttle_pct ?? []).filter(Number.isFinite))
  for (const p of mergePoints(findOperatingPoints(recording, v))) {
    const at =
      p.kind === 'hold'
        ? p.rpm > 1300 && p.rpm < 1750
          ? '1500'
          : p.rpm > 2200 && p.rpm < 2800
            ? '2500'
            : undefined
        : p.kind
    if (!at || !['idle', 'idle-load', '1500', '2500', 'pull'].includes(at)) continue
    const m = p.means
    const put = (name: string, x: number): void => {
      if (Number.isFinite(x)) out[`${at}:${name}`] = x
    }
    put('air', Math.log((m.maf_gs ?? NaN) / (v.displacementL * p.rpm)))
    put('map', Math.log((m.map_kpa ?? pa - (m.gauge_vacuum_kpa ?? NaN)) / pa))
    if (at !== 'pull') {
      put('trim1', Math.log1p((m.trim1_pct ?? NaN) / 100))
      put('trim2', Math.log1p((m.trim2_pct ?? NaN) / 100))
    }
    if (at === 'idle') {
      put('speed', Math.log((2 * p.rpm) / (v.idleSpecRpm.min + v.idleSpecRpm.max)))
      put('duty', v.idleControl === 'idle-valve' ? Math.log(Math.max(1, m.idle_valve_pct ?? NaN)) : NaN)
      put('wander', Math.log(Math.max(2, p.sds.rpm ?? NaN)))
      if (v.idleControl === 'electronic-throttle') put('plate', Math.log((m.throttle_pct ?? NaN) - lowest + 1))
    }
  }
  return out
}

/** How much higher a recording's trim is at idle than at 2500, the bank where it is most [log]; NaN without both. */
export function trimRise(recording: Recording, v: Vehicle): number {
  const f = features(recording, v)
  return Math.max(...['trim1', 'trim2'].map((t) => f[`idle:${t}`] - f[`2500:${t}`]).filter(Number.isFinite), -1)
}

/** Work of one kind: how sound ones scatter, and the signature of each class at each node. */
export function signaturesOf(kind: string): Signatures {
  const sound = Array.from({ length: SOUND }, (_, i) => {
    const two = soundOf(kind, i)
    return { ...featuresOf({ ...two, earlier: undefined }), ...featuresOf(two) }
  })
  const taken = (n: ReadEngine): Features => features(n.recording, n.vehicle, n.codes)
  const base = taken(nominal(kind))
  const vehicle = nominalVehicle(kind)
  const classes = classesOf(vehicle).map((c) => ({
    fault: c.fault,
    variant: c.variant,
    nodes: NODES.map((s) => {
      const f = taken(nominal(kind, c, s))
      return Object.fromEntries(
        Object.keys(f)
          .filter((k) => k in base)
          .map((k) => [k, f[k] - base[k]]),
      )
    }),
  }))
  return { kind, sound, classes }
}

/** Own scatter below which no feature is taken to be known [log]; a code or an open circuit stands for five of its own. */
const FLOOR = 0.006
const YES_OR_NO = 0.2
const floorOf = (key: string): number => (yesOrNo(key) ? YES_OR_NO : FLOOR)

/** Share of the sound engines that must show a feature for it to count. */
const SHOWN = 0.7

/** The features among `keys` that enough sound engines show, and the inverse square root of their joint scatter. */
function whitener(
  sound: readonly Features[],
  wanted: readonly string[],
): { readonly keys: string[]; white(x: readonly number[]): number[] } {
  const keys = wanted.filter((k) => sound.filter((f) => Number.isFinite(f[k])).length >= SHOWN * sound.length)
  const whole = sound.filter((f) => keys.every((k) => Number.isFinite(f[k])))
  const means = keys.map((k) => whole.reduce((s, f) => s + f[k], 0) / whole.length)
  const cov = keys.map((a, i) =>
    keys.map(
      (b, j) => whole.reduce((s, f) => s + (f[a] - means[i]) * (f[b] - means[j]), 0) / Math.max(1, whole.length - 1),
    ),
  )
  keys.forEach((k, i) => (cov[i][i] += floorOf(k) ** 2))
  const lower = new CholeskyDecomposition(new Matrix(cov)).lowerTriangularMatrix
  const white = (x: readonly number[]): number[] => {
    const z: number[] = []
    for (let i = 0; i < keys.length; i++) {
      let s = x[i]
      for (let j = 0; j < i; j++) s -= lower.get(i, j) * z[j]
      z.push(s / lower.get(i, i))
    }
    return z
  }
  // an inverse covariance from few engines is too sharp (Hartlap et al., 2007)
  const share = Math.sqrt((whole.length - keys.length - 2) / (whole.length - 1))
  return { keys, white: (x) => white(x).map((z) => share * z) }
}

/** The two nodes beside a severity, and how far it is from the first to the second. */
function beside(c: Signature, s: number): { readonly a: Features; readonly b: Features; readonly t: number } {
  const at = Math.min(NODES.length - 1.000001, Math.max(0, s * (NODES.length - 1)))
  return { a: c.nodes[Math.floor(at)], b: c.nodes[Math.floor(at) + 1], t: at - Math.floor(at) }
}
/** What a class shows at a severity; a node at which the engine does not run that far has the other's figure. */
function signature(c: Signature, s: number, keys: readonly string[]): number[] {
  const { a, b, t } = beside(c, s)
  return keys.map((key) => {
    const k = bare(key)
    return (a[k] ?? b[k] ?? 0) * (1 - t) + (b[k] ?? a[k] ?? 0) * t
  })
}
function shows(c: Signature, s: number, key: string): boolean {
  const { a, b } = beside(c, s)
  return bare(key) in a || bare(key) in b
}
const norm = (z: readonly number[]): number => Math.sqrt(z.reduce((s, x) => s + x * x, 0))

/** What is judged of a case. */
type Judged = Drawn & { readonly vehicle: Vehicle; readonly features: Features }

/** Whether a case stands 4 sd from sound and 3 from every other answer at any size. */
export function judge(table: Signatures, one: Judged): { readonly identifiable: boolean } {
  if (one.fault === 'none') return { identifiable: true }
  const own = table.classes.find((c) => c.fault === one.fault && c.variant === one.variant)!
  // a code counts where this very car shows what its nominal twin shows
  const asExpected = (k: string): boolean =>
    !k.startsWith('code:') || Math.abs(signature(own, one.severity, [k])[0] - one.features[k]) < 0.5
  const { keys, white } = whitener(
    table.sound,
    Object.keys(one.features).filter((k) => shows(own, one.severity, k) && asExpected(k)),
  )
  if (!keys.length) return { identifiable: false }
  const mine = white(signature(own, one.severity, keys))
  const fromSound = norm(mine)
  let fromOthers = Infinity
  for (const c of table.classes) {
    if (sameAnswer(c.fault, one.fault, one.vehicle)) continue
    for (let s = 0; s <= 1.0001; s += 0.05) {
      fromOthers = Math.min(fromOthers, norm(white(signature(c, s, keys)).map((x, i) => x - mine[i])))
    }
  }
  return { identifiable: fromSound >= 4 && fromOthers >= 3 }
}
