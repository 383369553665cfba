import { snapFigures } from './moments.js'
import type { OperatingPoint } from './point.js'
import { held, meansOf } from './pointFigures.js'
import type { Recording } from './recording.js'

/** What makes a short stretch an event of its own. */
const EVENTS = {
  /** The engine stands below this speed [rpm]. */
  standsRpm: 50,
  /** Zeros of sensors need so long to be read [s]. */
  keyOnS: 2,
  /** A snap: standing, speed up by so much within so long, and not held. */
  snapRiseRpm: 900,
  snapRiseS: 2.5,
  snapWholeS: 12,
  /** Fuel cut: open loop, above this speed, falling, with the throttle at its rest. */
  cutRpm: 1200,
  cutS: 1.5,
  cutLoadPct: 14,
  movingKph: 2,
} as const

/** Stretches that count for what they are and not for being steady: key on, snap, deceleration with fuel cut. */
export function findEvents(r: Recording, trims: readonly Float64Array[]): OperatingPoint[] {
  const { time_s: t, rpm, fuel_status: loop, speed_kph: road, load_pct: load } = r.columns
  if (!t || !rpm) return []
  const n = held(rpm, t)
  const closed = loop && held(loop, t)
  const kph = road && held(road, t)
  const ld = load && held(load, t)
  const out: OperatingPoint[] = []
  const put = (kind: OperatingPoint['kind'], from: number, to: number, more?: ReturnType<typeof snapFigures>): void => {
    const m = meansOf(r, trims, from, to)
    const [means, sds] = [
      { ...m.means, ...more?.means },
      { ...m.sds, ...more?.sds },
    ]
    out.push({ kind, rpm: m.means.rpm ?? 0, startS: t[from], endS: t[to], n: to - from + 1, means, sds })
  }
  runs(
    r.rows,
    (i) => n[i] < EVENTS.standsRpm,
    t,
    EVENTS.keyOnS,
    (from, to) => put('key-on', from, to),
  )
  // open loop alone may be warming up: the load must be that of a closed plate
  if (closed && ld)
    runs(
      r.rows,
      (i) => closed[i] < 0.5 && n[i] > EVENTS.cutRpm && (i === 0 || n[i] <= n[i - 1] + 5) && ld[i] < EVENTS.cutLoadPct,
      t,
      EVENTS.cutS,
      (from, to) => put('deceleration', from, to),
    )
  for (let i = 1; i < r.rows; i++) {
    if (kph && kph[i] > EVENTS.movingKph) continue
    let k = i
    while (k + 1 < r.rows && n[k + 1] > n[k]) k++
    // a slow climb is no snap, and so is none of its parts
    if (n[k] - n[i] < EVENTS.snapRiseRpm || t[k] - t[i] > EVENTS.snapRiseS || n[i] < EVENTS.standsRpm * 5) {
      i = Math.max(i, k)
      continue
    }
    // back near where it began, or it was a change to a held speed
    let back = k
    while (back + 1 < r.rows && n[back] > n[i] + 0.25 * (n[k] - n[i]) && t[back] - t[i] < EVENTS.snapWholeS) back++
    if (n[back] <= n[i] + 0.25 * (n[k] - n[i])) put('snap', i, back, snapFigures(r, i, k))
    i = back
  }
  return out
}

function runs(
  rows: number,
  is: (i: number) => boolean,
  t: Float64Array,
  leastS: number,
  found: (from: number, to: number) => void,
): void {
  let from = -1
  for (let i = 0; i <= rows; i++) {
    const yes = i < rows && is(i)
    if (yes && from < 0) from = i
    if (!yes && from >= 0) {
      if (t[i - 1] - t[from] >= leastS) found(from, i - 1)
      from = -1
    }
  }
}
