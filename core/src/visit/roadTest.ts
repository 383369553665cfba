import type { FaultId } from '../diagnosis/index.js'
import { trimBanksOf } from '../engine/index.js'
import { isSamePoint, trimBand } from '../proof/index.js'
import type { OperatingPoint } from '../signals/index.js'
import { lastRound, pointsOfRound } from './points.js'
import { live, type VisitFile } from './records.js'
import { remediesOf } from './remedies.js'

/** One stretch of the road test: what to drive, why after this work, and what the recording of it says. */
export interface RoadLeg {
  readonly id: string
  readonly say: string
  readonly why: string
  readonly kind: OperatingPoint['kind']
  /** Shortest stretch that counts [s]. */
  readonly leastS: number
  /** On the road, behind its STOP; the others are read standing. */
  readonly driven: boolean
  /** As the recording has it; undefined where it has not. */
  readonly seen?: { readonly seconds: number; readonly said: string }
}

interface LegRule {
  readonly id: string
  readonly kind: OperatingPoint['kind']
  readonly leastS: number
  readonly say: string
  readonly why: string
  /** Driven after work that answers one of these; always where left out. */
  readonly after?: readonly FaultId[]
}

const STANDING: readonly OperatingPoint['kind'][] = ['idle', 'snap']

/** In the order of a drive. Times and which work asks for which stretch are ours. */
const LEGS: readonly LegRule[] = [
  {
    id: 'idle',
    kind: 'idle',
    leastS: 20,
    say: 'Warm and standing: half a minute of idle, loads as at the baseline',
    why: 'The figure that stood farthest out is read where it was read before.',
  },
  {
    id: 'snap',
    kind: 'snap',
    leastS: 0,
    say: 'One snap of the pedal, standing, ten rows a second; then hands off until it idles again',
    why: 'How long speed follows the foot and how far it falls afterwards cannot be felt to a tenth.',
    after: ['maf-under-reads', 'maf-over-reads', 'throttle-deposits', 'idle-valve-stuck', 'unmetered-air-duct'],
  },
  {
    id: 'cruise',
    kind: 'cruise',
    leastS: 15,
    say: 'Steady cruise, half a minute, light foot, no hill',
    why: 'Air that leaks in fades with flow; a sensor that reads wrong, or a filter, does not.',
  },
  {
    id: 'pull',
    kind: 'pull',
    leastS: 2,
    say: 'One full pull through the middle of the speeds',
    why: 'Filter, sensor, boost hose and exhaust show at the greatest flow only.',
    after: [
      'maf-under-reads',
      'maf-over-reads',
      'intake-restriction',
      'boost-leak',
      'exhaust-restriction',
      'runner-restriction',
      'valve-deposits',
    ],
  },
  {
    id: 'overrun',
    kind: 'deceleration',
    leastS: 1.5,
    say: 'Foot off in gear from well above idle; then out of gear and let it come to a stop',
    why: 'Where it stalled or hung: the plate at its rest, idle control and what was learnt are asked at once.',
    after: ['throttle-deposits', 'idle-valve-stuck', 'egr-open-at-idle', 'unmetered-air', 'unmetered-air-bank'],
  },
]

/** The road test that this visit's work asks for, each stretch with what the last recording has of it; none before any work. */
export function roadTestOf(f: VisitFile): RoadLeg[] {
  const remedies = remediesOf(f)
  if (!remedies.length) return []
  const answered = new Set(remedies.flatMap((r) => r.answers))
  const last = lastRound(f)
  const driven =
    last > 0
      ? live(f.recordings)
          .filter((r) => r.round === last)
          .flatMap((r) => r.points)
      : []
  const before = pointsOfRound(f, 0)
  const carburetted = f.vehicle.spec.injection === 'carburettor'
  return LEGS.filter((l) => !l.after || l.after.some((x) => answered.has(x))).flatMap((l) => {
    // without a controller there is no fuel cut to see
    if (carburetted && l.kind === 'deceleration') return []
    const { after: _, ...rule } = l
    const leg = { ...rule, driven: !STANDING.includes(l.kind) }
    const p = driven.filter((x) => x.kind === l.kind).sort((a, b) => b.endS - b.startS - (a.endS - a.startS))[0] as
      OperatingPoint | undefined
    const seconds = p ? p.endS - p.startS : 0
    return [p && seconds >= l.leastS ? { ...leg, seen: { seconds, said: legSaid(f, p, before) } } : leg]
  })
}

const signed = (x: number): string => `${x >= 0 ? '+' : '\u2212'}${Math.abs(x).toFixed(1)} %`

/** What a stretch reads, beside the same stretch of the baseline where it was measured. */
function legSaid(f: VisitFile, p: OperatingPoint, before: readonly OperatingPoint[]): string {
  const was = before.find((b) => isSamePoint(b, p))
  const parts: string[] = []
  const { min, max } = f.vehicle.spec.idleSpecRpm
  if (p.kind === 'idle')
    parts.push(`${p.rpm.toFixed(0)} rpm, ${p.rpm >= min && p.rpm <= max ? 'in its band' : `${min} to ${max} belongs`}`)
  else if (p.kind !== 'snap') parts.push(`at ${(Math.round(p.rpm / 50) * 50).toFixed(0)} rpm`)
  if (p.kind === 'idle' || p.kind === 'cruise')
    for (const bank of [1, 2] as const) {
      const x = p.means[`trim${bank}_pct`]
      if (x === undefined) continue
      const old = was?.means[`trim${bank}_pct`]
      const name = trimBanksOf(f.vehicle.spec) === 2 ? `trim of bank ${bank}` : 'trim'
      parts.push(`${name} ${signed(x)}, ${trimBand(x)}${old === undefined ? '' : ` (${signed(old)} before)`}`)
    }
  if (p.kind === 'pull' && p.means.maf_gs !== undefined) {
    const old = was?.means.maf_gs
    parts.push(`airflow ${p.means.maf_gs.toFixed(1)} g/s${old === undefined ? '' : ` (${old.toFixed(1)} before)`}`)
  }
  if (p.kind === 'pull' && p.means.map_kpa !== undefined)
    parts.push(`manifold pressure ${p.means.map_kpa.toFixed(0)} kPa`)
  if (p.kind === 'deceleration') parts.push('fuel cut came')
  if (p.kind === 'snap') {
    const { pedal_delay_s: pedal, plate_delay_s: plate, settle_s: settle, dip_rpm: dip } = p.means
    if (pedal !== undefined) parts.push(`speed follows the pedal by ${pedal.toFixed(2)} s`)
    if (plate !== undefined) parts.push(`speed follows the throttle plate by ${plate.toFixed(2)} s`)
    if (settle !== undefined) parts.push(`idles again ${settle.toFixed(1)} s after its peak`)
    if (dip !== undefined) parts.push(`falls ${dip.toFixed(0)} rpm below its idle`)
    if (!parts.length) parts.push('too few rows a second to tell its delay')
  }
  return parts.join('; ')
}
