import { type Diagnosis, type FaultId, type Ranked, SURE_ENOUGH } from '../diagnosis/index.js'
import { unseenBelow } from '../proof/index.js'
import { isIdleMeasured } from './points.js'
import { proofsOf } from './proofs.js'
import type { VisitFile } from './records.js'
import { BEYOND_THE_PATH, isProved, LETS_AIR_IN, remediesOf, type Remedy } from './remedies.js'

/** What a visit may say of causes: nothing that what was done since has overtaken. */
export interface VisitCauses {
  /** Answered by a remedy after which the readings were better, none worse. */
  readonly confirmed: readonly FaultId[]
  /** What it may have been instead of the confirmed: answered by work of the same time, or by the very same, so that the gain is of either. */
  readonly or: readonly FaultId[]
  /** Leads by the newest readings that count, and nothing has confirmed it. */
  readonly suspected?: Ranked
}

/** From this probability at the baseline a cause counts as the one that a remedy answered [–]. */
const HAD_A_CHANCE = 0.08
/** From this share of its probability at the baseline a cause that other work of the same time answers may have been the one [–]. */
const MAY_HAVE_BEEN = 0.2
/** The same of a cause that the very same work answers: what was found there speaks for both [–]. */
const ANSWERED_ALIKE = 0.5
/** The same where nobody said which of what lies beyond the air path was mended: anything of it may have been. */
const ANSWERED_BEYOND = 0.1
/** Told apart by nobody who mends one place: air by one opening of it or another, a valve that gums or the passage that it sits in. */
const ONE_TO_A_CUSTOMER: readonly (readonly FaultId[])[] = [LETS_AIR_IN, ['idle-valve-stuck', 'throttle-deposits']]
/** From this probability the leading cause is named though nothing confirms it [–]. */
const WORTH_NAMING = 0.3

/** From this probability of nothing being wrong the last round is that of a sound engine [–]. */
const SOUND = 0.5

/** Whether a diagnosis leaves nothing wrong. */
export const leavesNothing = (d: Diagnosis): boolean => {
  const lead = d.ranking.at(0)
  return lead?.fault === 'none' && lead.probability >= SOUND
}

/** Whether a cause that was all but sure has gone, and no other has taken its place: the rest need not be told apart for that. */
function isGone(before: Ranked, now: Diagnosis): boolean {
  const left = now.ranking.find((r) => r.fault === before.fault)?.probability ?? 0
  return before.probability >= SURE_ENOUGH && left < HAD_A_CHANCE && now.ranking.at(0)?.fault === 'none'
}

/**
 * Whether the account of unmetered air may be told as air: something was done that stops air, what leads lets air in, or nothing leads
 * and nothing was done. Beside a dirty sensor the same trims are its error, and once it is clean no air has gone.
 * @param d - diagnosis of the last round
 */
export function isAccountOfAir(f: VisitFile, d: Diagnosis | undefined): boolean {
  const remedies = remediesOf(f)
  if (remedies.some((r) => r.answers.some((x) => LETS_AIR_IN.includes(x)))) return true
  const lead = d?.ranking[0]
  const leads = lead !== undefined && lead.fault !== 'none' && lead.probability > WORTH_NAMING
  return leads ? LETS_AIR_IN.includes(lead.fault) : remedies.length === 0
}

/** Whether air is let in, one way or another, all but surely: only then is its account told without an "if". */
export const isSurelyAir = (d: Diagnosis): boolean =>
  d.ranking.reduce((sum, r) => sum + (LETS_AIR_IN.includes(r.fault) ? r.probability : 0), 0) >= SURE_ENOUGH

/**
 * @param d - diagnosis of the baseline
 * @param now - diagnosis of the last round
 */
export function causesOf(f: VisitFile, d: Diagnosis, now: Diagnosis): VisitCauses {
  const confirmed = new Set<FaultId>()
  const or = new Set<FaultId>()
  const confirm = (fault: FaultId, together: readonly Remedy[]): void => {
    confirmed.add(fault)
    const other = together.filter((r) => !r.answers.includes(fault)).flatMap((r) => r.answers)
    const alike = together.filter((r) => r.answers.includes(fault)).flatMap((r) => r.answers)
    const isUnsaid = together.some((r) => BEYOND_THE_PATH.every((x) => r.answers.includes(x)))
    const own = d.ranking.find((r) => r.fault === fault)?.probability ?? 0
    for (const { fault: x, probability } of d.ranking) {
      const byOther = other.includes(x) && probability >= MAY_HAVE_BEEN * own
      const isOneToo = ONE_TO_A_CUSTOMER.some((l) => l.includes(x) && l.includes(fault))
      const byTheSame =
        alike.includes(x) && !isOneToo && probability >= (isUnsaid ? ANSWERED_BEYOND : ANSWERED_ALIKE) * own
      if (x !== fault && (byOther || byTheSame)) or.add(x)
    }
  }
  for (const p of proofsOf(f)) {
    if (p.proof?.verdict !== 'better') continue
    const answers = new Set(p.remedies.flatMap((r) => r.answers))
    const cause = d.ranking.find((r) => r.fault !== 'none' && answers.has(r.fault) && r.probability >= HAD_A_CHANCE)
    if (cause) confirm(cause.fault, p.remedies)
  }
  // some changes are neither better nor worse by themselves: then it counts that nothing is left of what led before, and that
  // something was seen to change
  const before = d.ranking[0]
  const answer = proofsOf(f).find((p) => p.remedies.some((r) => before && r.answers.includes(before.fault)))
  const moved = answer?.proof?.changes.some((c) => unseenBelow(c) === undefined) ?? false
  if (isProved(f) && answer && moved && (leavesNothing(now) || isGone(before, now)))
    confirm(before.fault, answer.remedies)
  // measured again after the work: what the baseline said is overtaken by what the last round says
  const lead = (isProved(f) ? now : d).ranking[0]
  const leads = lead !== undefined && lead.fault !== 'none' && lead.probability > WORTH_NAMING && isIdleMeasured(f, 0)
  return {
    confirmed: [...confirmed],
    or: [...or].filter((x) => !confirmed.has(x)),
    ...(leads && !confirmed.has(lead.fault) ? { suspected: lead } : {}),
  }
}
