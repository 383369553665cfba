import { type Diagnosis, type FaultId, type Ranked, SURE_ENOUGH } from '../diagnosis/index.js'
import { unseenBelow, type Change, type ProofVerdict } from '../proof/index.js'
import { asItStood } from './asItStood.js'
import { diagnoseVisit } from './evidence.js'
import { goneByTest } from './goneByTest.js'
import { againstItself, HAD_A_CHANCE, MAY_HAVE_BEEN, sizesByWork } from './heldAgainst.js'
import { namedHere } from './namedHere.js'
import { isReadAsItCame } from './noIdle.js'
import { leavesNothing, MORE_THAN_ALL_ELSE, WORTH_NAMING } from './ofAir.js'
import { isIdleMeasured, lastRound } from './points.js'
import { bringsIdleBack, bringsTemperatureBack, proofsOf, type Proof } from './proofs.js'
import type { VisitFile } from './records.js'
import { AT_FULL_LOAD, isProved, isUnsaid, LETS_AIR_IN, remediesOf, type Remedy } from './remedies.js'
import { isMoreOfReadings, isOfReadings, shows, spokenForBy } from './spokenFor.js'

/** What told that a cause is gone: readings, its own test made again, an idle on less opening for the same air, a temperature that cars show, the car held against itself, or an idle where there was none. */
type Teller = 'readings' | 'test' | 'opening' | 'temperature' | 'itself' | 'idle'

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

/** Whether nothing but how alike the throttles pull has become better: that is their screws', and no cause's. */
function isByScrews({ changes, pooled }: ProofVerdict): boolean {
  const spread = changes.find((c) => c.quantity === 'throttle_spread')?.label
  const better = pooled.filter((x) => x.verdict === 'better')
  return better.length > 0 && better.every((x) => x.what === spread)
}

/** Whether a work may have answered a cause: where air is shut out it idles on more opening, never on less. */
const mayBe = (p: Proof, fault: FaultId): boolean => !(LETS_AIR_IN.includes(fault) && opensLess(p))

const TEMPERATURE: FaultId = 'temperature-sensor-implausible'

/** What confirms causes, one way of telling after the other; what was confirmed once stands. */
class Confirming {
  readonly told = new Map<FaultId, Teller>()
  readonly sized: Partial<Record<FaultId, Ranked | undefined>> = {}
  private readonly or: Partial<Record<FaultId, Set<FaultId>>> = {}
  /** The work that answered each of the causes that readings confirm. */
  private readonly answeredBy = new Map<FaultId, Proof>()
  /** The work that answered a temperature. */
  private temperatureBy?: Proof
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

  /** Causes that some work may have answered: of what lies beyond the air path one part, and where that was a temperature’s sensor nothing else. */
  private answersOf(p: Proof): ReadonlySet<FaultId> {
    const isOfIt = p === this.temperatureBy
    const ofIt = isOfIt ? p.remedies.filter((r) => r.answers.includes(TEMPERATURE)) : []
    const spent = ofIt.length === 1 && isUnsaid(ofIt[0]) && ofIt[0].ids.length === 1 ? ofIt[0] : undefined
    const left = p.remedies.flatMap((r) => (r === spent ? [] : r.answers))
    return new Set(isOfIt ? left.filter((x) => x !== TEMPERATURE) : left)
  }

  private confirm(fault: FaultId, together: readonly Remedy[], how: Teller, by = this.d): void {
    if (this.told.has(fault)) return
    this.told.set(fault, how)
    const instead = (this.or[fault] = new Set<FaultId>())
    if (by !== this.d) this.sized[fault] = by.ranking.find((r) => r.fault === fault)
    // what else could have gone would have opened it further, or not moved it, and left a temperature that no car shows
    if (how === 'opening' || how === 'temperature') return
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

  /** A temperature that no car shows reads as it should: whatever else was mended, that was its sensor, or what the sensor hangs on. */
  byTemperature(): void {
    const answer = this.proofs.find(
      (p) => bringsTemperatureBack(this.f, p) && p.remedies.some((r) => r.answers.includes(TEMPERATURE)),
    )
    if (!answer) return
    this.confirm(TEMPERATURE, answer.remedies, 'temperature', this.before(answer))
    this.temperatureBy = answer
  }

  /** Work after which the readings are better. */
  byReadings(): void {
    for (const p of this.proofs) {
      if (p.proof?.verdict !== 'better' || isByScrews(p.proof)) continue
      const answers = this.answersOf(p)
      const by = this.before(p)
      // no reading shows what an engine died of that was never read, and that it runs does
      const isBack = bringsIdleBack(this.f, p)
      const cause = by.ranking.find(
        (r) =>
          r.fault !== 'none' &&
          answers.has(r.fault) &&
          // what the readings came back by is known already where a temperature did
          r.probability >= (p === this.temperatureBy ? MORE_THAN_ALL_ELSE : HAD_A_CHANCE) &&
          (isBack || shows(by, r.fault)) &&
          mayBe(p, r.fault) &&
          !this.stillLeads(r.fault),
      )
      const named = cause && namedHere(this.f, by, p.remedies, cause.fault)
      if (!named || this.told.has(named)) continue
      this.confirm(named, p.remedies, shows(by, named) ? 'readings' : 'idle', by)
      this.answeredBy.set(named, p)
    }
  }

  /** Some changes are neither better nor worse by themselves: then it counts that nothing is left of what led before, and that something was seen to change. */
  byWhatLed(): void {
    const { f, d, now } = this
    const led = d.ranking.at(0)
    const answer = led && this.proofs.find((p) => this.answersOf(p).has(led.fault))
    if (!answer || this.told.has(led.fault) || !isProved(f) || !mayBe(answer, led.fault) || !shows(d, led.fault)) return
    // of what nobody tells apart who mends one place, readings have named one for this work
    const isTold = [...this.answeredBy].some(([x, p]) => p === answer && areOneToACustomer(x, led.fault))
    if (isTold) return
    const isSeen = (c: Change): boolean => unseenBelow(c) === undefined
    const changes = answer.proof?.changes ?? []
    // an idle that is back is no row of the proof
    const isMoved = changes.some(isSeen) || bringsIdleBack(f, answer)
    // what idle and trims cannot show a pull does, whatever of it was laid to something else before
    const isByPull = AT_FULL_LOAD.includes(led.fault) && changes.some((c) => c.kind === 'pull' && isSeen(c))
    if (!isMoved || !(isByPull || isOfReadings(d, led.fault)) || !(leavesNothing(now) || isGone(led, now))) return
    const named = namedHere(f, d, answer.remedies, led.fault)
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
      this.confirm(namedHere(this.f, by, p.remedies, found.fault), p.remedies, 'itself', by)
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
  confirming.byTemperature()
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
