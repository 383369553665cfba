import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import { Harness } from './harness.fixture.js'
import { OBEYED } from './records/obeyed.js'

const server = new Harness()
const { call, put } = server

beforeAll(() => server.open(), 60_000)
afterAll(() => server.close())

type Body = Readonly<Record<string, unknown>>
/** What a noun takes, and what of it is refused by which field. */
interface Noun {
  readonly good: Body
  readonly bad: readonly (readonly [change: Body, field: string])[]
}

const VISIT = 'visit-vet'
const long = (n: number): string => 'x'.repeat(n)

/** Every noun of a visit that is written field by field. */
const NOUNS: Readonly<Record<string, Noun>> = {
  readings: {
    good: { visitId: VISIT, round: 0, slot: 'idle', channel: 'rpm', value: 702, typed: '702' },
    bad: [
      [{ slot: 'lunch' }, 'slot'],
      [{ channel: 'colour' }, 'channel'],
      [{ value: '702' }, 'value'],
      [{ round: 1.5 }, 'round'],
      [{ round: -1 }, 'round'],
      [{ typed: long(61) }, 'typed'],
    ],
  },
  findings: {
    good: {
      visitId: VISIT,
      test: 'look',
      station: 'duct',
      outcome: 'fail',
      note: 'split below',
      value: 12,
      unit: '%',
      afterWork: 1,
    },
    bad: [
      [{ test: 'guess' }, 'test'],
      [{ station: 'boot' }, 'station'],
      [{ outcome: 'maybe' }, 'outcome'],
      [{ note: long(1001) }, 'note'],
      [{ value: 1e9 }, 'value'],
      [{ unit: 'inch' }, 'unit'],
      [{ afterWork: 0.5 }, 'afterWork'],
    ],
  },
  balances: {
    good: {
      visitId: VISIT,
      round: 0,
      taken: { kind: 'throttles', slot: 'idle', layout: 'each', vacuumKpa: [52.1, 50.4] },
    },
    bad: [
      [{ round: -1 }, 'round'],
      [{ taken: { kind: 'tea' } }, 'taken'],
      [{ taken: { kind: 'throttles', slot: 'idle', layout: 'each', vacuumKpa: [52, 5000] } }, 'taken'],
      [{ taken: { kind: 'drop', cylinder: 0, rpmDrop: 5 } }, 'taken'],
      [{ taken: 'none' }, 'taken'],
    ],
  },
  items: {
    good: {
      visitId: VISIT,
      station: 'throttle',
      name: 'bolt M6',
      count: 4,
      drive: 'T30',
      bag: '2',
      way: 'long ones below',
      arrival: 'present',
      state: 'off',
    },
    bad: [
      [{ name: '' }, 'name'],
      [{ count: 0 }, 'count'],
      [{ count: 100 }, 'count'],
      [{ count: 2.5 }, 'count'],
      [{ arrival: 'lost' }, 'arrival'],
      [{ state: 'away' }, 'state'],
      [{ bag: long(21) }, 'bag'],
    ],
  },
  repairs: {
    good: {
      visitId: VISIT,
      station: 'duct',
      kind: 'replace',
      state: 'planned',
      afterRound: 0,
      temporary: false,
      minutes: 20,
      partsPrice: 34.5,
      conditions: [],
    },
    bad: [
      [{ kind: 'hope' }, 'kind'],
      [{ state: 'begun' }, 'state'],
      [{ minutes: -1 }, 'minutes'],
      [{ partsPrice: -0.5 }, 'partsPrice'],
      [{ conditions: 'clean' }, 'conditions'],
      [{ temporary: 'yes' }, 'temporary'],
      [{ recheckOn: '2026-02-31' }, 'recheckOn'],
    ],
  },
  codes: {
    good: { visitId: VISIT, code: 'P0171', state: 'stored', when: 'before', cleared: false, frame: { rpm: 690 } },
    bad: [
      [{ code: 'LEAN' }, 'code'],
      [{ state: 'old' }, 'state'],
      [{ when: 'sometime' }, 'when'],
      [{ frame: { mood: 1 } }, 'frame'],
      [{ frame: { rpm: 'fast' } }, 'frame'],
    ],
  },
  ticks: {
    good: { visitId: VISIT, caution: 'cold-engine' },
    bad: [
      [{ caution: '' }, 'caution'],
      [{ caution: long(81) }, 'caution'],
    ],
  },
  steps: {
    good: {
      visitId: VISIT,
      station: 'throttle',
      surface: 'throttle-plate',
      product: 'throttle-cleaner',
      method: 'cloth-in-place',
      passed: false,
    },
    bad: [
      [{ surface: 'soul' }, 'surface'],
      [{ product: 'beer' }, 'product'],
      [{ method: 'prayer' }, 'method'],
      [{ passed: 1 }, 'passed'],
    ],
  },
  counts: {
    good: { visitId: VISIT, thing: 'rag strip', station: 'throttle', putIn: 2, takenOut: 1 },
    bad: [
      [{ putIn: -1 }, 'putIn'],
      [{ takenOut: 100 }, 'takenOut'],
      [{ thing: '' }, 'thing'],
    ],
  },
  timers: {
    good: {
      visitId: VISIT,
      label: 'sensor dries',
      kind: 'drying',
      startedAt: '2026-01-01T09:00:00Z',
      seconds: 600,
      ended: false,
    },
    bad: [
      [{ kind: 'coffee' }, 'kind'],
      [{ seconds: 0 }, 'seconds'],
      [{ seconds: 604_801 }, 'seconds'],
      [{ startedAt: 'noon' }, 'startedAt'],
      [{ label: '' }, 'label'],
    ],
  },
}

interface Kept {
  readonly id: string
  readonly version: number
  readonly deleted?: boolean
}
const kept = async (noun: string, id: string): Promise<Kept | undefined> =>
  ((await call('GET', `/api/visits/${VISIT}`)).body[noun] as Kept[]).find((r) => r.id === id)

it.each(Object.keys(OBEYED))('%s have a place that takes them', async (noun) => {
  expect((await put(`/api/${noun}/empty`, {})).status).toBe(400)
})

describe.each(Object.entries(NOUNS))('%s', (noun, { good, bad }) => {
  const path = (id: string): string => `/api/${noun}/${encodeURIComponent(id)}`
  it('takes what a screen makes, with an id of any letters, and gives it back with the visit', async () => {
    const id = `${VISIT}: größer, ${noun}`
    const { status, body } = await put(path(id), good)
    expect([status, body.detail]).toEqual([200, undefined])
    expect(body).toMatchObject({ ...good, id, version: 1 })
    expect(await kept(noun, id)).toMatchObject({ ...good, version: 1 })
  })
  it.each(bad)('refuses %j by its field, in words, and keeps nothing', async (change, field) => {
    const { status, body } = await put(path('bad'), { ...good, ...change })
    expect([status, body.field]).toEqual([400, field])
    expect(body.detail).toMatch(/\w+ \w+/)
    expect(await kept(noun, 'bad')).toBeUndefined()
  })
  it('names a field that it does not know', async () => {
    const { status, body } = await put(path('bad'), { ...good, colour: 'red' })
    expect([status, body.field]).toEqual([400, 'colour'])
  })
  it('is taken back by its mark, and keeps what it was in the history', async () => {
    const id = `${noun}-goes`
    await put(path(id), good)
    const { body } = await put(path(id), { ...good, deleted: true }, { baseVersion: 1 })
    expect(body).toMatchObject({ version: 2, deleted: true })
    const rows = await server.rows<{ n: number }>(
      `SELECT CAST(count(*) AS integer) AS n FROM history WHERE "recordId" = '${id}'`,
    )
    expect(rows[0].n).toBe(1)
  })
  it('does not move to another visit', async () => {
    const id = `${noun}-stays`
    await put(path(id), good)
    const { status } = await put(path(id), { ...good, visitId: 'visit-choir' }, { baseVersion: 1 })
    expect(status).toBeGreaterThanOrEqual(400)
    expect(await kept(noun, id)).toMatchObject({ version: 1 })
  })
})
