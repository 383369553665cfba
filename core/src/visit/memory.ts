import type { FaultId, SoundOf, SoundPoints } from '../diagnosis/index.js'
import type { ConfirmedField, Vehicle } from '../engine/index.js'
import { causesOf } from './causes.js'
import { leavesNothing } from './ofAir.js'
import { diagnoseVisit } from './evidence.js'
import { vehicleAtPlace } from './place.js'
import { livingPoints } from './living.js'
import { closedThrottleOf, isIdleMeasured, lastRound } from './points.js'
import type { VisitFile } from './records.js'

/** What an earlier visit holds against the present one: of this car, or of a car of its model. */
export interface SoundRecord extends SoundPoints {
  readonly visitId: string
  readonly vehicleId: string
  /** When that visit was opened, ISO. */
  readonly at: string
}

/** How often each cause was confirmed in a shop: found, mended, and measured as gone. */
export type Outcomes = Readonly<Partial<Record<FaultId, number>>>

/**
 * A car's sound record: the last round of its newest visit that leaves nothing wrong; undefined without one.
 *
 * @param visits - of one car
 * @param of - whose car it is to the one at hand
 */
export function soundRecord(visits: readonly VisitFile[], of: SoundOf): SoundRecord | undefined {
  const newestFirst = [...visits].sort((a, b) => b.visit.openedAt.localeCompare(a.visit.openedAt))
  for (const f of newestFirst) {
    const round = lastRound(f)
    if (!isIdleMeasured(f, round)) continue
    if (leavesNothing(diagnoseVisit(f, round)))
      return {
        of,
        visitId: f.visit.id,
        vehicleId: f.vehicle.id,
        at: f.visit.openedAt,
        points: livingPoints(f, round),
        altitudeM: vehicleAtPlace(f).altitudeM,
        closedThrottlePct: closedThrottleOf(f, round),
      }
  }
  return undefined
}

/** What two engines must have alike for one to tell what the other should do. */
const ENGINE_FIELDS = [
  'displacementL',
  'cylinders',
  'banks',
  'metering',
  'induction',
  'injection',
  'fuel',
  'throttle',
  'throttleBoreMm',
  'throttleBodies',
  'idleControl',
  'egr',
] as const satisfies readonly (keyof Vehicle)[]

/** Figures that a pattern gives until somebody has read them off the car. */
const TO_BE_CONFIRMED = ['displacementL', 'cylinders'] as const satisfies readonly ConfirmedField[]

/**
 * Whether two cars are of one kind: the same engine and throttle, and that known of both cars and not only left as the pattern
 * has it, or else the same name.
 */
export function isAlike(a: Vehicle, b: Vehicle): boolean {
  const known = (v: Vehicle): boolean => TO_BE_CONFIRMED.every((f) => v.confirmed?.includes(f))
  return ENGINE_FIELDS.every((f) => a[f] === b[f]) && ((known(a) && known(b)) || plainName(a) === plainName(b))
}

/** A name without its year and the way it is written. */
const plainName = (v: Vehicle): string =>
  v.name
    .toLowerCase()
    .replace(/\b(19|20)\d\d\b/g, '')
    .replace(/[^\p{L}\p{N}.]+/gu, ' ')
    .trim()

/** The cause that a visit confirmed, by the one rule of the sheet, where both its first and its last idle were measured. */
export function confirmedOutcome(f: VisitFile): FaultId | undefined {
  const last = lastRound(f)
  if (last === 0 || !isIdleMeasured(f, 0) || !isIdleMeasured(f, last)) return undefined
  const causes = causesOf(f, diagnoseVisit(f, 0), diagnoseVisit(f, last))
  return causes.confirmed.find((x) => !causes.or[x]?.length)
}
