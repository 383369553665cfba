import { CAUSES, SURE_ENOUGH, deadSaid, tellsNothing, type Diagnosis } from '../../diagnosis/index.js'
import { stationInfo } from '../../engine/index.js'
import { batterySaid } from '../battery.js'
import { type VisitCauses } from '../causes.js'
import { leavesNothing } from '../ofAir.js'
import { type Judged, outsideOf } from '../judged.js'
import { hasPending, keptCodes, openCodes } from '../codes.js'
import { findsDirt, placeOfFind } from '../findPlace.js'
import { DIES } from '../dies.js'
import { diesIn, diesNow, isIdleBack, isReadAsItCame } from '../noIdle.js'
import { lastRound, pointsOfRound } from '../points.js'
import { feltSaid } from '../felt.js'
import { isTemperatureBack, proofBetween, pullAlikeAgain } from '../proofs.js'
import { type VisitFile, live } from '../records.js'
import { type Remedy, isProved, lackingSince, repairWords } from '../remedies.js'
import { retestsOf } from '../retests.js'
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

/** How tests ended that were made again on what was done. */
function triedAgain(f: VisitFile): string {
  const again = retestsOf(f).map((r) => r.after)
  const still = again.filter((x) => x.outcome === 'fail')
  // what names no place stands under nothing that is left
  if (still.length)
    return `Tested again, what was found is still there${still.some((x) => placeOfFind(x) ?? findsDirt(x)) ? ': see below' : ''}.`
  return again.length && again.every((x) => x.outcome === 'pass') ? 'Tested again, what was found there is gone.' : ''
}

/**
 * What a customer reads first.
 * @param now - diagnosis of the last round
 */
export function plainLine(
  f: VisitFile,
  remedies: readonly Remedy[],
  causes: VisitCauses,
  judged: readonly Judged[],
  now: Diagnosis,
): string {
  if (!remedies.length) {
    const dies = diesIn(f, 0)
    if (pointsOfRound(f, 0).length && !isReadAsItCame(f))
      return 'We have begun to measure your engine; not everything has been read yet.'
    if (!isReadAsItCame(f))
      return live(f.findings).length
        ? 'We looked at your car; the engine has not been measured yet.'
        : 'Your car is here; it has not been looked at or measured yet.'
    if (!bringsAir(causes) && learntPast(f))
      return 'Your engine idles too fast: its control must be taught the idle anew, or it draws air from elsewhere. Which of them it is has not been found out yet.'
    const unlike = cylinderUnlike(f.balances) || throttlesUnlike(f.balances) !== undefined
    if (
      causes.suspected ||
      unlike ||
      deadSaid(now).length ||
      batterySaid(f).found ||
      live(f.findings).some((x) => x.outcome === 'fail' && x.test !== 'note')
    )
      return `${dies ? `Your engine ${DIES[dies].now}. We` : 'We measured your engine and'} found where to look; nothing has been mended yet.`
    if (dies) return `Your engine ${DIES[dies].now}; what makes it die has not been found yet.`
    if (causes.gone && !outsideOf(f).length)
      return 'We measured your engine more than once. What the first reading showed the last one does not, and nothing has been mended between them.'
    if (outsideOf(f).length)
      return 'We measured your engine. Not every figure stands where it belongs, and no cause has been found yet.'
    // as with a diesel that mixes in exhaust gas
    if (tellsNothing(now))
      return `We measured your engine ${whereMeasured(f)}. Nothing stands out there, and how well it breathes cannot be told from that alone.`
    const kept = keptCodes(f).length
    if (kept)
      return `We measured your engine ${whereMeasured(f)}. Nothing stands out there; what set the fault code${kept > 1 ? 's' : ''} that it came with has not been found.`
    if (hasPending(f))
      return `We measured your engine ${whereMeasured(f)}. Nothing stands out there; what its control unit has noted without lighting its lamp yet has not been found.`
    return leavesNothing(now)
      ? `We measured your engine ${whereMeasured(f)} and found nothing wrong with the way it breathes there.`
      : `We measured your engine ${whereMeasured(f)}. Nothing stands out there; that alone does not rule out every cause.`
  }
  const work = line(`done: ${andList([...new Set(remedies.map(plainWork))])}`)
  const temporary = remedies.some((r) => r.temporary)
    ? ' It is a repair for the time being: please come back on the day we noted.'
    : ''
  // where either of two may have been it, the customer is told what was done
  const cause = causes.confirmed.flatMap((c) => (causes.or[c]?.length ? [] : [`${CAUSES[c].plain}.`])).join(' ')
  const unlikeBefore = pullAlikeAgain(f) ? 'The throttles of your engine did not pull alike.' : ''
  const told = [cause, unlikeBefore, work, triedAgain(f)].filter(Boolean).join(' ')
  const dies = diesNow(f)
  if (dies) return `${told} It ${dies}.${temporary}`
  if (!isProved(f))
    return `${told} The engine has ${lackingSince(f) ? 'been measured again only in part' : 'not been measured again since'}.${temporary}`
  // as it came against as it leaves: what stood in between is past
  const { verdict, changes } = proofBetween(f, 0, lastRound(f))
  const speed = judged.find((j) => j.channel === 'rpm')
  const out = outsideOf(f)
  const back = isIdleBack(f)
  const idle = speed?.inside
    ? ` It ${back ? 'holds an idle again, at' : 'idles at'} ${speed.value.toFixed(0)} rpm, where it should.`
    : back
      ? ' It holds an idle again.'
      : ''
  const felt = feltSaid(f)
  const came = felt && ` ${felt}`
  if (!changes.length && !back)
    return `${told} Nothing was read before the work that what was read since could be compared with.${came}${temporary}`
  const isConfirmedByThem = causes.confirmed.some((x) => ['readings', 'itself'].includes(causes.told[x] ?? ''))
  const isStillThere = (causes.suspected?.probability ?? 0) >= SURE_ENOUGH
  const open = isStillThere
    ? causes.suspectedFirst === 'since'
      ? ' The readings point at something now that they did not show before: see below.'
      : ' What the readings point at is still there: see below.'
    : out.length || deadSaid(now).length
      ? ' Not every figure stands where it belongs yet: see below.'
      : openCodes(f).length
        ? ' A fault code has been read since: see below.'
        : ''
  const end = `${came}${open}${temporary}`
  if (causes.suspected?.fault === 'idle-learnt-past' && causes.suspected.probability >= SURE_ENOUGH)
    return `${told} As it stands it idles too fast: its control must still be taught the idle anew.${came}${temporary}`
  if (verdict === 'worse')
    return `${told} Some readings are worse than before, and we want to see the car again.${came}${temporary}`
  if (back) return `${told}${idle}${end}`
  if (verdict === 'better') return `${told} The readings are better than before.${idle}${end}`
  if (verdict === 'changed')
    return `${told} The readings have changed${isConfirmedByThem ? ' to those of a sound engine' : ''}.${idle}${end}`
  if (isTemperatureBack(f)) return `${told} The temperature is read as it should be.${idle}${end}`
  return `${told} The readings do not show a difference.${end}`
}
