import { CAUSES } from '../../diagnosis/index.js'
import { stationInfo } from '../../engine/index.js'
import { type VisitCauses } from '../causes.js'
import { type Judged } from '../judged.js'
import { isIdleMeasured, isIdleRead, pointsOfRound } from '../points.js'
import { type Proof } from '../proofs.js'
import { type VisitFile, live } from '../records.js'
import { type Remedy, isProved, lackingSince, repairWords } from '../remedies.js'
import { cylinderUnlike, throttlesUnlike } from '../taken.js'
import { bringsAir, learntPast } from './found.js'
import { andList, line } from '../words.js'

/** Where the baseline was measured, in plain words. */
function whereMeasured(f: VisitFile): string {
  const kinds = new Set(pointsOfRound(f, 0).map((p) => p.kind))
  if (kinds.has('cruise') || kinds.has('pull')) return 'at idle and on the road'
  return kinds.has('hold') ? 'at idle and at held speeds' : 'at idle'
}

/** A remedy for a customer: what, without with what. */
function plainWork(r: Remedy): string {
  switch (r.kind) {
    case 'repair':
      return r.plain ?? `the ${repairWords({ station: r.station!, kind: r.repair! })}`
    case 'cleaning':
      return r.plain ?? `the ${stationInfo(r.station!).label} cleaned`
    case 'feed':
      return r.plain ?? 'the intake decarbonized'
    case 'relearn':
      return r.plain ?? 'the idle taught again'
    case 'balance':
      return 'the throttles adjusted'
  }
}

export function plainLine(
  f: VisitFile,
  remedies: readonly Remedy[],
  proofs: readonly Proof[],
  causes: VisitCauses,
  judged: readonly Judged[],
): string {
  if (!remedies.length) {
    if (isIdleRead(f, 0) && !isIdleMeasured(f, 0))
      return 'We have begun to measure your engine; not everything has been read yet.'
    if (!isIdleMeasured(f, 0))
      return live(f.findings).length
        ? 'We looked at your car; the engine has not been measured yet.'
        : 'Your car is here; it has not been looked at or measured yet.'
    if (!bringsAir(causes) && learntPast(f))
      return 'Your engine idles too fast: its control must be taught the idle anew, or it draws air from elsewhere. Which of them it is has not been found out yet.'
    const unlike = cylinderUnlike(f.balances) || throttlesUnlike(f.balances) !== undefined
    if (causes.suspected || unlike || live(f.findings).some((x) => x.outcome === 'fail' && x.test !== 'note'))
      return 'We measured your engine and found where to look; nothing has been mended yet.'
    return judged.some((j) => !j.inside)
      ? 'We measured your engine. Not every figure stands where it belongs, and no cause has been found yet.'
      : `We measured your engine ${whereMeasured(f)} and found nothing wrong with the way it breathes there.`
  }
  const work = line(`done: ${andList([...new Set(remedies.map(plainWork))])}`)
  const temporary = remedies.some((r) => r.temporary)
    ? ' It is a repair for the time being: please come back on the day we noted.'
    : ''
  // where either of two may have been it, the customer is told what was done
  const cause = causes.or.length ? '' : causes.confirmed.map((c) => `${CAUSES[c].plain}.`).join(' ')
  const told = [cause, work].filter(Boolean).join(' ')
  if (!isProved(f))
    return `${told} The engine has ${lackingSince(f) ? 'been measured again only in part' : 'not been measured again since'}.${temporary}`
  const verdicts = new Set(proofs.flatMap((p) => p.proof?.verdict ?? []))
  const speed = judged.find((j) => j.channel === 'rpm')
  const out = judged.filter((j) => !j.inside)
  const idle = speed?.inside ? ` It idles at ${speed.value.toFixed(0)} rpm, where it should.` : ''
  const open = out.length ? ' Not every figure stands where it belongs yet: see below.' : ''
  if (verdicts.has('worse'))
    return `${told} Some readings are worse than before, and we want to see the car again.${temporary}`
  if (verdicts.has('better')) return `${told} The readings are better than before.${idle}${open}${temporary}`
  if (verdicts.has('changed'))
    return `${told} The readings have changed${causes.confirmed.length ? ' to those of a sound engine' : ''}.${idle}${open}${temporary}`
  return `${told} The readings do not show a difference.${open}${temporary}`
}
