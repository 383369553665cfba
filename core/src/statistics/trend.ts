import { requireRange } from './guards.js'
import { median } from './summary.js'

/** A slope by the middle of all slopes between two points, with its interval. */
export interface Trend {
  readonly slope: number
  readonly low: number
  readonly high: number
  readonly n: number
}

/** Points from which on a trend is told at all. */
export const TREND_LEAST = 4

const slopesOf = (points: readonly { readonly x: number; readonly y: number }[]): number[] => {
  const out: number[] = []
  for (let i = 0; i < points.length; i++)
    for (let j = i + 1; j < points.length; j++)
      if (points[j].x !== points[i].x) out.push((points[j].y - points[i].y) / (points[j].x - points[i].x))
  return out.sort((a, b) => a - b)
}

/** Middle of the slopes between every two points (Theil, 1950; Sen, 1968); 0 where no two stand apart. */
export function theilSenSlope(points: readonly { readonly x: number; readonly y: number }[]): number {
  const slopes = slopesOf(points)
  return slopes.length ? median(slopes) : 0
}

/**
 * The same with its 90 % interval by the ranks of the slopes (Sen, 1968, by the normal approximation of Kendall's S).
 * Undefined below TREND_LEAST points: nothing can be said at that level.
 * @throws RangeError on a figure that is none
 */
export function theilSen(points: readonly { readonly x: number; readonly y: number }[]): Trend | undefined {
  for (const p of points) requireRange('point', p.x + p.y, Number.isFinite(p.x + p.y), 'numbers')
  const n = points.length
  const slopes = slopesOf(points)
  if (n < TREND_LEAST || slopes.length < (n * (n - 1)) / 4) return undefined
  const c = 1.645 * Math.sqrt((n * (n - 1) * (2 * n + 5)) / 18)
  const from = Math.max(0, Math.floor((slopes.length - c) / 2))
  const to = Math.min(slopes.length - 1, Math.ceil((slopes.length + c) / 2))
  return { slope: median(slopes), low: slopes[from], high: slopes[to], n }
}
