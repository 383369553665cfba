import type { Vehicle } from '../engine/index.js'
import { kindOf } from './operatingPoints.js'
import { STEADY, type OperatingPoint, type PointKind } from './point.js'
import { meansOf, middleOf, trimColumns } from './pointFigures.js'
import type { Recording } from './recording.js'

/** A stretch that a technician says counts: trimmed, added or left as it was found. */
export interface ChosenStretch {
  readonly startS: number
  readonly endS: number
  /** What it is; left out, it is told by speed, road speed and coolant. */
  readonly kind?: PointKind
}

/** Rows below which a stretch has no figures. */
const LEAST_ROWS = 3

/**
 * Operating points of stretches chosen by hand, in order of time; steadiness is the technician's affair here.
 *
 * @throws RangeError naming the stretch that holds fewer than three rows or ends before it begins
 */
export function pointsOfStretches(
  recording: Recording,
  vehicle: Vehicle,
  chosen: readonly ChosenStretch[],
): OperatingPoint[] {
  const { time_s: t, rpm } = recording.columns
  if (!t || !rpm) return []
  const trims = trimColumns(recording)
  return chosen
    .map((s) => {
      let from = 0
      while (from < t.length && t[from] < s.startS) from++
      let to = t.length - 1
      while (to >= 0 && t[to] > s.endS) to--
      if (to - from + 1 < LEAST_ROWS)
        throw new RangeError(
          `stretch from ${s.startS.toFixed(1)} to ${s.endS.toFixed(1)} s holds fewer than ${LEAST_ROWS} rows of this recording`,
        )
      const figures = meansOf(recording, trims, from, to)
      const speed = figures.means.rpm ?? 0
      const moving = recording.columns.speed_kph ? middleOf(recording.columns.speed_kph, from, to) : 0
      const cold = (figures.means.ect_c ?? 90) < STEADY.warmC
      const kind = s.kind ?? (speed < 50 ? 'key-on' : (kindOf(cold, moving, speed, vehicle) ?? 'cruise'))
      return { kind, rpm: speed, startS: t[from], endS: t[to], n: to - from + 1, ...figures }
    })
    .sort((a, b) => a.startS - b.startS)
}
