// Which cases can be identified at all, by the joint scatter of sound engines: decided before and without the diagnosis.
import { findOperatingPoints, mergePoints, standardPressurePa } from '@uvula/core'
import { CholeskyDecomposition, Matrix } from 'ml-matrix'
import { classesOf, KINDS, nominal, soundOf } from './population.mjs'

/** Severities at which signatures are taken; between them they are drawn straight. */
const NODES = [0, 0.25, 0.5, 0.75, 1]
/** Sound engines of a kind. */
const SOUND = 90
/** Classes that count as one answer; listed by the open format's rules. */
const ONE_ANSWER = [
  ['fuel-delivery-low', 'oxygen-sensor-biased'],
  ['fuel-delivery-high', 'oxygen-sensor-biased'],
  ['maf-under-reads', 'unmetered-air-duct'],
  ['throttle-deposits', 'pcv-blocked'],
  // an empty canister's branch is a place of unmetered air
  ['unmetered-air', 'purge-stuck-open'],
]
export function sameAnswer(a, b, v) {
  if (a === b) return true
  const pairs = v.metering === 'map' ? [...ONE_ANSWER, ['unmetered-air', 'pcv-stuck-open']] : ONE_ANSWER
  return pairs.some((p) => p.includes(a) && p.includes(b))
}

/** Features of a recording by name; what is not there is left out. */
export function features(recording, v) {
  const out = {}
  const pa = standardPressurePa(v.altitudeM) / 1000
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
    const put = (name, x) => {
      if (Number.isFinite(x)) out[`${at}:${name}`] = x
    }
    put('air', Math.log(m.maf_gs / (v.displacementL * p.rpm)))
    put('map', Math.log(m.map_kpa / pa))
    if (at !== 'pull') {
      put('trim1', Math.log1p(m.trim1_pct / 100))
      put('trim2', Math.log1p(m.trim2_pct / 100))
    }
    if (at === 'idle') {
      put('speed', Math.log((2 * p.rpm) / (v.idleSpecRpm.min + v.idleSpecRpm.max)))
      put('duty', v.idleControl === 'idle-valve' ? Math.log(Math.max(1, m.idle_valve_pct)) : NaN)
      put('wander', Math.log(Math.max(2, p.sds.rpm)))
      put('intake', m.iat_c < -30 ? 5 : 0)
      put('coolant', m.ect_c < -30 ? 5 : 0)
    }
  }
  return out
}

/** Work of one kind: how sound ones scatter, and the signature of each class at each node. */
export function signaturesOf(kind) {
  const sound = Array.from({ length: SOUND }, (_, i) => {
    const { vehicle, recording } = soundOf(kind, i)
    return features(recording, vehicle)
  })
  const base = features(nominal(kind).recording, KINDS[kind] && { ...KINDS[kind], altitudeM: 300 })
  const vehicle = { ...KINDS[kind], altitudeM: 300 }
  const classes = classesOf(vehicle).map((c) => ({
    fault: c.fault,
    variant: c.variant,
    nodes: NODES.map((s) => {
      const f = features(nominal(kind, c, s).recording, vehicle)
      return Object.fromEntries(
        Object.keys(f)
          .filter((k) => k in base)
          .map((k) => [k, f[k] - base[k]]),
      )
    }),
  }))
  return { kind, sound, classes }
}

/** Own scatter below which no feature is taken to be known [log]. */
const FLOOR = 0.006

/** Inverse square root of the joint scatter over the features `keys`. */
function whitener(sound, keys) {
  const means = keys.map((k) => {
    const xs = sound.map((f) => f[k]).filter(Number.isFinite)
    return xs.reduce((s, x) => s + x, 0) / Math.max(1, xs.length)
  })
  const cov = keys.map((a, i) =>
    keys.map((b, j) => {
      let [n, s] = [0, 0]
      for (const f of sound)
        if (Number.isFinite(f[a]) && Number.isFinite(f[b])) {
          n++
          s += (f[a] - means[i]) * (f[b] - means[j])
        }
      return n > 1 ? s / (n - 1) : 0
    }),
  )
  keys.forEach((_, i) => (cov[i][i] += FLOOR ** 2))
  const lower = new CholeskyDecomposition(new Matrix(cov)).lowerTriangularMatrix
  return (x) => {
    const z = []
    for (let i = 0; i < keys.length; i++) {
      let s = x[i]
      for (let j = 0; j < i; j++) s -= lower.get(i, j) * z[j]
      z.push(s / lower.get(i, i))
    }
    return z
  }
}

const signature = (c, s, keys) => {
  const at = Math.min(NODES.length - 1.000001, Math.max(0, s * (NODES.length - 1)))
  const [a, b] = [c.nodes[Math.floor(at)], c.nodes[Math.floor(at) + 1]]
  const t = at - Math.floor(at)
  return keys.map((k) => (a[k] ?? 0) * (1 - t) + (b[k] ?? a[k] ?? 0) * t)
}
const norm = (z) => Math.sqrt(z.reduce((s, x) => s + x * x, 0))

/** Whether a case stands 4 sd from sound and 3 from every other answer at any size. */
export function judge(table, one) {
  if (one.fault === 'none') return { identifiable: true }
  const own = table.classes.find((c) => c.fault === one.fault && c.variant === one.variant)
  const keys = Object.keys(one.features).filter((k) => own.nodes.every((n) => k in n))
  if (!keys.length) return { identifiable: false, fromSound: 0, fromOthers: 0 }
  const white = whitener(table.sound, keys)
  const mine = white(signature(own, one.severity, keys))
  const fromSound = norm(mine)
  let [fromOthers, nearest] = [Infinity, undefined]
  for (const c of table.classes) {
    if (sameAnswer(c.fault, one.fault, one.vehicle)) continue
    for (let s = 0; s <= 1.0001; s += 0.05) {
      const d = norm(white(signature(c, s, keys)).map((x, i) => x - mine[i]))
      if (d < fromOthers) [fromOthers, nearest] = [d, c.fault]
    }
  }
  return { identifiable: fromSound >= 4 && fromOthers >= 3, fromSound, fromOthers, nearest }
}
