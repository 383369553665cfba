import type { Vehicle } from '../engine/index.js'
import { median } from '../statistics/index.js'
import type { ChannelId } from './channels.js'
import type { Recording } from './recording.js'

export type PointKind =
  'engine-off' | 'key-on' | 'idle' | 'idle-load' | 'hold' | 'cruise' | 'pull' | 'snap' | 'deceleration' | 'cold'

/** One operating point found in a recording or typed in; all figures in canonical units. */
export interface OperatingPoint {
  readonly kind: PointKind
  readonly rpm: number
  readonly startS: number
  readonly endS: number
  /** Rows behind the figures; 1 for a typed point. */
  readonly n: number
  readonly means: Readonly<Partial<Record<ChannelId | TotalTrim, number>>>
  readonly sds: Readonly<Partial<Record<ChannelId | TotalTrim, number>>>
}

/** Total trim per bank in percent, (1+STFT)(1+LTFT) − 1. */
export type TotalTrim = 'trim1_pct' | 'trim2_pct'

/** Steadiness rules: a point of these is what the rest of the computation may average over. */
export const STEADY = {
  minimumS: 8,
  pullMinimumS: 2,
  settleS: 5,
  rpmShare: 0.04,
  rpmAbsolute: 40,
  mapKpa: 2,
  mafShare: 0.06,
  trimDriftPctPerS: 0.2,
  warmC: 75,
  /** Rows further apart than this, or than a few usual rows, are a gap: no window reaches over it. */
  gapS: 3,
  gapRows: 5,
  /** A channel polled in turn stands for so long after it was read. */
  heldS: 5,
} as const

/** Total trim in percent from its short and long parts. */
export const totalTrimPct = (stft: number, ltft: number): number => 100 * ((1 + stft / 100) * (1 + ltft / 100) - 1)

interface Window {
  from: number
  to: number
}

/**
 * Finds the operating points of a recording by itself. A recording without engine speed gives none.
 * Windows over which speed and manifold pressure (or airflow) stay within STEADY are grown from the left;
 * the first seconds after a change are dropped, then what drifts, is cold or runs open loop is left out.
 */
export function findOperatingPoints(recording: Recording, vehicle: Vehicle): OperatingPoint[] {
  const { time_s: t, rpm } = recording.columns
  if (!t || !rpm) return []
  const points: OperatingPoint[] = []
  const trims = trimColumns(recording)
  for (const w of steadyWindows(recording)) {
    const point = judgeWindow(recording, trims, w, vehicle)
    if (point) points.push(point)
  }
  points.push(...findPulls(recording, trims))
  const idleLoad = baselineIdleLoad(points)
  return points
    .map((p) =>
      p.kind === 'idle' && idleLoad !== undefined && (p.means.load_pct ?? 0) >= idleLoad * 1.12
        ? { ...p, kind: 'idle-load' as const }
        : p,
    )
    .sort((a, b) => a.startS - b.startS)
}

function baselineIdleLoad(points: readonly OperatingPoint[]): number | undefined {
  const loads = points
    .filter((p) => p.kind === 'idle')
    .map((p) => p.means.load_pct ?? NaN)
    .filter(Number.isFinite)
  return loads.length ? Math.min(...loads) : undefined
}

function steadyWindows(recording: Recording): Window[] {
  const { time_s: t, rpm, map_kpa: map, maf_gs: maf, fuel_status: loop } = recording.columns
  const n = recording.rows
  const gapS = Math.max(STEADY.gapS, (STEADY.gapRows * (t![n - 1] - t![0])) / n)
  const windows: Window[] = []
  let from = 0
  while (from < n) {
    let to = from
    let rLow = Infinity
    let rHigh = -Infinity
    let mLow = Infinity
    let mHigh = -Infinity
    let aLow = Infinity
    let aHigh = -Infinity
    for (let i = from; i < n; i++) {
      if (loop && loop[i] < 0.5) break
      if (i > from && t![i] - t![i - 1] > gapS) break
      const r = rpm![i]
      if (Number.isNaN(r)) continue
      rLow = Math.min(rLow, r)
      rHigh = Math.max(rHigh, r)
      const rMid = (rLow + rHigh) / 2
      if (rHigh - rMid > Math.max(STEADY.rpmAbsolute, STEADY.rpmShare * rMid)) break
      if (map && !Number.isNaN(map[i])) {
        mLow = Math.min(mLow, map[i])
        mHigh = Math.max(mHigh, map[i])
      }
      if (maf && !Number.isNaN(maf[i])) {
        aLow = Math.min(aLow, maf[i])
        aHigh = Math.max(aHigh, maf[i])
      }
      const mapSteady = map !== undefined && mHigh - mLow <= 2 * STEADY.mapKpa
      const mafSteady = maf !== undefined && aHigh - aLow <= STEADY.mafShare * (aHigh + aLow)
      if ((map || maf) && !mapSteady && !mafSteady && i > from) break
      to = i
    }
    if (t![to] - t![from] >= STEADY.minimumS + STEADY.settleS || (from === 0 && t![to] - t![from] >= STEADY.minimumS)) {
      windows.push({ from, to })
      from = to + 1
    } else {
      // step over the start of an unsteady stretch, at most two seconds at a time
      const until = t![from] + 1
      do from++
      while (from < n && t![from] < until)
    }
  }
  return windows
}

function judgeWindow(
  recording: Recording,
  trims: readonly Float64Array[],
  w: Window,
  vehicle: Vehicle,
): OperatingPoint | undefined {
  const { time_s: t, speed_kph: road, ect_c: ect } = recording.columns
  let from = w.from
  if (from > 0) while (t![from] - t![w.from] < STEADY.settleS) from++
  // keep the settled tail: while the trim still drifts, drop from the left as long as enough is left
  while (trims.length && Math.abs(slope(t!, trims[0], from, w.to)) > STEADY.trimDriftPctPerS) {
    const later = from + Math.max(1, Math.floor((w.to - from) / 8))
    if (t![w.to] - t![later] < STEADY.minimumS) return undefined
    from = later
  }
  const means = meansOf(recording, trims, from, w.to)
  const rpm = means.means.rpm
  if (rpm === undefined || rpm < 250) return undefined
  const moving = road ? middleOf(road, from, w.to) : 0
  const cold = ect !== undefined && (means.means.ect_c ?? 90) < STEADY.warmC
  const kind = kindOf(cold, moving, rpm, vehicle)
  if (!kind) return undefined
  return { kind, rpm, startS: t![from], endS: t![w.to], n: w.to - from + 1, ...means }
}

function kindOf(cold: boolean, roadKph: number, rpm: number, vehicle: Vehicle): PointKind | undefined {
  if (cold) return 'cold'
  if (roadKph >= 30) return 'cruise'
  if (roadKph > 2) return undefined
  if (rpm >= Math.max(1200, vehicle.idleSpecRpm.max * 1.5)) return 'hold'
  return 'idle'
}

function findPulls(recording: Recording, trims: readonly Float64Array[]): OperatingPoint[] {
  const { time_s: t, load_pct, rpm } = recording.columns
  if (!t || !load_pct || !rpm) return []
  const load = held(load_pct, t)
  const pulls: OperatingPoint[] = []
  let from = -1
  for (let i = 0; i <= recording.rows; i++) {
    const high = i < recording.rows && load[i] >= 80
    if (high && from < 0) from = i
    if (!high && from >= 0) {
      if (t[i - 1] - t[from] >= STEADY.pullMinimumS) {
        const m = meansOf(recording, trims, from, i - 1)
        pulls.push({ kind: 'pull', rpm: m.means.rpm ?? 0, startS: t[from], endS: t[i - 1], n: i - from, ...m })
      }
      from = -1
    }
  }
  return pulls
}

/** Total trim of each bank, row by row; none without trims. */
function trimColumns(recording: Recording): readonly Float64Array[] {
  const { time_s: t } = recording.columns
  const of = (id: ChannelId): Float64Array | undefined => {
    const xs = recording.columns[id]
    return xs && held(xs, t!)
  }
  const [s1, l1, s2, l2] = [of('stft1_pct'), of('ltft1_pct'), of('stft2_pct'), of('ltft2_pct')]
  if (!s1 && !l1) return []
  const total = (short?: Float64Array, long?: Float64Array): Float64Array => {
    const out = new Float64Array(recording.rows)
    for (let i = 0; i < out.length; i++) out[i] = totalTrimPct(short ? short[i] : 0, long ? long[i] : 0)
    return out
  }
  return s2 || l2 ? [total(s1, l1), total(s2, l2)] : [total(s1, l1)]
}

/** A channel polled in turn, its last value standing until it is too old. */
function held(xs: Float64Array, t: Float64Array): Float64Array {
  if (!xs.includes(NaN)) return xs
  const { heldS } = STEADY
  const out = new Float64Array(xs.length)
  let last = NaN
  let lastAt = -Infinity
  for (let i = 0; i < xs.length; i++) {
    const x = xs[i]
    if (x === x) {
      last = x
      lastAt = t[i]
    }
    out[i] = t[i] - lastAt <= heldS ? last : NaN
  }
  return out
}

function slope(t: Float64Array, y: Float64Array, from: number, to: number): number {
  let n = 0
  let st = 0
  let sy = 0
  let stt = 0
  let sty = 0
  for (let i = from; i <= to; i++) {
    if (Number.isNaN(y[i])) continue
    const x = t[i] - t[from]
    n++
    st += x
    sy += y[i]
    stt += x * x
    sty += x * y[i]
  }
  const d = n * stt - st * st
  return d > 0 ? (n * sty - st * sy) / d : 0
}

function meansOf(
  recording: Recording,
  trims: readonly Float64Array[],
  from: number,
  to: number,
): Pick<OperatingPoint, 'means' | 'sds'> {
  const means: Record<string, number> = {}
  const sds: Record<string, number> = {}
  const put = (id: string, xs: Float64Array): void => {
    let n = 0
    let sum = 0
    for (let i = from; i <= to; i++) {
      const x = xs[i]
      if (x === x) {
        n++
        sum += x
      }
    }
    if (!n) return
    const mean = sum / n
    let squares = 0
    for (let i = from; i <= to; i++) {
      const x = xs[i]
      const off = x - mean
      // a power would cost as much as all the rest
      if (x === x) squares += off * off
    }
    means[id] = mean
    sds[id] = n > 1 ? Math.sqrt(squares / (n - 1)) : 0
  }
  for (const [id, xs] of Object.entries(recording.columns)) if (id !== 'time_s') put(id, xs)
  trims.forEach((xs, b) => put(`trim${b + 1}_pct`, xs))
  return { means, sds }
}

/** Rows that tell the middle of a window well enough. */
const MIDDLE_OF = 101

/** The middle of what is there, of a hundred rows at most; 0 when nothing is. */
function middleOf(xs: Float64Array, from: number, to: number): number {
  const every = Math.max(1, Math.floor((to - from) / MIDDLE_OF))
  const list: number[] = []
  for (let i = from; i <= to; i += every) if (!Number.isNaN(xs[i])) list.push(xs[i])
  return list.length ? median(list) : 0
}
