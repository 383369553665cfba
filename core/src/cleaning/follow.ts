import type { FeedPlan, FeedRequest } from './plan.js'
import { methodInfo } from './methods.js'

/** Highest share of each limit that following a plan reaches; above 1 it is exceeded. */
export interface FeedFollowed {
  readonly tenSeconds: number
  readonly oneSecond: number
  readonly film: number
  readonly fedMl: number
}

/** Step of the integration [s]. */
const DT = 0.05

/**
 * Follows a plan through the mixture and film equations, knowing nothing of how it was planned: worst cylinder's
 * mixture over any ten seconds and any one, and the film, step by step. The referee of the planner: its limits
 * are written out here again on purpose.
 */
export function followFeed(p: FeedPlan, q: FeedRequest): FeedFollowed {
  const m = methodInfo(q.method)
  const tau = 40 * 2 ** (Math.max(0, 90 - q.coolantC) / 25)
  const water = q.product.kind === 'water'
  const density = water ? 1 : 0.8
  const t0 = q.trims
  const rho = t0
    ? Math.min(1, Math.max((1 + t0.totalMin) / (1 + t0.total), (1 + t0.shortMin) / (1 + t0.short), 0.83))
    : 1
  const limitTen = water ? 0.03 * q.airGS : (q.airGS / q.product.afr) * (1 / 0.85 - rho)
  const limitOne = water ? limitTen : (q.airGS / q.product.afr) * (1 / 0.65 - 1)
  const { displacementL, cylinders, compressionRatio } = q.vehicle
  const limitFilm = (0.1 * displacementL * 1000) / (cylinders * (compressionRatio - 1))
  const ten = new Array<number>(Math.round(10 / DT)).fill(0)
  const one = new Array<number>(Math.round(1 / DT)).fill(0)
  let [film, fed, sumTen, sumOne, worstTen, worstOne, worstFilm] = [0, 0, 0, 0, 0, 0, 0]
  const cycle = p.shotS + p.pauseS
  const steps = Math.ceil((p.shots * cycle + 60) / DT)
  for (let k = 0; k < steps; k++) {
    const t = k * DT
    const rate = t < p.shots * cycle && t % cycle < p.shotS ? p.rateMlS : 0
    const leaving = film / tau
    film += (m.wetShare * rate - leaving) * DT
    fed += rate * DT
    const burnt = ((1 - m.wetShare) * rate + leaving) * density * p.worstShare
    sumTen += burnt - ten[k % ten.length]
    ten[k % ten.length] = burnt
    sumOne += burnt - one[k % one.length]
    one[k % one.length] = burnt
    worstTen = Math.max(worstTen, sumTen / ten.length / limitTen)
    worstOne = Math.max(worstOne, sumOne / one.length / limitOne)
    worstFilm = Math.max(worstFilm, film / limitFilm)
  }
  return { tenSeconds: worstTen, oneSecond: worstOne, film: worstFilm, fedMl: fed }
}
