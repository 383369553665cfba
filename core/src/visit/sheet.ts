import { airPathOf, describeEngine, lookItemsOf, maybeStation, stationInfo } from '../engine/index.js'
import { provedSaid, type Change } from '../proof/index.js'
import { CAUSES, codeMeaning, faultOf, NEEDLES, testInfo, type Diagnosis } from '../diagnosis/index.js'
import { COOLANT_BLED, coolantSeen } from './closing.js'
import { whoseCode } from './codes.js'
import { visitDeposits } from './deposits.js'
import { expectedGain } from './expectedGain.js'
import { complaintOf } from './figures.js'
import { causesOf, type VisitCauses } from './causes.js'
import { unprovedSaid } from './gates.js'
import { isSeal, piecesOf } from './items.js'
import { judgedIdle, type Judged } from './judged.js'
import { vehicleAtPlace, visitPressureKpa } from './place.js'
import { isIdleMeasured, lastRound, pointsOfRound } from './points.js'
import { besidesTheWork, proofBetween, proofsOf, type Proof } from './proofs.js'
import { ARRIVALS, live, type CodeRecord, type FindingRecord, type ItemRecord, type VisitFile } from './records.js'
import {
  isProved,
  leftStations,
  mendedStations,
  remediesOf,
  type Remedy,
  LETS_AIR_IN,
  repairWords,
  roundToFill,
} from './remedies.js'
import { reachedLines } from './reached.js'
import { stepWords } from './steps.js'
import { procedureOfRun, stateOfRun } from './runs.js'
import { openThings } from './service.js'
import { cylinderUnlike, takenOf, throttlesUnlike } from './taken.js'
import { PUMP_PARTS, pumpSaid, SPREAD_LIMIT_KPA, spreadOf } from '../vacuum/index.js'
import { figuresSaid } from './testForms.js'
import { visitLedger, type UnmeteredAir } from './unmetered.js'

/** The hand-over sheet: found with evidence, done, left, advised, before and after. */
export interface Sheet {
  readonly title: string
  readonly plate: string
  readonly customer: string
  readonly engine: string
  readonly odometerKm?: number
  readonly place: string
  readonly complaint: string
  /** Codes that it came with. */
  readonly codes?: readonly string[]
  /** One line for the customer, without a technical word. */
  readonly plain: string
  readonly found: readonly string[]
  readonly done: readonly string[]
  readonly left: readonly string[]
  readonly advised: readonly string[]
  /** What cleaning or feeding could bring, where that is nothing. */
  readonly gain?: readonly string[]
  /** How the idle stands as it leaves, each figure against its band. */
  readonly judged?: readonly string[]
  readonly changes: readonly Change[]
  /** What the changes say taken together, and what else was not the same. */
  readonly proved?: readonly string[]
  readonly unmetered?: { readonly before: UnmeteredAir; readonly after: UnmeteredAir }
  readonly labourMinutes: number
  readonly partsPrice: number
  readonly labourPrice: number
}

/**
 * Composes the sheet of a visit as it stands.
 * @param d - diagnosis of the baseline
 * @param now - diagnosis of the last round; that of the baseline where there is no other
 */
export function sheetOf(f: VisitFile, d: Diagnosis, labourPerHour: number, now: Diagnosis = d): Sheet {
  const last = lastRound(f)
  const remedies = remediesOf(f)
  const proofs = proofsOf(f)
  const causes = causesOf(f, d, now)
  const judged = judgedIdle(f)
  const account = visitLedger(f)
  const labourMinutes = remedies.reduce((s, r) => s + r.minutes, 0)
  const v = f.vehicle
  return {
    title: v.spec.name,
    plate: v.plate,
    customer: v.customer,
    engine: describeEngine(v.spec),
    odometerKm: f.visit.odometerKm,
    place: `${f.visit.altitudeM} m, ${visitPressureKpa(f.visit).toFixed(1)} kPa, ${f.visit.ambientC} °C`,
    complaint: cap(complaintOf(f.visit)),
    codes: cameWith(f),
    plain: plainLine(f, remedies, proofs, causes, judged),
    found: foundLines(f, d, causes, judged),
    done: [...doneLines(remedies, proofs), ...reachedLines(f).done, ...sealLines(f), ...openWork(f), ...codesOfOurs(f)],
    left: leftLines(f, account?.accounted === false && isAir(causes)),
    advised: advice(f),
    ...gainOf(f, now),
    judged: judged.map((j) => `${cap(j.label)} ${j.words}.`),
    ...(last > 0 && remedies.length ? provedOf(f, last) : { changes: [] }),
    unmetered: account && last > 0 ? { before: account.before, after: account.now } : undefined,
    labourMinutes,
    partsPrice: remedies.reduce((s, r) => s + r.partsPrice, 0),
    labourPrice: (labourPerHour * labourMinutes) / 60,
  }
}

/** The first round against the last: each figure, what they say together, and what else was not the same between the two. */
function provedOf(f: VisitFile, last: number): Pick<Sheet, 'changes' | 'proved'> {
  const proof = proofBetween(f, 0, last)
  return { changes: proof.changes, proved: provedSaid(proof, besidesTheWork(f, 0, last)) }
}

/** What a service could bring on a car that nothing was done to; nobody is sold one that brings nothing. */
function gainOf(f: VisitFile, d: Diagnosis): Pick<Sheet, 'gain'> {
  const gain = remediesOf(f).length ? undefined : expectedGain(f, d)
  return gain?.nothing ? { gain: gain.sentences } : {}
}

const cap = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1)
const stop = (s: string): string => `${s.replace(/[.\s]+$/, '')}.`
/** Lines that begin with a capital and end with a stop. */
const line = (s: string): string => stop(cap(s))

function cameWith(f: VisitFile): string[] {
  return live(f.codes)
    .filter((c) => c.when === 'before')
    .map((c) => line(`code ${c.code}, ${c.state}${codeMeaning(c.code) ? `: ${codeMeaning(c.code)!.label}` : ''}`))
}

/** Why the idle of the baseline stands too high where the controller learnt to open past deposits that are gone. */
function learntPast(f: VisitFile): string | undefined {
  const high = judgedIdle(f, 0).some((j) => j.channel === 'rpm' && j.value > j.high)
  const deposits = high ? visitDeposits(f, 0) : undefined
  return deposits?.lost && deposits.lost.mm2.high < 0 ? deposits.why : undefined
}

/** What was looked at or tried, where no note says what was seen. */
function foundBy(f: VisitFile, x: FindingRecord): string {
  const figures = figuresSaid(f, x)
  if (figures) return lower(figures.said)
  if (x.test !== 'look') return `${testInfo(x.test).label.toLowerCase()}, found it`
  const asked = lookItemsOf(f.vehicle.spec).find((i) => i.id === x.item)?.question
  return asked
    ? `looked at “${asked.charAt(0).toLowerCase()}${asked.slice(1)}”, not in order`
    : 'looked at, not in order'
}

const share = (p: number): string => (p > 0.99 ? 'over 99' : (100 * p).toFixed(0))
/** From this probability a cause that nothing has confirmed is named [–]. */
const WORTH_NAMING = 0.3

function foundLines(f: VisitFile, d: Diagnosis, causes: VisitCauses, judged: readonly Judged[]): string[] {
  const seen = live(f.findings)
    .filter((x) => x.outcome === 'fail' && x.test !== 'note')
    .map((x) => line(`${stationInfo(x.station).label}: ${x.note ?? foundBy(f, x)}`))
  const notes = live(f.findings)
    .filter((x) => x.test === 'note' && x.note)
    .map((x) => line(`${stationInfo(x.station).label}: ${x.note}`))
  const confirmed = causes.confirmed.map((fault) => {
    const ranked = d.ranking.find((r) => r.fault === fault)
    const size = ranked && ranked.sentence !== faultOf(fault).label ? ` Before: ${ranked.sentence}` : ''
    const back = judged.every((j) => j.inside) ? 'came back' : 'are better, though not all where they belong'
    return `${line(faultOf(fault).label)} Confirmed: what answers it was done, and the readings ${back}.${size}`
  })
  // readings that tell nothing by themselves did not make it likely
  const unread = d.warnings.some((w) => w.code === 'nothing-to-judge')
  const sentence = causes.suspected?.sentence ?? ''
  const own = causes.suspected && sentence !== faultOf(causes.suspected.fault).label ? ` ${sentence}` : ''
  const suspected = causes.suspected
    ? [
        `${faultOf(causes.suspected.fault).label}, ${share(causes.suspected.probability)} % by ${unread ? 'codes, signs and tests' : 'the readings'}${isProved(f) ? ' after the work' : ''}, not confirmed.${own}`,
      ]
    : []
  const taughtWrong = learntPast(f)
  const lines = [
    ...new Set([
      ...confirmed,
      ...suspected,
      ...(taughtWrong ? [taughtWrong] : []),
      ...seen,
      ...routingLines(f),
      ...balanceLines(f),
    ]),
  ]
  if (lines.length) return [...lines, ...notes]
  if (!isIdleMeasured(f, 0)) return ['The warm idle was not measured.', ...notes]
  const first = judgedIdle(f, 0)
  const out = first.filter((j) => !j.inside)
  if (out.length) return [...out.map((j) => line(`${j.label} ${j.words}`)), 'No single cause fits all of it.', ...notes]
  const lead = d.ranking[0]
  return [
    lead && lead.fault !== 'none' && lead.probability > WORTH_NAMING && !remediesOf(f).length
      ? `Possibly: ${faultOf(lead.fault).label.toLowerCase()} (${share(lead.probability)} %). Everything judged at idle stands in its band.`
      : judged.length
        ? 'Everything judged at idle stands in its band.'
        : 'Nothing was found.',
    ...notes,
  ]
}

/** What waveform, needle and throttle gauges said, in their own figures. */
function balanceLines(f: VisitFile): string[] {
  const newest = takenOf(f.balances, 'wave').at(-1)
  const wave = newest?.taken
  // what was done since may have changed it
  const past = newest !== undefined && newest.round < roundToFill(f)
  const since = past ? ', before the work' : ''
  const odd = wave?.balance.odd
  const pull = odd?.cylinder ? wave?.balance.cylinders.find((c) => c.cylinder === odd.cylinder) : undefined
  const where = wave?.side === 'exhaust' ? 'tailpipe' : 'intake'
  const cylinders = !wave
    ? []
    : pull
      ? [
          `Cylinder ${pull.cylinder} ${past ? 'drew' : 'draws'} ${pull.pullPct.median.toFixed(0)} % of the mean of all cylinders (${pull.pullPct.low.toFixed(0)} to ${pull.pullPct.high.toFixed(0)}), by the pressure waveform${since}.`,
        ]
      : odd
        ? [
            `One cylinder ${past ? 'differed' : 'differs'} from the others by the ${where}’s pressure waveform${since}; which one is not told.`,
          ]
        : wave.side === 'intake'
          ? [
              `No cylinder ${past ? 'stood' : 'stands'} out of the others, by the pressure waveform of the intake${since}.`,
            ]
          : []
  const needle = NEEDLES.find((n) => n.id === takenOf(f.balances, 'needle').at(-1)?.taken.needle)
  const rows = takenOf(f.balances, 'throttles')
  const spread = (r: (typeof rows)[number]): number => spreadOf(r.taken.vacuumKpa)
  const throttles = (['idle', 'hold-2500'] as const).flatMap((slot) => {
    const mine = rows.filter((r) => r.taken.slot === slot)
    const first = mine.at(0)
    const last = mine.at(-1)
    if (!first || !last) return []
    const at = slot === 'idle' ? 'at idle' : 'at 2500'
    const by = mine.some((r) => r.taken.practice) ? ', read off simulated throttles' : ''
    const now = `${spread(last).toFixed(1)} kPa ${at}, ${SPREAD_LIMIT_KPA.toFixed(1)} is allowed${by}`
    return [
      mine.length > 1
        ? `Throttles differed by ${spread(first).toFixed(1)} kPa when first read and differ by ${now}.`
        : `Throttles differ by ${now}.`,
    ]
  })
  const pumped = PUMP_PARTS.flatMap((part) => {
    const taken = takenOf(f.balances, 'pump')
      .filter((b) => b.taken.part === part.id)
      .at(-1)
    return taken
      ? [`Hand pump, ${part.label}: ${lower(pumpSaid(taken.taken.samples, vehicleAtPlace(f).altitudeM))}`]
      : []
  })
  return [
    ...cylinders,
    ...pumped,
    ...(needle ? [`Vacuum gauge: ${needle.label}; it ${needle.look}.`] : []),
    ...throttles,
  ]
}

const lower = (s: string): string => s.charAt(0).toLowerCase() + s.slice(1)

const money = (r: Remedy): string => (r.partsPrice > 0 ? `, parts ${r.partsPrice.toFixed(2)}` : '')

/** Every remedy with its minutes and parts; those that one measuring proves are told as joint. */
function doneLines(remedies: readonly Remedy[], proofs: readonly Proof[]): string[] {
  const lines = remedies.map((r) => `${cap(r.words)} (${r.minutes} min${money(r)}).`)
  const joint = proofs
    .filter((p) => p.remedies.length > 1 && p.after !== undefined)
    .map((p) => `Measured once after ${p.remedies.length} of these: what changed is the gain of all together.`)
  return [...lines, ...joint]
}

/** Work that was begun and has not reached its end, or went against the rule; failed attempts too. */
function openWork(f: VisitFile): string[] {
  const steps = live(f.steps)
    .filter((x) => !x.passed || x.againstRule)
    .map((x) => line(`${stepWords(x)}; ${x.againstRule ? 'against the rule, as recorded' : 'not to its end yet'}`))
  const runs = live(f.runs).flatMap((r) => {
    const state = r.procedure === 'feed' ? undefined : stateOfRun(f, r)
    return state && (state.status === 'failed' || state.status === 'stopped')
      ? [line(`${procedureOfRun(r)?.donePlain ?? r.procedure}, attempt ${r.attempt}: ${state.reason ?? state.status}`)]
      : []
  })
  return [...steps, ...runs]
}

function codesOfOurs(f: VisitFile): string[] {
  return live(f.codes)
    .filter((c) => c.when !== 'before')
    .map((c) =>
      line(
        `code ${c.code}, ${c.state}, read ${c.when === 'after' ? 'after the work' : 'after the drive'}: ${whoseOnSheet(f, c)}${c.cleared ? ', cleared' : ''}`,
      ),
    )
}

function whoseOnSheet(f: VisitFile, c: CodeRecord): string {
  const w = whoseCode(f, c)
  return w.whose === 'ours'
    ? `can be of this work (${w.label})`
    : w.whose === 'came'
      ? 'there before the work too'
      : 'not of this work'
}

/** Whether what the visit names is air that was not measured: only then is a trim an account of air. */
const isAir = (c: VisitCauses): boolean =>
  [...c.confirmed, ...(c.suspected ? [c.suspected.fault] : [])].some((x) => LETS_AIR_IN.includes(x))

/** Looks along the pipe that nobody has judged. */
function unlooked(f: VisitFile): string[] {
  const items = lookItemsOf(f.vehicle.spec)
  const judged = new Set(live(f.findings).map((x) => x.item))
  const left = items.filter((i) => !judged.has(i.id)).length
  return left ? [`Not looked at: ${left} of ${items.length} places along the intake.`] : []
}

/** Pieces that were not whole when the car came, and whether they were renewed. */
function cameLines(i: ItemRecord): string[] {
  const pieces = piecesOf(i)
  return ARRIVALS.filter((a) => a !== 'present').flatMap((arrival) => {
    const these = pieces.filter((p) => p.arrival === arrival)
    if (!these.length) return []
    const fresh = these.filter((p) => p.renewed).length
    const renewed = fresh === 0 ? '' : fresh === these.length ? '; renewed' : `; ${fresh} renewed`
    return [
      line(
        `${these.length} × ${i.name} at the ${stationInfo(i.station).label} ${these.length === 1 ? 'was' : 'were'} ${arrival} on arrival${renewed}`,
      ),
    ]
  })
}

/** Seals as they went back, and the coolant that was let go. */
function sealLines(f: VisitFile): string[] {
  const items = live(f.items).filter((i) => i.more && i.state === 'on')
  const seals = items
    .filter((i) => isSeal(i) && i.more!.seal)
    .map((i) => `${i.name} at the ${stationInfo(i.station).label} ${SEAL_WORDS[i.more!.seal!]}`)
  const coolant =
    live(f.items).some((i) => i.more?.carries === 'coolant' && i.state === 'on') && coolantSeen(f, COOLANT_BLED)
  return [
    ...(seals.length ? [line(seals.join('; '))] : []),
    ...(coolant ? ['Coolant hoses off and on; level made up, bled warm, no leak seen.'] : []),
  ]
}

const SEAL_WORDS = { new: 'new', reused: 'used again', doubtful: 'doubtful' } as const

/** Branches that were found where they do not belong. */
function routingLines(f: VisitFile): string[] {
  const path = airPathOf(f.vehicle.spec)
  return Object.entries(f.visit.asFound ?? {}).flatMap(([id, found]) => {
    const placed = maybeStation(path, id)
    if (!placed?.joins || found === placed.joins) return []
    const where = found === 'off' || found === 'capped' ? found : `on the ${stationInfo(found).label}`
    return [line(`${placed.info.label} found ${where}; it belongs on the ${stationInfo(placed.joins).label}`)]
  })
}

function leftLines(f: VisitFile, unaccounted: boolean): string[] {
  const mended = mendedStations(f)
  const byChoice = leftStations(f)
  const open = live(f.findings).filter((x) => x.outcome === 'fail' && x.test !== 'note' && !mended.has(x.station))
  const finds = open.map((x) =>
    line(`${stationInfo(x.station).label}, not mended${byChoice.has(x.station) ? ': left as it is, as agreed' : ''}`),
  )
  const came = live(f.items).flatMap(cameLines)
  const remedies = remediesOf(f)
  const unproved =
    remedies.length && !isProved(f)
      ? [
          line(
            `not measured again since: ${remedies.at(-1)!.words}${unprovedSaid(f) ? '; whether it helped is not known' : ''}`,
          ),
        ]
      : []
  const idle = remedies.length
    ? judgedIdle(f)
        .filter((j) => !j.inside)
        .map((j) => line(`${j.label} ${j.words}`))
    : []
  return [
    ...new Set([
      ...finds,
      ...unproved,
      ...(unproved.length ? [] : idle),
      ...(unaccounted ? ['Not all of the unmetered air is accounted for.'] : []),
      ...unlooked(f),
      ...came,
      ...openThings(f).map((x) => x.message),
      ...reachedLines(f).left,
    ]),
  ]
}

function advice(f: VisitFile): string[] {
  const temporary = live(f.repairs)
    .filter((r) => r.state === 'done' && r.temporary)
    .map((r) =>
      line(
        `look at the ${stationInfo(r.station).label} again${r.recheckOn ? ` by ${r.recheckOn}` : ''}: the ${r.kind === 'wrap' ? 'wrap' : 'repair'} is temporary`,
      ),
    )
  const cleared = live(f.codes).some((c) => c.cleared)
    ? [
        'Codes were cleared: readiness needs its drive cycles before an inspection; read the codes once more after them.',
      ]
    : []
  return [...temporary, ...cleared]
}

/** Where the baseline was measured, in plain words. */
function whereMeasured(f: VisitFile): string {
  const kinds = new Set(pointsOfRound(f, 0).map((p) => p.kind))
  if (kinds.has('cruise') || kinds.has('pull')) return 'at idle and on the road'
  return kinds.has('hold') ? 'at idle and at held speeds' : 'at idle'
}

const andList = (xs: readonly string[]): string =>
  xs.length < 2 ? xs.join('') : `${xs.slice(0, -1).join(', ')} and ${xs[xs.length - 1]}`

/** A remedy for a customer: what, without with what. */
function plainWork(r: Remedy): string {
  switch (r.kind) {
    case 'repair':
      return `the ${repairWords({ station: r.station!, kind: r.repair! })}`
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

function plainLine(
  f: VisitFile,
  remedies: readonly Remedy[],
  proofs: readonly Proof[],
  causes: VisitCauses,
  judged: readonly Judged[],
): string {
  if (!remedies.length) {
    if (!isIdleMeasured(f, 0))
      return live(f.findings).length
        ? 'We looked at your car; the engine has not been measured yet.'
        : 'Your car is here; it has not been looked at or measured yet.'
    if (learntPast(f))
      return 'Your engine idles too fast: its control must be taught the idle anew. That has not been done yet.'
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
  const cause = causes.confirmed.map((c) => `${CAUSES[c].plain}.`).join(' ')
  const told = [cause, work].filter(Boolean).join(' ')
  if (!isProved(f)) return `${told} The engine has not been measured again since.${temporary}`
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
