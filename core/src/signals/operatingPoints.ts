import type { Vehicle } from '../engine/index.js'
import { findEvents } from './events.js'
import { STEADY, type OperatingPoint, type PointKind } from './point.js'
import { held, meansOf, middleOf, settledFrom, trimColumns } from './pointFigures.js'
import type { Recording } from './recording.js'

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
  const windows = steadyWindows(recording)
  // of a diesel, which is not throttled, neither pressure nor airflow shows a load that comes on
  const levels = vehicle.fuel === 'diesel' ? windows.flatMap((w) => ofOneLoad(recording, w)) : windows
  for (const w of levels) {
    const point = judgeWindow(recording, trims, w, vehicle)
    if (point) points.push(point)
  }
  points.push(...huntingIdles(recording, trims, points, vehicle))
  if (!points.length) points.push(...neverClosed(recording, trims))
  points.push(...findPulls(recording, trims), ...findEvents(recording, trims))
  const named = fastIdles(recording, points, vehicle)
  const idleLoad = baselineIdleLoad(named)
  return named
    .map((p) =>
      p.kind === 'idle' && idleLoad !== undefined && (p.means.load_pct ?? 0) >= idleLoad * LOADED_RATIO
        ? { ...p, kind: 'idle-load' as const }
        : p,
    )
    .sort((a, b) => a.startS - b.startS)
}

/** A foot is off the pedal, a plate rests, within so much of the lowest reading [%]; two idles stand within so much of each other [log]. */
const AT_REST_PCT = 0.5
const OPENED_PCT = 3
const SAME_IDLE = 0.05
/** An idle is under a load where its cylinders fill so much more than at its emptiest [–]. */
const LOADED_RATIO = 1.12

/**
 * An engine that gets air elsewhere may idle as fast as others are held: where no idle was found, or only one that a load pulls down
 * from there, the standing stretches with plate and pedal at rest at which it stood longest are the idle.
 */
function fastIdles(r: Recording, points: readonly OperatingPoint[], v: Vehicle): readonly OperatingPoint[] {
  const idles = points.filter((p) => p.kind === 'idle')
  // once for all points: a long record has thousands of them
  const lowest = { throttle_pct: lowestOf(r.columns.throttle_pct), pedal_pct: lowestOf(r.columns.pedal_pct) }
  const opened = r.columns.throttle_pct?.some((x) => x > lowest.throttle_pct! + OPENED_PCT) ?? false
  // the plate of a diesel rests at any speed, and one that never moves in the record tells nothing
  if (idles.length && (v.fuel === 'diesel' || !opened)) return points
  const atRest = (id: 'throttle_pct' | 'pedal_pct', p: OperatingPoint): boolean | undefined => {
    const [low, mean] = [lowest[id], p.means[id]]
    return low !== undefined && mean !== undefined ? mean <= low + AT_REST_PCT : undefined
  }
  const resting = points.filter(
    (p) => p.kind === 'hold' && atRest('throttle_pct', p) === true && atRest('pedal_pct', p) !== false,
  )
  if (!resting.length) return points
  const alike = (a: OperatingPoint, b: OperatingPoint): boolean => Math.abs(Math.log(a.rpm / b.rpm)) < SAME_IDLE
  const stoodS = resting.map((p) => resting.reduce((sum, o) => sum + (alike(o, p) ? o.endS - o.startS : 0), 0))
  const free = resting[stoodS.indexOf(Math.max(...stoodS))]
  if (idles.some((p) => !pullsDown(p, free))) return points
  return points.map((p) => {
    if (!resting.includes(p) && p.kind !== 'idle') return p
    const kind = alike(p, free) ? 'idle' : pullsDown(p, free) ? 'idle-load' : p.kind
    return { ...p, kind }
  })
}

/** Whether an idle is the same one under a load: slower, and so much fuller at each turn. */
function pullsDown(idle: OperatingPoint, free: OperatingPoint): boolean {
  const fuller = (['load_pct', 'map_kpa'] as const).some(
    (id) => (idle.means[id] ?? 0) >= LOADED_RATIO * (free.means[id] ?? Infinity),
  )
  return fuller && Math.log(free.rpm / idle.rpm) > SAME_IDLE
}

/** The lowest value that was read; blanks are passed over. */
function lowestOf(xs: Float64Array | undefined): number | undefined {
  if (!xs) return undefined
  let low = Infinity
  for (let i = 0; i < xs.length; i++) if (xs[i] < low) low = xs[i]
  return low
}

/**
 * An idle that hunts is steady on the whole: where no steady idle was found, the longest standing stretch that stays round
 * one speed counts, by its averages.
 */
function huntingIdles(
  recording: Recording,
  trims: readonly Float64Array[],
  found: readonly OperatingPoint[],
  vehicle: Vehicle,
): OperatingPoint[] {
  if (found.some((p) => p.kind === 'idle')) return []
  const { time_s: t, rpm, speed_kph: road, fuel_status: loop } = recording.columns
  const [n, kph, closed] = [held(rpm!, t!), road && held(road, t!), loop && held(loop, t!)]
  const [low, high] = [STEADY.huntShare.low * vehicle.idleSpecRpm.min, STEADY.huntShare.high * vehicle.idleSpecRpm.max]
  const gapS = gapOf(t!)
  let best: Window | undefined
  let from = -1
  for (let i = 0; i <= recording.rows; i++) {
    const idles =
      i < recording.rows && n[i] > low && n[i] < high && !(kph && kph[i] > 2) && !(closed && closed[i] < 0.5)
    const gap = i > 0 && i < recording.rows && t![i] - t![i - 1] > gapS
    if (idles && !gap) {
      if (from < 0) from = i
      continue
    }
    if (from < 0) continue
    if (t![i - 1] - t![from] >= STEADY.huntS && (!best || t![i - 1] - t![from] > t![best.to] - t![best.from]))
      best = { from, to: i - 1 }
    from = idles ? i : -1
  }
  if (!best) return []
  const point = judgeWindow(recording, trims, best, vehicle)
  return point?.kind === 'idle' ? [point] : []
}

/**
 * A coolant sensor that reads what no running engine has keeps the controller open loop for ever: nothing would count. The
 * whole run is then one cold point, without trims, so that its temperatures are not lost.
 */
function neverClosed(recording: Recording, trims: readonly Float64Array[]): OperatingPoint[] {
  const { time_s: t, rpm, ect_c: ect } = recording.columns
  if (!ect) return []
  const n = held(rpm!, t!)
  const [from, to] = [n.findIndex((x) => x > STEADY.turnsRpm), n.findLastIndex((x) => x > STEADY.turnsRpm)]
  if (from < 0 || t![to] - t![from] < STEADY.huntS) return []
  const m = meansOf(recording, trims, from, to)
  const coolant = m.means.ect_c ?? 0
  if (coolant > STEADY.coolantC.low && coolant < STEADY.coolantC.high) return []
  const { rpm: speed = 0, ect_c, iat_c } = m.means
  return [
    {
      kind: 'cold',
      rpm: speed,
      startS: t![from],
      endS: t![to],
      n: to - from + 1,
      means: { rpm: speed, ect_c, iat_c },
      sds: {},
    },
  ]
}

function baselineIdleLoad(points: readonly OperatingPoint[]): number | undefined {
  const loads = points
    .filter((p) => p.kind === 'idle')
    .map((p) => p.means.load_pct ?? NaN)
    .filter(Number.isFinite)
  return loads.length ? Math.min(...loads) : undefined
}

/** Time between two rows from which nothing is taken to have gone on [s]. */
const gapOf = (t: Float64Array): number => Math.max(STEADY.gapS, (STEADY.gapRows * (t[t.length - 1] - t[0])) / t.length)

function steadyWindows(recording: Recording): Window[] {
  const { time_s: t, rpm, map_kpa: map, maf_gs: maf, fuel_status: loop } = recording.columns
  const n = recording.rows
  const gapS = gapOf(t!)
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
    if (isLongEnough(t!, { from, to })) {
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

/** A window in parts of one load each: cut where the mean of the load before and after differs most, as long as it is a step and no drift. */
function ofOneLoad(recording: Recording, w: Window): Window[] {
  const { time_s: t, load_pct } = recording.columns
  const load = load_pct && held(load_pct, t!)
  if (!load) return [w]
  const whole = sumsOf(load, w.from, w.to + 1)
  let [n, sum] = [0, 0]
  let [cut, most] = [0, 0]
  for (let i = w.from; i < w.to; i++) {
    if (!Number.isNaN(load[i])) {
      n++
      sum += load[i]
    }
    const rest = whole.n - n
    // what the two means explain of the scatter
    const between = n && rest ? (n * rest * (sum / n - (whole.sum - sum) / rest) ** 2) / whole.n : 0
    if (between > most) [most, cut] = [between, i + 1]
  }
  if (!cut || most < STEP_SHARE * whole.scatter) return [w]
  const [a, b] = [sumsOf(load, w.from, cut), sumsOf(load, cut, w.to + 1)].map((x) => x.sum / x.n)
  if (Math.max(a, b) < LOADED_RATIO * Math.min(a, b)) return [w]
  // what is left of one is a window where it would have been one
  return [
    { from: w.from, to: cut - 1 },
    { from: cut, to: w.to },
  ].flatMap((part) => (isLongEnough(t!, part) ? ofOneLoad(recording, part) : []))
}

/** Whether enough is left of a window once the first seconds after a change are dropped. */
const isLongEnough = (t: Float64Array, { from, to }: Window): boolean =>
  t[to] - t[from] >= STEADY.minimumS + (from === 0 ? 0 : STEADY.settleS)

/** A step explains so much of the scatter of a window [–]; a steady drift explains three quarters, noise next to nothing. */
const STEP_SHARE = 0.8

/** Count, sum and scatter about the mean of what is there from row `from` up to `to`. */
function sumsOf(xs: Float64Array, from: number, to: number): { n: number; sum: number; scatter: number } {
  let [n, sum, squares] = [0, 0, 0]
  for (let i = from; i < to; i++) {
    if (Number.isNaN(xs[i])) continue
    n++
    sum += xs[i]
    squares += xs[i] * xs[i]
  }
  return { n, sum, scatter: n ? squares - (sum * sum) / n : 0 }
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
  if (trims.length) {
    // while the trim still drifts it is not settled
    const settled = settledFrom(t!, trims[0], { from, to: w.to }, STEADY.trimDriftPctPerS, STEADY.minimumS)
    if (settled === undefined) return undefined
    from = settled
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

/** What a stretch is by how it was driven; undefined while rolling slowly. */
export function kindOf(cold: boolean, roadKph: number, rpm: number, vehicle: Vehicle): PointKind | undefined {
  if (cold) return 'cold'
  if (roadKph >= 30) return 'cruise'
  if (roadKph > 2) return undefined
  if (rpm >= Math.max(1200, vehicle.idleSpecRpm.max * 1.5)) return 'hold'
  return 'idle'
}

function findPulls(recording: Recording, trims: readonly Float64Array[]): OperatingPoint[] {
  const { time_s: t, rpm } = recording.columns
  if (!t || !rpm) return []
  const wide = wideOpen(recording)
  if (!wide) return []
  const pulls: OperatingPoint[] = []
  let from = -1
  for (let i = 0; i <= recording.rows; i++) {
    const high = i < recording.rows && wide(i)
    if (high && from < 0) from = i
    if (!high && from >= 0) {
      if (t[i - 1] - t[from] >= STEADY.pullMinimumS) {
        const m = meansOf(recording, trims, from, i - 1)
        const speed = m.means.rpm ?? 0
        // an engine that dies under a wide plate does not pull
        if (speed >= STEADY.pullLeastRpm)
          pulls.push({ kind: 'pull', rpm: speed, startS: t[from], endS: t[i - 1], n: i - from, ...m })
      }
      from = -1
    }
  }
  return pulls
}

/**
 * Whether a row is full load: by the load that is reported, or by a plate that stands wide in a moving car. A blocked filter
 * or exhaust keeps the load down just where it must be seen.
 */
function wideOpen(recording: Recording): ((i: number) => boolean) | undefined {
  const { time_s: t, load_pct, throttle_pct, speed_kph } = recording.columns
  const load = load_pct && held(load_pct, t!)
  const plate = throttle_pct && held(throttle_pct, t!)
  const kph = speed_kph && held(speed_kph, t!)
  if (!load && !plate) return undefined
  const closed = lowestOf(plate) ?? Infinity
  const { pullLoadPct, widePct, movingKph } = STEADY
  return (i) =>
    (load !== undefined && load[i] >= pullLoadPct) ||
    (plate !== undefined && kph !== undefined && kph[i] > movingKph && plate[i] - closed >= widePct)
}
