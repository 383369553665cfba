import { judgedIdle, type Judged } from '../judged.js'
import { lastRound } from '../points.js'
import type { VisitFile } from '../records.js'
import { remediesOf } from '../remedies.js'

/** The one figure that shows a customer what changed: as it came, as it leaves, and where it belongs. */
export interface Picture {
  readonly label: string
  readonly unit: string
  readonly before: number
  readonly after: number
  readonly low: number
  readonly high: number
  readonly decimals: number
}

/** Names that a customer reads. */
const PLAIN: Readonly<Partial<Record<Judged['channel'], string>>> = {
  rpm: 'idle speed',
  trim1_pct: 'fuel correction at idle',
  trim2_pct: 'fuel correction at idle, second bank',
  map_kpa: 'pressure in the intake',
  gauge_vacuum_kpa: 'vacuum of the intake',
  battery_v: 'supply',
}

/** How far a figure stands outside, in widths of its band. */
const outside = (j: Judged): number => Math.max(j.low - j.value, j.value - j.high, 0) / Math.max(j.high - j.low, 1e-6)

/** How far a figure moved, in widths of its band. */
const moved = (b: Judged, a: Judged): number => Math.abs(a.value - b.value) / Math.max(b.high - b.low, 1e-6)

/** Signs that a customer sees at the idle speed itself. */
const OF_SPEED = ['idle-high', 'idle-low']

/** Whether it is what the customer came with, and stood out. */
const askedFor = (f: VisitFile, j: Judged): boolean =>
  j.channel === 'rpm' && !j.inside && f.visit.signs.some((s) => OF_SPEED.includes(s))

/**
 * What the customer came with where that stood out, else the figure that stood farthest out as the car came and was read again;
 * where none stood out, the one that moved most. Undefined without work or a second reading, and where nothing moved.
 */
export function pictureOf(f: VisitFile): Picture | undefined {
  const last = lastRound(f)
  if (!remediesOf(f).length || last < 1) return undefined
  const after = judgedIdle(f, last)
  const both = judgedIdle(f, 0).flatMap((b) => {
    const a = after.find((x) => x.channel === b.channel)
    return a && b.channel !== 'battery_v' ? [{ b, a }] : []
  })
  const worst =
    both.find(({ b }) => askedFor(f, b)) ??
    [...both].sort((x, y) => outside(y.b) - outside(x.b) || moved(y.b, y.a) - moved(x.b, x.a)).at(0)
  if (!worst) return undefined
  const { b, a } = worst
  const decimals = b.unit === 'rpm' ? 0 : 1
  // a figure that belonged and stayed shows nothing
  if (b.inside && a.inside && b.value.toFixed(decimals) === a.value.toFixed(decimals)) return undefined
  return {
    label: PLAIN[b.channel] ?? b.label,
    unit: b.unit,
    before: b.value,
    after: a.value,
    low: b.low,
    high: b.high,
    decimals,
  }
}
