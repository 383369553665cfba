import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import type { VehicleRecord, VisitFile } from '@uvula/core'
import { Harness } from './harness.fixture.js'

const server = new Harness()
const { call, put } = server
beforeAll(() => server.open(), 60_000)
afterAll(() => server.close())

const VISIT = 'visit-vet'
const at = (minutes: number): string => new Date(Date.UTC(2099, 0, 1, 9, minutes)).toISOString()
const common = { visitId: VISIT, by: 'R', at: at(10) }
const file = async (): Promise<VisitFile> => (await call('GET', `/api/visits/${VISIT}`)).body as unknown as VisitFile
const vehicle = async (): Promise<VehicleRecord> => (await file()).vehicle
const tick = (caution: string): Promise<unknown> => put(`/api/ticks/${caution}`, { ...common, caution })
const piece = (state: string, arrival = 'present'): object => ({ state, arrival })
const item = (more: object, rest: object = {}): object => ({
  ...common,
  station: 'gaskets',
  name: 'nut',
  count: 2,
  arrival: 'present',
  state: 'off',
  more: { kind: 'nut', pieces: [piece('off'), piece('off')], ...more },
  ...rest,
})

describe('parts that come off', () => {
  it('before their STOPs are kept and marked, after them not', async () => {
    expect((await put('/api/items/early', item({}))).body.againstRule).toBe('belts-fan-hot-coolant')
    await tick('belts-fan-hot-coolant')
    expect((await put('/api/items/late', item({}))).body.againstRule).toBeUndefined()
    const fuel = item({ kind: 'hose', carries: 'fuel' }, { name: 'fuel hose' })
    expect((await put('/api/items/fuel', fuel)).body.againstRule).toBe('test-fuel-line')
  })
  it('keep what is known of each piece, and come out of the visit as they went in', async () => {
    const more = {
      kind: 'nut',
      pieces: [{ ...piece('on', 'stripped'), renewed: true }, piece('off')],
      torque: { value: 18, unit: 'N·m', from: 'book' },
      shape: 'rows',
    }
    await put('/api/items/kept', item(more))
    expect((await file()).items.find((i) => i.id === 'kept')?.more).toEqual(more)
  })
  it.each([
    [{ kind: 'cake' }, /more\.kind must be one of/],
    [{ pieces: [] }, /more\.pieces must be 1 to 60/],
    [{ torque: { value: 18, unit: 'stone', from: 'book' } }, /more\.torque must have/],
  ])('%j is refused with what is accepted', async (more, words) => {
    const { status, body } = await put('/api/items/bad', item(more))
    expect([status, body.detail ?? JSON.stringify(body)]).toEqual([400, expect.stringMatching(words)])
  })
})

describe('the engine', () => {
  const write = async (spec: object): Promise<{ status: number; body: { detail?: string } }> => {
    const { plate, customer, spec: own, version } = await vehicle()
    return put(
      `/api/vehicles/${(await vehicle()).id}`,
      { by: 'R', at: at(20), plate, customer, spec: { ...own, ...spec } },
      { baseVersion: version },
    )
  }
  it('takes every answer, and a path that holds together', async () => {
    const spec = { trimBanks: 1, inlets: 2, throttleBodies: 2, branches: { joins: { 'cruise-line': 'plenum' } } }
    expect((await write(spec)).status).toBe(200)
    expect((await vehicle()).spec).toMatchObject(spec)
  })
  it('refuses a branch to nothing and a path in two pieces with the reason', async () => {
    const nothing = await write({ egr: 'none', branches: { joins: { 'cruise-line': 'egr' } } })
    expect([nothing.status, nothing.body.detail]).toEqual([400, expect.stringContaining('branch to nothing')])
    const two = await write({ branches: { without: ['throttle'] } })
    expect([two.status, two.body.detail]).toEqual([400, expect.stringContaining('in two pieces')])
  })
  it('cleaning against a label is kept and marked', async () => {
    await write({ doNotClean: ['throttle'] })
    const step = {
      station: 'throttle',
      surface: 'throttle-plate',
      product: 'throttle-cleaner',
      method: 'off-the-car',
      passed: true,
    }
    expect((await put('/api/steps/label', { ...common, ...step })).body.againstRule).toBe('label-forbids')
  })
})

describe('a wash', () => {
  const filter = {
    ...common,
    station: 'filter',
    surface: 'filter-washable',
    product: 'filter-cleaner',
    method: 'off-the-car',
    passed: true,
    baseVersion: 0,
  }
  const stage = (id: string, value?: number): object => ({ id, at: at(20), ...(value === undefined ? {} : { value }) })
  it('keeps its stages; an end before it, and too much oil, are kept and marked', async () => {
    const early = await put('/api/steps/early', { ...filter, more: { stages: [stage('flush')] } })
    expect(early.body).toMatchObject({ againstRule: 'wash-owed', more: { stages: [{ id: 'flush' }] } })
    const stages = [stage('flush'), stage('settle', 410), stage('oil', 470)]
    expect((await put('/api/steps/over', { ...filter, more: { stages } })).body.againstRule).toBe('filter-oil')
    const right = await put('/api/steps/right', {
      ...filter,
      more: { stages: [...stages.slice(0, 2), stage('oil', 428)] },
    })
    expect(right.body.againstRule).toBeUndefined()
  })
  it('what is no stage is refused by its name', async () => {
    const bad = await put('/api/steps/bad', { ...filter, more: { stages: [stage('polish')] } })
    expect([bad.status, bad.body.detail]).toEqual([400, expect.stringContaining('"polish" is none')])
  })
})

describe('how it came', () => {
  it('where a hose hung is kept with the visit; a place that is none is refused', async () => {
    const { visit } = await file()
    const { id: _, version, receivedAt: __, ...own } = visit
    const write = (asFound: object, baseVersion: number) =>
      put(`/api/visits/${VISIT}`, { ...own, asFound }, { baseVersion })
    expect((await write({ booster: 'moon' }, version)).status).toBe(400)
    expect((await write({ booster: 'off' }, version)).status).toBe(200)
    expect((await file()).visit.asFound).toEqual({ booster: 'off' })
  })
  it('figures of a test stay with its find', async () => {
    const find = {
      ...common,
      test: 'back-pressure',
      station: 'runners-1',
      outcome: 'fail',
      value: 30,
      unit: 'kPa',
      figures: { pressure: 30 },
    }
    expect((await put('/api/findings/pressure', find)).status).toBe(200)
    expect((await file()).findings.find((x) => x.id === 'pressure')).toMatchObject({ figures: { pressure: 30 } })
    const capped = { visitId: find.visitId, test: 'oil-cap', station: 'pcv', outcome: 'fail', by: find.by, at: find.at }
    expect((await put('/api/findings/cap', { ...capped, item: 'hard-suck' })).status).toBe(200)
    const unknown = await put('/api/findings/cap2', { ...capped, item: 'whistle' })
    expect(unknown.status).toBe(400)
    expect(JSON.stringify(unknown.body)).toContain('hard-suck, pressure')
    expect((await put('/api/findings/bad', { ...find, figures: { pressure: 'much' } })).status).toBe(400)
  })
})
