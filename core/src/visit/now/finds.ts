import { findWords, testInfo, type Diagnosis } from '../../diagnosis/index.js'
import { stationInfo } from '../../engine/index.js'
import { dirtLeft, openFinds } from '../findPlace.js'
import { coolantBeyond, diesIn, isReadThough } from '../noIdle.js'
import { isProved, lackingSince, roundToFill } from '../remedies.js'
import { againSaid, retestsOwed } from '../retests.js'
import type { VisitFile } from '../records.js'
import { andList, line } from '../words.js'
import { act, nextTitles, type NowAct, type Rule } from './act.js'

/** Tests of what was worked on that are to be made again. */
export const owedTitles = (f: VisitFile): string[] =>
  retestsOwed(f).map(({ test }) => `${testInfo(test).label} again, ${testInfo(test).minutes} min`)

/** Whether what was done is still to be measured, and can be: of an engine that dies, or whose coolant no sensor reads, no more is had. */
function isProofOwed(f: VisitFile): boolean {
  const round = roundToFill(f)
  return !isProved(f) && !isReadThough(f, round) && coolantBeyond(f, round) === undefined
}

/** A find that is to be mended: one found again after the work comes before its proof, any other after it. */
const toMend = (f: VisitFile, worked: boolean) => {
  const finds = openFinds(f, true)
  return finds.find((x) => x.find.afterWork) ?? (worked && isProofOwed(f) ? undefined : finds[0])
}

const measureAgain: Rule = ({ f, done }) => {
  if (!done.length || !isProofOwed(f) || toMend(f, true)) return undefined
  const lacking = lackingSince(f)
  const owed = diesIn(f, roundToFill(f))
    ? 'It holds no idle: read it held at 2500 rpm.'
    : lacking
      ? `Still to be read: ${andList(lacking)}.`
      : 'Idle, warm, with the same loads.'
  return act(
    'measure-again',
    'prove',
    'Measure the same points again',
    `Done is not proved: ${done.at(-1)!.words}. ${owed}`,
    [...owedTitles(f), 'Hand over'],
  )
}

const mend: Rule = ({ f, done }) => {
  const failed = toMend(f, done.length > 0)
  if (!failed) return undefined
  const { find, place } = failed
  const isNew = find.afterWork && done.findLast((r) => r.station === place)?.repair === 'replace'
  const found = find.afterWork
    ? line(
        `${againSaid(find)}${isNew ? ', and it is new: how it is fitted and fed, and the test itself, come before another one' : ''}`,
      )
    : place === 'beyond'
      ? `${testInfo(find.test).label}: ${findWords(find)}; beyond the air path.`
      : 'Found there; choose how by price and risk.'
  return act(
    'mend',
    'trace',
    place === 'beyond'
      ? `${isNew ? 'Look again at' : 'Mend'} what the test found`
      : `${isNew ? 'Look again at' : 'Mend'} the ${stationInfo(place).label}`,
    find.note ?? found,
    ['Measure the same points again'],
    'places',
  )
}

const dirt: Rule = ({ f }) => {
  const [found] = dirtLeft(f)
  return (
    found &&
    act(
      'dirt',
      'decarbonize',
      'Free the valves of deposits',
      found.note ?? `${testInfo(found.test).label}: ${findWords(found)}. Fed off, or cleaned with the manifold off.`,
      ['Measure the same points again'],
    )
  )
}

/** What was found is mended, and what was done is proved. */
export const FINDS: readonly Rule[] = [measureAgain, mend, dirt]

const warned = (d: Diagnosis | undefined) => d?.warnings.find((w) => w.act)

/** What readings say that cannot be: a plug that was left off shows as this. */
export function cannotBe(d: Diagnosis | undefined): NowAct | undefined {
  const asked = warned(d)
  if (!asked) return undefined
  // another unit is put right where it was entered, and a height at the head of every stage
  const isOfCar = asked.code !== 'height-doubtful' && asked.said !== undefined
  return act('cause', isOfCar ? 'trace' : 'measure', asked.act!, asked.why ?? asked.message, nextTitles(d))
}

/** The same of the height of the place: the bands of all that is read hang on it. */
export const heightFirst: Rule = ({ d }) => (warned(d)?.code === 'height-doubtful' ? cannotBe(d) : undefined)
