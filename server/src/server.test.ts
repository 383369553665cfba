import { once } from 'node:events'
import { connect } from 'node:net'
import { readFileSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import { demo, Harness, PNG, reading } from './harness.fixture.js'

const server = new Harness()
const { call, put } = server
const vet = demo.visits.find((v) => v.visit.id === 'visit-vet')!

beforeAll(() => server.open(), 60_000)
afterAll(() => server.close())

describe('records', () => {
  it('a write is stored with its version and the server’s receipt', async () => {
    const { status, body } = await put('/api/readings/r1', reading(700))
    expect(status).toBe(200)
    expect(body).toMatchObject({ id: 'r1', version: 1, value: 700, by: 'R', at: '2026-01-01T09:00:00Z' })
    expect(body.receivedAt).toBeDefined()
  })
  it('the same key again changes nothing and gets the same answer', async () => {
    const first = await put('/api/readings/r2', reading(710), { key: 'same' })
    const again = await put('/api/readings/r2', reading(710), { key: 'same' })
    expect(again.body).toEqual(first.body)
    const file = (await call('GET', '/api/visits/visit-vet')).body as unknown as typeof vet
    expect(file.readings.find((r) => r.id === 'r2')?.version).toBe(1)
  })
  it('two tablets on one reading: the second sees both values', async () => {
    await put('/api/readings/r3', reading(700))
    expect((await put('/api/readings/r3', reading(720), { baseVersion: 1 })).body.version).toBe(2)
    const late = await put('/api/readings/r3', reading(690), { baseVersion: 1 })
    expect(late.status).toBe(409)
    expect(late.body.current?.value).toBe(720)
  })
  it('a correction keeps the old value in the history', async () => {
    const rows = await server.rows<{ value: string }>(`SELECT value FROM history WHERE "recordId" = 'r3'`)
    expect(JSON.parse(rows[0].value)).toMatchObject({ value: 700, version: 1 })
  })
  it('survives a restart of the server', async () => {
    await server.restart()
    const file = (await call('GET', '/api/visits/visit-vet')).body as unknown as typeof vet
    expect(file.readings.find((r) => r.id === 'r3')?.value).toBe(720)
  })
  it('goes down though a browser holds a connection open on which it has asked nothing', async () => {
    const { hostname, port } = new URL(server.base)
    const ahead = connect(Number(port), hostname)
    await once(ahead, 'connect')
    const began = Date.now()
    await server.restart()
    expect(Date.now() - began).toBeLessThan(10_000)
    ahead.destroy()
  }, 90_000)
})

describe('bad input', () => {
  it.each([
    ['negative speed', reading(-4)],
    ['900 kPa', reading(900, { channel: 'map_kpa' })],
    ['a trim of 400 %', reading(400, { channel: 'stft1_pct' })],
  ])('%s names the value and what is accepted', async (_, data) => {
    const { status, body } = await put('/api/readings/bad', data)
    expect(status).toBe(400)
    expect(body.field).toBe('value')
    expect(body.detail).toMatch(/outside/)
  })
  it.each([
    ['vehicles', { plate: 'X', customer: '', spec: vet.vehicle.spec }],
    [
      'visits',
      {
        vehicleId: 'car-vet',
        openedAt: '2026-01-01T00:00:00Z',
        state: 'open',
        intent: 'complaint',
        complaint: '',
        signs: [],
        conditions: [],
        altitudeM: 0,
        ambientC: 0,
      },
    ],
    ['readings', reading(700)],
    ['findings', { visitId: 'visit-vet', test: 'look', station: 'duct', outcome: 'pass' }],
    [
      'repairs',
      {
        visitId: 'visit-vet',
        station: 'duct',
        kind: 'refit',
        state: 'done',
        afterRound: 0,
        temporary: false,
        minutes: 1,
        partsPrice: 1,
        conditions: [],
      },
    ],
    ['recordings', { visitId: 'visit-vet', round: 0, name: 'x.csv', content: 'eA==' }],
    ['photos', { visitId: 'visit-vet', station: 'duct', mime: 'image/png', content: 'eA==' }],
    ['reports', { visitId: 'visit-vet' }],
    ['items', { visitId: 'visit-vet', station: 'throttle', name: 'bolt', count: 4, arrival: 'present', state: 'off' }],
    ['counts', { visitId: 'visit-vet', station: 'throttle', thing: 'cloth', putIn: 1, takenOut: 0 }],
    [
      'steps',
      {
        visitId: 'visit-vet',
        station: 'throttle',
        surface: 'throttle-plate',
        product: 'throttle-cleaner',
        method: 'off-the-car',
        passed: false,
      },
    ],
    ['ticks', { visitId: 'visit-vet', caution: 'x' }],
    ['runs', { visitId: 'visit-vet', procedure: 'staged-idle-learn', attempt: 1, preconditions: [], events: [] }],
    [
      'timers',
      { visitId: 'visit-vet', label: 'x', kind: 'soak', startedAt: '2026-01-01T00:00:00Z', seconds: 60, ended: false },
    ],
    ['codes', { visitId: 'visit-vet', code: 'P0171', state: 'stored', when: 'before', cleared: false }],
  ])('%s refuses a field it does not know', async (noun, data) => {
    const { status, body } = await put(`/api/${noun}/unknown-field`, { ...data, wobble: 1 })
    expect(status).toBe(400)
    expect(body.detail).toMatch(/wobble/)
  })
  it('the shop does too', async () => {
    expect(
      (
        await call('PUT', '/api/shop', {
          name: 'x',
          altitudeM: 0,
          labourPerHour: 1,
          currency: 'c',
          partsDays: [],
          wobble: 1,
        })
      ).status,
    ).toBe(400)
    expect((await call('POST', '/api/shop/open', { which: 'own', wobble: 1 })).status).toBe(400)
  })
  it('a vehicle says every field that is wrong', async () => {
    const { status, body } = await put('/api/vehicles/x', {
      plate: 'X',
      customer: '',
      spec: { ...vet.vehicle.spec, cylinders: 0, metering: 'guess' },
    })
    expect(status).toBe(400)
    expect((body.problems as { field: string }[]).map((p) => p.field)).toEqual(['metering', 'cylinders'])
  })
  it('a reading of a visit that is not here says what to send first', async () => {
    const { status, body } = await put('/api/readings/orphan', reading(700, { visitId: 'nowhere' }))
    expect(status).toBe(422)
    expect(body.detail).toMatch(/send that first/)
  })
  it('no key, no write; not JSON; not here; not from here', async () => {
    expect(
      (
        await call(
          'PUT',
          '/api/readings/x',
          { baseVersion: 0, by: 'R', at: '2026-01-01', ...reading(7) },
          { 'idempotency-key': '' },
        )
      ).body.field,
    ).toBe('Idempotency-Key')
    const broken = await fetch(`${server.base}/api/readings/x`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: '{',
    })
    expect(((await broken.json()) as { type: string }).type).toBe('uvula:not-json')
    expect((await call('GET', '/api/visits/none')).status).toBe(404)
    expect((await call('GET', '/api/bay', undefined, { origin: 'http://elsewhere.example' })).status).toBe(403)
  })
  it('answers with data stand in no cache', async () => {
    const kept = async (path: string): Promise<string | null> =>
      (await fetch(server.base + path)).headers.get('cache-control')
    expect(await kept('/api/visits/visit-vet')).toBe('no-store')
    expect(await kept('/api/bay')).toBe('private, no-cache')
  })
})

describe('recordings', () => {
  const text = readFileSync(new URL('../../cli/fixtures/c020/log.csv', import.meta.url))
  it('keeps the original byte for byte and what was read from it', async () => {
    const { status, body } = await put('/api/recordings/rec1', {
      visitId: 'visit-vet',
      round: 0,
      name: 'drive.csv',
      content: text.toString('base64'),
    })
    expect(status).toBe(200)
    expect(Array.isArray(body.points)).toBe(true)
    expect(body.columns).toBeUndefined()
    const original = Buffer.from(await (await fetch(`${server.base}/api/recordings/rec1/original`)).arrayBuffer())
    expect(original.equals(text)).toBe(true)
    const trace = (await call('GET', '/api/recordings/rec1/trace?channels=rpm,maf_gs')).body as unknown as Record<
      string,
      number[]
    >
    expect(trace.rpm.length).toBeGreaterThan(100)
    expect(trace.rpm[0]).toBeGreaterThan(600)
    const near = await call('GET', '/api/recordings/rec1/trace?channels=rpm&from=10&to=20')
    const times = near.body.time_s as number[]
    expect([times[0] <= 10, times[1] >= 10, times.at(-2)! <= 20, times.at(-1)! >= 20]).toEqual([true, true, true, true])
    const none = await call('GET', '/api/recordings/rec1/trace?channels=rpm&from=20&to=10')
    expect([none.status, none.body.field]).toEqual([400, 'from'])
  })
  it.each([
    ['a picture named .csv', Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0, 0]), 'not-text'],
    ['no usable channel', Buffer.from('time_s,battery_v\n0,14\n1,14\n'), 'no-usable-channel'],
  ])('%s is refused with its reason', async (_, bytes, code) => {
    const { status, body } = await put('/api/recordings/bad', {
      visitId: 'visit-vet',
      round: 0,
      name: 'x.csv',
      content: bytes.toString('base64'),
    })
    expect([status, body.type]).toEqual([422, `uvula:${code}`])
  })
  it('what a person said of its columns is kept and checked; the clean form can be had', async () => {
    const content = Buffer.from('Zeit;A;B\n0;700;2,5\n1;701;2,5\n').toString('base64')
    const base64 = { visitId: 'visit-vet', round: 0, name: 'odd.csv', content }
    const wrong = await put('/api/recordings/odd', { ...base64, mapping: { Zeit: 'time_s', A: 'wobble' } })
    expect([wrong.status, wrong.body.field, wrong.body.detail]).toEqual([400, 'mapping', expect.stringMatching(/"A"/)])
    const mapping = { Zeit: 'time_s', A: 'rpm', B: 'maf_gs' }
    expect((await put('/api/recordings/odd', { ...base64, mapping })).body).toMatchObject({ rows: 2, mapping })
    const clean = await (await fetch(`${server.base}/api/recordings/odd/canonical`)).text()
    expect(clean).toBe('time_s,rpm,maf_gs\n0,700,2.5\n1,701,2.5\n')
    // said once, it is known to every tablet; the newest word counts
    const newer = { ...mapping, B: 'none' }
    await put('/api/recordings/odd2', { ...base64, name: 'odd2.csv', at: '2026-01-02T09:00:00Z', mapping: newer })
    expect((await call('GET', '/api/recordings/mappings')).body).toEqual([newer])
  })
  it('its stretches can be chosen by hand, and found again', async () => {
    const own = { visitId: 'visit-vet', round: 0, name: 'drive.csv' }
    const found = (await call('GET', '/api/visits/visit-vet')).body as unknown as {
      recordings: { id: string; points: { kind: string }[] }[]
    }
    const before = found.recordings.find((r) => r.id === 'rec1')!.points
    const stretches = [{ startS: 20, endS: 30, kind: 'idle' }]
    const chosen = await put('/api/recordings/rec1', { ...own, stretches }, { baseVersion: 1 })
    expect(chosen.body).toMatchObject({
      stretches,
      points: [{ kind: 'idle', startS: expect.closeTo(20, 0) }],
    })
    const short = await put(
      '/api/recordings/rec1',
      { ...own, stretches: [{ startS: 20, endS: 20 }] },
      { baseVersion: 2 },
    )
    expect([short.status, short.body.field]).toEqual([400, 'stretches'])
    const again = await put('/api/recordings/rec1', { ...own, stretches: null }, { baseVersion: 2 })
    expect(again.body.points).toEqual(before)
  })
  it('a code keeps its freeze-frame; one that is no reading is refused', async () => {
    const code = { visitId: 'visit-vet', code: 'P0171', state: 'stored', when: 'before', cleared: false }
    expect((await put('/api/codes/f1', { ...code, frame: { rpm: 690, ltft1_pct: 18 } })).body).toMatchObject({
      frame: { rpm: 690, ltft1_pct: 18 },
    })
    expect((await put('/api/codes/f2', { ...code, frame: { rpm: -5 } })).body.field).toBe('frame')
  })
  it('can be left out again without sending it once more', async () => {
    const { body } = await put(
      '/api/recordings/rec1',
      { visitId: 'visit-vet', round: 0, name: 'drive.csv', deleted: true },
      { baseVersion: 3 },
    )
    expect(body).toMatchObject({ deleted: true, version: 4 })
  })
})

describe('photos', () => {
  it('come back as they were', async () => {
    expect(
      (await put('/api/photos/p1', { visitId: 'visit-vet', station: 'duct', mime: 'image/png', content: PNG })).status,
    ).toBe(200)
    const back = Buffer.from(await (await fetch(`${server.base}/api/photos/p1/picture`)).arrayBuffer())
    expect(back.toString('base64')).toBe(PNG)
  })
  it('what is no picture is refused', async () =>
    expect(
      (await put('/api/photos/p2', { visitId: 'visit-vet', station: 'duct', mime: 'image/jpeg', content: PNG })).status,
    ).toBe(422))
})

describe('commands and facts', () => {
  const repair = {
    visitId: 'visit-vet',
    station: 'duct',
    kind: 'wrap',
    state: 'done',
    afterRound: 0,
    temporary: true,
    minutes: 12,
    partsPrice: 6,
    conditions: ['dry'],
  }
  it('a wrap done damp is a fact: stored, and marked with its rule', async () => {
    const { status, body } = await put('/api/repairs/w1', { ...repair, recheckOn: '2026-02-01' })
    expect(status).toBe(200)
    expect(body.againstRule).toBe('wrap-conditions')
  })
  it('the sheet is a command: refused before the proof, with the rule', async () => {
    const { status, body } = await put('/api/reports/s1', { visitId: 'visit-vet' })
    expect([status, body.rule]).toEqual([409, 'prove-first'])
  })
  it('an issued sheet is not edited; a second one amends it; both print', async () => {
    const first = await put('/api/reports/t1', { visitId: 'visit-teacher' })
    expect(first.body.number).toBe(1)
    expect((await put('/api/reports/t1', { visitId: 'visit-teacher' }, { baseVersion: 1 })).body.rule).toBe(
      'issued-sheets-stay',
    )
    expect((await put('/api/reports/t2', { visitId: 'visit-teacher' })).body.number).toBe(2)
    const pdf = Buffer.from(await (await fetch(`${server.base}/api/reports/t1/pdf`)).arrayBuffer())
    expect(pdf.subarray(0, 5).toString()).toBe('%PDF-')
    const bay = (await call('GET', '/api/bay')).body as unknown as { rows: { visit: { id: string } }[] }
    expect(bay.rows.map((r) => r.visit.id)).not.toContain('visit-teacher')
  })
})

describe('runs', () => {
  const feed = {
    method: 'metered-port',
    product: { kind: 'combustible', afr: 14.5 },
    doseMl: 20,
    labelMaxMl: 200,
    point: 'plenum',
    airGS: 19,
    rpm: 2500,
    speedFrom: 'scan',
    coolantC: 90,
    extraction: true,
    fireCover: true,
    lampFlashing: false,
    heldRunning: true,
    boostKpa: 0,
    feedRunning: false,
  }
  const stops = ['stop-liquid', 'stop-fire', 'stop-gas']
  const run = (part: object): object => ({
    visitId: 'visit-lift',
    procedure: 'feed',
    attempt: 1,
    preconditions: stops,
    events: [],
    feed,
    ...part,
  })
  const begin = { kind: 'begin', atMs: 1_800_000_000_000.5 }

  it('to begin is a command: a guessed speed is refused with its rule, and nothing is stored', async () => {
    const { status, body } = await put('/api/runs/g', run({ feed: { ...feed, speedFrom: 'guessed' }, events: [begin] }))
    expect([status, body.rule]).toEqual([409, 'guessed-speed'])
    const file = (await call('GET', '/api/visits/visit-lift')).body as unknown as { runs: unknown[] }
    expect(file.runs).toEqual([])
  })
  it('late events of an offline tablet are facts: stored, and marked with the rule', async () => {
    const events = [begin, { kind: 'tap', atMs: begin.atMs + 1000 }, { kind: 'stop', atMs: begin.atMs + 2000 }]
    const { status, body } = await put('/api/runs/late', run({ feed: { ...feed, extraction: false }, events }))
    expect([status, body.againstRule]).toEqual([200, 'extraction'])
  })
  it('a second feed while one runs is refused; a stall locks the next until the engine was turned by hand', async () => {
    expect((await put('/api/runs/a', run({ events: [begin] }))).status).toBe(200)
    expect((await put('/api/runs/b', run({ events: [begin] }))).body.rule).toBe('one-feed')
    const stalled = await put('/api/runs/a', run({ events: [begin, { kind: 'stall', atMs: begin.atMs + 3000 }] }), {
      baseVersion: 1,
    })
    expect((stalled.body.events as { atMs: number }[])[0].atMs).toBe(begin.atMs)
    expect((await put('/api/runs/c', run({ events: [begin] }))).body.rule).toBe('restart-locked')
    const tick = { visitId: 'visit-lift', caution: 'plugs-out-turned-by-hand', at: '2030-01-01T00:00:00Z' }
    expect((await put('/api/ticks/free', tick)).status).toBe(200)
    expect((await put('/api/runs/c', run({ events: [begin] }))).status).toBe(200)
  })
  it('two tablets at one feed: what either told has happened, whatever the other had not seen', async () => {
    const at = (kind: string, ms: number): object => ({ kind, atMs: begin.atMs + ms })
    const opened = await put('/api/runs/c', run({ events: [begin, at('open', 3000)] }), { baseVersion: 1 })
    // the second one had seen the beginning only
    const both = await put('/api/runs/c', run({ events: [begin, at('lamp', 3500)] }), { baseVersion: 1 })
    expect([opened.status, both.status]).toEqual([200, 200])
    expect((both.body.events as { kind: string }[]).map((e) => e.kind)).toEqual(['begin', 'open', 'lamp'])
  })
  it('a run stays in the hand that leads it until another takes it', async () => {
    const led = async (part: object, baseVersion: number): Promise<unknown> =>
      (await put('/api/runs/led', run(part), { baseVersion })).body.leader
    const [runa, ebbe] = [
      { page: 'p1', by: 'Runa' },
      { page: 'p2', by: 'Ebbe' },
    ]
    expect(await led({ leader: runa }, 0)).toEqual(runa)
    expect(await led({ preconditions: ['stop-gas'] }, 1)).toEqual(runa)
    expect(await led({ leader: ebbe }, 2)).toEqual(ebbe)
    expect((await put('/api/runs/led2', run({ leader: { page: '' } }))).body.detail).toMatch(/leader\.page/)
  })
  it('an event that is none, or a dose without end, names its field', async () => {
    expect((await put('/api/runs/x', run({ events: [{ kind: 'jump', atMs: 1 }] }))).body.detail).toMatch(
      /events\.0\.kind/,
    )
    expect((await put('/api/runs/x', run({ feed: { ...feed, doseMl: 1e9 } }))).body.detail).toMatch(/feed\.doseMl/)
  })
})

it('the sheet is refused while a cloth is uncounted', async () => {
  await put('/api/counts/k', { visitId: 'visit-teacher', station: 'throttle', thing: 'cloth', putIn: 1, takenOut: 0 })
  const { status, body } = await put('/api/reports/t3', { visitId: 'visit-teacher' })
  expect([status, body.rule]).toEqual([409, 'count'])
})

describe('finding and cards', () => {
  it('by plate, by name, and nothing by nothing', async () => {
    const find = async (q: string): Promise<string[]> =>
      (
        (await call('GET', `/api/find?q=${encodeURIComponent(q)}`)).body as unknown as { vehicles: { plate: string }[] }
      ).vehicles.map((v) => v.plate)
    expect(await find('val 20')).toContain('VAL 204')
    expect(await find('minibus')).toEqual(['VAL 9 C'])
    expect(await find('%')).toEqual([])
  })
  it('a car remembers its temporary repair', async () => {
    const card = (await call('GET', '/api/vehicles/car-lift/card')).body as unknown as {
      visits: unknown[]
      temporary: { station: string }[]
    }
    expect(card.visits).toHaveLength(2)
    expect(card.temporary.map((t) => t.station)).toEqual(['booster'])
  })
})

it('serves its own description, and a policy without eval or inline', async () => {
  const response = await fetch(`${server.base}/api/openapi.json`)
  const document = (await response.json()) as {
    paths: Record<string, unknown>
    components: { schemas: Record<string, { properties: object }> }
  }
  expect(Object.keys(document.paths)).toContain('/api/readings/{id}')
  expect(document.components.schemas.ReadingDto.properties).toHaveProperty('channel')
  expect(response.headers.get('content-security-policy')).toContain("script-src 'self';")
})
