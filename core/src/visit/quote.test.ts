import { describe, expect, it } from '@jest/globals'
import { diagnoseVisit } from './evidence.js'
import { checkRepair, mayIssueReport } from './gates.js'
import {
  agreedProblem,
  agreedTotals,
  avoidedParts,
  beyondAgreed,
  linesByNow,
  mayWork,
  missCost,
  proposedLines,
  quoteProblem,
  totalsOf,
} from './quote.js'
import type { QuoteLine, QuoteRecord } from './quoteRecords.js'
import type { VisitFile } from './records.js'
import type { FaultId } from '../diagnosis/index.js'
import type { Vehicle } from '../engine/index.js'
import { at, idleOf, holdOf, repairAt, visitOf } from './remedies.fixture.js'
import { sheetOf } from './sheet/sheet.js'

const line = (part: Partial<QuoteLine> = {}): QuoteLine => ({
  id: 'a',
  kind: 'remedy',
  words: 'new duct',
  minutes: 30,
  parts: [{ name: 'duct', number: 'D 12', price: 40 }],
  ...part,
})
const quote = (lines: readonly QuoteLine[], agreedAt?: string, part: Partial<QuoteRecord> = {}): QuoteRecord => ({
  id: 'q',
  version: 1,
  by: 'R',
  at: at(5),
  visitId: 'v',
  lines,
  labourPerHour: 60,
  taxPct: 20,
  agreed: agreedAt ? { by: 'Ms Vet', at: agreedAt, how: 'by phone', lines: lines.map((l) => l.id) } : null,
  ...part,
})
const leaky = (part: Partial<VisitFile> = {}): VisitFile =>
  visitOf({ readings: [...idleOf(0, { trim: 22, maf: 2 }), ...holdOf(0, 4, 8)], ...part })

describe('what it comes to', () => {
  it('labour by the hour, parts, tax on both', () =>
    expect(totalsOf([line(), line({ id: 'b', minutes: 60, parts: [] })], 60, 20)).toEqual({
      minutes: 90,
      labour: 90,
      parts: 40,
      tax: 26,
      total: 156,
    }))
  it('what somebody else offered costs nothing here', () =>
    expect(totalsOf([line({ kind: 'elsewhere' })], 60, 20).total).toBe(0))
  it('a miss costs the line, by the chance that it is one', () => {
    expect(missCost(line({ chance: 0.75 }), 60)).toBeCloseTo(0.25 * 70, 12)
    expect(missCost(line(), 60)).toBeUndefined()
  })
})

describe('what is offered by itself', () => {
  it('the likeliest causes with their chances, dearest test first left to the hand', () => {
    const f = leaky()
    const lines = proposedLines(f, diagnoseVisit(f, 0))
    expect(quoteProblem(lines)).toBeUndefined()
    const causes = lines.filter((l) => l.chance !== undefined)
    expect(causes.length).toBeGreaterThan(0)
    expect(causes.every((l) => l.chance! >= 0.1)).toBe(true)
  })
  it('what is planned stands instead of them', () => {
    const f = leaky({ repairs: [{ ...repairAt('duct', 0), state: 'planned' }] })
    const remedies = proposedLines(f, diagnoseVisit(f, 0)).filter((l) => l.kind === 'remedy')
    expect(remedies).toHaveLength(1)
    expect(remedies[0].chance).toBeUndefined()
  })
})

it('what is missing or doubtful is offered by name, to be priced', () => {
  const bolt = (arrival: 'missing' | 'present') => ({
    ...{ id: 'i', version: 1, by: 'R', at: at(3), visitId: 'v', station: 'throttle' as const },
    ...{ name: 'M6 bolt', count: 2, state: 'on' as const, arrival, pieces: [] },
  })
  const offered = (arrival: 'missing' | 'present') => {
    const f = leaky({ items: [bolt(arrival)] as never })
    return proposedLines(f, diagnoseVisit(f, 0)).find((l) => l.id === 'parts-needed')
  }
  expect(offered('missing')).toMatchObject({
    minutes: 0,
    parts: [{ name: expect.stringMatching(/M6 bolt/), price: 0 }],
  })
  expect(offered('present')).toBeUndefined()
})

it('a quote that is none is named', () => {
  expect(quoteProblem([])).toMatch(/quote of nothing/)
  expect(quoteProblem([line({ minutes: 0, parts: [] })])).toMatch(/quote of nothing/)
  expect(quoteProblem([line({ minutes: NaN })])).toMatch(/Line 1: minutes/)
  expect(quoteProblem([line(), line({ id: 'b', parts: [{ name: 'x', price: -3 }] })])).toMatch(/Line 2: the price of x/)
  expect(quoteProblem([line(), line()])).toMatch(/same id/)
  expect(quoteProblem([line({ cause: 'gremlins' as never })])).toMatch(/cause is not known/)
  expect(agreedProblem({ by: '', how: 'by phone', at: at(1), lines: ['a'] }, [line()])).toMatch(/who agreed/)
  expect(agreedProblem({ by: 'x', how: 'by owl', at: at(1), lines: ['a'] }, [line()])).toMatch(/in person/)
  expect(agreedProblem({ by: 'x', how: 'by phone', at: at(1), lines: ['z'] }, [line()])).toMatch(/its own quote/)
})

describe('what was not agreed is not done', () => {
  const mended = { ...repairAt('duct', 0), minutes: 30, partsPrice: 40 }
  it('without a quote nothing is asked; with one, somebody has to agree first', () => {
    expect(mayWork(leaky()).ok).toBe(true)
    expect(mayWork(leaky({ quotes: [quote([line()])] })).ok).toBe(false)
    expect(mayWork(leaky({ quotes: [quote([line()], at(6))] }), at(10)).ok).toBe(true)
    // work that was done before the word
    const early = leaky({ quotes: [quote([line()], at(50))] })
    expect(checkRepair(early, mended).map((r) => r.rule)).toContain('not-agreed')
  })
  it('to leave a find as it is needs no word', () => {
    const f = leaky({ quotes: [quote([line()])] })
    expect(checkRepair(f, { ...mended, kind: 'leave' }).map((r) => r.rule)).not.toContain('not-agreed')
  })
  it('worked for more than was agreed: the sheet waits, and both figures are said', () => {
    const f = leaky({ quotes: [quote([line()], at(6))], repairs: [{ ...mended, partsPrice: 90 }] })
    expect(agreedTotals(f)!.total).toBe(84)
    expect(beyondAgreed(f)[0].message).toMatch(/Worked for 144\.00, agreed to 84\.00/)
    const gate = mayIssueReport(f, Date.parse(at(60)))
    expect(gate.ok ? [] : gate.refusals.map((r) => r.rule)).toContain('beyond-agreed')
    expect(beyondAgreed(leaky({ quotes: [quote([line()], at(6))], repairs: [mended] }))).toEqual([])
  })
})

it('a part offered elsewhere is “not bought” only where another cause was confirmed and its own is gone', () => {
  const sensor = line({
    id: 's',
    kind: 'elsewhere',
    cause: 'maf-under-reads',
    parts: [{ name: 'airflow sensor', price: 340 }],
  })
  const after = visitOf({
    readings: [
      ...idleOf(0, { trim: 22, maf: 2 }),
      ...holdOf(0, 4, 8),
      ...idleOf(1, { trim: 0, maf: 2.45 }),
      ...holdOf(1, 0, 8.3),
    ],
    repairs: [repairAt('booster', 0)],
    quotes: [quote([line(), sensor], at(6), { taxPct: 0 })],
  })
  const now = diagnoseVisit(after, 1)
  expect(avoidedParts(after, now, [])).toEqual([])
  const sheet = sheetOf(after, diagnoseVisit(after, 0), 60, now)
  expect(sheet.avoided).toEqual(['Not needed: airflow sensor, offered elsewhere for 340.00.'])
  expect(sheet.price).toMatchObject({ agreed: { by: 'Ms Vet', how: 'by phone', total: 70 } })
  expect(avoidedParts(after, now, ['maf-under-reads'])).toEqual([])
})

describe('a quote that more has been learnt since', () => {
  const f = leaky()
  const d = diagnoseVisit(f, 0)
  it('follows it, and keeps what was typed and what was written by hand', () => {
    const made = proposedLines(f, d)
    expect(linesByNow(f, d, made)).toBeUndefined()
    const [first] = made
    const own = line({ id: 'by-hand', words: 'windscreen washed' })
    const typed = [{ ...first, minutes: 99 }, line({ id: 'cause-none-of-now', words: 'was thought' }), own]
    const next = linesByNow(f, d, typed)!
    expect(next.find((l) => l.id === first.id)?.minutes).toBe(99)
    expect(next.at(-1)).toBe(own)
    expect(next.some((l) => l.id === 'cause-none-of-now')).toBe(false)
    expect(next).toHaveLength(made.length + 1)
  })
})

describe('what is offered by its cause', () => {
  const offered = (fault: FaultId, egrControl?: Vehicle['egrControl']): string => {
    const f = visitOf({}, { egr: 'valve', ...(egrControl ? { egrControl } : {}) })
    const d = diagnoseVisit(f, 0)
    return proposedLines(f, { ...d, ranking: [{ fault, probability: 0.9, sentence: '' }] }).at(-1)!.words
  }
  it.each([
    ['unmetered-air', 'Air let in behind the throttle, if that is it: find the place, and mend it'],
    ['fuel-delivery-low', 'Too little fuel delivered, if that is it: fuel pressure, and mend it'],
    ['maf-under-reads', 'Airflow sensor reads low, if that is it: clean the airflow sensor, once'],
    ['egr-open-at-idle', 'EGR valve leaks at idle, if that is it: hand pump on the EGR valve, and mend it'],
  ] as const)('%s', (fault, words) => {
    expect(offered(fault)).toBe(words)
  })
  it('no hand pump is offered on a valve that a motor moves', () => {
    expect(offered('egr-open-at-idle', 'electric')).toMatch(/: EGR valve off, its seat looked at, and mend it$/)
  })
})
