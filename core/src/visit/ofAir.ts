import { SURE_ENOUGH, type Diagnosis } from '../diagnosis/index.js'
import type { VisitFile } from './records.js'
import { LETS_AIR_IN, remediesOf, type Remedy } from './remedies.js'
import { visitLedger } from './unmetered.js'

/** From this probability the leading cause is named though nothing confirms it [–]. */
export const WORTH_NAMING = 0.3

/** Beyond this a cause is likelier than all others together [–]. */
export const MORE_THAN_ALL_ELSE = 0.5
/** From this probability of nothing being wrong the last round is that of a sound engine [–]. */
export const SOUND = 0.5

/** Whether a diagnosis leaves nothing wrong. */
export const leavesNothing = (d: Diagnosis): boolean => {
  const lead = d.ranking.at(0)
  return lead?.fault === 'none' && lead.probability >= SOUND
}

/**
 * Whether the account of unmetered air may be told as air: something was done that stops air and none is left, or what is left is rather
 * air than nothing and than any other cause; else what leads lets air in, or nothing leads and nothing was done. Beside a dirty sensor the same trims are its error, and once it is clean no air has gone.
 * @param d - diagnosis of the last round
 */
export function isAccountOfAir(f: VisitFile, d: Diagnosis | undefined): boolean {
  const remedies = remediesOf(f)
  const lead = d?.ranking[0]
  if (stopsAir(remedies)) return !d || isRatherAir(d) || (visitLedger(f)?.accounted ?? false)
  const leads = lead !== undefined && lead.fault !== 'none' && lead.probability > WORTH_NAMING
  return leads ? LETS_AIR_IN.includes(lead.fault) : remedies.length === 0
}

/** Whether something was done that stops air. */
export const stopsAir = (remedies: readonly Remedy[]): boolean =>
  remedies.some((r) => r.answers.some((x) => LETS_AIR_IN.includes(x)))

/** Whether air is let in, one way or another, all but surely: only then is its account told without an "if". */
export const isSurelyAir = (d: Diagnosis): boolean => shareOfAir(d) >= SURE_ENOUGH

/** Whether it is likelier that air is let in than any other cause, or that nothing is wrong: a trim off the middle may be the car's own. */
function isRatherAir(d: Diagnosis): boolean {
  const air = shareOfAir(d)
  return d.ranking.every((r) => LETS_AIR_IN.includes(r.fault) || r.probability < air)
}

const shareOfAir = (d: Diagnosis): number =>
  d.ranking.reduce((sum, r) => sum + (LETS_AIR_IN.includes(r.fault) ? r.probability : 0), 0)
