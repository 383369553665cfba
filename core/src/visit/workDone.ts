import type { FaultId, WorkDone } from '../diagnosis/index.js'
import { airPathOf } from '../engine/index.js'
import { HOLES, holeShares } from './holeShare.js'
import type { RepairKind, VisitFile } from './records.js'
import { isAnsweredAt, isUnsaid, LETS_AIR_IN, remediesOf, type Remedy } from './remedies.js'

/** How likely a cause still sits where it was worked on, against what it was before [–]; ours: a new part is rarely bad, dirt often stays. */
const LEFT_BY: Readonly<Record<RepairKind, number>> = {
  replace: 0.1,
  reroute: 0.2,
  clamp: 0.25,
  refit: 0.3,
  splice: 0.25,
  cap: 0.15,
  wrap: 0.35,
  clean: 0.4,
  leave: 1,
}
const LEFT_BY_FEED = 0.6
/** Work that changes the engine; what it has learnt is weighed by itself. */
const BY_HAND: readonly Remedy['kind'][] = ['repair', 'cleaning', 'feed']
/** How much of a cause that several places may have sits at one of them [–]. */
const AT_ONE_OF_SEVERAL = 0.6
/** More than one leak is common: so much of the chance that air is let in somewhere stays, whatever was mended [–]. */
const MORE_LEAKS = 0.6

/** Of these there is often one more. */
const OFTEN_MORE: readonly FaultId[] = ['unmetered-air', 'unmetered-air-bank']
/** Causes that closing a joint or a hose can answer: no clamp and no tape takes dirt or a bad sensor away. */
const CLOSED: readonly FaultId[] = [...LETS_AIR_IN, 'boost-leak']

/** Whether work of its kind can answer a cause: along the path only a new part, or cleaning, does more than close an opening. */
const canAnswer = ({ repair, station }: Remedy, fault: FaultId): boolean =>
  repair === undefined || repair === 'replace' || repair === 'clean' || station === 'beyond' || CLOSED.includes(fault)

/** What was done before a round was read, and how much of each cause it leaves: what was mended is not suspected like before. */
export function workDone(f: VisitFile, round: number): WorkDone[] {
  const path = airPathOf(f.vehicle.spec)
  const holeAt = holeShares(f)
  const places = (fault: FaultId): number =>
    path.stations.filter((s) => isAnsweredAt(s.info.id, fault, f.vehicle.spec)).length
  const shareAt = (fault: FaultId, r: Remedy): number => {
    if (HOLES.includes(fault)) return r.station ? holeAt(fault, r.station) : 0
    // where nobody said which of what lies beyond the air path was mended, it is any of it
    if (r.station === 'beyond') return isUnsaid(r) ? 1 / r.answers.length : 1
    return places(fault) > 1 ? AT_ONE_OF_SEVERAL : 1
  }
  const leftOf = (fault: FaultId, r: Remedy): number => {
    const left = 1 - shareAt(fault, r) * (1 - (r.repair ? LEFT_BY[r.repair] : LEFT_BY_FEED))
    return OFTEN_MORE.includes(fault) ? Math.max(MORE_LEAKS, left) : left
  }
  return remediesOf(f)
    .filter((r) => r.afterRound < round && BY_HAND.includes(r.kind))
    .map((r) => ({
      words: r.words,
      ...(r.station ? { at: r.station } : {}),
      left: Object.fromEntries(
        r.answers.filter((fault) => canAnswer(r, fault)).map((fault) => [fault, leftOf(fault, r)]),
      ),
    }))
}
