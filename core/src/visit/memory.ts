import type { FaultId } from '../diagnosis/index.js'
import type { OperatingPoint } from '../signals/index.js'
import { causesOf, leavesNothing } from './causes.js'
import { diagnoseVisit } from './evidence.js'
import { vehicleAtPlace } from './place.js'
import { closedThrottleOf, isIdleMeasured, lastRound, pointsOfRound } from './points.js'
import type { VisitFile } from './records.js'

/** What a car's earlier visits hold against the present one. */
export interface SoundRecord {
  readonly visitId: string
  /** When that visit was opened, ISO. */
  readonly at: string
  readonly points: readonly OperatingPoint[]
  /** Of that visit's place [m]. */
  readonly altitudeM: number
  /** Where its throttle rested [%]; left out where nothing was recorded. */
  readonly closedThrottlePct?: number
}

/** How often each cause was confirmed in a shop: found, mended, and measured as gone. */
export type Outcomes = Readonly<Partial<Record<FaultId, number>>>

/** This car's sound record: the last round of its newest visit that leaves nothing wrong; undefined without one. */
export function soundRecord(visits: readonly VisitFile[]): SoundRecord | undefined {
  const newestFirst = [...visits].sort((a, b) => b.visit.openedAt.localeCompare(a.visit.openedAt))
  for (const f of newestFirst) {
    const round = lastRound(f)
    if (!isIdleMeasured(f, round)) continue
    if (leavesNothing(diagnoseVisit(f, round)))
      return {
        visitId: f.visit.id,
        at: f.visit.openedAt,
        points: pointsOfRound(f, round),
        altitudeM: vehicleAtPlace(f).altitudeM,
        closedThrottlePct: closedThrottleOf(f, round),
      }
  }
  return undefined
}

/** The cause that a visit confirmed, by the one rule of the sheet, where both its first and its last idle were measured. */
export function confirmedOutcome(f: VisitFile): FaultId | undefined {
  const last = lastRound(f)
  if (last === 0 || !isIdleMeasured(f, 0) || !isIdleMeasured(f, last)) return undefined
  return causesOf(f, diagnoseVisit(f, 0), diagnoseVisit(f, last)).confirmed.at(0)
}
