import type { Change } from '../../proof/index.js'
import { judgedIdle, type Judged } from '../judged.js'
import { lastRound } from '../points.js'
import { proofBetween } from '../proofs.js'
import type { VisitFile } from '../records.js'
import { idleSince, remediesOf } from '../remedies.js'

/** The one figure that shows a customer what changed: as it came, as it leaves, and where it belongs, where that is known. */
export interface Picture {
  readonly label: string
  readonly unit: string
  readonly before: number
  readonly after: number
  readonly low?: number
  readonly high?: number
  readonly decimals: number
}

/** Where the figure of a picture belongs; undefined where that is not known. */
export const pictureBand = (p: Picture): { readonly low: number; readonly high: number } | undefined =>
  p.low === undefined || p.high === undefined ? undefined : { low: p.low, high: p.high }

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

/** Names of what a pull shows. */
const AT_FULL_PULL: Readonly<Partial<Record<Change['quantity'], string>>> = {
  map_kpa: 'pressure in the intake at full throttle',
  maf_gs: 'air drawn at full throttle',
}

/** What a pull shows of the work, pressure before air: where it changed, whatever idle says. */
function pullPicture(changes: readonly Change[]): Picture | undefined {
  const seen = changes.filter((c) => c.kind === 'pull' && c.verdict !== 'no change seen')
  const c = seen.find((x) => x.quantity === 'map_kpa') ?? seen.find((x) => x.quantity in AT_FULL_PULL)
  return c && { label: AT_FULL_PULL[c.quantity]!, unit: c.unit, before: c.before, after: c.after, decimals: 0 }
}

/** What a diesel draws at the highest speed it was held at once its way is free: unthrottled it takes all the air that it gets. */
function heldPicture(f: VisitFile, changes: readonly Change[]): Picture | undefined {
  const remedies = remediesOf(f)
  const freed = remedies.some((r) => r.answers.includes('intake-restriction'))
  // a sensor that was mended tells another figure of the same air
  if (f.vehicle.spec.fuel !== 'diesel' || !freed || remedies.some((r) => r.station === 'airflow-sensor'))
    return undefined
  const seen = changes.filter((c) => c.kind === 'hold' && c.quantity === 'maf_gs' && c.verdict !== 'no change seen')
  const c = [...seen].sort((x, y) => y.rpm - x.rpm).at(0)
  return (
    c && {
      label: `air drawn at ${(100 * Math.round(c.rpm / 100)).toFixed(0)} rpm`,
      unit: c.unit,
      before: c.before,
      after: c.after,
      decimals: 0,
    }
  )
}

/**
 * What the customer came with where that stood out, else the figure that stood farthest out as the car came and was read again;
 * where none stood out, what a pull or a diesel's held speed shows, else the one that moved most of those that were seen to. Undefined without work, where nothing was read
 * after the last of it, and where nothing was seen to move.
 */
export function pictureOf(f: VisitFile): Picture | undefined {
  const last = lastRound(f)
  if (!remediesOf(f).length || last < 1 || ['between', 'before'].includes(idleSince(f))) return undefined
  const { changes } = proofBetween(f, 0, last)
  const verdictOf = (j: Judged): string | undefined =>
    changes.find((c) => c.kind === 'idle' && c.quantity === j.channel)?.verdict
  const isSeen = (j: Judged): boolean => ![undefined, 'no change seen'].includes(verdictOf(j))
  const after = judgedIdle(f, last)
  const both = judgedIdle(f, 0).flatMap((b) => {
    const a = after.find((x) => x.channel === b.channel)
    // two bounds show no difference
    return a && b.channel !== 'battery_v' && verdictOf(b) !== 'at its stop' ? [{ b, a }] : []
  })
  const out = both.filter(({ b, a }) => !b.inside || !a.inside)
  const worst = both.find(({ b }) => askedFor(f, b)) ?? [...out].sort((x, y) => outside(y.b) - outside(x.b)).at(0)
  const open = worst ? undefined : (pullPicture(changes) ?? heldPicture(f, changes))
  if (open) return open
  // a figure that belonged and was not seen to move shows nothing
  const most = both.filter(({ b }) => isSeen(b)).sort((x, y) => moved(y.b, y.a) - moved(x.b, x.a))
  const shown = worst ?? most.at(0)
  if (!shown) return undefined
  const { b, a } = shown
  return {
    label: PLAIN[b.channel] ?? b.label,
    unit: b.unit,
    before: b.value,
    after: a.value,
    low: b.low,
    high: b.high,
    decimals: b.unit === 'rpm' ? 0 : 1,
  }
}
