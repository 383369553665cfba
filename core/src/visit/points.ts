import { mergePoints, pointFromTyped } from '../diagnosis/index.js'
import { hasIdleValve, hasMaf, hasMap, hasTrims, trimBanksOf, type Vehicle } from '../engine/index.js'
import { totalTrimPct, type ChannelId, type OperatingPoint, type PointKind } from '../signals/index.js'
import { live, SLOTS, type ReadingRecord, type Slot, type VisitFile } from './records.js'

/** Mark of a reading that was typed into a round that a remedy had closed: kept, and counted nowhere. */
export const TYPED_TOO_LATE = 'typed-after-remedy'

/** Readings that count. */
export const readingsOf = (f: VisitFile): readonly ReadingRecord[] =>
  live(f.readings).filter((r) => r.againstRule !== TYPED_TOO_LATE)

/** Operating points of one round, typed and recorded. */
export function pointsOfRound(f: VisitFile, round: number): OperatingPoint[] {
  const bySlot = new Map<Slot, Partial<Record<ChannelId, number>>>()
  for (const r of readingsOf(f)) {
    if (r.round !== round || SLOTS[r.slot].gaugeOnly) continue
    bySlot.set(r.slot, { ...bySlot.get(r.slot), [r.channel]: r.value })
  }
  const typed = [...bySlot].map(([slot, values]) => {
    const { rpm } = SLOTS[slot]
    const kind = SLOTS[slot].kind as PointKind
    const point = pointFromTyped({ kind, values: { ...values, rpm: values.rpm ?? rpm ?? idleRpm(f) } }, totalTrimPct)
    if (values.rpm !== undefined) return point
    // where a speed was not read the point stands at that of its kind; it is no reading of the speed
    const { rpm: _, ...means } = point.means
    return { ...point, means }
  })
  const recorded = live(f.recordings)
    .filter((r) => r.round === round)
    .flatMap((r) => r.points)
  return mergePoints([...recorded, ...typed])
}

const idleRpm = (f: VisitFile): number => (f.vehicle.spec.idleSpecRpm.min + f.vehicle.spec.idleSpecRpm.max) / 2

/** Latest round that holds anything. */
export function lastRound(f: VisitFile): number {
  return Math.max(0, ...readingsOf(f).map((r) => r.round), ...live(f.recordings).map((r) => r.round))
}

/** Where the throttle rests, as a recording of the round tells; undefined without one. */
export const closedThrottleOf = (f: VisitFile, round: number): number | undefined =>
  live(f.recordings).find((r) => r.round === round && r.closedThrottlePct !== undefined)?.closedThrottlePct

/** True when a round's idle has every channel that judging needs. */
export function isIdleMeasured(f: VisitFile, round: number): boolean {
  const idle = pointsOfRound(f, round).find((p) => p.kind === 'idle')
  if (!idle) return false
  return neededAtIdle(f.vehicle.spec).every((id) => idle.means[id] !== undefined)
}

/** Channels of the idle readings on this engine, in the order they are read off. */
export function idleChannels(v: Vehicle): ChannelId[] {
  const out: ChannelId[] = ['rpm']
  if (hasMaf(v)) out.push('maf_gs')
  if (hasMap(v)) out.push('map_kpa')
  if (hasTrims(v)) {
    out.push('stft1_pct', 'ltft1_pct')
    if (trimBanksOf(v) === 2) out.push('stft2_pct', 'ltft2_pct')
  }
  if (v.idleControl === 'electronic-throttle') out.push('throttle_pct')
  if (hasIdleValve(v)) out.push('idle_valve_pct')
  // a diesel has no vacuum to gauge
  if (!hasMap(v) && v.fuel === 'gasoline') out.push('gauge_vacuum_kpa')
  out.push('battery_v')
  return out
}

/** Channels without which a round's idle is not measured. */
export function neededAtIdle(v: Vehicle): ChannelId[] {
  return idleChannels(v).filter(
    (id) => !['battery_v', 'gauge_vacuum_kpa', 'throttle_pct', 'idle_valve_pct'].includes(id),
  )
}
