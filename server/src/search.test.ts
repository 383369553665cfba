import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import type { VisitFile } from '@uvula/core'
import { Harness, reading } from './harness.fixture.js'

const server = new Harness()
beforeAll(() => server.open(), 60_000)
afterAll(() => server.close())
const { call, put } = server

const find = async (q: string): Promise<string[]> =>
  (
    (await call('GET', `/api/find?q=${encodeURIComponent(q)}`)).body as unknown as { vehicles: { id: string }[] }
  ).vehicles.map((v) => v.id)

const visit = async (id: string): Promise<VisitFile> =>
  (await call('GET', `/api/visits/${id}`)).body as unknown as VisitFile
const plain = (file: VisitFile): object => JSON.parse(JSON.stringify(file)) as object

describe('a car is found', () => {
  it('by the beginning of its plate, by any part of its name, its plate or its customer, in letters of any case', async () => {
    expect(await find('val 204')).toEqual(['car-vet'])
    expect(await find('ESTATE')).toContain('car-vet')
    expect(await find('204')).toContain('car-vet')
    const { vehicle } = await visit('visit-vet')
    expect(await find(vehicle.customer.slice(1, 6))).toContain('car-vet')
  })
  it('by fewer letters where its plate or its name begins so', async () => {
    expect(await find('ve')).toContain('car-vet')
    expect(await find('st')).not.toContain('car-vet')
  })
  it('by a code that it came with', async () => {
    const file = await visit('visit-vet')
    const code = { visitId: 'visit-vet', code: 'P1234', state: 'stored', when: 'before', cleared: false }
    expect((await put('/api/codes/search', code)).status).toBe(200)
    expect(await find('p1234')).toEqual([file.vehicle.id])
  })
  it('under its new name, not under the old one', async () => {
    const { vehicle } = await visit('visit-vet')
    const { plate, customer, spec, version } = vehicle
    const renamed = { plate, customer, spec: { ...spec, name: 'Quibble’s "Wagon"' } }
    expect((await put('/api/vehicles/car-vet', renamed, { baseVersion: version })).status).toBe(200)
    expect(await find('quibble')).toEqual(['car-vet'])
    expect(await find('"wagon"')).toEqual(['car-vet'])
    expect(await find('estate')).not.toContain('car-vet')
  })
  it.each(['"', 'a OR b', 'NEAR(', '*', '-x', 'naïve Ünïcode', 'x'.repeat(500)])('by %j no failure', async (q) => {
    expect((await call('GET', `/api/find?q=${encodeURIComponent(q)}`)).status).toBe(200)
  })
})

describe('a visit that is held', () => {
  it('reads as one read anew, whatever was written to it', async () => {
    const id = 'visit-vet'
    const bay = async (): Promise<unknown> =>
      ((await call('GET', '/api/bay')).body.rows as VisitFile[]).find((f) => f.visit.id === id)
    await visit(id)
    const at = (n: number): string => `2026-02-01T09:00:0${n}Z`
    const { visit: was } = await visit(id)
    const { vehicleId, openedAt, state, intent, complaint, signs, conditions, altitudeM, ambientC } = was
    const own = { vehicleId, openedAt, state, intent, complaint, signs, conditions, altitudeM, ambientC }
    const writes: (() => Promise<{ status: number }>)[] = [
      () => put(`/api/readings/${id}:0:hold-1500:rpm`, { ...reading(1502, { slot: 'hold-1500' }), at: at(1) }),
      () => put(`/api/findings/f1`, { visitId: id, test: 'look', station: 'duct', outcome: 'pass', at: at(2) }),
      () => put(`/api/visits/${id}`, { ...own, complaint: 'hunts', at: at(3) }, { baseVersion: was.version }),
      () =>
        put(`/api/timers/t1`, {
          visitId: id,
          kind: 'soak',
          label: 'soak',
          startedAt: at(3),
          seconds: 60,
          ended: false,
        }),
      () =>
        put(
          `/api/readings/${id}:0:hold-1500:rpm`,
          { ...reading(1511, { slot: 'hold-1500' }), at: at(4) },
          { baseVersion: 1 },
        ),
      () =>
        put(
          `/api/readings/${id}:0:hold-1500:rpm`,
          { ...reading(1511, { slot: 'hold-1500' }), deleted: true, at: at(5) },
          { baseVersion: 2 },
        ),
    ]
    const taken: unknown[] = []
    for (const write of writes) {
      taken.push((await write()).status)
      const [held, inBay] = [await visit(id), await bay()]
      await server.restart()
      expect(plain(held)).toEqual(plain(await visit(id)))
      expect(inBay).toEqual(plain(held))
    }
    expect(taken.filter((s) => s === 200).length).toBeGreaterThanOrEqual(5)
  })
})
