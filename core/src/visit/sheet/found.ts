import {
  deadSaid,
  type Diagnosis,
  type FaultId,
  fitsNothing,
  NEEDLES,
  faultOf,
  findWords,
  isUnsized,
  spokenBy,
  supposed,
  testInfo,
} from '../../diagnosis/index.js'
import { airPathOf, lookItemsOf, maybeStation, stationInfo } from '../../engine/index.js'
import { PUMP_PARTS, SPREAD_LIMIT_KPA, pumpSaid, spreadOf } from '../../vacuum/index.js'
import { batterySaid } from '../battery.js'
import { type VisitCauses } from '../causes.js'
import { spokenForBy } from '../spokenFor.js'
import { visitDeposits } from '../deposits.js'
import { overtaken, placeOfFind } from '../findPlace.js'
import { type Judged, judgedIdle, outsideOf } from '../judged.js'
import { vehicleAtPlace } from '../place.js'
import { DIES } from '../dies.js'
import { diesIn, diesNow, isIdleBack } from '../noIdle.js'
import { channelList, isIdleRead, missingAtIdle } from '../points.js'
import { type FindingRecord, type VisitFile, live } from '../records.js'
import { LETS_AIR_IN, isProved, remediesOf, roundToFill } from '../remedies.js'
import { bringsIdleBack, proofsOf } from '../proofs.js'
import { retestsOf, retestsOwed } from '../retests.js'
import { dropsOf, takenOf } from '../taken.js'
import { figuresSaid } from '../testForms.js'
import { line, lower, share } from '../words.js'

/** Whether what is suspected brings the air by which an idle stands high: its own size is told then, and not a second one. */
export const bringsAir = ({ suspected }: VisitCauses): boolean =>
  suspected !== undefined && (suspected.fault === 'idle-valve-stuck' || LETS_AIR_IN.includes(suspected.fault))

/** Why the idle of the baseline stands too high where the controller learnt to open past deposits that are gone. */
export function learntPast(f: VisitFile): string | undefined {
  const high = judgedIdle(f, 0).some((j) => j.channel === 'rpm' && j.value > j.high)
  const deposits = high ? visitDeposits(f, 0) : undefined
  return deposits?.lost && deposits.lost.mm2.high < 0 ? deposits.why : undefined
}

/** What was looked at or tried, where no note says what was seen. */
function foundBy(f: VisitFile, x: FindingRecord): string {
  const figures = figuresSaid(f, x)
  if (figures) return lower(figures.said)
  if (x.test !== 'look') return `${findWords(x)} (${lower(testInfo(x.test).label)})`
  const asked = lookItemsOf(f.vehicle.spec).find((i) => i.id === x.item)?.question
  return asked
    ? `looked at “${asked.charAt(0).toLowerCase()}${asked.slice(1)}”, not in order`
    : 'looked at, not in order'
}

/** What was read since a cause was answered that nothing has confirmed: where it leaves no mark of its own better readings need not be its. */
function sinceSaid(f: VisitFile, fault: FaultId): string {
  const works = proofsOf(f).filter((p) => p.proof && p.remedies.some((r) => r.answers.includes(fault)))
  const verdicts = works.map((p) => p.proof!.verdict)
  const isGone = retestsOf(f).some((x) => x.after.outcome === 'pass' && spokenBy(x.before)[fault])
  const owed = retestsOwed(f).find((x) => spokenBy(x)[fault])
  const again = owed ? `“${lower(testInfo(owed.test).label)}”, made again, would tell whether` : ''
  const byTest = owed ? `; ${again} it was that` : ''
  // what is left to a cause that other work brought the idle back of
  if (isIdleBack(f) && !works.some((p) => bringsIdleBack(f, p)))
    return `What was done for it brought no idle back${owed ? `; ${again} it is gone` : ''}.`
  const how = verdicts.includes('better') ? 'are better' : verdicts.includes('changed') ? 'have changed' : undefined
  if (!how)
    return isGone
      ? 'The test that found it finds nothing any more; what was read since does not show a difference.'
      : 'What was read since does not confirm it.'
  return `The readings ${how} since${byTest || ', and do not tell whether it was that'}.`
}

/** From this probability a cause that nothing has confirmed is named [–]. */
const WORTH_NAMING = 0.3

export function foundLines(f: VisitFile, d: Diagnosis, causes: VisitCauses, judged: readonly Judged[]): string[] {
  // what was found again and mended since stands among the tests
  const isPast = overtaken(f)
  const seen = live(f.findings)
    .filter((x) => x.outcome === 'fail' && x.test !== 'note' && !(x.afterWork && isPast(x)))
    .map((x) => {
      const place = placeOfFind(x)
      const again = x.afterWork ? `, ${x.test === 'look' ? 'looked at' : 'tried'} again after the work` : ''
      if (place && place !== 'beyond') return line(`${stationInfo(place).label}${again}: ${x.note ?? foundBy(f, x)}`)
      const said = figuresSaid(f, x)?.said
      return line(`${testInfo(x.test).label}${again}: ${x.note ?? (said ? lower(said) : findWords(x))}`)
    })
  const notes = live(f.findings)
    .filter((x) => x.test === 'note' && x.note)
    .map((x) => line(`${stationInfo(x.station).label}: ${x.note}`))
  const confirmed = causes.confirmed.map((fault) => {
    const ranked = fault in causes.sized ? causes.sized[fault] : d.ranking.find((r) => r.fault === fault)
    // whether a valve that sticks passed too much or too little, what it passes since tells, and not the readings before
    const isTold = fault === 'idle-valve-stuck' && causes.told[fault] === 'opening'
    const size = ranked && !isUnsized(ranked) && !isTold ? ` Before: ${lower(ranked.sentence)}` : ''
    const came =
      judged.every((j) => j.inside) && !diesNow(f) ? 'came back' : 'are better, though not all where they belong'
    const how = {
      readings: `the readings ${came}`,
      test: 'the test that found it finds nothing any more',
      opening: 'it needs less opening for the same air',
      temperature: 'the temperature reads as it should',
      idle: 'it holds an idle since',
      itself: 'what was read before, held against what is read now, shows it',
    }[causes.told[fault] ?? 'readings']
    // no size either: it would be of the one or of the other
    const or = causes.or[fault] ?? []
    if (or.length)
      return `${[fault, ...or].map((x, i) => (i ? lower(faultOf(x).label) : faultOf(x).label)).join(', or ')}. What was done may answer ${or.length > 1 ? 'any of them' : 'either'}, and ${how}: which it was is not told apart.`
    return `${line(faultOf(fault).label)} Confirmed: what answers it was done, and ${how}.${size}`
  })
  const own = causes.suspected && !isUnsized(causes.suspected) ? ` ${supposed(causes.suspected)}` : ''
  const suspected = causes.suspected
    ? [
        `${faultOf(causes.suspected.fault).label}, ${share(causes.suspected.probability)} % by ${causes.suspectedBy}${isProved(f) ? ' after the work' : ''}, not confirmed.${own}`,
      ]
    : []
  const gone = causes.gone
    ? [
        `By the first reading: ${lower(faultOf(causes.gone.fault).label)}, ${share(causes.gone.probability)} %. Read again with nothing done, it does not show.`,
      ]
    : []
  // what led before the work, was answered, and is neither confirmed nor left: it is not forgotten
  const led = d.ranking[0]
  const isAnswered = led && led.probability > WORTH_NAMING && remediesOf(f).some((r) => r.answers.includes(led.fault))
  const past =
    isAnswered && !causes.confirmed.length && !causes.suspected && isProved(f)
      ? [
          `Before the work: ${lower(faultOf(led.fault).label)}, ${share(led.probability)} % by ${spokenForBy(d, led.fault)}. ${sinceSaid(f, led.fault)}`,
        ]
      : []
  // once what made it high is confirmed and it stands where it belongs, it does not stand high any more
  const back = judged.some((j) => j.channel === 'rpm' && j.inside)
  const answered = causes.confirmed.includes('idle-learnt-past') || (causes.confirmed.length > 0 && back)
  const taughtWrong = answered || bringsAir(causes) ? undefined : learntPast(f)
  const battery = batterySaid(f).found
  const died = diesIn(f, 0)
  const lines = [
    ...new Set([
      ...(died ? [`It ${DIES[died].then} when it came.`] : []),
      ...deadSaid(d),
      ...(battery ? [battery] : []),
      ...confirmed,
      ...suspected,
      ...gone,
      ...past,
      ...(taughtWrong ? [taughtWrong] : []),
      ...seen,
      ...routingLines(f),
      ...balanceLines(f),
    ]),
  ]
  if (lines.length) return [...lines, ...notes]
  if (!isIdleRead(f, 0)) return ['The warm idle was not measured.', ...notes]
  const without = missingAtIdle(f, 0)
  if (without.length) return [`The warm idle was read without ${channelList(without)}.`, ...notes]
  const out = outsideOf(f, 0)
  const lead = d.ranking[0]
  if (out.length) {
    const isNone = fitsNothing(d) || (lead?.fault === 'none' && lead.probability > 0.5)
    const why = isNone ? 'No single cause fits all of it.' : 'Which cause it is has not been found out yet.'
    return [...out.map((j) => line(`${j.label} ${j.words}`)), why, ...notes]
  }
  return [
    lead && lead.fault !== 'none' && lead.probability > WORTH_NAMING && !remediesOf(f).length
      ? `Possibly: ${lower(faultOf(lead.fault).label)} (${share(lead.probability)} %). Everything judged at idle stands in its band.`
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
  const { round, judged: drops } = dropsOf(f.balances)
  const isOld = round < roundToFill(f)
  const when = isOld ? ', before the work' : ''
  const weak = drops.filter((x) => x.weak)
  const fell = !drops.length
    ? []
    : weak.length
      ? weak.map(
          ({ cylinder, sharePct: s }) =>
            `Cylinder ${cylinder} ${isOld ? 'did' : 'does'} ${s.median.toFixed(0)} % of what the others do (${s.low.toFixed(0)} to ${s.high.toFixed(0)}), by the fall of speed without it${when}.`,
        )
      : [
          `${drops.length < f.vehicle.spec.cylinders ? `Of ${drops.length} cylinders that were put out none` : 'No cylinder'} ${isOld ? 'did' : 'does'} surely less than the others, by the fall of speed without it${when}.`,
        ]
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
    ...fell,
    ...pumped,
    ...(needle ? [`Vacuum gauge: ${needle.label}; it ${needle.look}.`] : []),
    ...throttles,
  ]
}

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
