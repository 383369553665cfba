import { tellsNothing, type Diagnosis } from '../diagnosis/index.js'
import { visitDeposits } from './deposits.js'
import { lastRound } from './points.js'
import { proofsOf } from './proofs.js'
import type { VisitFile } from './records.js'

/** What cleaning or feeding could bring on this engine, from what was measured. */
export interface ExpectedGain {
  readonly sentences: readonly string[]
  /** Nothing that could be measured afterwards. */
  readonly nothing: boolean
  /** A service was done and changed nothing: another one is advised against. */
  readonly against: boolean
}

/** Probability from which deposits behind the plate are worth a feed, and below which nothing points at them [–]. */
const WORTH = 0.3
const NOTHING = 0.1
/** Unused idle opening below which control is near its end [–]. */
const NEAR_ITS_END = 0.2

/**
 * Expected gain with its interval: opening given back at the throttle, the chance that deposits behind it have a part in what was read;
 * for a sound engine nothing. Undefined before the idle is measured well enough to say either.
 *
 * @param d - diagnosis of the last round
 */
export function expectedGain(f: VisitFile, d: Diagnosis): ExpectedGain | undefined {
  const deposits = visitDeposits(f, lastRound(f))
  const of = (fault: string): number => d.ranking.find((r) => r.fault === fault)?.probability ?? 0
  // both can be true at once
  const soot = f.vehicle.spec.fuel === 'diesel' ? of('intake-restriction') : 0
  const behind = 1 - (1 - of('valve-deposits')) * (1 - of('runner-restriction')) * (1 - soot)
  const unread = tellsNothing(d)
  if (unread && !deposits) return undefined
  const sentences: string[] = []
  const { lost, authority = 1, cleanAuthority } = deposits ?? {}
  if (lost && lost.mm2.low > 0) {
    // what its sensor reads closed is not on record: the loss hangs on that
    const who = deposits?.learnt ? 'A clean throttle' : 'If its plate reads 0 % closed, a clean throttle'
    const gives = `${who} gives back ${lost.mm2.median.toFixed(0)} mm² (${lost.mm2.low.toFixed(0)} to ${lost.mm2.high.toFixed(0)}) of its opening at idle`
    sentences.push(
      cleanAuthority !== undefined && cleanAuthority > authority
        ? `${gives}: idle control uses ${(100 * (1 - authority)).toFixed(0)} % of its range now, about ${(100 * (1 - cleanAuthority)).toFixed(0)} % then.`
        : `${gives}.`,
    )
  } else if (lost)
    sentences.push('At the throttle no loss can be measured: it opens no further at idle than a clean one may.')
  else if (deposits && authority < NEAR_ITS_END)
    sentences.push(
      `Idle control has ${(100 * authority).toFixed(0)} % of its range left. How much of that is deposits tells itself only once it is clean.`,
    )
  if (behind >= WORTH)
    sentences.push(
      `Behind the plate: ${(100 * behind).toFixed(0)} of 100 that deposits in runners or at the valves have a part in what was read.`,
    )
  else if (behind < NOTHING && !unread)
    sentences.push('Nothing that was measured points at deposits in runners or at the valves.')
  const service = proofsOf(f).filter((p) => p.remedies.every((r) => r.kind === 'feed' || r.kind === 'cleaning'))
  const against = service.some((p) => p.proof?.changes.length && p.proof.verdict === 'no change seen')
  if (against)
    sentences.push(
      'What was cleaned or fed in this visit changed nothing that was measured: a second service is advised against.',
    )
  const nothing =
    deposits !== undefined &&
    !against &&
    !(lost && lost.mm2.low > 0) &&
    !(deposits && !lost && authority < NEAR_ITS_END) &&
    behind < NOTHING &&
    !unread
  if (nothing && !f.visit.signs.length) sentences.push('A service could gain nothing here that can be measured.')
  return sentences.length ? { sentences, nothing, against } : undefined
}
