import { type Diagnosis, type FaultId, type Ranked, spokenBy, SURE_ENOUGH, testInfo } from '../diagnosis/index.js'
import { kindOfStation, type StationKind } from '../engine/index.js'
import { unseenBelow, type Change } from '../proof/index.js'
import { asItStood } from './asItStood.js'
import { diagnoseVisit } from './evidence.js'
import { placeOfFind } from './findPlace.js'
import { againstItself, MAY_HAVE_BEEN, sizesByWork } from './heldAgainst.js'
import { isReadAsItCame } from './noIdle.js'
import { leavesNothing, WORTH_NAMING } from './ofAir.js'
import { isIdleMeasured, lastRound } from './points.js'
import { bringsIdleBack, isTemperatureBack, proofsOf, type Proof } from './proofs.js'
import type { VisitFile } from './records.js'
import { AT_FULL_LOAD, isProved, isUnsaid, LETS_AIR_IN, remediesOf, type Remedy } from './remedies.js'
import { retestsOf } from './retests.js'
import { isMoreOfReadings, isOfReadings, spokenForBy } from './spokenFor.js'

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
/** The same of a cause that the very same work answers: what was found there speaks for both [–]. */
const ANSWERED_ALIKE = 0.5
/** The same where nobody said which of what lies beyond the air path was mended: anything of it may have been. */
const ANSWERED_BEYOND = 0.1
/** Told apart by nobody who mends one place: air by one opening of it or another, a valve that gums or the passage that it sits in. */
const VALVE_OR_PASSAGE: readonly FaultId[] = ['idle-valve-stuck', 'throttle-deposits']
const areOneToACustomer = (x: FaultId, y: FaultId): boolean =>
  [LETS_AIR_IN, VALVE_OR_PASSAGE].some((alike) => alike.includes(x) && alike.includes(y))
/** Beyond this probability by the newest readings a cause has not gone [–]. */
const STILL_LEADS = 0.5

const probabilityOf = (d: Diagnosis, fault: FaultId): number =>
  d.ranking.find((r) => r.fault === fault)?.probability ?? 0

/** Whether readings can show a cause at all. */
const shows = (d: Diagnosis, fault: FaultId): boolean => !d.unmarked.includes(fault)

/** Whether a cause that was all but sure has gone, and no other has taken its place: the rest need not be told apart for that. */
const isGone = (before: Ranked, now: Diagnosis): boolean =>
  before.probability >= SURE_ENOUGH &&
  probabilityOf(now, before.fault) < HAD_A_CHANCE &&
  now.ranking.at(0)?.fault === 'none'

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

/** What a valve that lets air in fails by itself by, where work on it answers leaks about it too. */
const OF_VALVES: Partial<Readonly<Record<StationKind, FaultId>>> = {
  purge: 'purge-stuck-open',
  pcv: 'pcv-stuck-open',
  separator: 'pcv-stuck-open',
}
/** Of all places where air may come in one valve’s joint is this share, or less [–]; ours. */
const AT_ONE_PLACE = 0.1

/** What fails by itself of a part that was worked on; undefined where the work was on a hose or a joint. */
const ownFault = ({ station, repair }: Remedy): FaultId | undefined =>
  station && (repair === undefined || repair === 'replace' || repair === 'clean')
    ? OF_VALVES[kindOfStation(station)]
    : undefined

/** How likely a cause is to be what some work answered: air that may come in anywhere seldom comes in about the one valve that was worked on. */
function hereOf({ fault, probability }: Ranked, works: readonly Remedy[]): number {
  const others = works.filter((r) => r.answers.includes(fault)).map(ownFault)
  const isElsewhere = others.every((x) => x !== undefined && x !== fault)
  return isElsewhere ? AT_ONE_PLACE * probability : probability
}

/** Of causes that let air in, which nobody tells apart who mends one place, the one that some work answered where one of them leads. */
function namedHere(by: Diagnosis, works: readonly Remedy[], lead: FaultId): FaultId {
  if (!LETS_AIR_IN.includes(lead)) return lead
  const answers = new Set(works.flatMap((r) => r.answers))
  const alike = by.ranking.filter((r) => LETS_AIR_IN.includes(r.fault) && answers.has(r.fault) && shows(by, r.fault))
  return [...alike].sort((x, y) => hereOf(y, works) - hereOf(x, works)).at(0)?.fault ?? lead
}

/** Whether a work may have answered a cause: where air is shut out it idles on more opening, never on less. */
const mayBe = (p: Proof, fault: FaultId): boolean => !(LETS_AIR_IN.includes(fault) && opensLess(p))

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

/** What confirms causes, one way of telling after the other; what was confirmed once stands. */
class Confirming {
  readonly told = new Map<FaultId, Teller>()
  readonly sized: Partial<Record<FaultId, Ranked | undefined>> = {}
  private readonly or: Partial<Record<FaultId, Set<FaultId>>> = {}
  /** The work that answered each of the causes that readings confirm. */
  private readonly answeredBy = new Map<FaultId, Proof>()
  private readonly proofs: readonly Proof[]
  private readonly seen = new Map<number, Diagnosis>()

  /**
   * @param d - diagnosis of the baseline
   * @param now - diagnosis of the last round
   */
  constructor(
    private readonly f: VisitFile,
    private readonly d: Diagnosis,
    private readonly now: Diagnosis,
  ) {
    this.proofs = proofsOf(f)
  }

  /** What each of the confirmed may have been instead. */
  get instead(): Partial<Record<FaultId, readonly FaultId[]>> {
    const open = (x: FaultId): FaultId[] => [...(this.or[x] ?? [])].filter((y) => !this.told.has(y))
    return Object.fromEntries([...this.told.keys()].map((x) => [x, open(x)]))
  }

  /** What was known before some work: where other work came first, what was read between the two. */
  private before(p: Proof): Diagnosis {
    const by = p.before > 0 ? (this.seen.get(p.before) ?? diagnoseVisit(asItStood(this.f, p), p.before)) : this.d
    this.seen.set(p.before, by)
    return by
  }

  private beforeRemedy(r: Remedy): Diagnosis {
    const p = this.proofs.find((x) => x.remedies.some((y) => y.ids[0] === r.ids[0]))
    return p ? this.before(p) : this.d
  }

  /** Whether a cause still leads: of air that is let in there is often more, of what sits at one place what still leads was not answered. */
  private stillLeads(fault: FaultId): boolean {
    return !LETS_AIR_IN.includes(fault) && probabilityOf(this.now, fault) > STILL_LEADS
  }

  private confirm(fault: FaultId, together: readonly Remedy[], how: Teller, by = this.d): void {
    if (this.told.has(fault)) return
    this.told.set(fault, how)
    const instead = (this.or[fault] = new Set<FaultId>())
    if (by !== this.d) this.sized[fault] = by.ranking.find((r) => r.fault === fault)
    // what else could have gone would have opened it further, or not moved it; a temperature that no car shows is its sensor's
    if (how === 'opening' || (fault === 'temperature-sensor-implausible' && isTemperatureBack(this.f))) return
    const other = together.filter((r) => !r.answers.includes(fault)).flatMap((r) => r.answers)
    const alike = together.filter((r) => r.answers.includes(fault)).flatMap((r) => r.answers)
    const isAny = together.some(isUnsaid)
    const own = probabilityOf(by, fault)
    for (const { fault: x, probability } of by.ranking) {
      const byOther = other.includes(x) && probability >= MAY_HAVE_BEEN * own
      const isOneToo = areOneToACustomer(x, fault)
      const byTheSame =
        alike.includes(x) && !isOneToo && probability >= (isAny ? ANSWERED_BEYOND : ANSWERED_ALIKE) * own
      if (x !== fault && (byOther || byTheSame) && !this.stillLeads(x)) instead.add(x)
    }
  }

  /** Work after which the readings are better. */
  byReadings(): void {
    for (const p of this.proofs) {
      if (p.proof?.verdict !== 'better') continue
      const answers = new Set(p.remedies.flatMap((r) => r.answers))
      const by = this.before(p)
      // no reading shows what an engine died of that was never read, and that it runs does
      const isBack = bringsIdleBack(this.f, p)
      const cause = by.ranking.find(
        (r) =>
          r.fault !== 'none' &&
          answers.has(r.fault) &&
          r.probability >= HAD_A_CHANCE &&
          (isBack || shows(by, r.fault)) &&
          mayBe(p, r.fault) &&
          !this.stillLeads(r.fault),
      )
      const named = cause && namedHere(by, p.remedies, cause.fault)
      if (!named || this.told.has(named)) continue
      this.confirm(named, p.remedies, shows(by, named) ? 'readings' : 'idle', by)
      this.answeredBy.set(named, p)
    }
  }

  /** Some changes are neither better nor worse by themselves: then it counts that nothing is left of what led before, and that something was seen to change. */
  byWhatLed(): void {
    const { f, d, now } = this
    const led = d.ranking.at(0)
    const answer = led && this.proofs.find((p) => p.remedies.some((r) => r.answers.includes(led.fault)))
    if (!answer || this.told.has(led.fault) || !isProved(f) || !mayBe(answer, led.fault) || !shows(d, led.fault)) return
    // of what nobody tells apart who mends one place, readings have named one for this work
    const isTold = [...this.answeredBy].some(([x, p]) => p === answer && areOneToACustomer(x, led.fault))
    if (isTold) return
    const isSeen = (c: Change): boolean => unseenBelow(c) === undefined
    const changes = answer.proof?.changes ?? []
    // neither an idle that is back nor a temperature is a row of the proof
    const isMoved =
      changes.some(isSeen) ||
      bringsIdleBack(f, answer) ||
      (led.fault === 'temperature-sensor-implausible' && isTemperatureBack(f))
    // what idle and trims cannot show a pull does, whatever of it was laid to something else before
    const isByPull = AT_FULL_LOAD.includes(led.fault) && changes.some((c) => c.kind === 'pull' && isSeen(c))
    if (!isMoved || !(isByPull || isOfReadings(d, led.fault)) || !(leavesNothing(now) || isGone(led, now))) return
    const named = namedHere(d, answer.remedies, led.fault)
    this.confirm(named, answer.remedies, 'readings')
    this.answeredBy.set(named, answer)
  }

  /** An idle on less opening for the same air. */
  byOpening(): void {
    const freed = this.told.size ? undefined : this.proofs.find(opensLess)
    if (!freed) return
    const valve = freed.remedies.some((r) => r.station === 'idle-valve' && r.answers.includes('idle-valve-stuck'))
    // its own test, or the readings, may have named the valve before its passage
    const isValve = valve && probabilityOf(this.d, 'idle-valve-stuck') > probabilityOf(this.d, 'throttle-deposits')
    this.confirm(isValve ? 'idle-valve-stuck' : 'throttle-deposits', freed.remedies, 'opening')
  }

  /** The car as it came against itself as it is now. */
  byItself(): void {
    if (this.told.size || !isProved(this.f) || this.now.ranking[0]?.fault !== 'none') return
    for (const p of this.proofs) {
      const itself = againstItself(this.f, p)
      if (!itself) continue
      const { found, by } = itself
      this.confirm(namedHere(by, p.remedies, found.fault), p.remedies, 'itself', by)
    }
  }

  /** What was found by its test is not found any more. */
  byTests(): void {
    const { told } = this
    for (const x of goneByTest(this.f, (r) => this.beforeRemedy(r))) {
      // what readings can show is theirs to say: a hole that is gone need not be the one that they showed
      const isShown =
        isMoreOfReadings(x.d, x.fault) || (isOfReadings(x.d, x.fault) && this.now.ranking[0]?.fault !== 'none')
      if (x.alike.some((fault) => told.has(fault)) || (shows(x.d, x.fault) && isShown)) continue
      // a valve that its own test found was not its passage besides, where one work answers both
      for (const fault of VALVE_OR_PASSAGE.includes(x.fault) ? VALVE_OR_PASSAGE : [])
        if (remediesOf(this.f).every((r) => !r.answers.includes(fault) || x.by.some((y) => y.ids[0] === r.ids[0])))
          told.delete(fault)
      this.confirm(x.fault, x.by, 'test', x.d)
      for (const fault of x.or) this.or[x.fault]?.add(fault)
    }
  }

  /** Sizes of what was mended before another, by what fell away with it. */
  byWhatFellAway(): void {
    for (const [fault, own] of sizesByWork(this.f, this.answeredBy)) this.sized[fault] = own
  }
}

/**
 * What readings confirm is what they can show: a cause that leaves no mark in them is confirmed by its own test, made again.
 * @param d - diagnosis of the baseline
 * @param now - diagnosis of the last round
 */
export function causesOf(f: VisitFile, d: Diagnosis, now: Diagnosis): VisitCauses {
  const confirming = new Confirming(f, d, now)
  confirming.byReadings()
  confirming.byWhatLed()
  confirming.byOpening()
  confirming.byItself()
  confirming.byTests()
  confirming.byWhatFellAway()
  const { told, sized, instead } = confirming
  // measured again after the work: what the baseline said is overtaken by what the last round says
  const isReadAgain = !remediesOf(f).length && lastRound(f) > 0 && isIdleMeasured(f, lastRound(f))
  const newest = isProved(f) || isReadAgain ? now : d
  const lead = newest.ranking.at(0)
  const first = d.ranking.at(0)
  const isGoneByItself =
    isReadAgain && first && first.fault !== 'none' && first.probability > WORTH_NAMING && lead?.fault === 'none'
  const isNamed =
    lead && lead.fault !== 'none' && lead.probability > WORTH_NAMING && isReadAsItCame(f) && !told.has(lead.fault)
  return {
    confirmed: [...told.keys()],
    told: Object.fromEntries(told),
    sized,
    or: instead,
    ...(isGoneByItself ? { gone: first } : {}),
    ...(isNamed
      ? {
          suspected: lead,
          suspectedBy: spokenForBy(newest, lead.fault),
          suspectedFirst: probabilityOf(d, lead.fault) > WORTH_NAMING ? 'before' : 'since',
        }
      : {}),
  }
}
