import { actOf, CAUSES, faultOf, inSentence, testInfo, type Diagnosis } from '../diagnosis/index.js'
import { stationInfo } from '../engine/index.js'
import type { Gate, Refusal } from './gate.js'
import { gateOf } from './gate.js'
import { AGREED_HOW, type QuoteLine, type QuoteRecord } from './quoteRecords.js'
import { live, type VisitFile } from './records.js'
import { partsToOrder } from './partsToOrder.js'
import { plannedRepairs, remediesOf, repairWords } from './remedies.js'

/** A cause is worth an offer from this chance on [–], and so many at most. */
const WORTH_OFFERING = 0.1
const CAUSES_MOST = 3
const LINES_MOST = 60

/** What labour, parts and tax come to. */
export interface Totals {
  readonly minutes: number
  readonly labour: number
  readonly parts: number
  readonly tax: number
  readonly total: number
}

/** @param taxPct - on labour and parts [%] */
export function totalsOf(
  lines: readonly Pick<QuoteLine, 'minutes' | 'parts' | 'kind'>[],
  labourPerHour: number,
  taxPct: number,
): Totals {
  const ours = lines.filter((l) => l.kind !== 'elsewhere')
  const minutes = ours.reduce((s, l) => s + l.minutes, 0)
  const labour = (labourPerHour * minutes) / 60
  const parts = ours.reduce((s, l) => s + l.parts.reduce((t, p) => t + p.price, 0), 0)
  const tax = ((labour + parts) * taxPct) / 100
  return { minutes, labour, parts, tax, total: labour + parts + tax }
}

/** The quote that counts: the newest. */
export const quoteOf = (f: VisitFile): QuoteRecord | undefined => live(f.quotes ?? []).at(-1)

/**
 * What is offered by itself, to be edited: the next test, what is planned, and the likeliest causes that nothing planned
 * answers, each with the chance that it is the cure; then the parts that are missing or doubtful, for the shop to price and number.
 * Minutes of a cause are ours, its parts are for the shop to name.
 * @param d - diagnosis of the last round
 */
export function proposedLines(f: VisitFile, d: Diagnosis): QuoteLine[] {
  const next = d.nextTests.at(0)
  const tests: QuoteLine[] = next
    ? [{ id: `test-${next.test}`, kind: 'test', words: testInfo(next.test).label, minutes: next.minutes, parts: [] }]
    : []
  const planned = plannedRepairs(f).map((r): QuoteLine => ({
    id: `repair-${r.id}`.slice(0, 100),
    kind: 'remedy',
    words: repairWords(r),
    minutes: r.minutes,
    parts:
      r.partsPrice > 0
        ? [
            {
              name: r.station === 'beyond' ? 'part beyond the air path' : `for the ${stationInfo(r.station).label}`,
              price: r.partsPrice,
            },
          ]
        : [],
  }))
  const causes = d.ranking
    .filter((r) => r.fault !== 'none' && r.probability >= WORTH_OFFERING)
    .slice(0, CAUSES_MOST)
    .map((r): QuoteLine => ({
      id: `cause-${r.fault}`,
      kind: 'remedy',
      words: `${faultOf(r.fault).label}, if that is it: ${toMend(actOf(r.fault, f.vehicle.spec))}`,
      minutes: CAUSES[r.fault].wrongRemedyMinutes,
      parts: [],
      cause: r.fault,
      chance: r.probability,
    }))
  const missing = partsToOrder(f, [], f.visit.openedAt.slice(0, 10)).filter((p) => p.state !== 'have')
  const parts: QuoteLine[] = missing.length
    ? [
        {
          id: 'parts-needed',
          kind: 'remedy',
          words: 'Parts to put it back together',
          minutes: 0,
          parts: missing.map((p) => ({ name: `${p.count} × ${p.words}`.slice(0, 80), price: 0 })),
        },
      ]
    : []
  return [...tests, ...(planned.length ? planned : causes), ...parts]
}

/** Ids of lines that are proposed; others were written by hand, and stay. */
const PROPOSED = /^(test|repair|cause)-|^parts-needed$/

/**
 * A quote's lines as what is known by now would have them; undefined where they are so. What was typed into a line that still stands
 * is kept, its chance is that of now.
 *
 * @param d - diagnosis of the last round
 */
export function linesByNow(f: VisitFile, d: Diagnosis, lines: readonly QuoteLine[]): readonly QuoteLine[] | undefined {
  const now = proposedLines(f, d).map((p) => {
    const kept = lines.find((l) => l.id === p.id)
    return kept ? { ...kept, ...(p.chance === undefined ? {} : { chance: p.chance }) } : p
  })
  const next = [...now, ...lines.filter((l) => !PROPOSED.test(l.id))]
  const told = (l: QuoteLine): string => `${l.id} ${((l.chance ?? 0) * 100).toFixed(0)}`
  return now.length && next.map(told).join() !== lines.map(told).join() ? next : undefined
}

/** What a cause asks for, as work that is offered: that the intake is left alone the customer need not agree to. */
function toMend(act: string): string {
  const what = inSentence(act.replace('; leave the intake alone', ''))
  return /clean|teach|own bank/.test(what) ? what : `${what}, and mend it`
}

/** What a line costs if it is not the cure, by the chance that it is not; undefined where no chance is known. */
export const missCost = (l: QuoteLine, labourPerHour: number): number | undefined =>
  l.chance === undefined
    ? undefined
    : (1 - l.chance) * ((labourPerHour * l.minutes) / 60 + l.parts.reduce((s, p) => s + p.price, 0))

const text = (x: unknown, most: number): x is string => typeof x === 'string' && x.trim().length > 0 && x.length <= most
const amount = (x: unknown, most: number): x is number => typeof x === 'number' && x >= 0 && x <= most

/** What is wrong with the lines of a quote, in words that name the line; undefined when nothing is. */
export function quoteProblem(input: unknown): string | undefined {
  if (!Array.isArray(input) || !input.length) return 'A quote of nothing: it needs a line at least.'
  if (input.length > LINES_MOST) return `A quote has at most ${LINES_MOST} lines.`
  const lines = input as Partial<QuoteLine>[]
  for (const [i, l] of lines.entries()) {
    const n = `Line ${i + 1}`
    if (typeof l !== 'object' || l === null || !text(l.id, 100)) return `${n} needs an id.`
    if (!text(l.words, 160)) return `${n} needs its words, 1 to 160 letters.`
    if (!['test', 'remedy', 'elsewhere'].includes(l.kind!)) return `${n} must be a test, a remedy or offered elsewhere.`
    if (!amount(l.minutes, 6000)) return `${n}: minutes are 0 to 6000.`
    if (!Array.isArray(l.parts) || l.parts.length > 40) return `${n} has at most 40 parts.`
    for (const p of l.parts as unknown as Record<string, unknown>[]) {
      if (typeof p !== 'object' || p === null || !text(p.name, 80)) return `${n}: each part needs its name.`
      if (p.number !== undefined && !text(p.number, 60)) return `${n}: a part number has 1 to 60 letters.`
      if (!amount(p.price, 1e6)) return `${n}: the price of ${p.name} must be 0 to 1,000,000.`
    }
    if (l.cause !== undefined && !(l.cause in CAUSES)) return `${n}: its cause is not known.`
    if (l.chance !== undefined && !amount(l.chance, 1)) return `${n}: its chance is 0 to 1.`
  }
  const nothing = lines.every((l) => l.kind !== 'elsewhere' && !l.minutes && !l.parts!.some((p) => p.price > 0))
  if (nothing) return 'A quote of nothing: no line has minutes or a price.'
  return new Set(lines.map((l) => l.id)).size === lines.length ? undefined : 'Two lines have the same id.'
}

/** What is wrong with an agreement. @param lines - of its quote */
export function agreedProblem(input: unknown, lines: readonly { readonly id: string }[]): string | undefined {
  if (input === null || input === undefined) return undefined
  const a = input as Record<string, unknown>
  if (typeof input !== 'object' || !text(a.by, 80)) return 'Say who agreed, 1 to 80 letters.'
  if (!(AGREED_HOW as readonly unknown[]).includes(a.how))
    return `How it was agreed must be one of: ${AGREED_HOW.join(', ')}.`
  if (typeof a.at !== 'string' || Number.isNaN(Date.parse(a.at))) return 'Say when it was agreed.'
  if (!Array.isArray(a.lines) || !a.lines.length) return 'An agreement names at least one line.'
  return a.lines.every((id) => lines.some((l) => l.id === id))
    ? undefined
    : 'An agreement names lines of its own quote.'
}

/** What was agreed to, added up; undefined without an agreement. */
export function agreedTotals(f: VisitFile): Totals | undefined {
  const q = quoteOf(f)
  if (!q?.agreed) return undefined
  const { lines } = q.agreed
  return totalsOf(
    q.lines.filter((l) => lines.includes(l.id)),
    q.labourPerHour,
    q.taxPct,
  )
}

/** What was worked, at the shop's hour or the quote's. */
export function workedTotals(f: VisitFile, labourPerHour: number, taxPct: number): Totals {
  const q = quoteOf(f)
  const remedies = remediesOf(f)
  const minutes = remedies.reduce((s, r) => s + r.minutes, 0)
  const parts = remedies.reduce((s, r) => s + r.partsPrice, 0)
  const labour = ((q?.labourPerHour ?? labourPerHour) * minutes) / 60
  const tax = ((labour + parts) * (q?.taxPct ?? taxPct)) / 100
  return { minutes, labour, parts, tax, total: labour + parts + tax }
}

/** Whether work may begin: where a quote was made, somebody has agreed to it. */
export function mayWork(f: VisitFile, at?: string): Gate {
  const q = quoteOf(f)
  if (!q || (q.agreed && (at === undefined || q.agreed.at <= at))) return gateOf([])
  return gateOf([NOT_AGREED])
}
const NOT_AGREED: Refusal = {
  rule: 'not-agreed',
  message: 'The quote is not agreed to yet: what was not agreed is not done. Enter who agreed, on Hand over.',
}

/** What was worked beyond what was agreed: half of a unit of money is no difference. */
export function beyondAgreed(f: VisitFile): Refusal[] {
  const agreed = agreedTotals(f)
  const q = quoteOf(f)
  if (q && !q.agreed && remediesOf(f).length) return [NOT_AGREED]
  if (!agreed || !q) return []
  const worked = workedTotals(f, q.labourPerHour, q.taxPct)
  return worked.total > agreed.total + 0.5
    ? [
        {
          rule: 'beyond-agreed',
          message: `Worked for ${worked.total.toFixed(2)}, agreed to ${agreed.total.toFixed(2)}. Put what is more into the quote and have it agreed, or take it off.`,
        },
      ]
    : []
}

/** Chance below which a part that somebody offered elsewhere was not what was wrong [–]. */
const NOT_IT = 0.05

/** Parts offered elsewhere that this visit has found not to be what is wrong, and what they would have cost. */
export function avoidedParts(f: VisitFile, now: Diagnosis, confirmed: readonly string[]): readonly QuoteLine[] {
  const q = quoteOf(f)
  const other = confirmed.length > 0
  return (q?.lines ?? []).filter((l) => {
    if (l.kind !== 'elsewhere' || !l.cause || confirmed.includes(l.cause)) return false
    const chance = now.ranking.find((r) => r.fault === l.cause)?.probability ?? 0
    return other && chance < NOT_IT
  })
}
