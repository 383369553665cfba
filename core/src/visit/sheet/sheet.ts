import { type Diagnosis, codeWords, deadSaid } from '../../diagnosis/index.js'
import { describeEngine } from '../../engine/index.js'
import type { Change } from '../../proof/index.js'
import { causesOf } from '../causes.js'
import { isSurelyAir } from '../ofAir.js'
import { expectedGain } from '../expectedGain.js'
import { complaintOf } from '../figures.js'
import { judgedIdle } from '../judged.js'
import { visitPressureKpa } from '../place.js'
import { lastRound } from '../points.js'
import { proofBetween, proofsOf, provedLines } from '../proofs.js'
import { reachedLines } from '../reached.js'
import { type VisitFile, live } from '../records.js'
import { quoteOf } from '../quote.js'
import { idleSince, isProved, LETS_AIR_IN, remediesOf } from '../remedies.js'
import { type UnmeteredAir, visitLedger } from '../unmetered.js'
import { codesOfOurs, doneLines, openWork, sealLines } from './done.js'
import { foundLines } from './found.js'
import { advice, isAir, isNamed, leftLines } from './left.js'
import { pictureOf, type Picture } from './picture.js'
import { plainLine } from './plain.js'
import { avoidedLines, priceOf, type SheetPrice } from './price.js'
import { technicalOf, type Technical } from './technical.js'
import { cap, line } from '../words.js'

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
  /** How the newest measured idle stands, each figure against its band. */
  readonly judged?: readonly string[]
  /** Whether that was measured after all that was done, after some of it, before it, or nothing was done; left out, it was after. */
  readonly measured?: 'since' | 'in-part' | 'between' | 'before' | 'nothing-done'
  readonly changes: readonly Change[]
  /** What the changes say taken together, and what else was not the same. */
  readonly proved?: readonly string[]
  readonly unmetered?: { readonly before: UnmeteredAir; readonly after: UnmeteredAir }
  /** With tax, and beside it what was agreed to. */
  readonly price?: SheetPrice
  /** Parts offered elsewhere that were not needed. */
  readonly avoided?: readonly string[]
  /** One figure before and after, for the customer's page. */
  readonly picture?: Picture
  /** The second page. */
  readonly technical?: Technical
  readonly labourMinutes: number
  readonly partsPrice: number
  readonly labourPrice: number
}

/**
 * Composes the sheet of a visit as it stands.
 * @param d - diagnosis of the baseline
 * @param now - diagnosis of the last round; that of the baseline where there is no other
 * @param taxPct - of the shop
 */
export function sheetOf(f: VisitFile, d: Diagnosis, labourPerHour: number, now: Diagnosis = d, taxPct = 0): Sheet {
  const last = lastRound(f)
  const remedies = remediesOf(f)
  const proofs = proofsOf(f)
  const causes = causesOf(f, d, now)
  const judged = judgedIdle(f)
  const account = visitLedger(f)
  const air = isAir(causes)
  // what stands out since may be something else, whatever air was found before
  const isElse = remedies.length > 0 && causes.suspected !== undefined && !LETS_AIR_IN.includes(causes.suspected.fault)
  const sure =
    causes.confirmed.some((x) => LETS_AIR_IN.includes(x)) ||
    isSurelyAir(d) ||
    isSurelyAir(now) ||
    Boolean(account?.entries.length)
  const avoided = avoidedLines(f, now, causes.confirmed)
  const picture = pictureOf(f)
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
    plain: plainLine(f, remedies, causes, judged, now),
    found: foundLines(f, d, causes, judged),
    done: [...doneLines(remedies, proofs), ...reachedLines(f).done, ...sealLines(f), ...openWork(f), ...codesOfOurs(f)],
    left: [
      ...leftLines(f, account?.accounted === false && air && !isElse ? (sure ? 'is' : 'may be') : undefined),
      ...(remedies.length && isProved(f) ? deadSaid(now) : []),
    ],
    advised: advice(f),
    ...gainOf(f, now),
    judged: judged.map((j) => `${cap(j.label)} ${j.words}.`),
    measured: !remedies.length ? 'nothing-done' : idleSince(f),
    ...(last > 0 && remedies.length ? provedOf(f, last) : { changes: [] }),
    unmetered: account && last > 0 ? { before: account.before, after: account.now } : undefined,
    price: priceOf(f, labourPerHour, taxPct),
    ...(avoided.length ? { avoided } : {}),
    ...(picture ? { picture } : {}),
    technical: technicalOf(f, d, now, isNamed(causes) && !air ? 'is not' : sure && !isElse ? 'is' : 'may be'),
    labourMinutes,
    partsPrice: remedies.reduce((s, r) => s + r.partsPrice, 0),
    labourPrice: ((quoteOf(f)?.labourPerHour ?? labourPerHour) * labourMinutes) / 60,
  }
}

const IDLE_TITLES = {
  since: 'its warm idle as it leaves',
  between: 'its warm idle before the last of the work; not measured since',
  before: 'its warm idle before the work; not measured since',
  'in-part': 'its warm idle before the work; measured since only in part',
  'nothing-done': 'its warm idle as measured',
} as const

/** What stands over the figures of the idle: as it leaves only where it was measured after all that was done. */
export const idleTitle = (s: Sheet): string => IDLE_TITLES[s.measured ?? 'since']

/** What stands over the figures that were read twice: before and after only where it was measured after all that was done. */
export const changesTitle = (s: Sheet): string =>
  s.measured === 'between'
    ? 'before the work and before the last of it, same points'
    : s.measured === 'before'
      ? 'first and last, same points'
      : 'before and after, same points'

/** The first round against the last: each figure, what they say together, and what else was not the same between the two. */
function provedOf(f: VisitFile, last: number): Pick<Sheet, 'changes' | 'proved'> {
  const proof = proofBetween(f, 0, last)
  return { changes: proof.changes, proved: provedLines(f, proof, 0, last) }
}

/** What a service could bring on a car that nothing was done to; nobody is sold one that brings nothing. */
function gainOf(f: VisitFile, d: Diagnosis): Pick<Sheet, 'gain'> {
  const gain = remediesOf(f).length ? undefined : expectedGain(f, d)
  return gain?.nothing ? { gain: gain.sentences } : {}
}

function cameWith(f: VisitFile): string[] {
  return live(f.codes)
    .filter((c) => c.when === 'before')
    .map((c) => line(`code ${c.code}, ${c.state}${codeWords(c.code) ? `: ${codeWords(c.code)}` : ''}`))
}
