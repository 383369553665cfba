import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import type { VehicleRecord, VisitFile } from '@uvula/core'
import type { VehicleCard } from '@uvula/contract'
import { Harness, reading } from './harness.fixture.js'

const server = new Harness()
const { call, put } = server
beforeAll(() => server.open(), 60_000)
afterAll(() => server.close())

const VISIT = 'visit-library'
const at = (minutes: number): string => new Date(Date.UTC(2099, 0, 1, 9, minutes)).toISOString()
const file = async (id = VISIT): Promise<VisitFile> =>
  (await call('GET', `/api/visits/${id}`)).body as unknown as VisitFile
const repair = (more: object = {}): object => ({
  visitId: VISIT,
  station: 'duct',
  kind: 'refit',
  state: 'done',
  afterRound: 0,
  temporary: false,
  minutes: 4,
  partsPrice: 0,
  conditions: [],
  by: 'R',
  at: at(10),
  ...more,
})
const typed = (more: object): object => reading(900, { visitId: VISIT, at: at(20), ...more })

describe('a baseline after a remedy', () => {
  const own = `${VISIT}:0:idle:rpm`
  beforeAll(async () => {
    expect((await put('/api/repairs/refit', repair())).status).toBe(200)
  })
  it('is not changed by a number typed later, and says how it can be', async () => {
    const before = (await file()).readings.find((r) => r.id === own)!
    const late = await put(`/api/readings/${encodeURIComponent(own)}`, typed({ value: 900 }), { baseVersion: 1 })
    expect(late.status).toBeGreaterThanOrEqual(400)
    expect(late.body.detail).toMatch(/Correct it by its word/)
    expect((await file()).readings.find((r) => r.id === own)).toEqual(before)
  })
  it('is not taken away either', async () => {
    const gone = await put(`/api/readings/${encodeURIComponent(own)}`, typed({ deleted: true }), { baseVersion: 1 })
    expect(gone.status).toBeGreaterThanOrEqual(400)
    expect((await file()).readings.some((r) => r.id === own && !r.deleted)).toBe(true)
  })
  it('an edit from before the remedy that arrives late is a fact', async () => {
    const early = await put(`/api/readings/${encodeURIComponent(own)}`, typed({ value: 716, at: at(5) }), {
      baseVersion: 1,
    })
    expect([early.status, early.body.value]).toEqual([200, 716])
  })
  it('a correction is taken, marked, and the old value stays in the history', async () => {
    const corrected = await put(`/api/readings/${encodeURIComponent(own)}`, typed({ value: 717, corrected: true }), {
      baseVersion: 2,
    })
    expect(corrected.body).toMatchObject({ value: 717, corrected: true, version: 3 })
    const rows = await server.rows<{ value: string }>(`SELECT value FROM history WHERE "recordId" = '${own}'`)
    expect(rows.map((r) => (JSON.parse(r.value) as { value: number }).value)).toContain(716)
  })
  it('a new figure typed into it is kept, marked, and counted nowhere', async () => {
    const { status, body } = await put(
      '/api/readings/new',
      typed({ slot: 'hold-1500', channel: 'ltft1_pct', value: 9 }),
    )
    expect([status, body.againstRule]).toEqual([200, 'typed-after-remedy'])
  })
  it('the open round takes what is typed', async () => {
    const { status, body } = await put('/api/readings/open', typed({ round: 1, value: 715 }))
    expect([status, body.againstRule]).toEqual([200, undefined])
  })
})

describe('remedies as they are kept', () => {
  it.each(['clamp', 'splice', 'cap', 'reroute', 'leave'])('a find answered by "%s" is taken', async (kind) =>
    expect((await put(`/api/repairs/${kind}`, repair({ kind }))).status).toBe(200),
  )
  it('a surface says which round stood, and a relearn too', async () => {
    const step = {
      visitId: VISIT,
      station: 'airflow-sensor',
      surface: 'airflow-element',
      product: 'airflow-cleaner',
      method: 'off-the-car',
      passed: true,
      afterRound: 1,
    }
    expect((await put('/api/steps/s', step)).body).toMatchObject({ passed: true, afterRound: 1 })
    const run = {
      visitId: VISIT,
      procedure: 'staged-idle-learn',
      attempt: 1,
      preconditions: [],
      events: [],
      afterRound: 1,
    }
    expect((await put('/api/runs/r', run)).body).toMatchObject({ afterRound: 1 })
  })
  it('nothing begins while the air path is open, whoever asks', async () => {
    const run = {
      visitId: 'visit-sawmill',
      procedure: 'key-pedal-relearn',
      attempt: 1,
      preconditions: ['selector', 'consumers', 'steering', 'warm', 'supply'],
      events: [{ kind: 'begin', atMs: Date.now() }],
    }
    const { status, body } = await put('/api/runs/open', run)
    expect(status).toBeGreaterThanOrEqual(400)
    expect(body.detail).toMatch(/Off: 4 × bolt/)
    expect((await file('visit-sawmill')).runs.some((r) => r.id === 'open')).toBe(false)
  })
})

describe('a sheet', () => {
  it('waits for its proof, goes without it by a word, and hands the visit over with its history', async () => {
    await put('/api/repairs/again', repair({ visitId: 'visit-teacher', at: '2026-01-01T10:00:00Z' }))
    const sheet = { visitId: 'visit-teacher', at: '2026-01-01T12:00:00Z' }
    const refused = await put('/api/reports/one', sheet)
    expect(refused.body.detail).toMatch(/Not measured again since: duct refitted/)
    await put('/api/ticks/word', { visitId: 'visit-teacher', caution: 'issue-unproved', at: '2026-01-01T11:00:00Z' })
    const issued = await put('/api/reports/two', sheet)
    expect(issued.status).toBe(200)
    const { plain, left } = issued.body.sheet as { plain: string; left: string[] }
    expect(plain).toMatch(/has not been measured again since/)
    expect(left.join()).toMatch(/whether it helped is not known/)
    const rows = await server.rows<{ value: string }>(`SELECT value FROM history WHERE "recordId" = 'visit-teacher'`)
    expect(rows.map((r) => (JSON.parse(r.value) as { state: string }).state)).toContain('open')
    expect((await file('visit-teacher')).visit.state).toBe('handed-over')
  })
  it('what it left stands on the card of the car, and what was mended for good since is due no more', async () => {
    const { vehicleId } = (await file('visit-lift')).visit
    const card = async (): Promise<VehicleCard> =>
      (await call('GET', `/api/vehicles/${vehicleId}/card`)).body as unknown as VehicleCard
    const before = await card()
    expect(before.left!.lines.join()).toMatch(/Look at the booster hose again/)
    expect(before.temporary.map((t) => t.station)).toEqual(['booster'])
    await put('/api/repairs/for-good', repair({ visitId: 'visit-lift', station: 'booster', kind: 'replace' }))
    expect((await card()).temporary).toEqual([])
  })
  it('a plate is found in any case of its letters', async () => {
    const found = (await call('GET', '/api/find?q=val%2012%20l')).body as unknown as { vehicles: VehicleRecord[] }
    expect(found.vehicles.map((v) => v.plate)).toContain('VAL 12 L')
  })
})

describe('a balance taken against a rule is a fact, and marked', () => {
  const HILL = 'visit-hill'
  const take = async (id: string, taken: object, more: object = {}): Promise<unknown> =>
    (await put(`/api/balances/${id}`, { visitId: HILL, round: 0, by: 'R', at: at(30), taken, ...more })).body
      .againstRule
  const row = (slot: string, vacuumKpa: number[], more: object = {}): object => ({
    kind: 'throttles',
    slot,
    layout: 'each',
    vacuumKpa,
    ...more,
  })
  it('bypass screws before the linkage, and never after it', async () => {
    expect(await take('hill-1', row('idle', [52, 50, 51, 52]))).toBe('linkage-first')
    expect(await take('hill-2', row('hold-2500', [60, 60.2, 60.1, 60]))).toBeUndefined()
    expect(await take('hill-3', row('idle', [52, 50, 51, 52]))).toBeUndefined()
  })
  it('a cylinder put out and a hand pump before their STOPs', async () => {
    const drop = { kind: 'drop', cylinder: 1, rpmDrop: 90 }
    expect(await take('hill-4', drop)).toBe('test-misfire-count')
    const tick = { visitId: HILL, caution: 'test-misfire-count', by: 'R', at: at(31) }
    expect((await put('/api/ticks/hill-tick', tick)).status).toBe(200)
    expect(await take('hill-5', { ...drop, cylinder: 2 })).toBeUndefined()
    expect(await take('hill-6', { kind: 'pump', part: 'egr', samples: [0, 60].map((t) => ({ t, kpa: 60 })) })).toBe(
      'belts-fan-hot-coolant',
    )
  })
})
