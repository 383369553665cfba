import {
  CAUSES,
  codeMeaning,
  faultOf,
  SURE_ENOUGH,
  tellsNothing,
  testInfo,
  type Diagnosis,
  type FaultId,
} from '../../diagnosis/index.js'
import { stationInfo, type StationId } from '../../engine/index.js'
import { afterWorkOf } from '../afterWork.js'
import { benchOfCause } from '../benches.js'
import { feltAs, isRidOfAll, unasked } from '../felt.js'
import { isAccountOfAir, isSurelyAir, MORE_THAN_ALL_ELSE, SOUND, stopsAir } from '../ofAir.js'
import { spokenForBy } from '../spokenFor.js'
import { openCodes, overtakenCodes } from '../codes.js'
import { outsideOf } from '../judged.js'
import { diesTicked } from '../dies.js'
import { coolantBeyond, diesNow } from '../noIdle.js'
import { lastRound, readingsOf } from '../points.js'
import { isInVain, proofBetween, worseSince } from '../proofs.js'
import { figureText } from '../../units/index.js'
import { live, type VisitFile } from '../records.js'
import { isUnsaid, LETS_AIR_IN, roundToFill } from '../remedies.js'
import { isFoundGone, retestsOwed } from '../retests.js'
import { visitLedger } from '../unmetered.js'
import { andList, line, share } from '../words.js'
import {
  act,
  likely,
  minutesSaid,
  nextTestAct,
  nextTitles,
  withShare,
  type NowAct,
  type Rule,
  type Situation,
} from './act.js'
import { actOfCause, answered, stageOfAct } from './causeAct.js'
import { cannotBe, owedTitles } from './finds.js'

/** Up to this a test is made again where readings changed, and are neither better nor worse by themselves [min]. */
const AGAIN_AT_ONCE_MINUTES = 5
const IN_VAIN = 'What was done changed nothing that was measured.'

/** Sensors that are renewed once cleaning them has not helped. */
const SENSOR_OF: Partial<Readonly<Record<FaultId, StationId>>> = {
  'maf-under-reads': 'airflow-sensor',
  'maf-over-reads': 'airflow-sensor',
  'map-sensor-offset': 'map-sensor',
}

/** What a cause asks for that leads after the work: what was done once is not told to be done again. */
function whatIsLeftToDo(fault: FaultId, { f, done }: Situation): string {
  const sensor = SENSOR_OF[fault]
  const tried = done.filter((r) => r.answers.includes(fault) && !isUnsaid(r) && (!sensor || r.station === sensor))
  if (!tried.length) return actOfCause(f, fault)
  return sensor && !tried.some((r) => r.repair === 'replace')
    ? `Renew the ${stationInfo(sensor).label}`
    : 'The cause is still there'
}

/** A cause that leads beyond a share of probability. */
const stillThere =
  (least: number): Rule =>
  (s) => {
    const { f, d } = s
    const lead = d?.ranking.at(0)
    if (!d || !lead || lead.fault === 'none' || lead.probability <= least) return undefined
    const title = whatIsLeftToDo(lead.fault, s)
    return act(
      'still-there',
      stageOfAct(lead.fault, title),
      title,
      `${faultOf(lead.fault).label}, ${share(lead.probability)} % by ${spokenForBy(d, lead.fault)} after the work.${answered(f, lead.fault)}`,
      ['Print the sheet', ...nextTitles(d)],
      benchOfCause(f, lead.fault),
    )
  }

const isWorthATest = ({ d }: Situation): boolean => d?.stop.verdict === 'test' && d.nextTests.length > 0
const testMinutes = ({ d }: Situation): string => minutesSaid(d!.nextTests[0].minutes)

const settle: Rule = ({ f, d }) => {
  const lead = d?.ranking.at(0)
  return lead?.fault === 'idle-learnt-past' && outsideOf(f).length
    ? act('settle', 'learn', CAUSES['idle-learnt-past'].act, likely(lead), ['Measure the same points again'])
    : undefined
}

/** Whether the last of the work can have brought about what is read since: a hose left off lets air in, a part it put in may be wrong. */
function mayBeOfTheWork(fault: FaultId, { done }: Situation): boolean {
  const last = Math.max(...done.map((r) => r.afterRound))
  return LETS_AIR_IN.includes(fault) || done.some((r) => r.afterRound === last && r.answers.includes(fault))
}

/** Whether anything was looked at, tried or noted since the last readings: what was done last has been checked. */
function isChecked(f: VisitFile): boolean {
  const round = lastRound(f)
  const read = [...readingsOf(f), ...live(f.recordings), ...diesTicked(f)].flatMap((r) =>
    r.round === round ? [r.at] : [],
  )
  return live(f.findings).some((x) => read.every((at) => x.at > at))
}

/** What became worse is the work's own, unless another cause is as good as sure: then what was mended had hidden it. Checked, it is traced as any other. */
const worse: Rule = (s) => {
  const words = worseSince(s.f)
  if (!words || isChecked(s.f)) return undefined
  const lead = s.d?.ranking.at(0)
  const isNamed = lead !== undefined && lead.fault !== 'none'
  const hidden = isNamed && !mayBeOfTheWork(lead.fault, s) ? stillThere(SURE_ENOUGH)(s) : undefined
  if (hidden) return { ...hidden, why: `${hidden.why} ${words} What was mended can have hidden it.` }
  const now = isNamed && lead.probability > MORE_THAN_ALL_ELSE ? ` By what is read now: ${withShare(lead)}.` : ''
  const station = s.done.at(-1)?.station
  return act(
    'worse-since',
    station ? 'trace' : 'prove',
    'Check what was done last',
    `${words}${now}`,
    ['Print the sheet', ...nextTitles(s.d)],
    station && { station },
  )
}

const lookForTheRest: Rule = ({ f, d, done }) => {
  const account = visitLedger(f)
  if (!account || account.accounted || !stopsAir(done) || !isAccountOfAir(f, d)) return undefined
  const { gramsPerS, atLeast } = account.now
  return act(
    'look-for-the-rest',
    'trace',
    'Look for the rest',
    `${atLeast ? 'At least ' : ''}${gramsPerS.median.toFixed(2)} g/s still come in unmeasured${d && isSurelyAir(d) ? '' : ', if what the trims show is air'}.`,
    nextTitles(d),
    'places',
  )
}

/** A coolant temperature that no car shows leaves nothing at idle to prove the work by. */
const coolantFirst: Rule = ({ f, d }) => {
  const reads = coolantBeyond(f, roundToFill(f))
  if (reads === undefined) return undefined
  const still = coolantBeyond(f, 0) === undefined ? '' : 'still '
  return act(
    'still-there',
    'trace',
    actOfCause(f, 'temperature-sensor-implausible'),
    `The coolant sensor ${still}reads ${figureText(reads, 0)} °C, which no engine shows: until it is right, the idle cannot be measured again.`,
    ['Print the sheet', ...nextTitles(d)],
    benchOfCause(f, 'temperature-sensor-implausible'),
  )
}

/** As before the work: tests, as long as one is worth its time, and then what is likelier than all else. */
const outOfBand: Rule = (s) => {
  const dies = diesNow(s.f)
  const [out] = outsideOf(s.f)
  if (!out && !dies) return undefined
  const said = dies ? `It ${dies}.` : line(`${out.label} ${out.words}`)
  return (
    (isWorthATest(s) ? nextTestAct(s, `${said} ${testMinutes(s)}`) : undefined) ??
    stillThere(MORE_THAN_ALL_ELSE)(s) ??
    act(
      'not-in-band',
      'trace',
      dies ? 'No idle yet' : 'Not in its band yet',
      `${said} Trace on, or hand over and say so.`,
      ['Print the sheet', ...nextTitles(s.d)],
    )
  )
}

/** What found it tells sooner than anything else whether it is gone. */
const testAgain: Rule = ({ f, d }) => {
  const isVain = isInVain(f)
  const isChanged = proofBetween(f, 0, lastRound(f)).verdict === 'changed'
  const isByTests = d !== undefined && tellsNothing(d)
  const again = retestsOwed(f).find(
    ({ test }) =>
      test !== 'look' && (isVain || isByTests || (isChanged && testInfo(test).minutes <= AGAIN_AT_ONCE_MINUTES)),
  )
  if (!again) return undefined
  const byReadings = isByTests ? 'The readings do not tell one cause from another.' : 'The readings have changed.'
  const { label, minutes } = testInfo(again.test)
  return act(
    'test',
    'prove',
    `${label} again`,
    `${isVain ? IN_VAIN : byReadings} What found it tells whether it is gone. ${minutesSaid(minutes)}`,
    [...owedTitles(f), 'Print the sheet'],
  )
}

/** From this probability that nothing is wrong the readings tell by themselves that it helped [–]; ours. */
const TOLD_SOUND = 0.7

const noneOf = (d: Diagnosis | undefined): number => d?.ranking.find((r) => r.fault === 'none')?.probability ?? 0

/** Where figures do not tell whether all is well, what the customer came with does. */
const feelAgain: Rule = (s) => {
  const { f, d } = s
  const asked = unasked(f).map(({ label }) => `“${label}”`)
  const isVain = isInVain(f)
  // what need not be sound is tried, whatever is felt
  const isOpen = isVain || (noneOf(d) >= SOUND && noneOf(d) < TOLD_SOUND)
  if (!asked.length || f.visit.intent !== 'complaint' || !isOpen || isFoundGone(f)) return undefined
  // what is likelier than all else is next, whatever is felt
  if (stillThere(MORE_THAN_ALL_ELSE)(s)) return undefined
  return act(
    'felt',
    'prove',
    'Say whether it is gone',
    `${isVain ? IN_VAIN : 'What is read now need not be a sound engine’s.'} Came with ${andList(asked)}: gone, or still there?`,
    [...nextTitles(d), 'Print the sheet'],
  )
}

/** What is still there, or may be, is traced on. */
const inVain: Rule = (s) => {
  const { f } = s
  const there = feltAs(f, 'there')
  const isFelt = there.length > 0
  const mayBe = f.visit.intent === 'complaint' && isInVain(f) && !isFoundGone(f) && !isRidOfAll(f)
  if (!isWorthATest(s) || !(isFelt || mayBe)) return undefined
  return nextTestAct(s, `${isFelt ? `Still there: ${andList(there)}.` : IN_VAIN} ${testMinutes(s)}`)
}

const hardlySound: Rule = (s) => {
  const { d } = s
  const lead = d?.ranking.find((r) => r.fault !== 'none')
  const none = noneOf(d)
  const isAsBefore = isRidOfAll(s.f) && isInVain(s.f)
  if (!d || !lead || tellsNothing(d) || none >= SOUND || isAsBefore || !isWorthATest(s)) return undefined
  const how = none < 1 - SURE_ENOUGH ? 'is hardly' : 'need not be'
  return nextTestAct(s, `What is read now ${how} a sound engine’s: ${withShare(lead)}. ${testMinutes(s)}`)
}

/** Stored codes that it came with, neither cleared nor read since: a permanent one goes by itself, a pending one may. */
const storedAsItCame = (f: VisitFile): string[] => {
  const codes = live(f.codes)
  return codes
    .filter((c) => c.when === 'before' && c.state === 'stored' && !c.cleared)
    .filter((c) => !codes.some((x) => x.when !== 'before' && x.code === c.code))
    .map((c) => c.code)
}

const clearCodes: Rule = ({ f }) => {
  const came = storedAsItCame(f)
  const stored = [...new Set([...came, ...overtakenCodes(f).map(({ code }) => code.code)])]
  if (!stored.length) return undefined
  const s = stored.length > 1
  const since = stored.length > came.length ? 'as read before the last of the work' : 'as it came'
  return act(
    'clear-codes',
    'first-start',
    `Clear the code${s ? 's' : ''}, drive, read again`,
    `${andList(stored)} stand${s ? '' : 's'} ${since}. Cleared and driven, ${s ? 'they tell' : 'it tells'} whether what set ${s ? 'them' : 'it'} is gone.`,
    [...owedTitles(f), 'Print the sheet'],
  )
}

/** Codes that it came with and that were cleared, while nobody has driven it and read them again. */
const driveAndRead: Rule = ({ f }) => {
  const isOwed = afterWorkOf(f).some((a) => a.id === 'codes-after-drive' && !a.done)
  const cleared = isOwed ? live(f.codes).flatMap((c) => (c.when === 'before' && c.cleared ? [c.code] : [])) : []
  if (!cleared.length) return undefined
  const s = cleared.length > 1
  return act(
    'clear-codes',
    'first-start',
    'Drive, and read the codes again',
    `${andList(cleared)} ${s ? 'are' : 'is'} cleared. Whether what set ${s ? 'them' : 'it'} is gone shows after a drive.`,
    [...owedTitles(f), 'Print the sheet'],
  )
}

const standingCodes = (f: VisitFile): string[] => openCodes(f).map(({ code }) => code.code)

/** A code that speaks for nothing that the next test finds is traced elsewhere. */
const codesSince: Rule = (s) => {
  if (!isWorthATest(s)) return undefined
  const found = Object.keys(testInfo(s.d!.nextTests[0].test).finds)
  const codes = standingCodes(s.f).filter((code) => found.some((x) => x in (codeMeaning(code)?.favours ?? {})))
  const many = codes.length > 1
  return codes.length
    ? nextTestAct(
        s,
        `Code${many ? 's' : ''} ${andList(codes)} ${many ? 'were' : 'was'} read since the work. ${testMinutes(s)}`,
      )
    : undefined
}

function printTheSheet({ f }: Situation): NowAct {
  const gone = feltAs(f, 'gone')
  const unchanged = isFoundGone(f)
    ? 'Tested again, what was found is gone; the readings stand in their bands, as they did'
    : `${IN_VAIN} It stands in its bands, as it did${gone.length ? `; gone: ${andList(gone)}` : ''}`
  const worse = worseSince(f)
  const there = feltAs(f, 'there')
  const codes = standingCodes(f)
  const traced = codes.length ? `; code${codes.length > 1 ? 's' : ''} ${andList(codes)} still to be traced` : ''
  return act(
    'sheet',
    'hand-over',
    'Print the sheet',
    worse
      ? `${worse} Looked into since; no cause of it has been made out.`
      : there.length
        ? `Still there: ${andList(there)}. No cause of it has been made out${traced}.`
        : `${isInVain(f) ? unchanged : 'Done, measured again, inside its bands'}${traced}.`,
    owedTitles(f),
  )
}

/** Something was done, and measured again. */
export const SINCE_WORK: readonly Rule[] = [
  ({ d }) => cannotBe(d),
  coolantFirst,
  settle,
  worse,
  lookForTheRest,
  stillThere(SURE_ENOUGH),
  outOfBand,
  testAgain,
  feelAgain,
  inVain,
  hardlySound,
  // no test is worth its time any more
  stillThere(MORE_THAN_ALL_ELSE),
  clearCodes,
  driveAndRead,
  codesSince,
  printTheSheet,
]
