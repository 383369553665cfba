import type { FaultId } from '../diagnosis/index.js'
import type { OperatingPoint } from '../signals/index.js'
import { leavesNothing } from './causes.js'
import { diagnoseVisit } from './evidence.js'
import { vehicleAtPlace } from './place.js'
import { closedThrottleOf, isIdleMeasured, lastRound, pointsOfRound } from './points.js'
import type { VisitFile } from './records.js'
import { remediesOf } from './remedies.js'

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

const leadOf = (f: VisitFile, round: number): { fault: FaultId; probability: number } =>
  diagnoseVisit(f, round).ranking[0]

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

/** The cause that a visit confirmed: it led before, something was mended, and the last round leaves nothing wrong. */
export function confirmedOutcome(f: VisitFile): FaultId | undefined {
  const last = lastRound(f)
  const remedies = remediesOf(f)
  if (!remedies.length || last === 0 || !isIdleMeasured(f, 0) || !isIdleMeasured(f, last)) return undefined
  const before = leadOf(f, 0).fault
  // what was done must be what answers it: a gasket renewed confirms no dirty sensor
  if (!remedies.some((r) => r.answers.includes(before))) return undefined
  return before !== 'none' && leadOf(f, last).fault === 'none' ? before : undefined
}
