import { faultOf, inSentence, SURE_ENOUGH, testInfo, type Diagnosis, type Ranked } from '../../diagnosis/index.js'
import { benchOf, type ActPlace } from '../benches.js'
import type { VisitFile } from '../records.js'
import type { Remedy } from '../remedies.js'
import type { StageId } from '../stages.js'
import { share } from '../words.js'

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
  | 'felt'
  | 'sheet'
  | 'walk'
  | 'balance'
  | 'cylinders'
  | 'supply'
  | 'read-more'
  | 'test'
  | 'cause'
  | 'undecided'

/** What is known when the next act is asked for. */
export interface Situation {
  readonly f: VisitFile
  /** Of the newest readings; undefined while it is on its way. */
  readonly d: Diagnosis | undefined
  /** The present, where waits are to be told. */
  readonly nowMs: number | undefined
  readonly done: readonly Remedy[]
}

/** One rule of what comes next: its act where it holds. */
export type Rule = (s: Situation) => NowAct | undefined

/** The act of the first rule that holds. */
export function firstOf(rules: readonly Rule[], s: Situation): NowAct | undefined {
  for (const rule of rules) {
    const found = rule(s)
    if (found) return found
  }
  return undefined
}

/** What is to be done now; it is not told again as what comes then. */
export const act = (
  id: ActId,
  stage: StageId,
  title: string,
  why: string,
  then: readonly string[] = [],
  where?: ActPlace,
): NowAct => ({
  id,
  stage,
  title,
  why,
  then: then.filter((x) => !x.startsWith(title)),
  ...(where ? { where } : {}),
})

/** The test that is named next; undefined where none is. @param why - what it is for; its minutes stand behind it */
export const nextTestAct = (
  { f, d }: Situation,
  why: string,
  then: readonly string[] = ['Print the sheet'],
): NowAct | undefined => {
  const next = d?.nextTests[0]
  return next
    ? act(
        'test',
        'trace',
        testInfo(next.test).label,
        why,
        [...then, ...nextTitles(d).slice(1)],
        benchOf(f.vehicle.spec, next.test),
      )
    : undefined
}

export const minutesSaid = (minutes: number): string => `${minutes} minute${minutes === 1 ? '' : 's'}.`

/** The tests that come then, each by what the ones before it leave open: two of one valve say hardly more than one. */
export const nextTitles = (d?: Diagnosis): string[] =>
  (d?.plan ?? []).slice(0, 2).map((id) => `${testInfo(id).label}, ${testInfo(id).minutes} min`)

/** Why a cause is acted on: as a fact where it is all but sure, else with how likely it is. */
export const likely = (r: Ranked): string =>
  r.fault === 'none' || r.probability >= SURE_ENOUGH
    ? r.sentence
    : `${faultOf(r.fault).label}, ${share(r.probability)} % likely.`

/** A cause and its share, within a sentence. */
export const withShare = (r: Ranked): string => `${inSentence(faultOf(r.fault).label)}, ${share(r.probability)} %`
