import { totalTrimPct, type ChannelId, type OperatingPoint } from '../signals/index.js'
import {
  diagnose,
  mergePoints,
  pointFromTyped,
  type CodeSeen,
  type Diagnosis,
  type Evidence,
} from '../diagnosis/index.js'
import { kindAt } from '../expectation/index.js'
import type { StationId, Vehicle } from '../engine/index.js'
import { hasMaf, hasMap } from '../engine/index.js'
import { live, SLOTS, type Slot, type VisitFile } from './records.js'

/** The vehicle as this visit sees it: the place belongs to the visit. */
export const vehicleAtPlace = (f: VisitFile): Vehicle => ({ ...f.vehicle.spec, altitudeM: f.visit.altitudeM })

/** Operating points of one round, typed and recorded. */
export function pointsOfRound(f: VisitFile, round: number): OperatingPoint[] {
  const bySlot = new Map<Slot, Partial<Record<ChannelId, number>>>()
  for (const r of live(f.readings)) {
    if (r.round !== round) continue
    bySlot.set(r.slot, { ...bySlot.get(r.slot), [r.channel]: r.value })
  }
  const typed = [...bySlot].map(([slot, values]) => {
    const { kind, rpm } = SLOTS[slot]
    return pointFromTyped({ kind, values: { ...values, rpm: values.rpm ?? rpm ?? idleRpm(f) } }, totalTrimPct)
  })
  const recorded = live(f.recordings)
    .filter((r) => r.round === round)
    .flatMap((r) => r.points)
  return mergePoints([...recorded, ...typed])
}

const idleRpm = (f: VisitFile): number => (f.vehicle.spec.idleSpecRpm.min + f.vehicle.spec.idleSpecRpm.max) / 2

/** Latest round that holds anything. */
export function lastRound(f: VisitFile): number {
  return Math.max(0, ...live(f.readings).map((r) => r.round), ...live(f.recordings).map((r) => r.round))
}

/** Stations where a remedy is done. */
export const mendedStations = (f: VisitFile): ReadonlySet<StationId> =>
  new Set(
    live(f.repairs)
      .filter((r) => r.state === 'done')
      .map((r) => r.station),
  )

/** Where the throttle rests, as a recording of the round tells; undefined without one. */
export const closedThrottleOf = (f: VisitFile, round: number): number | undefined =>
  live(f.recordings).find((r) => r.round === round && r.closedThrottlePct !== undefined)?.closedThrottlePct

/**
 * Evidence of a visit. Signs belong to the baseline; after a remedy the finds at mended places are spent, and
 * how the car came no longer says how likely a fault is.
 */
export function evidenceOf(f: VisitFile, round: number): Evidence {
  const baseline = round === 0
  const spent = baseline ? new Set<StationId>() : mendedStations(f)
  return {
    intent: baseline ? f.visit.intent : 'not-stated',
    points: baseline ? mergePoints([...pointsOfRound(f, round), ...freezeFrames(f)]) : pointsOfRound(f, round),
    signs: baseline ? f.visit.signs : [],
    findings: live(f.findings)
      .filter((x) => x.test !== 'note' && !spent.has(x.station))
      .map((x) => ({ test: x.test, outcome: x.outcome, station: x.station })),
    closedThrottlePct: closedThrottleOf(f, round),
    codes: baseline ? codesOf(f) : undefined,
  }
}

/** Among the conditions of a visit: the codes were read before anything was touched, and none stood. */
export const NO_CODES = 'codes-none'

/**
 * Codes that the car came with; those that our own work sets come later and say nothing of the car. Undefined where none is
 * written down and nobody says that they were read.
 */
function codesOf(f: VisitFile): CodeSeen[] | undefined {
  const before = live(f.codes).filter((c) => c.when === 'before')
  if (!before.length) return f.visit.conditions.includes(NO_CODES) ? [] : undefined
  return before.map(({ code, state }) => ({ code, state }))
}

/** Freeze-frames as single readings at the point where each was taken; one without speed says nothing. */
function freezeFrames(f: VisitFile): OperatingPoint[] {
  const v = vehicleAtPlace(f)
  return live(f.codes).flatMap((c) => {
    if (c.when !== 'before' || !c.frame || !((c.frame.rpm ?? 0) > 0)) return []
    const kind = kindAt(c.frame, v, false)
    return kind === 'key-on' ? [] : [pointFromTyped({ kind, values: c.frame }, totalTrimPct)]
  })
}

/** What is known beyond a visit: this car's sound record, what the shop has confirmed, and what equipment it has. */
export type Beyond = Pick<Evidence, 'sound' | 'outcomes' | 'equipment'>

/** What a visit's readings say in one round. */
export const diagnoseVisit = (f: VisitFile, round: number, beyond: Beyond = {}): Diagnosis =>
  diagnose(vehicleAtPlace(f), { ...evidenceOf(f, round), ...beyond })

/** Channels of the idle readings on this engine, in the order they are read off. */
export function idleChannels(v: Vehicle): ChannelId[] {
  const out: ChannelId[] = ['rpm']
  if (hasMaf(v)) out.push('maf_gs')
  if (hasMap(v)) out.push('map_kpa')
  if (v.injection !== 'carburettor') {
    out.push('stft1_pct', 'ltft1_pct')
    if (v.banks === 2) out.push('stft2_pct', 'ltft2_pct')
  }
  if (v.idleControl === 'idle-valve') out.push('idle_valve_pct')
  else if (v.idleControl === 'electronic-throttle') out.push('throttle_pct')
  if (!hasMap(v)) out.push('gauge_vacuum_kpa')
  out.push('battery_v')
  return out
}

/** Channels without which a round's idle is not measured. */
export function neededAtIdle(v: Vehicle): ChannelId[] {
  return idleChannels(v).filter(
    (id) => !['battery_v', 'gauge_vacuum_kpa', 'throttle_pct', 'idle_valve_pct'].includes(id),
  )
}
