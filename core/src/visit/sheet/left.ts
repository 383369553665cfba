import { keptCodes, openCodes } from '../codes.js'
import { SIGNS, testInfo } from '../../diagnosis/index.js'
import { atStation, lookItemsOf, stationInfo } from '../../engine/index.js'
import { type VisitCauses } from '../causes.js'
import { beyondAnswers, dirtLeft, leftSince, openFinds } from '../findPlace.js'
import { unprovedSaid } from '../gates.js'
import { piecesOf } from '../items.js'
import { outsideOf } from '../judged.js'
import { reachedLines } from '../reached.js'
import { ARRIVALS, type ItemRecord } from '../itemRecords.js'
import { feltAs, feltNow } from '../felt.js'
import { diesNow } from '../noIdle.js'
import { lastRound, pointsOfRound } from '../points.js'
import { worseSince } from '../proofs.js'
import { type VisitFile, live } from '../records.js'
import { LETS_AIR_IN, isProved, lackingSince, leftStations, remediesOf } from '../remedies.js'
import { againSaid } from '../retests.js'
import { openThings } from '../service.js'
import { andList, line, lower } from '../words.js'

/** Whether what the visit names is air that was not measured: only then is a trim an account of air. */
export const isAir = (c: VisitCauses): boolean =>
  [...c.confirmed, ...(c.suspected ? [c.suspected.fault] : [])].some((x) => LETS_AIR_IN.includes(x))

/** Whether the visit names any cause. */
export const isNamed = (c: VisitCauses): boolean => c.confirmed.length > 0 || c.suspected !== undefined

/** Looks along the pipe that nobody has judged, at parts that nobody has had in hand either. */
function unlooked(f: VisitFile): string[] {
  const items = lookItemsOf(f.vehicle.spec)
  const judged = new Set(live(f.findings).map((x) => x.item))
  const inHand = new Set([
    ...remediesOf(f).map((r) => r.station),
    ...live(f.findings).flatMap((x) => (x.test !== 'note' && testInfo(x.test).at === x.station ? [x.station] : [])),
  ])
  const left = items.filter((i) => !judged.has(i.id) && !inHand.has(i.station)).length
  if (!left) return []
  return [
    left === items.length
      ? `None of the ${left} looks along the intake was made.`
      : `Of ${items.length} looks along the intake ${left} ${left === 1 ? 'was' : 'were'} not made.`,
  ]
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

/** Codes that came after the work, are none of it, and still stand. */
function codesLeft(f: VisitFile): string[] {
  return openCodes(f).map(({ code: { code, when }, isBack }) => {
    const read = `read after the ${when === 'after' ? 'work' : 'drive'}`
    return line(
      isBack
        ? `code ${code}, cleared here, was ${read} again: what sets it is still there`
        : `code ${code}, ${read}, is not of this work: a finding, still open`,
    )
  })
}

/** Codes it came with that nobody has cleared: without a word the customer drives off with the lamp on. */
const codesKept = (f: VisitFile): string[] =>
  keptCodes(f).map((c) =>
    line(
      `code ${c.code}, which it came with, ${c.state === 'permanent' ? 'is permanent: it goes when its monitor has passed' : 'has not been cleared here: its lamp can stay on'}`,
    ),
  )

const ON_THE_ROAD: readonly string[] = ['cruise', 'pull', 'deceleration']

/** What is felt on the road only and was not tried there after the work. */
function untried(f: VisitFile): string[] {
  if (f.visit.intent !== 'complaint' || !remediesOf(f).length) return []
  const round = lastRound(f)
  const kinds = round > 0 ? pointsOfRound(f, round).map((p) => p.kind) : []
  const tried = { idle: true, pulling: kinds.includes('pull'), driving: kinds.some((k) => ON_THE_ROAD.includes(k)) }
  const said = feltNow(f)
  const felt = SIGNS.filter(
    (s) => s.felt && !tried[s.felt] && f.visit.signs.includes(s.id) && (said.get(s.id) ?? 'untold') === 'untold',
  )
  return felt.length ? [`Not tried on the road since the work: ${andList(felt.map((s) => `“${s.label}”`))}.`] : []
}

/** What the customer came with and is there still. */
function stillThere(f: VisitFile): string[] {
  const there = feltAs(f, 'there')
  return there.length ? [`Still there after the work: ${andList(there)}.`] : []
}

/** How a find beyond the air path stands that is not known to be mended. */
function beyondSaid(f: VisitFile, test: string): string {
  const { named, found, mended, left } = beyondAnswers(f)
  if (named.has(test)) return ', not mended: left as it is, as agreed'
  if (!mended) return left >= found ? ', not mended: left as it is, as agreed' : ', not mended'
  return left
    ? ': mended, or left as it is, as agreed; which is not written down'
    : ': whether what was done there answers this is not written down'
}

/** What of the account of unmetered air is open. */
function accountLeft(is?: 'is' | 'may be'): string[] {
  if (!is) return []
  return [
    is === 'is'
      ? 'Not all of the unmetered air is accounted for.'
      : 'If what the trims show is air, not all of it is accounted for.',
  ]
}

/** @param unaccounted - whether what an account that is not closed tells of is air; left out where none is told */
export function leftLines(f: VisitFile, unaccounted?: 'is' | 'may be'): string[] {
  const byChoice = leftStations(f)
  const finds = openFinds(f, false).map((x) => {
    const { find, place } = x
    return find.afterWork
      ? line(`${stationInfo(place).label}: ${againSaid(find)}${leftSince(f, x) ? '; left as it is, as agreed' : ''}`)
      : place === 'beyond'
        ? line(`${stationInfo(place).label} (${lower(testInfo(find.test).label)})${beyondSaid(f, find.test)}`)
        : line(`${stationInfo(place).label}, not mended${byChoice.has(place) ? ': left as it is, as agreed' : ''}`)
  })
  const came = live(f.items).flatMap(cameLines)
  const remedies = remediesOf(f)
  const lacking = lackingSince(f)
  const dies = diesNow(f)
  const unproved = dies
    ? [`It ${dies}.`]
    : remedies.length && !isProved(f)
      ? [
          line(
            `${lacking ? `measured again without ${andList(lacking)}` : 'not measured again'} since: ${remedies.at(-1)!.words}${unprovedSaid(f) ? '; whether it helped is not known' : ''}`,
          ),
        ]
      : []
  const idle = remedies.length ? outsideOf(f).map((j) => line(`${j.label} ${j.words}`)) : []
  return [
    ...new Set([
      ...finds,
      ...dirtLeft(f).map((x) =>
        line(
          `deposits on the intake valves (${lower(testInfo(x.test).label)}), not cleaned${
            remedies.some((r) => r.unfinished && r.at > x.at) ? ': the feed was stopped before its end' : ''
          }`,
        ),
      ),
      ...unproved,
      ...(unproved.length ? [] : idle),
      ...(unproved.length ? [] : [worseSince(f)].filter((x) => x !== undefined)),
      ...codesLeft(f),
      ...codesKept(f),
      ...(unproved.length ? [] : accountLeft(unaccounted)),
      ...stillThere(f),
      ...untried(f),
      ...unlooked(f),
      ...came,
      ...openThings(f).map((x) => x.left ?? x.message),
      ...reachedLines(f).left,
    ]),
  ]
}

export function advice(f: VisitFile): string[] {
  const temporary = live(f.repairs)
    .filter((r) => r.state === 'done' && r.temporary)
    .map((r) =>
      line(
        `look ${atStation(r.station)} again${r.recheckOn ? ` by ${r.recheckOn}` : ''}: the ${r.kind === 'wrap' ? 'wrap' : 'repair'} is temporary`,
      ),
    )
  const cleared = live(f.codes).some((c) => c.cleared)
    ? [
        'Codes were cleared: readiness needs its drive cycles before an inspection; read the codes once more after them.',
      ]
    : []
  return [...temporary, ...cleared]
}
