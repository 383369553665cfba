import {
  actOf,
  answerOf,
  CAUSES,
  codeMeaning,
  faultOf,
  findWords,
  fitsNothing,
  inSentence,
  SURE_ENOUGH,
  tellsNothing,
  testInfo,
  type Diagnosis,
  type FaultId,
  type Ranked,
} from '../diagnosis/index.js'
import { lookItemsOf, stationInfo, type StationId } from '../engine/index.js'
import { batterySaid } from './battery.js'
import { benchOf, benchOfCause, type ActPlace } from './benches.js'
import { isSurelyAir, spokenForBy } from './causes.js'
import { openCodes, overtakenCodes } from './codes.js'
import { evidenceOf, isLampUnread } from './evidence.js'
import { dirtLeft, openFinds, placeOfFind } from './findPlace.js'
import { outsideOf } from './judged.js'
import { channelList, isIdleMeasured, isIdleRead, lastRound, missingAtIdle } from './points.js'
import { isTemperatureBack, proofBetween, worseSince } from './proofs.js'
import { live, type RepairKind, type VisitFile } from './records.js'
import {
  isAnsweredAt,
  isProved,
  lackingSince,
  plannedRepairs,
  remediesOf,
  LETS_AIR_IN,
  type Remedy,
} from './remedies.js'
import { CLEAR_OUT } from '../procedures/index.js'
import { closeDownRefusals } from './afterFeed.js'
import { afterWorkOf } from './afterWork.js'
import { procedureOfRun, runsGoingOn, stateOfRun, taughtRuns, teachAct } from './runs.js'
import { againSaid, retestsOf, retestsOwed } from './retests.js'
import { openThings, poolsUnlooked, restartLocked, runningWaits } from './service.js'
import type { StageId } from './stages.js'
import { cylinderUnlike, throttlesUnlike } from './taken.js'
import { andList, line, share } from './words.js'
import { visitLedger } from './unmetered.js'

/** What to do now, why, and on which bench. */
export interface NowAct {
  readonly id: ActId
  readonly stage: StageId
  readonly title: string
  readonly why: string
  readonly then: readonly string[]
  /** Where on the bench of its stage; left out where the bench has one place, or none is known. */
  readonly where?: ActPlace
}

/** What an act is, whatever words it is told in. */
export type ActId =
  | 'handed-over'
  | 'do-not-crank'
  | 'go-on'
  | 'signs'
  | 'read-idle'
  | 'read-codes'
  | 'clear-codes'
  | 'planned'
  | 'clean'
  | 'close-up'
  | 'wait'
  | 'pools'
  | 'close-down'
  | 'teach-again'
  | 'settle'
  | 'measure-again'
  | 'mend'
  | 'dirt'
  | 'look-for-the-rest'
  | 'still-there'
  | 'not-in-band'
  | 'worse-since'
  | 'sheet'
  | 'walk'
  | 'balance'
  | 'cylinders'
  | 'supply'
  | 'read-more'
  | 'test'
  | 'cause'
  | 'undecided'

/**
 * The one next act of a visit. The diagnosis may still be on its way: then acts that need none come first.
 * @param nowMs - the present, where waits are to be told; left out, they are not looked at
 */
export function nowAct(f: VisitFile, d?: Diagnosis, nowMs?: number): NowAct {
  // what is to be done now is not told again as what comes then
  const act = (
    id: ActId,
    stage: StageId,
    title: string,
    why: string,
    then: string[] = [],
    where?: ActPlace,
  ): NowAct => ({
    id,
    stage,
    title,
    why,
    then: then.filter((x) => !x.startsWith(title)),
    ...(where ? { where } : {}),
  })
  const planned = plannedRepairs(f).at(0)
  const done = remediesOf(f)
  if (live(f.reports).length && f.visit.state === 'handed-over')
    return act('handed-over', 'hand-over', 'Handed over', 'The sheet is issued. A later word on it is an amendment.')
  if (restartLocked(f))
    return act(
      'do-not-crank',
      'first-start',
      'Do not crank',
      'It stalled while liquid was fed, or more went in than a cylinder bears: plugs out, turn it by hand, then tick it.',
    )
  const going = runsGoingOn(f)[0]
  if (going)
    return act(
      'go-on',
      going.procedure === 'feed' ? 'decarbonize' : going.procedure === CLEAR_OUT.id ? 'first-start' : 'learn',
      going.procedure === 'feed'
        ? 'Go on feeding'
        : going.procedure === CLEAR_OUT.id
          ? 'Go on clearing out'
          : 'Go on teaching',
      'A timed step is running.',
    )
  const [unclosed] = closeDownRefusals(f)
  if (unclosed) return act('close-down', 'decarbonize', 'Close the feed down', unclosed.message, ['Look for pools'])
  if (!f.visit.signs.length && f.visit.intent === 'complaint')
    return act('signs', 'arrive', 'Tap what the customer feels', 'The signs set which causes come first.', [
      'Read the idle',
      'Walk the pipe',
    ])
  // what is done has closed the round: nothing more can be read as it came
  if (!isIdleMeasured(f, 0) && !done.length)
    return act(
      'read-idle',
      'arrive',
      'Read the warm idle',
      isIdleRead(f, 0)
        ? `Still to be read: ${channelList(missingAtIdle(f, 0))}. Later this is the "before".`
        : 'Nothing is touched before it is measured: later this is the "before".',
      ['Walk the pipe'],
    )
  if (!done.length && isLampUnread(f) && !openThings(f).length)
    return act(
      'read-codes',
      'arrive',
      'Read the codes',
      'The lamp is on: written down before anything is unplugged or cleared, with the frozen figures.',
      ['Walk the pipe'],
    )
  if (planned)
    return act(
      'planned',
      'trace',
      planned.station === 'beyond'
        ? 'Do what is planned beyond the air path'
        : `${VERBS[planned.kind]} the ${stationInfo(planned.station).label}`,
      'Planned; the proof comes after.',
      ['Measure the same points again'],
    )
  const open = openThings(f)
  const cleaning = live(f.steps).find((x) => !x.passed && !x.againstRule)
  if (cleaning)
    return act(
      'clean',
      'clean',
      `Clean the ${stationInfo(cleaning.station).label} to its end`,
      'It ends at its test, not at shine.',
      open.length ? ['Close up', 'First start'] : ['Measure the same points again'],
      { station: cleaning.station },
    )
  if (open.length)
    return act(
      'close-up',
      'close-up',
      'Close up',
      `${open[0].message}${open.length > 1 ? ` And ${open.length - 1} more.` : ''}`,
      ['First start', ...(teachAct(f.vehicle.spec) ? [teachAct(f.vehicle.spec)!] : [])],
    )
  const waits = nowMs === undefined ? [] : runningWaits(f, nowMs)
  if (waits.length && done.length)
    return act('wait', 'first-start', waits[0].rule === 'soak-runs' ? 'Let it soak' : 'Let it dry', waits[0].message, [
      'Measure the same points again',
    ])
  const pools = poolsUnlooked(f)
  if (pools.length) return act('pools', 'first-start', 'Look for pools', pools[0].message, ['First start'])
  const failedRun = taughtRuns(f).at(-1)
  if (failedRun && stateOfRun(f, failedRun)?.status === 'failed')
    return act(
      'teach-again',
      'learn',
      `${procedureOfRun(failedRun)?.verb ?? 'Teach the idle'} again`,
      stateOfRun(f, failedRun)?.reason ?? 'The last attempt failed.',
    )
  const lacking = lackingSince(f)
  const owed = retestsOwed(f).map(({ test }) => `${testInfo(test).label} again, ${testInfo(test).minutes} min`)
  const finds = openFinds(f, true)
  // found again after the work: that comes before its proof
  const failed = finds.find((x) => x.find.afterWork) ?? (done.length && !isProved(f) ? undefined : finds[0])
  if (done.length && !isProved(f) && !failed)
    return act(
      'measure-again',
      'prove',
      'Measure the same points again',
      `Done is not proved: ${done.at(-1)!.words}. ${lacking ? `Still to be read: ${andList(lacking)}.` : 'Idle, warm, with the same loads.'}`,
      [...owed, 'Hand over'],
    )
  if (failed)
    return act(
      'mend',
      'trace',
      failed.place === 'beyond' ? 'Mend what the test found' : `Mend the ${stationInfo(failed.place).label}`,
      failed.find.note ??
        (failed.find.afterWork
          ? line(againSaid(failed.find))
          : failed.place === 'beyond'
            ? `${testInfo(failed.find.test).label}: ${findWords(failed.find)}; beyond the air path.`
            : 'Found there; choose how by price and risk.'),
      ['Measure the same points again'],
      'places',
    )
  const [dirt] = dirtLeft(f)
  if (dirt)
    return act(
      'dirt',
      'decarbonize',
      'Free the valves of deposits',
      dirt.note ?? `${testInfo(dirt.test).label}: ${findWords(dirt)}. Fed off, or cleaned with the manifold off.`,
      ['Measure the same points again'],
    )
  const asked = d?.warnings.find((w) => w.act)
  // another unit is put right where it was entered, and a height at the head of every stage
  const isOfCar = asked?.code !== 'height-doubtful' && asked?.said !== undefined
  const dead =
    asked && act('cause', isOfCar ? 'trace' : 'measure', asked.act!, asked.why ?? asked.message, nextTitles(d))
  if (done.length) {
    // a plug that was left off shows as this
    if (dead) return dead
    const out = outsideOf(f)
    if (out.length && d?.ranking[0]?.fault === 'idle-learnt-past')
      return act('settle', 'learn', CAUSES['idle-learnt-past'].act, likely(d.ranking[0]), [
        'Measure the same points again',
      ])
    const worse = worseSince(f)
    if (worse)
      return act('worse-since', 'prove', 'Check what was done last', worse, ['Print the sheet', ...nextTitles(d)])
    const account = visitLedger(f)
    const ofAir = done.some((r) => r.answers.some((x) => LETS_AIR_IN.includes(x)))
    const leads = d?.ranking[0]
    const isElse =
      leads && leads.fault !== 'none' && leads.probability > MORE_THAN_ALL_ELSE && !LETS_AIR_IN.includes(leads.fault)
    if (account && !account.accounted && ofAir && !isElse)
      return act(
        'look-for-the-rest',
        'trace',
        'Look for the rest',
        `${account.now.atLeast ? 'At least ' : ''}${account.now.gramsPerS.median.toFixed(2)} g/s still come in unmeasured${d && isSurelyAir(d) ? '' : ', if what the trims show is air'}.`,
        nextTitles(d),
        'places',
      )
    const still = (least: number): NowAct | undefined => {
      if (!d || !leads || leads.fault === 'none' || leads.probability <= least) return undefined
      const title = whatIsLeftToDo(leads.fault, done, f)
      return act(
        'still-there',
        stageOfAct(leads.fault, title),
        title,
        `${faultOf(leads.fault).label}, ${share(leads.probability)} % by ${spokenForBy(d, leads.fault)} after the work.${answered(f, leads.fault)}`,
        ['Print the sheet', ...nextTitles(d)],
        benchOfCause(f, leads.fault),
      )
    }
    const isStill = still(SURE_ENOUGH)
    if (isStill) return isStill
    const next = d?.nextTests[0]
    // as before the work: tests, as long as one is worth its time, and then what is likelier than all else
    if (out.length && next && d?.stop.verdict === 'test')
      return act(
        'test',
        'trace',
        testInfo(next.test).label,
        `${line(`${out[0].label} ${out[0].words}`)} ${minutesSaid(next.minutes)}`,
        ['Print the sheet', ...nextTitles(d).slice(1)],
        benchOf(f.vehicle.spec, next.test),
      )
    const isOut = out.length ? still(MORE_THAN_ALL_ELSE) : undefined
    if (isOut) return isOut
    if (out.length)
      return act(
        'not-in-band',
        'trace',
        'Not in its band yet',
        `${out[0].label} ${out[0].words}. Trace on, or hand over and say so.`,
        ['Print the sheet', ...nextTitles(d)],
      )
    const codes = openCodes(f).map(({ code }) => code.code)
    const { verdict, changes } = proofBetween(f, 0, lastRound(f))
    const isInVain = verdict === 'no change seen' && changes.length > 0 && !isTemperatureBack(f)
    // what found it tells sooner than anything else whether it is gone
    const isByTests = d !== undefined && tellsNothing(d)
    const again = retestsOwed(f).find(
      ({ test }) =>
        test !== 'look' &&
        (isInVain || isByTests || (verdict === 'changed' && testInfo(test).minutes <= AGAIN_AT_ONCE_MINUTES)),
    )
    const byReadings = isByTests ? 'The readings do not tell one cause from another.' : 'The readings have changed.'
    if (again)
      return act(
        'test',
        'prove',
        `${testInfo(again.test).label} again`,
        `${isInVain ? IN_VAIN : byReadings} What found it tells whether it is gone. ${minutesSaid(testInfo(again.test).minutes)}`,
        [...owed, 'Print the sheet'],
      )
    const retests = retestsOf(f)
    const isGone = retests.length > 0 && retests.every((x) => x.after.outcome === 'pass')
    if (isInVain && !isGone && next && f.visit.intent === 'complaint' && d?.stop.verdict === 'test')
      return act(
        'test',
        'trace',
        testInfo(next.test).label,
        `${IN_VAIN} ${minutesSaid(next.minutes)}`,
        ['Print the sheet', ...nextTitles(d).slice(1)],
        benchOf(f.vehicle.spec, next.test),
      )
    const none = d?.ranking.find((r) => r.fault === 'none')?.probability ?? 0
    if (d && leads && next && !isByTests && none < 1 - SURE_ENOUGH && d.stop.verdict === 'test')
      return act(
        'test',
        'trace',
        testInfo(next.test).label,
        `What is read now is hardly a sound engine’s: ${inSentence(faultOf(leads.fault).label)}, ${share(leads.probability)} %. ${minutesSaid(next.minutes)}`,
        ['Print the sheet', ...nextTitles(d).slice(1)],
        benchOf(f.vehicle.spec, next.test),
      )
    // no test is worth its time any more
    const isLikely = still(MORE_THAN_ALL_ELSE)
    if (isLikely) return isLikely
    const came = storedAsItCame(f)
    const stored = [...new Set([...came, ...overtakenCodes(f).map(({ code }) => code.code)])]
    if (stored.length) {
      const s = stored.length > 1
      const since = stored.length > came.length ? 'as read before the last of the work' : 'as it came'
      return act(
        'clear-codes',
        'first-start',
        `Clear the code${s ? 's' : ''}, drive, read again`,
        `${andList(stored)} stand${s ? '' : 's'} ${since}. Cleared and driven, ${s ? 'they tell' : 'it tells'} whether what set ${s ? 'them' : 'it'} is gone.`,
        [...owed, 'Print the sheet'],
      )
    }
    const cleared = clearedUnread(f)
    if (cleared.length) {
      const s = cleared.length > 1
      return act(
        'clear-codes',
        'first-start',
        'Drive, and read the codes again',
        `${andList(cleared)} ${s ? 'are' : 'is'} cleared. Whether what set ${s ? 'them' : 'it'} is gone shows after a drive.`,
        [...owed, 'Print the sheet'],
      )
    }
    // one that speaks for nothing that the test finds is traced elsewhere
    const found = next ? Object.keys(testInfo(next.test).finds) : []
    const ofCauses = codes.filter((code) => found.some((x) => x in (codeMeaning(code)?.favours ?? {})))
    if (ofCauses.length && next && d?.stop.verdict === 'test')
      return act(
        'test',
        'trace',
        testInfo(next.test).label,
        `Code${ofCauses.length > 1 ? 's' : ''} ${andList(ofCauses)} ${ofCauses.length > 1 ? 'were' : 'was'} read since the work. ${minutesSaid(next.minutes)}`,
        ['Print the sheet', ...nextTitles(d).slice(1)],
        benchOf(f.vehicle.spec, next.test),
      )
    const unchanged = isGone
      ? 'Tested again, what was found is gone; the readings stand in their bands, as they did'
      : `${IN_VAIN} It stands in its bands, as it did`
    return act(
      'sheet',
      'hand-over',
      'Print the sheet',
      `${isInVain ? unchanged : 'Done, measured again, inside its bands'}${codes.length ? `; code${codes.length > 1 ? 's' : ''} ${andList(codes)} still to be traced` : ''}.`,
      owed,
    )
  }
  // the bands of all that is read hang on it
  if (asked?.code === 'height-doubtful') return dead!
  const items = lookItemsOf(f.vehicle.spec)
  const judged = new Set(
    live(f.findings)
      .filter((x) => x.test === 'look')
      .map((x) => x.item),
  ).size
  if (judged < items.length)
    return act(
      'walk',
      'look',
      judged ? 'Go on along the pipe' : 'Walk the pipe',
      'Free checks first: hoses, clamps and caps cost minutes.',
      nextTitles(d),
    )
  const unlike = throttlesUnlike(f.balances)
  if (unlike) return act('balance', 'measure', 'Balance the throttles', unlike, nextTitles(d))
  const lead = d?.ranking[0]
  const test = d?.nextTests[0]
  if (lead?.fault === 'none' && lead.probability > 0.6 && cylinderUnlike(f.balances))
    return act(
      'cylinders',
      'measure',
      'See the cylinders',
      'No cause fits the readings, though one cylinder differs from the others.',
      ['Print the sheet', ...nextTitles(d)],
    )
  const supply = supplyFault(f)
  if (supply) return act('supply', 'look', 'See to the supply first', supply, nextTitles(d))
  if (dead) return dead
  const left = live(f.repairs).filter(
    (r) => r.kind === 'leave' && lead && isAnsweredAt(r.station, lead.fault, f.vehicle.spec),
  )
  if (left.length)
    return act(
      'sheet',
      'hand-over',
      'Print the sheet',
      `Left as it is, as agreed: ${andList([...new Set(left.map((r) => stationInfo(r.station).label))])}.`,
      nextTitles(d),
    )
  // somebody complains, or a figure stands outside its band: that is worth a test as long as the stop rule says so
  const isOutside = outsideOf(f).length > 0
  const isUnexplained = f.visit.intent === 'complaint' || isOutside
  const isSound = lead?.fault === 'none' && lead.probability > 0.6
  const isWorthIt = test !== undefined && (lead?.probability ?? 0) < SURE_ENOUGH
  if (isSound && !(isWorthIt && isUnexplained && d?.stop.verdict === 'test'))
    return act('sheet', 'hand-over', 'Print the sheet', soundWhy(f))
  const isStrange = d !== undefined && fitsNothing(d)
  if (isStrange && !test) return act('undecided', 'measure', 'Read it once more', d.stop.because, ['Print the sheet'])
  const missing = d?.basis.missing
  if (isWorthIt && missing?.isAtHand && missing.bits > test.bits)
    return act(
      'read-more',
      'measure',
      `Read ${missing.label}`,
      'The scan tool says it in a moment, and it would tell more than any test.',
      nextTitles(d),
    )
  if (isWorthIt) {
    const info = testInfo(test.test)
    const takes = minutesSaid(info.minutes)
    // where something stands out, that is what it is for; how it is done stands at its bench
    const why = isStrange
      ? `${d.stop.because} ${takes}`
      : isSound && isOutside
        ? `${soundWhy(f)} ${takes}`
        : `${takes} ${info.how}`
    return act(
      'test',
      'trace',
      info.label,
      why,
      [...(isSound ? ['Print the sheet'] : []), ...nextTitles(d).slice(1)],
      benchOf(f.vehicle.spec, test.test),
    )
  }
  if (!lead)
    return act(
      'undecided',
      'trace',
      'See what the readings say',
      'Measured and looked at: the causes are ranked.',
      nextTitles(d),
    )
  // no test is left, and nothing stands out: that is what the sheet says
  if (lead.fault === 'none') return act('sheet', 'hand-over', 'Print the sheet', nothingMadeOut(f, lead))
  const title = actOf(lead.fault, f.vehicle.spec, evidenceOf(f, lastRound(f)).findings)
  return act(
    'cause',
    stageOfAct(lead.fault, title),
    title,
    `${likely(lead)}${answered(f, lead.fault)}`,
    nextTitles(d),
    benchOfCause(f, lead.fault),
  )
}

/** Stage of what a cause asks for: its own while that is its own act, else where causes are traced. */
const stageOfAct = (fault: FaultId, title: string): StageId =>
  title === CAUSES[fault].act ? (CAUSES[fault].stage ?? 'trace') : 'trace'

/** Beyond this a cause is likelier than all others together [–]. */
const MORE_THAN_ALL_ELSE = 0.5
/** Up to this a test is made again where readings changed, and are neither better nor worse by themselves [min]. */
const AGAIN_AT_ONCE_MINUTES = 5
const IN_VAIN = 'What was done changed nothing that was measured.'
const minutesSaid = (minutes: number): string => `${minutes} minute${minutes === 1 ? '' : 's'}.`

/** A running engine below the first lives on its battery, above the second it is overcharged [V]; ours. */
const SUPPLY_V = { low: 12.2, high: 15.5 }

/** What of the supply is no matter of the intake, and moves everything that is read or taught. */
function supplyFault(f: VisitFile): string | undefined {
  const battery = batterySaid(f)
  if (battery.found) return battery.said
  const read = outsideOf(f).find((j) => j.channel === 'battery_v')
  if (!read || (read.value >= SUPPLY_V.low && read.value <= SUPPLY_V.high)) return undefined
  return `${line(`${read.label} ${read.words}`)} ${read.value < SUPPLY_V.low ? 'The engine runs on its battery' : 'It is overcharged'}: idle, sensors and whatever is taught hang on it.`
}

/** Sensors that are renewed once cleaning them has not helped. */
const SENSOR_OF: Partial<Readonly<Record<FaultId, StationId>>> = {
  'maf-under-reads': 'airflow-sensor',
  'maf-over-reads': 'airflow-sensor',
  'map-sensor-offset': 'map-sensor',
}

/** What the test that a cause asks for has answered already. */
function answered(f: VisitFile, fault: FaultId): string {
  const answer = answerOf(fault, evidenceOf(f, lastRound(f)).findings)
  if (!answer) return ''
  return ` ${testInfo(answer.test).label}: ${answer.outcome === 'pass' ? 'nothing found' : findWords(answer)}.`
}

/** Why the sheet is next where no test is left and no cause leads: what tests found all the same is not forgotten. */
function nothingMadeOut(f: VisitFile, none: Ranked): string {
  const found = [
    ...new Set(
      live(f.findings).flatMap((x) => (x.outcome === 'fail' && !placeOfFind(x) ? [testInfo(x.test).label] : [])),
    ),
  ]
  return found.length ? `${andList(found)} found something; which cause it is has not been made out.` : none.sentence
}

/** What a cause asks for that leads by far after the work: what was done once is not told to be done again. */
function whatIsLeftToDo(fault: FaultId, done: readonly Remedy[], f: VisitFile): string {
  const sensor = SENSOR_OF[fault]
  const tried = done.filter((r) => r.answers.includes(fault) && (!sensor || r.station === sensor))
  if (!tried.length) return actOf(fault, f.vehicle.spec, evidenceOf(f, lastRound(f)).findings)
  return sensor && !tried.some((r) => r.repair === 'replace')
    ? `Renew the ${stationInfo(sensor).label}`
    : 'The cause is still there'
}

/** Why a cause is acted on: as a fact where it is all but sure, else with how likely it is. */
const likely = (r: Ranked): string =>
  r.fault === 'none' || r.probability >= SURE_ENOUGH
    ? r.sentence
    : `${faultOf(r.fault).label}, ${share(r.probability)} % likely.`

/** Stored codes that it came with, neither cleared nor read since: a permanent one goes by itself, a pending one may. */
const storedAsItCame = (f: VisitFile): string[] => {
  const codes = live(f.codes)
  return codes
    .filter((c) => c.when === 'before' && c.state === 'stored' && !c.cleared)
    .filter((c) => !codes.some((x) => x.when !== 'before' && x.code === c.code))
    .map((c) => c.code)
}

/** Codes that it came with and that were cleared, while nobody has driven it and read them again. */
const clearedUnread = (f: VisitFile): string[] =>
  afterWorkOf(f).some((a) => a.id === 'codes-after-drive' && !a.done)
    ? live(f.codes).flatMap((c) => (c.when === 'before' && c.cleared ? [c.code] : []))
    : []

/** Codes that it came with and that stand, where nothing that was measured explains them. */
function codesUntold(f: VisitFile): string {
  const codes = [...new Set(live(f.codes).flatMap((c) => (c.when === 'before' && !c.cleared ? [c.code] : [])))]
  const s = codes.length > 1
  return codes.length ? ` Code${s ? 's' : ''} ${andList(codes)} ${s ? 'are' : 'is'} not explained by it.` : ''
}

/** Why nothing is to be mended, without claiming more than was measured. */
function soundWhy(f: VisitFile): string {
  const out = outsideOf(f)
  return out.length
    ? `No cause fits the readings, though ${out[0].label} ${out[0].words}.`
    : `Everything measured stands in its band: nothing in it asks for work on the intake.${codesUntold(f)}`
}

/** The tests that come then, each by what the ones before it leave open: two of one valve say hardly more than one. */
const nextTitles = (d?: Diagnosis): string[] =>
  (d?.plan ?? []).slice(0, 2).map((id) => `${testInfo(id).label}, ${testInfo(id).minutes} min`)

const VERBS: Readonly<Record<RepairKind, string>> = {
  refit: 'Refit',
  clamp: 'Clamp',
  wrap: 'Wrap',
  splice: 'Splice',
  cap: 'Cap',
  replace: 'Renew',
  reroute: 'Put right',
  clean: 'Clean',
  leave: 'Leave',
}
