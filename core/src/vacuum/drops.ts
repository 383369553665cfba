import { requireRange, type Interval } from '../statistics/index.js'

/** What putting one cylinder out did. */
export interface Drop {
  readonly cylinder: number
  /** Fall of the speed [rpm], 0 and more; a rise is none. */
  readonly rpmDrop: number
}

/** A cylinder's part in the work, by its drop against the mean of the others. */
export interface DropJudged {
  readonly cylinder: number
  /** [% of the mean of the others]. */
  readonly sharePct: Interval
  readonly weak: boolean
}

/** How well one drop is known: reading and hand [rpm], and a part of the drop itself [–]; ours. */
const READING_RPM = 8
const READING_SHARE = 0.1
/** A cylinder whose drop stays below this share of the others', surely, does less work [%]. */
const WEAK_PCT = 75

/**
 * Cylinders compared by their drops: share = drop / mean of the others, with 90 % by the errors of both. At least three.
 * @throws RangeError on a drop below −50 or above 1500 rpm
 */
export function judgeDrops(drops: readonly Drop[]): DropJudged[] {
  for (const d of drops) requireRange('rpmDrop', d.rpmDrop, d.rpmDrop >= -50 && d.rpmDrop <= 1500, '−50 to 1500 rpm')
  if (drops.length < 3) return []
  const error = (d: Drop): number => Math.hypot(READING_RPM, READING_SHARE * d.rpmDrop)
  return drops.map((d, i) => {
    const others = drops.filter((_, j) => j !== i)
    const mean = others.reduce((s, x) => s + x.rpmDrop, 0) / others.length
    if (!(mean > READING_RPM))
      return { cylinder: d.cylinder, sharePct: { median: 100, low: 0, high: 300 }, weak: false }
    const meanError = Math.hypot(...others.map(error)) / others.length
    const share = d.rpmDrop / mean
    const half = 1.645 * Math.hypot(error(d) / mean, (share * meanError) / mean)
    const pct = (x: number): number => 100 * x
    const sharePct = { median: pct(share), low: pct(share - half), high: pct(share + half) }
    return { cylinder: d.cylinder, sharePct, weak: sharePct.high < WEAK_PCT }
  })
}
