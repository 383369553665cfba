import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import type { OwnProcedure, VisitFile } from '@uvula/core'
import type { VehicleCard } from '@uvula/contract'
import { Harness } from './harness.fixture.js'

const server = new Harness()
const { call } = server
const put = (path: string, data: object, more?: { readonly baseVersion?: number }) => server.put(path, data, more)
beforeAll(() => server.open(), 60_000)
afterAll(() => server.close())

const own: OwnProcedure = {
  format: 'uvula-procedure',
  formatVersion: 1,
  id: 'own-1',
  label: 'Stops of the throttle',
  kind: 'teach',
  why: '',
  source: 'workshop book',
  sourceDate: '2026-11-20',
  preconditions: [],
  steps: [{ say: 'key on', rule: { kind: 'at-least', seconds: 3 } }],
}
const text = async (path: string): Promise<string> => (await fetch(server.base + path)).text()

describe('a procedure of the shop’s own', () => {
  it('is kept, listed, and taken off', async () => {
    expect((await put('/api/procedures/own-1', { value: own })).status).toBe(200)
    const list = (await call('GET', '/api/procedures')).body as unknown as { value: OwnProcedure }[]
    expect(list.map((p) => p.value)).toEqual([own])
    expect((await put('/api/procedures/own-1', { value: own, deleted: true }, { baseVersion: 1 })).status).toBe(200)
    expect((await call('GET', '/api/procedures')).body).toEqual([])
  })
  it('a wrong one is refused with its step; nothing is kept', async () => {
    const wrong = { ...own, steps: [...own.steps, { say: 'x', rule: { kind: 'count', times: 9, withinS: 1 } }] }
    const answer = await put('/api/procedures/own-1', { value: wrong }, { baseVersion: 2 })
    expect(answer.status).toBe(400)
    expect(answer.body.detail).toMatch(/Step 2 waits for the impossible/)
    expect((await put('/api/procedures/other', { value: own })).body.detail).toMatch(/written under, other/)
  })
  const run = (part: object): object => ({
    visitId: 'visit-warden',
    procedure: 'own-1',
    attempt: 1,
    preconditions: ['selector', 'extraction'],
    events: [],
    ...part,
  })
  it('a run holds the procedure that it is judged by, whatever becomes of it later', async () => {
    expect((await put('/api/runs/w1', run({ own, reset: ['idle'] }))).status).toBe(200)
    const { runs } = (await call('GET', '/api/visits/visit-warden')).body as unknown as VisitFile
    expect(runs.find((r) => r.id === 'w1')).toMatchObject({ own, reset: ['idle'] })
  })
  it('a run of nothing that is known is refused', async () => {
    expect((await put('/api/runs/w2', run({}))).status).toBe(400)
    expect((await put('/api/runs/w3', run({ procedure: 'other', own }))).status).toBe(400)
    expect((await put('/api/runs/w4', run({ own, reset: ['luck'] }))).status).toBe(400)
  })
  it('its standing STOPs hold though its book names none', async () => {
    const events = [{ kind: 'begin', atMs: Date.now() }]
    const answer = await put('/api/runs/w5', run({ own, preconditions: [], events }))
    expect(answer.status).toBe(409)
    expect(answer.body.detail).toMatch(/selector in park or neutral/)
  })
})

describe('a quote', () => {
  const lines = [{ id: 'a', kind: 'remedy', words: 'duct', minutes: 30, parts: [{ name: 'duct', price: 40 }] }]
  const quote = (part: object = {}): object => ({ visitId: 'visit-vet', lines, labourPerHour: 84, taxPct: 0, ...part })
  it('of nothing is refused; with an agreement to lines of another, too', async () => {
    expect((await put('/api/quotes/q', quote({ lines: [] }))).body.detail).toMatch(/quote of nothing/)
    const agreed = { by: 'x', how: 'by phone', at: '2026-01-01T09:00:00Z', lines: ['z'] }
    expect((await put('/api/quotes/q', quote({ agreed }))).body.detail).toMatch(/its own quote/)
  })
  it('goes with its visit; work before anybody agreed is a fact against the rule', async () => {
    expect((await put('/api/quotes/q', quote())).status).toBe(200)
    const repair = {
      visitId: 'visit-vet',
      station: 'duct',
      kind: 'clamp',
      state: 'done',
      afterRound: 0,
      temporary: false,
      minutes: 8,
      partsPrice: 4,
      conditions: [],
    }
    expect((await put('/api/repairs/r', repair)).body.againstRule).toBe('not-agreed')
    const file = (await call('GET', '/api/visits/visit-vet')).body as unknown as VisitFile
    expect(file.quotes).toMatchObject([{ lines }])
    expect(file.quotes[0].agreed ?? null).toBeNull()
  })
})

describe('tanks, due dates, the table', () => {
  const card = async (): Promise<VehicleCard> =>
    (await call('GET', `/api/vehicles/${encodeURIComponent(await carId())}/card`)).body as unknown as VehicleCard
  const carId = async (): Promise<string> =>
    ((await call('GET', '/api/visits/visit-lift')).body as unknown as VisitFile).vehicle.id
  it('a fill stands on the car’s card; one that runs backwards or of −3 L does not', async () => {
    const vehicleId = await carId()
    const fill = (on: string, odometerKm: number, litres: number): object => ({
      vehicleId,
      on,
      odometerKm,
      litres,
      full: true,
    })
    expect((await put('/api/fills/f1', fill('2026-09-01', 204_000, 60))).status).toBe(200)
    expect((await put('/api/fills/f2', fill('2026-09-10', 203_000, 60))).body.detail).toMatch(/runs backwards/)
    expect((await put('/api/fills/f3', fill('2026-09-10', 204_600, -3))).status).toBe(400)
    expect((await put('/api/fills/f4', { ...fill('2026-09-10', 204_600, 60), vehicleId: 'nobody' })).status).toBe(404)
    expect((await card()).fills.map((f) => f.id)).toEqual(['f1'])
  })
  it('the card tells its history oldest first, and its next look', async () => {
    const { history, nextLook } = await card()
    expect(history.map((h) => h.visitId)).toEqual(['visit-lift-spring', 'visit-lift'])
    expect(history[0].promised[0]).toMatch(/booster hose again/)
    expect(nextLook.say).toMatch(/Too few visits/)
  })
  it('what is due comes as a calendar', async () => {
    const ics = await text(`/api/vehicles/${encodeURIComponent(await carId())}/calendar.ics`)
    expect(ics).toMatch(/^BEGIN:VCALENDAR\r\n/)
    expect(ics.replace(/\r\n /g, '')).toMatch(/SUMMARY:.*booster hose\\, mended for now only/)
  })
  it('every visit is a row, and no cell runs in a spreadsheet', async () => {
    const file = (await call('GET', '/api/visits/visit-vet')).body as unknown as VisitFile
    const { id, version, receivedAt: _, ...visit } = file.visit as unknown as Record<string, unknown>
    await put(
      `/api/visits/${String(id)}`,
      { ...visit, complaint: '=HYPERLINK("x")' },
      { baseVersion: version as number },
    )
    const rows = (await text('/api/visits.csv')).trim().split('\r\n')
    const { n } = (await server.rows<{ n: number }>('SELECT CAST(count(*) AS integer) AS n FROM visits'))[0]
    expect(rows).toHaveLength(n + 1)
    expect(rows.find((r) => r.includes('HYPERLINK'))).toContain(`"'=HYPERLINK(""x"")"`)
  })
})
