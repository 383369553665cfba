import { mergePoints, pointFromTyped } from '../diagnosis/index.js'
import {
  hasController,
  hasIdleValve,
  hasMaf,
  hasMap,
  hasSteadyVacuum,
  hasTrims,
  trimBanksOf,
  type Vehicle,
} from '../engine/index.js'
import { maybeChannel, totalTrimPct, type ChannelId, type OperatingPoint, type PointKind } from '../signals/index.js'
import { diesTicked } from './dies.js'
import { live, SLOTS, type ReadingRecord, type Slot, type VisitFile } from './records.js'
import { andList } from './words.js'

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
  const typed = [...bySlot].flatMap(([slot, values]) => {
    const { rpm } = SLOTS[slot]
    const kind = SLOTS[slot].kind as PointKind
    // what an engine takes with its plate wide open goes by its speed
    if (kind === 'pull' && values.rpm === undefined) return []
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

/** Latest round that holds anything: readings, or that the engine died instead. */
export function lastRound(f: VisitFile): number {
  const rounds = [...readingsOf(f), ...live(f.recordings), ...diesTicked(f)].map((r) => r.round)
  return Math.max(0, ...rounds)
}

/** Where the throttle rests, as a recording of the round tells; undefined without one. */
export const closedThrottleOf = (f: VisitFile, round: number): number | undefined =>
  live(f.recordings).find((r) => r.round === round && r.closedThrottlePct !== undefined)?.closedThrottlePct

const idleOf = (f: VisitFile, round: number): OperatingPoint | undefined =>
  pointsOfRound(f, round).find((p) => p.kind === 'idle')

/** Channels that judging needs and that a round's idle was read without; all of them where it was not read. */
export function missingAtIdle(f: VisitFile, round: number): ChannelId[] {
  const idle = idleOf(f, round)
  return neededAtIdle(f.vehicle.spec).filter((id) => idle?.means[id] === undefined)
}

/** True when a round's idle has every channel that judging needs. */
export const isIdleMeasured = (f: VisitFile, round: number): boolean => !missingAtIdle(f, round).length

/** True when a round's idle was read at all, whole or not. */
export const isIdleRead = (f: VisitFile, round: number): boolean => idleOf(f, round) !== undefined

/** Channels in words: “airflow, short trim 1 and long trim 1”. */
export const channelList = (ids: readonly ChannelId[]): string => andList(channelLabels(ids))

export const channelLabels = (ids: readonly ChannelId[]): string[] => ids.map((id) => maybeChannel(id)!.label)

/** Channels that a round's idle lacks to be held against the baseline: what the baseline went without is not asked for. */
export function missingAgainstBaseline(f: VisitFile, round: number): ChannelId[] {
  const without = isIdleRead(f, 0) ? missingAtIdle(f, 0) : []
  // a speed alone proves nothing
  const comparable = neededAtIdle(f.vehicle.spec).some((id) => id !== 'rpm' && !without.includes(id))
  return missingAtIdle(f, round).filter((id) => !comparable || !without.includes(id))
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
  if (!hasMap(v) && hasSteadyVacuum(v)) out.push('gauge_vacuum_kpa')
  out.push('battery_v')
  return out
}

/**
 * Channels that are read off at a point, in their order: the sensors' zeros at key on; in a pull what an open plate lets through,
 * of a diesel with the valve of its exhaust gas beside it: without that its air means nothing.
 */
export function slotChannels(slot: Slot, v: Vehicle): ChannelId[] {
  const idle = idleChannels(v)
  // what is lost on the way in shows ahead of a plate that throttles
  const charge: ChannelId[] = v.chargeSensor && v.induction === 'turbo' && v.fuel === 'gasoline' ? ['charge_kpa'] : []
  switch (slot) {
    case 'key-on': {
      const ofAir: ChannelId[] = idle.filter((id) => id === 'maf_gs' || id === 'map_kpa')
      if (v.chargeSensor && v.induction === 'turbo') ofAir.push('charge_kpa')
      // without a controller nothing tells but the battery
      if (!hasController(v)) return ['battery_v']
      return [...ofAir, 'baro_kpa', 'iat_c', 'ect_c', 'battery_v']
    }
    case 'pull': {
      const wide = idle.filter((id) => ['rpm', 'maf_gs', 'map_kpa', 'gauge_vacuum_kpa'].includes(id))
      // trims are frozen there: what they leave of an error only a sensor that measures the mixture tells
      if (v.wideband && hasTrims(v)) {
        wide.push('lambda_cmd', 'lambda1', ...(trimBanksOf(v) === 2 ? (['lambda2'] as const) : []))
        wide.push(...idle.filter((id) => /^[sl]tft/.test(id)))
      }
      return v.fuel === 'diesel' && v.egr === 'valve' ? [...wide, 'egr_pct'] : wide
    }
    case 'idle':
      return [...idle.slice(0, -1), ...charge, 'ect_c', ...(hasController(v) ? (['iat_c'] as const) : []), 'battery_v']
    default:
      return [...idle.filter((id) => id !== 'battery_v'), ...(SLOTS[slot].kind === 'hold' ? charge : [])]
  }
}

/** Channels without which a round's idle is not measured. */
export function neededAtIdle(v: Vehicle): ChannelId[] {
  return idleChannels(v).filter(
    (id) => !['battery_v', 'gauge_vacuum_kpa', 'throttle_pct', 'idle_valve_pct'].includes(id),
  )
}

/** Manifold pressure of a point as its sensor reads it [kPa]; undefined without one, and where it reads nothing at all. */
export const manifoldKpaOf = ({ means }: Pick<OperatingPoint, 'means'>): number | undefined =>
  (means.map_kpa ?? 0) > 0 ? means.map_kpa : undefined
