import {
  type Diagnosis,
  type FaultId,
  type Ranked,
  type Reason,
  spokenBy,
  SURE_ENOUGH,
  tellsNothing,
  testInfo,
} from '../diagnosis/index.js'
import { unseenBelow, type Change } from '../proof/index.js'
import { asItStood } from './asItStood.js'
import { diagnoseVisit } from './evidence.js'
import { livingPoints } from './living.js'
import { isIdleBack, isReadAsItCame } from './noIdle.js'
import { vehicleAtPlace } from './place.js'
import { closedThrottleOf, isIdleMeasured, lastRound } from './points.js'
import { placeOfFind } from './findPlace.js'
import { bringsIdleBack, isTemperatureBack, proofsOf, type Proof } from './proofs.js'
import type { VisitFile } from './records.js'
import { AT_FULL_LOAD, isProved, isUnsaid, LETS_AIR_IN, remediesOf, type Remedy } from './remedies.js'
import { retestsOf } from './retests.js'
import { visitLedger } from './unmetered.js'
import { andList } from './words.js'

/** What told that a cause is gone: readings, its own test made again, an idle on less opening for the same air, the car held against itself, or an idle where there was none. */
type Teller = 'readings' | 'test' | 'opening' | 'itself' | 'idle'

/** What a visit may say of causes: nothing that what was done since has overtaken. */
export interface VisitCauses {
  /** Answered by a remedy after which something told that it is gone. */
  readonly confirmed: readonly FaultId[]
  readonly told: Readonly<Partial<Record<FaultId, Teller>>>
  /** How large a confirmed cause was, where something else than the baseline by itself tells it: what was read between two works, or the car held against itself; undefined where nobody can tell. */
  readonly sized: Readonly<Partial<Record<FaultId, Ranked | undefined>>>
  /** What it may have been instead of each of the confirmed: answered by work of the same time, or by the very same, so that the gain is of either. */
  readonly or: Readonly<Partial<Record<FaultId, readonly FaultId[]>>>
  /** Leads by the newest readings that count, and nothing has confirmed it. */
  readonly suspected?: Ranked
  /** Whether it was named before the work too, or shows only since. */
  readonly suspectedFirst?: 'before' | 'since'
  readonly suspectedBy?: string
  /** Led by the first reading and does not show in the last, though nothing was done. */
  readonly gone?: Ranked
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
const VALVE_OR_PASSAGE: readonly FaultId[] = ['idle-valve-stuck', 'throttle-deposits']
const ONE_TO_A_CUSTOMER: readonly (readonly FaultId[])[] = [LETS_AIR_IN, VALVE_OR_PASSAGE]
/** Beyond this probability by the newest readings a cause has not gone [–]. */
const STILL_LEADS = 0.5
/** From this probability the leading cause is named though nothing confirms it [–]. */
const WORTH_NAMING = 0.3

/** Beyond this a cause is likelier than all others together [–]. */
export const MORE_THAN_ALL_ELSE = 0.5
/** From this probability of nothing being wrong the last round is that of a sound engine [–]. */
export const SOUND = 0.5

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
 * Whether the account of unmetered air may be told as air: something was done that stops air and none is left, or what is left is rather
 * air than nothing and no other cause is likelier than all else; else what leads lets air in, or nothing leads and nothing was done. Beside a dirty sensor the same trims are its error, and once it is clean no air has gone.
 * @param d - diagnosis of the last round
 */
export function isAccountOfAir(f: VisitFile, d: Diagnosis | undefined): boolean {
  const remedies = remediesOf(f)
  const lead = d?.ranking[0]
  const isElse = lead && !LETS_AIR_IN.includes(lead.fault) && lead.probability > MORE_THAN_ALL_ELSE
  if (stopsAir(remedies)) return !d || (isRatherAir(d) && !isElse) || (visitLedger(f)?.accounted ?? false)
  const leads = lead !== undefined && lead.fault !== 'none' && lead.probability > WORTH_NAMING
  return leads ? LETS_AIR_IN.includes(lead.fault) : remedies.length === 0
}

/** Whether something was done that stops air. */
export const stopsAir = (remedies: readonly Remedy[]): boolean =>
  remedies.some((r) => r.answers.some((x) => LETS_AIR_IN.includes(x)))

/** Whether air is let in, one way or another, all but surely: only then is its account told without an "if". */
export const isSurelyAir = (d: Diagnosis): boolean => shareOfAir(d) >= SURE_ENOUGH

/** Whether it is likelier that air is let in than that nothing is wrong: a trim off the middle may be the car's own. */
export const isRatherAir = (d: Diagnosis): boolean =>
  shareOfAir(d) > (d.ranking.find((r) => r.fault === 'none')?.probability ?? 0)

const shareOfAir = (d: Diagnosis): number =>
  d.ranking.reduce((sum, r) => sum + (LETS_AIR_IN.includes(r.fault) ? r.probability : 0), 0)

/** From so much in its favour a kind of evidence is named beside the readings [bits]. */
const NAMED_BITS = 1
const BESIDE = { code: 'codes', sign: 'signs', finding: 'findings' } as const
/** Whether a reason is a reading, and neither one of those nor what was done. */
const isReading = (r: Reason): boolean => !(r.source in BESIDE) && r.source !== 'work'

/** What speaks for a cause: readings only where they tell anything and it leaves its mark in them, and what else moves it. */
export function spokenForBy(d: Diagnosis, fault: FaultId): string {
  if (tellsNothing(d) || d.unmarked.includes(fault)) return 'codes, signs and tests'
  const bits = (source: string): number =>
    (d.reasons[fault] ?? []).reduce((sum, r) => sum + (r.source === source ? r.bits : 0), 0)
  const beside = Object.entries(BESIDE).flatMap(([source, name]) => (bits(source) >= NAMED_BITS ? [name] : []))
  return andList(['the readings', ...beside])
}

/** Whether the readings spoke for a cause, and not its test alone: where they did not, nothing of them comes back. */
function isOfReadings(d: Diagnosis, fault: FaultId): boolean {
  const reasons = d.reasons[fault]?.filter(isReading)
  return !reasons || reasons.reduce((sum, r) => sum + r.bits, 0) >= NAMED_BITS
}

/** Whether more of what spoke for a cause were readings than tests and looks: then they, and no test, tell whether it is gone. */
function isMoreOfReadings(d: Diagnosis, fault: FaultId): boolean {
  const reasons = d.reasons[fault]
  if (!reasons) return true
  const bits = (of: (r: Reason) => boolean): number => reasons.filter(of).reduce((sum, r) => sum + r.bits, 0)
  const byTests = bits((r) => r.source === 'finding')
  return bits(isReading) >= Math.max(NAMED_BITS, byTests)
}

const OF_OPENING = /^(throttle|idle_valve)_pct$/
const OF_AIR = /^(maf_gs|map_kpa|gauge_vacuum_kpa)$/

/** Whether what was cleaned needs less opening for the same air, at idle or over all points: deposits are gone, whatever was thought of them before. */
function opensLess({ remedies, proof }: Proof): boolean {
  const isCleaned = remedies.some((r) => r.repair === 'clean' && r.answers.includes('throttle-deposits'))
  if (!isCleaned || !proof) return false
  const idle = proof.changes.filter((c) => c.kind === 'idle')
  const isSeen = (c: Change): boolean =>
    unseenBelow(c) === undefined ||
    proof.pooled.some((p) => p.what === c.label && p.verdict !== 'no change seen' && p.gain * c.difference > 0)
  const isLess = idle.some((c) => OF_OPENING.test(c.quantity) && c.difference < 0 && isSeen(c))
  const air = idle.filter((c) => OF_AIR.test(c.quantity))
  return isLess && air.length > 0 && !air.some(isSeen)
}

/** From this share among none and what was worked on a cause is confirmed by the car's own readings since [–]. */
const BY_ITSELF = 0.8

/** The car before some work held against itself after it: what differs is what was done, since its own ways, and what it still carries, fall out. */
function heldAgainst(f: VisitFile, p: Proof): Diagnosis | undefined {
  const { before, after, remedies } = p
  // another throttle has another zero: the openings of the two do not compare
  const isSame = !remedies.some((r) => r.repair === 'replace' && r.answers.includes('throttle-deposits'))
  if (after === undefined || !isSame) return undefined
  return diagnoseVisit(asItStood(f, p), before, {
    sound: [
      {
        of: 'same-car',
        points: livingPoints(f, after),
        altitudeM: vehicleAtPlace(f).altitudeM,
        closedThrottlePct: closedThrottleOf(f, after),
      },
    ],
  })
}

/** What was worked on, where the car reads soundly after it and only the difference shows what it was. */
function againstItself(f: VisitFile, p: Proof): { readonly found: Ranked; readonly by: Diagnosis } | undefined {
  const isMoved = p.proof?.changes.some((c) => unseenBelow(c) === undefined) ?? false
  const d = isMoved ? heldAgainst(f, p) : undefined
  if (!d) return undefined
  const answered = new Set<FaultId>(p.remedies.flatMap((r) => r.answers))
  const found = d.ranking.find((r) => answered.has(r.fault) && !d.unmarked.includes(r.fault))
  if (!found || !isOfReadings(d, found.fault)) return undefined
  const none = d.ranking.find((r) => r.fault === 'none')?.probability ?? 0
  const isIt = found.probability >= BY_ITSELF * (found.probability + none)
  // where the readings are far more another cause's, something else was done than is entered
  return isIt && found.probability >= MAY_HAVE_BEEN * d.ranking[0].probability ? { found, by: d } : undefined
}

/** From this probability by what fell away with the work a cause has its size from that [–]. */
const SIZED_FROM = 0.5

/** From this chance that a test finds a cause the test made again tells of it [–]. */
const TELLS = 0.5

/** Causes that tests found and do not find any more since something was done that answers them. */
function goneByTest(
  f: VisitFile,
  knownBefore: (r: Remedy) => Diagnosis,
): {
  readonly fault: FaultId
  readonly or: readonly FaultId[]
  /** Answered by the same work, and found by the same test: of them one at most was there. */
  readonly alike: readonly FaultId[]
  readonly by: readonly Remedy[]
  /** What was known before that work. */
  readonly d: Diagnosis
}[] {
  const done = remediesOf(f)
  return retestsOf(f).flatMap(({ before, after }) => {
    if (after.outcome !== 'pass') return []
    const { finds } = testInfo(after.test)
    const spoken = spokenBy(before)
    const place = placeOfFind(after)
    const by = done.filter((r) => !place || r.station === place)
    if (!by.length) return []
    const answered = new Set(by.flatMap((r) => r.answers))
    const d = knownBefore(by.find((r) => r.at > before.at) ?? by[by.length - 1])
    const [found, ...others] = d.ranking.filter(
      (r) =>
        answered.has(r.fault) && r.fault in spoken && (finds[r.fault] ?? 0) >= TELLS && r.probability >= HAD_A_CHANCE,
    )
    if (!found) return []
    // the same test finds them alike
    const or = others.filter((r) => r.probability >= MAY_HAVE_BEEN * found.probability).map((r) => r.fault)
    return [{ fault: found.fault, or, alike: [found, ...others].map((r) => r.fault), by, d }]
  })
}

/**
 * Sizes of causes that were mended before another: the readings before that work were of both, and what fell away with it tells
 * how large each was. Undefined where nobody can tell; left out where the readings before it have the word.
 * @param answeredBy - the work that answered each of the causes that readings confirm
 */
function sizesByWork(f: VisitFile, answeredBy: ReadonlyMap<FaultId, Proof>): Map<FaultId, Ranked | undefined> {
  const sizes = new Map<FaultId, Ranked | undefined>()
  for (const [fault, p] of answeredBy) {
    if (![...answeredBy.values()].some((x) => x.before > p.before)) continue
    // what fell away beyond a trim's stop nobody has read
    const isRead = !p.proof?.changes.some((c) => c.atStop)
    const own = isRead ? heldAgainst(f, p)?.ranking.find((r) => r.fault === fault) : undefined
    if (!isRead || (own && own.probability >= SIZED_FROM)) sizes.set(fault, own)
  }
  return sizes
}

/**
 * What readings confirm is what they can show: a cause that leaves no mark in them is confirmed by its own test, made again.
 * @param d - diagnosis of the baseline
 * @param now - diagnosis of the last round
 */
export function causesOf(f: VisitFile, d: Diagnosis, now: Diagnosis): VisitCauses {
  const told = new Map<FaultId, Teller>()
  const or: Partial<Record<FaultId, Set<FaultId>>> = {}
  const sized: Partial<Record<FaultId, Ranked | undefined>> = {}
  const answeredBy = new Map<FaultId, Proof>()
  const proofs = proofsOf(f)
  const seen = new Map<number, Diagnosis>()
  /** What was known before some work: where other work came first, what was read between the two. */
  const beforeWork = (p: Proof): Diagnosis => {
    const by = p.before > 0 ? (seen.get(p.before) ?? diagnoseVisit(asItStood(f, p), p.before)) : d
    seen.set(p.before, by)
    return by
  }
  // of air that is let in there is often more; of what sits at one place what still leads was not answered
  const stillLeads = (fault: FaultId): boolean =>
    !LETS_AIR_IN.includes(fault) && (now.ranking.find((r) => r.fault === fault)?.probability ?? 0) > STILL_LEADS
  const confirm = (fault: FaultId, together: readonly Remedy[], how: Teller, by = d): void => {
    if (told.has(fault)) return
    told.set(fault, how)
    const instead = (or[fault] = new Set<FaultId>())
    if (by !== d) sized[fault] = by.ranking.find((r) => r.fault === fault)
    // what else could have gone would have opened it further, or not moved it
    if (how === 'opening') return
    const other = together.filter((r) => !r.answers.includes(fault)).flatMap((r) => r.answers)
    const alike = together.filter((r) => r.answers.includes(fault)).flatMap((r) => r.answers)
    const isAny = together.some(isUnsaid)
    const own = by.ranking.find((r) => r.fault === fault)?.probability ?? 0
    for (const { fault: x, probability } of by.ranking) {
      const byOther = other.includes(x) && probability >= MAY_HAVE_BEEN * own
      const isOneToo = ONE_TO_A_CUSTOMER.some((l) => l.includes(x) && l.includes(fault))
      const byTheSame =
        alike.includes(x) && !isOneToo && probability >= (isAny ? ANSWERED_BEYOND : ANSWERED_ALIKE) * own
      if (x !== fault && (byOther || byTheSame) && !stillLeads(x)) instead.add(x)
    }
  }
  const shows = (fault: FaultId, by = d): boolean => !by.unmarked.includes(fault)
  // where air is shut out it idles on more opening, never on less
  const mayBe = (p: Proof, fault: FaultId): boolean => !(LETS_AIR_IN.includes(fault) && opensLess(p))
  for (const p of proofs) {
    if (p.proof?.verdict !== 'better') continue
    const answers = new Set(p.remedies.flatMap((r) => r.answers))
    const by = beforeWork(p)
    // no reading shows what an engine died of that was never read, and that it runs does
    const isBack = bringsIdleBack(f, p)
    const cause = by.ranking.find(
      (r) =>
        r.fault !== 'none' &&
        answers.has(r.fault) &&
        r.probability >= HAD_A_CHANCE &&
        (isBack || shows(r.fault, by)) &&
        mayBe(p, r.fault) &&
        !stillLeads(r.fault),
    )
    if (!cause || told.has(cause.fault)) continue
    confirm(cause.fault, p.remedies, shows(cause.fault, by) ? 'readings' : 'idle', by)
    answeredBy.set(cause.fault, p)
  }
  // some changes are neither better nor worse by themselves: then it counts that nothing is left of what led before, and that
  // something was seen to change
  const before = d.ranking[0]
  const answer = proofs.find((p) => p.remedies.some((r) => before && r.answers.includes(before.fault)))
  const moved =
    (answer?.proof?.changes.some((c) => unseenBelow(c) === undefined) ?? false) ||
    // neither is a row of the proof
    isIdleBack(f) ||
    (before?.fault === 'temperature-sensor-implausible' && isTemperatureBack(f))
  // what idle and trims cannot show a pull does, whatever of it was laid to something else before
  const pulled = (c: Change): boolean => c.kind === 'pull' && unseenBelow(c) === undefined
  const isByPull = AT_FULL_LOAD.includes(before?.fault) && (answer?.proof?.changes.some(pulled) ?? false)
  const isTold =
    isProved(f) &&
    answer &&
    moved &&
    mayBe(answer, before.fault) &&
    shows(before.fault) &&
    (isByPull || isOfReadings(d, before.fault))
  if (isTold && !told.has(before.fault) && (leavesNothing(now) || isGone(before, now))) {
    confirm(before.fault, answer.remedies, 'readings')
    answeredBy.set(before.fault, answer)
  }
  const freed = told.size ? undefined : proofs.find(opensLess)
  if (freed) {
    const valve = freed.remedies.some((r) => r.station === 'idle-valve' && r.answers.includes('idle-valve-stuck'))
    const of = (x: FaultId): number => d.ranking.find((r) => r.fault === x)?.probability ?? 0
    // its own test, or the readings, may have named the valve before its passage
    const named = valve && of('idle-valve-stuck') > of('throttle-deposits') ? 'idle-valve-stuck' : 'throttle-deposits'
    confirm(named, freed.remedies, 'opening')
  }
  const last = proofs.at(-1)
  if (!told.size && isProved(f) && last?.proof && now.ranking[0]?.fault === 'none') {
    const itself = againstItself(f, last)
    if (itself) {
      const { found, by } = itself
      confirm(found.fault, last.remedies, 'itself', by)
    }
  }
  const workOf = (r: Remedy): Diagnosis => {
    const p = proofs.find((x) => x.remedies.some((y) => y.ids[0] === r.ids[0]))
    return p ? beforeWork(p) : d
  }
  for (const x of goneByTest(f, workOf)) {
    // what readings can show is theirs to say: a hole that is gone need not be the one that they showed
    const isShown = isMoreOfReadings(x.d, x.fault) || (isOfReadings(x.d, x.fault) && now.ranking[0]?.fault !== 'none')
    if (x.alike.some((fault) => told.has(fault)) || (shows(x.fault, x.d) && isShown)) continue
    // a valve that its own test found was not its passage besides, where one work answers both
    for (const fault of VALVE_OR_PASSAGE.includes(x.fault) ? VALVE_OR_PASSAGE : [])
      if (remediesOf(f).every((r) => !r.answers.includes(fault) || x.by.some((y) => y.ids[0] === r.ids[0])))
        told.delete(fault)
    confirm(x.fault, x.by, 'test', x.d)
    for (const fault of x.or) or[x.fault]?.add(fault)
  }
  for (const [fault, own] of sizesByWork(f, answeredBy)) sized[fault] = own
  // measured again after the work: what the baseline said is overtaken by what the last round says
  const isReadAgain = !remediesOf(f).length && lastRound(f) > 0 && isIdleMeasured(f, lastRound(f))
  const newest = isProved(f) || isReadAgain ? now : d
  const lead = newest.ranking[0]
  const isGoneByItself =
    isReadAgain && before?.fault !== 'none' && before?.probability > WORTH_NAMING && lead?.fault === 'none'
  const leads = lead !== undefined && lead.fault !== 'none' && lead.probability > WORTH_NAMING && isReadAsItCame(f)
  return {
    confirmed: [...told.keys()],
    told: Object.fromEntries(told),
    sized,
    or: Object.fromEntries([...told.keys()].map((x) => [x, [...(or[x] ?? [])].filter((y) => !told.has(y))])),
    ...(isGoneByItself ? { gone: before } : {}),
    ...(leads && !told.has(lead.fault)
      ? {
          suspected: lead,
          suspectedBy: spokenForBy(newest, lead.fault),
          suspectedFirst: d.ranking.some((r) => r.fault === lead.fault && r.probability > WORTH_NAMING)
            ? 'before'
            : 'since',
        }
      : {}),
  }
}
