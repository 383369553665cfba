/** @jest-environment jsdom */
import { beforeEach, describe, expect, it, jest } from '@jest/globals'
import { PlayedServer } from '../../test/browser.js'
import { fireEvent, screen, waitFor } from '@testing-library/react'
import { diagnoseVisit, idleChannels, type ReadingRecord, type RepairRecord, type VisitFile } from '@uvula/core'
import type { Shop } from '@uvula/contract'
import { drawOnVisit } from '../../test/draw.js'
import { keepsAll, may, say, tap, written } from '../../test/hand.js'
import { aVisit } from '../../test/visit.fixture.js'

jest.mock('../../workers/heart.js', () => ({
  useDiagnosis: (file: VisitFile, round: number) => ({ diagnosis: diagnoseVisit(file, round), busy: false }),
}))
const { HandOver } = jest.requireActual<typeof import('./HandOver.js')>('./HandOver.js')

const server = new PlayedServer()
const shop = { name: 'Pass workshop', labourPerHour: 60, currency: 'crowns', partsDays: [5] } as unknown as Shop
const meta = { version: 1, by: 'R', at: '2026-01-01T09:00:00Z' }
const idle = (round: number, trim: number): ReadingRecord[] => {
  const values: Record<string, number> = { rpm: 700, maf_gs: 2.2, stft1_pct: 0, ltft1_pct: trim, throttle_pct: 2 }
  return idleChannels(aVisit().vehicle.spec)
    .filter((id) => id in values)
    .map((channel) => ({
      ...meta,
      id: `v:${round}:idle:${channel}`,
      visitId: 'v',
      round,
      slot: 'idle',
      channel,
      value: values[channel],
      typed: '',
    }))
}
const wrap: RepairRecord = {
  ...meta,
  id: 'r',
  visitId: 'v',
  station: 'duct',
  kind: 'wrap',
  state: 'done',
  afterRound: 0,
  temporary: true,
  recheckOn: '2026-01-15',
  minutes: 12,
  partsPrice: 6,
  conditions: ['dry', 'clean', 'stretched'],
}
const draw = (part: Partial<VisitFile>): void =>
  void drawOnVisit(aVisit(part), (file) => <HandOver file={file} shop={shop} />)
const sheet = (): string => screen.getByRole('article', { name: 'sheet' }).textContent

beforeEach(() => keepsAll(server))

describe('the sheet on its bench', () => {
  it('is issued by one tap when what was done is proved', async () => {
    draw({ readings: [...idle(0, 18), ...idle(1, 1)], repairs: [wrap] })
    expect(may('issue the sheet')).toBe(true)
    expect(sheet()).toContain('Duct wrapped (temporary) (12 min, parts 6.00).')
    expect(sheet()).toContain('labour 12 min 12.00 · parts 6.00 · together 18.00 crowns')
    expect(sheet()).toContain('Look at the duct again by 2026-01-15: the wrap is temporary.')
    tap('issue the sheet')
    expect(await written(server, 'reports')).toMatchObject([{ visitId: 'v' }])
  })
  it('waits for the proof; a word lets it go without, and it says so', async () => {
    draw({ readings: idle(0, 18), repairs: [wrap] })
    expect(may('issue the sheet')).toBe(false)
    expect(screen.getByText(/^Not measured again since: duct wrapped/, { selector: 'aside p' })).toBeTruthy()
    tap('without proof: the sheet says so')
    await waitFor(() => expect(may('issue the sheet')).toBe(true))
    expect(sheet()).toContain('The engine has not been measured again since.')
    expect(sheet()).toContain('whether it helped is not known')
    expect(await written(server, 'ticks')).toMatchObject([{ caution: 'issue-unproved', by: 'Technician' }])
  })
  it('without any work it names what was found, and charges nothing', () => {
    draw({ readings: idle(0, 0) })
    expect(sheet()).toContain('together 0.00 crowns')
    expect(sheet()).toMatch(/None of the \d+ looks along the intake was made/)
    expect(screen.queryByRole('button', { name: /without proof/ })).toBeNull()
  })
  it('an issued one stays as it was, whatever is written later', () => {
    const issued = {
      title: 'test car',
      plate: 'T 1',
      customer: '',
      engine: 'four',
      place: '0 m',
      complaint: 'hisses',
      plain: 'As it was issued.',
      found: [],
      done: [],
      left: [],
      advised: [],
      changes: [],
      labourMinutes: 0,
      partsPrice: 0,
      labourPrice: 0,
    }
    draw({
      readings: [...idle(0, 18), ...idle(1, 1)],
      repairs: [wrap],
      reports: [{ ...meta, id: 's', visitId: 'v', number: 1, issuedAt: meta.at, receivedAt: meta.at, sheet: issued }],
    })
    expect(sheet()).toContain('As it was issued.')
    expect(sheet()).not.toContain('Duct wrapped')
    expect(screen.getByRole('link', { name: 'PDF' }).getAttribute('href')).toBe('/api/reports/s/pdf')
    expect(may('issue an amendment')).toBe(true)
  })
})

describe('the quote', () => {
  const line = {
    id: 'a',
    kind: 'remedy' as const,
    words: 'new duct',
    minutes: 30,
    parts: [{ name: 'duct', price: 40 }],
  }
  const quote = (agreedBy?: string): VisitFile['quotes'] => [
    {
      ...meta,
      id: 'q',
      visitId: 'v',
      lines: [
        line,
        { ...line, id: 'b', words: 'sensor cleaned', parts: [], minutes: 10, chance: 0.7, cause: 'maf-under-reads' },
      ],
      labourPerHour: 60,
      taxPct: 20,
      ...(agreedBy
        ? { agreed: { by: agreedBy, how: 'by phone' as const, at: '2026-01-01T08:00:00Z', lines: ['a'] } }
        : {}),
    },
  ]
  const toQuote = (part: Partial<VisitFile>): void => {
    draw(part)
    const tab = screen.getByRole('tab', { name: 'the quote' })
    fireEvent.mouseDown(tab, { button: 0 })
    fireEvent.focus(tab)
  }
  it('is made from what is known, with the chance that each line is the cure', async () => {
    toQuote({ readings: idle(0, 18) })
    tap('make a quote from what is known')
    const [q] = await written(server, 'quotes')
    const lines = q.lines as { chance?: number }[]
    expect(lines.some((l) => l.chance !== undefined && l.chance > 0.1)).toBe(true)
    expect(q).toMatchObject({ visitId: 'v', labourPerHour: 60, agreed: null })
  })
  it('a price that is none is named at its line, and nothing is sent', async () => {
    toQuote({ quotes: quote() })
    say('line 1: price of part 1', 'much')
    expect(screen.getByRole('alert').textContent).toBe('Line 1: the price of duct must be 0 to 1,000,000.')
    expect(server.writes).toHaveLength(0)
    say('line 1: price of part 1', '55,5')
    expect((await written(server, 'quotes'))[0]).toMatchObject({
      lines: [{ parts: [{ price: 55.5 }] }, {}],
      agreed: null,
    })
  })
  it('is agreed to line by line, by somebody', async () => {
    toQuote({ quotes: quote() })
    expect(may('agreed')).toBe(false)
    fireEvent.change(screen.getByRole('textbox', { name: 'agreed by' }), { target: { value: 'Dr Amsel' } })
    fireEvent.click(screen.getByRole('checkbox', { name: '2 sensor cleaned' }))
    tap('agreed')
    const [q] = await written(server, 'quotes')
    expect(q.agreed).toMatchObject({ by: 'Dr Amsel', how: 'by phone', lines: ['a'] })
    await waitFor(() => expect(screen.getByText('Agreed to')).toBeTruthy())
  })
  it('its last line stays', () => {
    toQuote({ quotes: [{ ...quote()[0], lines: [line] }] })
    tap('take line 1 off')
    expect(screen.getByRole('alert').textContent).toMatch(/^A quote of nothing/)
  })
  it('stands on the sheet with its word; more than was agreed holds the sheet back', () => {
    draw({ readings: [...idle(0, 18), ...idle(1, 1)], repairs: [{ ...wrap, minutes: 20 }], quotes: quote('Dr Amsel') })
    expect(sheet()).toContain('tax 20 % 5.20 · together 31.20 crowns')
    expect(sheet()).toContain('agreed to by Dr Amsel, by phone')
    expect(may('issue the sheet')).toBe(true)
    document.body.innerHTML = ''
    draw({ readings: [...idle(0, 18), ...idle(1, 1)], repairs: [{ ...wrap, minutes: 200 }], quotes: quote('Dr Amsel') })
    expect(may('issue the sheet')).toBe(false)
    expect(screen.getByText(/^Worked for 247\.20, agreed to 84\.00/)).toBeTruthy()
  })
})

it('the customer’s page shows one figure before and after; the technician’s the readings, causes and tests', () => {
  draw({ readings: [...idle(0, 18), ...idle(1, 1)], repairs: [wrap] })
  const page = (name: string): string => screen.getByRole('region', { name }).textContent
  expect(screen.getByRole('figure').getAttribute('aria-label')).toMatch(
    /fuel correction at idle: 18\.0 before, 1\.0 after/,
  )
  expect(page('customer’s page')).not.toMatch(/total trim/)
  expect(page('technician’s page')).toMatch(/total trim.*better/)
  expect(page('technician’s page')).toMatch(/causes, of 100/)
})
