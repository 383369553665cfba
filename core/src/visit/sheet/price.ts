import type { Diagnosis } from '../../diagnosis/index.js'
import { agreedTotals, avoidedParts, quoteOf, workedTotals } from '../quote.js'
import type { VisitFile } from '../records.js'
import { line } from '../words.js'

/** What the visit comes to, and what was agreed beforehand. */
export interface SheetPrice {
  readonly taxPct: number
  readonly tax: number
  readonly total: number
  readonly agreed?: { readonly total: number; readonly by: string; readonly at: string; readonly how: string }
}

/** @param taxPct - of the shop, where no quote has its own */
export function priceOf(f: VisitFile, labourPerHour: number, taxPct: number): SheetPrice {
  const q = quoteOf(f)
  const worked = workedTotals(f, labourPerHour, taxPct)
  const agreed = agreedTotals(f)
  return {
    taxPct: q?.taxPct ?? taxPct,
    tax: worked.tax,
    total: worked.total,
    ...(agreed && q?.agreed
      ? { agreed: { total: agreed.total, by: q.agreed.by, at: q.agreed.at, how: q.agreed.how } }
      : {}),
  }
}

/** Parts that were offered elsewhere and that the readings after the work do not ask for. */
export const avoidedLines = (f: VisitFile, now: Diagnosis, confirmed: readonly string[]): string[] =>
  avoidedParts(f, now, confirmed).map((l) => {
    const price = l.parts.reduce((s, p) => s + p.price, 0)
    const names = l.parts.map((p) => p.name).join(', ')
    return line(`not needed: ${names || l.words}, offered elsewhere${price > 0 ? ` for ${price.toFixed(2)}` : ''}`)
  })
