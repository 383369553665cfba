import type { OperatingPoint, TotalTrim } from '../signals/index.js'
import type { ChannelId } from '../signals/index.js'
import type { StationId } from '../engine/index.js'
import type { FaultId } from './faultKit.js'

/** How the car came: it sets the prior of finding nothing. */
export type Intent = 'complaint' | 'check-up' | 'not-stated'

/** One thing looked at or tried. */
export interface Finding {
  /** Test id of the catalogue; 'look' for the free look. */
  readonly test: string
  readonly outcome: 'pass' | 'fail' | 'unclear'
  readonly station?: StationId
  /** Line of the look, where it is one; of a test whose finds are of unlike kinds, which it found. */
  readonly item?: string
  /** Made to see whether work at its place holds: where it finds nothing it says nothing of other places. */
  readonly here?: boolean
}

/** A code read from the car. */
export interface CodeSeen {
  readonly code: string
  readonly state: 'pending' | 'stored' | 'permanent'
}

/** Whose sound record it is: this car's own, or that of another car of its model. */
export type SoundOf = 'same-car' | 'same-model'

/** Points of a sound engine, and the place where they were taken: pressures there are those of that height. */
export interface SoundPoints {
  readonly of: SoundOf
  readonly points: readonly OperatingPoint[]
  readonly altitudeM: number
  /** Where its throttle rested [%], where a recording told. */
  readonly closedThrottlePct?: number
}

/** A piece of work done before the points were read, and how likely each cause still is that it answers, against before [–], 0..1. */
export interface WorkDone {
  readonly words: string
  /** Part that was in hand; left out where the work was on none. */
  readonly at?: StationId
  readonly left: Readonly<Partial<Record<FaultId, number>>>
}

/** Everything known of a car, whatever it came from. */
export interface Evidence {
  readonly intent: Intent
  /** Whether the engine was seen to die as soon as it idles, or whatever the pedal does; left out where it does not, or nobody says so. */
  readonly dies?: 'at-idle' | 'always'
  /** From recordings and typed readings alike. */
  readonly points: readonly OperatingPoint[]
  readonly signs: readonly string[]
  /** Under which conditions they show; left out where nobody asked. */
  readonly conditions?: readonly string[]
  readonly findings: readonly Finding[]
  /** Codes that stand; an empty list says that they were read and none does. Left out when nobody has read them. */
  readonly codes?: readonly CodeSeen[]
  /** Equipment at hand, by the words of the tests; all of it when left out. */
  readonly equipment?: readonly string[]
  /** Records of this car when it was sound, and of sound cars of its model: they narrow what its readings should be. */
  readonly sound?: readonly SoundPoints[]
  /** Confirmed outcomes of this shop, counted by cause; left out, every cause counts alike. */
  readonly outcomes?: Readonly<Partial<Record<FaultId, number>>>
  /** What was done before the points were read. It moves no cause against none: what is still wrong is likelier elsewhere. */
  readonly done?: readonly WorkDone[]
  /** Whether throttle or idle valve were worked on and the idle has not been taught since; left out where nobody knows. */
  readonly worked?: boolean
  /** Closed-plate throttle reading [%], where the recording shows it. */
  readonly closedThrottlePct?: number
  /** Whether the pressure of the place, by the vehicle's altitude, was read from a barometer that is trusted. */
  readonly trustedPressure?: boolean
}

/** A typed reading: figures seen at one operating point. */
export interface TypedPoint {
  readonly kind: OperatingPoint['kind']
  readonly values: Readonly<Partial<Record<ChannelId, number>>>
}

/** A typed point as an operating point (n = 1); trims are summed per bank as (1+s)(1+l) − 1. */
export function pointFromTyped(p: TypedPoint, totalTrim: (s: number, l: number) => number): OperatingPoint {
  const v = p.values
  const means: Record<string, number> = { ...v }
  const add = (id: TotalTrim, s?: number, l?: number): void => {
    if (s !== undefined || l !== undefined) means[id] = totalTrim(s ?? 0, l ?? 0)
  }
  add('trim1_pct', v.stft1_pct, v.ltft1_pct)
  add('trim2_pct', v.stft2_pct, v.ltft2_pct)
  return { kind: p.kind, rpm: v.rpm ?? 0, startS: 0, endS: 0, n: 1, means, sds: {} }
}

/** What is known no better than it moved from one stretch to the next. */
const TRIMS: readonly TotalTrim[] = ['trim1_pct', 'trim2_pct']

/** Kinds of which one speed may be held under any load, and how far air and plate may lie apart [–, %]. */
const UNDER_ANY_LOAD: ReadonlySet<string> = new Set(['cruise', 'idle-load'])
const LIKE_AIR = 0.2
const LIKE_PLATE_PCT = 5

/** Whether two points of one kind and speed are one: a car that keeps its speed by a wide open plate only is at another point. */
function isLikeLoad(a: OperatingPoint, b: OperatingPoint): boolean {
  if (!UNDER_ANY_LOAD.has(a.kind)) return true
  const apart = (id: 'maf_gs' | 'map_kpa'): boolean => {
    const [x, y] = [a.means[id], b.means[id]]
    return x !== undefined && y !== undefined && Math.abs(x - y) > LIKE_AIR * Math.max(x, y)
  }
  const [x, y] = [a.means.throttle_pct, b.means.throttle_pct]
  return (
    !apart('maf_gs') && !apart('map_kpa') && !(x !== undefined && y !== undefined && Math.abs(x - y) > LIKE_PLATE_PCT)
  )
}

/**
 * Merges points of the same kind, speed (within 12 %) and load, weighted by their rows: repeats of one point are
 * one piece of evidence, not several. The scatter of trims takes in how far they moved from one to the next.
 */
export function mergePoints(points: readonly OperatingPoint[]): OperatingPoint[] {
  const out: OperatingPoint[] = []
  for (const p of points) {
    const i = out.findIndex(
      (q) => q.kind === p.kind && Math.abs(q.rpm - p.rpm) <= 0.12 * Math.max(q.rpm, p.rpm) && isLikeLoad(q, p),
    )
    if (i < 0) {
      out.push(p)
      continue
    }
    const q = out[i]
    const total = q.n + p.n
    const means: Record<string, number> = { ...q.means }
    for (const [id, x] of Object.entries(p.means)) {
      const y = q.means[id as ChannelId]
      means[id] = y === undefined ? x : (y * q.n + x * p.n) / total
    }
    const sds: Record<string, number> = { ...q.sds }
    for (const id of TRIMS) {
      const [a, b] = [q.means[id], p.means[id]]
      if (a === undefined || b === undefined) continue
      const within = (q.n * (q.sds[id] ?? 0) ** 2 + p.n * (p.sds[id] ?? 0) ** 2) / total
      sds[id] = Math.sqrt(within + ((q.n * p.n) / total ** 2) * (a - b) ** 2)
    }
    // as long as all of them together: how much of it hangs together goes with time
    const endS = q.endS + (p.endS - p.startS)
    out[i] = { ...q, endS, n: total, rpm: (q.rpm * q.n + p.rpm * p.n) / total, means, sds }
  }
  return out
}
