import { describe, expect, it } from '@jest/globals'
import { calendarOf, csvCell } from './calendar.js'
import { historyRow, nextLook, type HistoryRow } from './history.js'
import { idleOf, repairAt, stepAt, visitOf } from './remedies.fixture.js'

const row = (month: number, km: number, used: number, part: Partial<HistoryRow> = {}): HistoryRow => ({
  visitId: `v${month}`,
  openedAt: new Date(Date.UTC(2025, month, 1)).toISOString(),
  odometerKm: km,
  state: 'handed-over',
  complaint: '',
  figures: { 'idle-used': used },
  done: [],
  parts: [],
  promised: [],
  cleaned: false,
  ...part,
})
const port = { injection: 'port' } as const

describe('a visit in its history', () => {
  it('figures as the car came, what was done, what was promised', () => {
    const f = visitOf({
      readings: idleOf(0, { trim: 22, maf: 2.4 }),
      repairs: [repairAt('duct', 0)],
      steps: [stepAt({ station: 'throttle' })],
    })
    const h = historyRow(f)
    expect(h.figures.trim).toBeCloseTo(22, 6)
    expect(h.figures['idle-used']).toBeGreaterThan(0)
    expect(h.figures['air-ratio']).toBeGreaterThan(30)
    expect(h.done).toHaveLength(2)
    expect(h.cleaned).toBe(true)
    expect(historyRow(visitOf()).figures).toEqual({})
  })
})

describe('the next look', () => {
  it('by trend: where idle control comes to its end', () => {
    // 2 % of its range more every 5,000 km, from 40: 85 is 37,500 km beyond the last
    const look = nextLook([row(0, 100_000, 40), row(3, 105_000, 42), row(6, 110_000, 44), row(9, 115_000, 46)], port)
    expect(look.trend!.slope * 5000).toBeCloseTo(2, 9)
    expect(look.atKm).toBe(212_500)
    expect(look.say).toMatch(/4\.0 % more every 10,000 km/)
    expect(look.dueOn).toMatch(/^20\d\d-/)
  })
  it('growth begins anew with a cleaning, and before four visits no trend is told', () => {
    const rows = [row(0, 100_000, 40), row(3, 105_000, 60), row(6, 110_000, 80, { cleaned: true }), row(9, 115_000, 20)]
    const look = nextLook(rows, port)
    expect(look.trend).toBeUndefined()
    expect(look.say).toMatch(/Too few visits for a trend \(1 of 4 since its last cleaning\)/)
  })
  it('no growth, no look', () =>
    expect(
      nextLook(
        [0, 3, 6, 9].map((m) => row(m, 100_000 + 1000 * m, 40)),
        port,
      ),
    ).toMatchObject({
      say: expect.stringMatching(/no look is due by trend/),
    }))
  it('without a trend by engine and driving, never below a sensible distance', () => {
    const km = (
      driving: ('short-trips' | 'dust' | 'oiled-filter' | 'motorway')[],
      injection: 'direct' | 'port' = 'direct',
    ): number => nextLook([row(0, 100_000, 40)], { injection, driving }).atKm! - 100_000
    expect(km([])).toBe(40_000)
    expect(km([], 'port')).toBe(60_000)
    expect(km(['short-trips'])).toBe(24_000)
    expect(km(['motorway'])).toBe(50_000)
    expect(km(['short-trips', 'dust', 'oiled-filter', 'short-trips', 'dust'])).toBe(10_000)
    expect(nextLook([row(0, 100_000, 40)], port).dueOn).toBeUndefined()
  })
  it('a car that nobody has read an odometer of is told a distance', () =>
    expect(nextLook([], port)).toEqual({ say: expect.stringMatching(/after 60,000 km/) }))
})

describe('a calendar', () => {
  const lines = (s: string): string[] => s.split('\r\n')
  const made = calendarOf(
    [{ id: 'a', on: '2026-12-31', summary: 'Vet’s estate; duct, ' + 'long '.repeat(30) }],
    '2026-11-27T10:00:00.000Z',
  )
  it('whole days, ended the day after', () => {
    expect(lines(made)).toEqual(
      expect.arrayContaining(['DTSTART;VALUE=DATE:20261231', 'DTEND;VALUE=DATE:20270101', 'DTSTAMP:20261127T100000Z']),
    )
    expect(made.endsWith('END:VCALENDAR\r\n')).toBe(true)
  })
  it('no line is longer than 75 octets, and unfolded it says what went in', () => {
    for (const l of lines(made)) expect(Buffer.byteLength(l)).toBeLessThanOrEqual(75)
    expect(made.replace(/\r\n /g, '')).toContain('SUMMARY:Vet’s estate\\; duct\\, long long')
  })
})

it('a cell that a spreadsheet would run is quoted', () => {
  expect(['=1+1', '+49', '-3', '@x', '\tx'].map(csvCell)).toEqual(["'=1+1", "'+49", "'-3", "'@x", "'\tx"])
  expect(csvCell('a,"b"')).toBe('"a,""b"""')
  expect([csvCell(undefined), csvCell(12.5), csvCell(NaN)]).toEqual(['', '12.5', ''])
})
