import { testInfo, type Diagnosis } from '../diagnosis/index.js'
import type { StationId } from '../engine/index.js'
import { isOfCoolant } from './noIdle.js'
import { live, type FindingRecord, type VisitFile } from './records.js'
import { BEYOND_THE_PATH, leavesDirt, leftStations, mendedStations, remediesOf, type Remedy } from './remedies.js'
import { isOfDirt } from './repairOptions.js'

/** Where what was found is to be mended: the place looked at or tested, beyond the air path, or nowhere for a test that names no place or finds dirt. */
export function placeOfFind(x: Pick<FindingRecord, 'test' | 'station'>): StationId | undefined {
  if (x.test === 'look' || x.test === 'note') return x.station
  const { placeless, dirt, at } = testInfo(x.test)
  return placeless || dirt ? undefined : at === 'beyond' ? at : x.station
}

/** Of a find what says where it belongs. */
type Found = Pick<FindingRecord, 'test' | 'station' | 'item'>

/** What was done to what a test or a look tells of. */
function worksOn(f: VisitFile, done: readonly Remedy[], x: Found): readonly Remedy[] {
  const place = placeOfFind(x)
  // dirt stays until it is cleaned or fed off; other tests that name no place told of the engine as it was
  if (!place)
    return findsDirt(x)
      ? done.filter((r) => !r.unfinished && r.answers.some((cause) => testInfo(x.test).finds[cause]))
      : done
  const here = done.filter(
    (r) => r.station === place && r.kind !== 'feed' && r.kind !== 'balance' && !(isOfDirt(x) && leavesDirt(r)),
  )
  if (place !== 'beyond') return here
  // of unlike parts: work on one says nothing of another, where it is known which it was
  const named = new Map(live(f.repairs).map((r) => [r.id, f.findings.find((y) => y.id === r.finding)?.test]))
  return here.filter((r) => r.ids.some((id) => (named.get(id) ?? x.test) === x.test))
}

const pieces = (works: readonly Remedy[]): number => works.reduce((n, r) => n + r.ids.length, 0)

/** Pieces of work so far on what a test or a look sees: from the first on it is made again, beside what it found before. */
export const workOn = (f: VisitFile, x: Found): number => pieces(worksOn(f, remediesOf(f), x))

/** The id that a test's or a look's finding is kept under; after work on what it sees it is another one. @param work - pieces of it */
export const findingId = (f: VisitFile, of: Found, work: number): string =>
  [f.visit.id, of.test, of.item ?? of.station, ...(work ? [work] : [])].join(':')

/** Which findings tell of what has been worked on since. */
export function overtaken(f: VisitFile): (x: FindingRecord) => boolean {
  const done = remediesOf(f)
  return (x) => {
    const works = worksOn(f, done, x)
    if (typeof x.afterWork === 'number') return pieces(works) > x.afterWork
    return placeOfFind(x) ? works.length > 0 : works.some((r) => r.at > x.at)
  }
}

/** A find that asks for work, and where that is done. */
export interface PlacedFind {
  readonly find: FindingRecord
  readonly place: StationId
}

/** Finds that ask for work: a note and a test that names no place do not. */
export const findsToMend = (f: VisitFile): readonly PlacedFind[] =>
  live(f.findings).flatMap((find) => {
    const place = find.outcome === 'fail' && find.test !== 'note' ? placeOfFind(find) : undefined
    return place ? [{ find, place }] : []
  })

/** How finds beyond the air path, which are of unlike parts, were answered. */
export interface BeyondAnswers {
  /** By test, of repairs that name their find. */
  readonly named: ReadonlyMap<string, 'mended' | 'left'>
  /** Finds that no repair names, and repairs that name none: fewer answers than finds leave all of them open. */
  readonly found: number
  readonly mended: number
  readonly left: number
}

export function beyondAnswers(f: VisitFile): BeyondAnswers {
  const done = live(f.repairs).filter((r) => r.station === 'beyond' && r.state === 'done')
  const how = (r: (typeof done)[number]): 'mended' | 'left' => (r.kind === 'leave' ? 'left' : 'mended')
  const named = new Map<string, 'mended' | 'left'>()
  const unnamed = done.filter((r) => {
    const test = f.findings.find((x) => x.id === r.finding)?.test
    // what was left once and mended since is mended
    if (test && named.get(test) !== 'mended') named.set(test, how(r))
    return !test
  })
  const tests = findsToMend(f).flatMap((x) => (x.place === 'beyond' ? [x.find.test] : []))
  return {
    named,
    found: new Set(tests.filter((t) => !named.has(t))).size,
    mended: unnamed.filter((r) => how(r) === 'mended').length,
    left: unnamed.filter((r) => how(r) === 'left').length,
  }
}

/** Whether somebody decided to leave what a find showed, once it was found. */
export const leftSince = (f: VisitFile, { find, place }: PlacedFind): boolean =>
  live(f.repairs).some(
    (r) =>
      r.kind === 'leave' &&
      r.state === 'done' &&
      r.station === place &&
      r.at > find.at &&
      (place !== 'beyond' || (f.findings.find((x) => x.id === r.finding)?.test ?? find.test) === find.test),
  )

/** Finds that nothing done has answered. @param byWord - whether what is left by a person's word counts as answered */
export function openFinds(f: VisitFile, byWord: boolean): readonly PlacedFind[] {
  const isPast = overtaken(f)
  const byChoice = byWord ? leftStations(f) : new Set<StationId>()
  const { named, found, mended, left } = beyondAnswers(f)
  const openUnnamed = mended + (byWord ? left : 0) < found
  return findsToMend(f).filter((x) => {
    const { find, place } = x
    // found again after what was done: neither that nor an older choice has answered it
    if (find.afterWork) return !isPast(find) && !(byWord && leftSince(f, x))
    if (place !== 'beyond') return !isPast(find) && !byChoice.has(place)
    const how = named.get(find.test)
    return how ? how === 'left' && !byWord : openUnnamed
  })
}

/** Stations where something was done, and where nothing was found again since. */
export function holdingStations(f: VisitFile): ReadonlySet<StationId> {
  const open = new Set(openFinds(f, false).map((x) => x.place))
  return new Set([...mendedStations(f)].filter((id) => !open.has(id)))
}

/** From this probability, together, what lies beyond the air path is offered to be mended where a cause of it leads, found by a test or not [–]. */
const LEADS = 0.5

/** Places where something is to be mended: by what was found, and where what leads lies beyond the air path. */
export function placesToMend(f: VisitFile, d: Diagnosis | undefined): readonly StationId[] {
  const lead = d?.ranking.at(0)
  const ofThem = (d?.ranking ?? []).reduce((s, r) => s + (BEYOND_THE_PATH.includes(r.fault) ? r.probability : 0), 0)
  const isCoolant = isOfCoolant(f, lead?.fault)
  const beyond =
    lead && (isCoolant ? lead.probability : ofThem) >= LEADS && (isCoolant || BEYOND_THE_PATH.includes(lead.fault))
  return [...new Set([...findsToMend(f).map((x) => x.place), ...(beyond ? (['beyond'] as const) : [])])]
}

/** Whether what a test finds is dirt, and no part. */
export const findsDirt = (x: Pick<FindingRecord, 'test'>): boolean =>
  x.test !== 'look' && x.test !== 'note' && testInfo(x.test).dirt === true

/** Dirt that a test found and that nothing done since has answered. */
export function dirtLeft(f: VisitFile): FindingRecord[] {
  const isPast = overtaken(f)
  return live(f.findings).filter((x) => x.outcome === 'fail' && findsDirt(x) && !isPast(x))
}
