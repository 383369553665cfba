import { execFile } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import { fileURLToPath } from 'node:url'
import { promisify } from 'node:util'
import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import { Harness, PNG, reading, type Answer } from './harness.fixture.js'

const server = new Harness()
const { call, put } = server
beforeAll(() => server.open(), 60_000)
afterAll(() => server.close())

interface File {
  readonly readings: { id: string; value: number; version: number; visitId: string }[]
  readonly photos: { id: string; sha256: string }[]
  readonly counts: { id: string; thing: string; putIn: number }[]
}
const vet = async (): Promise<File> => (await call('GET', '/api/visits/visit-vet')).body as unknown as File
const photo = (bytes: Buffer): object => ({
  visitId: 'visit-vet',
  station: 'duct',
  mime: 'image/png',
  content: Buffer.concat([Buffer.from(PNG, 'base64'), bytes]).toString('base64'),
})

describe('writes that overlap', () => {
  it('a photo that fails takes no reading with it, and each answer is kept', async () => {
    const bad = { ...photo(Buffer.alloc(0)), mime: 'image/jpeg' }
    const answers = await Promise.all(
      Array.from({ length: 60 }, async (_, i): Promise<[number, number]> => {
        const [failed, kept] = await Promise.all([
          put(`/api/photos/bad${i}`, bad),
          put(`/api/readings/over${i}`, reading(600 + i)),
        ])
        return [failed.status, kept.status]
      }),
    )
    expect(answers).toEqual(answers.map(() => [422, 200]))
    const { readings } = await vet()
    expect(
      readings
        .filter((r) => r.id.startsWith('over'))
        .map((r) => r.value)
        .sort(),
    ).toEqual(Array.from({ length: 60 }, (_, i) => 600 + i))
  })
  it('an entry of a visit that is not here is refused, and the one behind it is kept', async () => {
    const answers = await Promise.all(
      Array.from({ length: 20 }, (_, i) =>
        put(`/api/readings/mixed${i}`, reading(700, i % 2 ? {} : { visitId: 'nowhere' })),
      ),
    )
    expect(answers.map((a) => a.status)).toEqual(answers.map((_, i) => (i % 2 ? 200 : 422)))
    expect((await vet()).readings.filter((r) => r.id.startsWith('mixed'))).toHaveLength(10)
  })
  it('the same photo sent twice at once: both answered alike, kept once', async () => {
    const same = photo(randomBytes(200_000))
    const [a, b] = await Promise.all([
      put('/api/photos/twice', same, { key: 'twice' }),
      put('/api/photos/twice', same, { key: 'twice' }),
    ])
    expect([a.status, b.status]).toEqual([200, 200])
    expect(b.body).toEqual(a.body)
    const [{ n }] = await server.rows<{ n: number }>(
      `SELECT CAST(count(*) AS integer) AS n FROM blobs WHERE sha256 = '${String(a.body.sha256)}'`,
    )
    expect(n).toBe(1)
  })
  it('what was acknowledged is on the disk when a reader looks, not in somebody’s open transaction', async () => {
    await put('/api/readings/seen', reading(711))
    expect(await server.rows(`SELECT value FROM readings WHERE id = 'seen'`)).toEqual([{ value: 711 }])
  })
})

describe('what a writer saw is what it names', () => {
  it('an offline tablet’s second edit does not overwrite a colleague untold', async () => {
    await put('/api/readings/two', reading(700))
    // the colleague is there first
    expect((await put('/api/readings/two', reading(650), { baseVersion: 1, key: 'colleague' })).body.version).toBe(2)
    const first = await put('/api/readings/two', reading(690), { baseVersion: 1, key: 'mine-1' })
    // by its number the second would fit what the colleague wrote
    const second = await put('/api/readings/two', reading(695), { baseVersion: 2, basedOnKey: 'mine-1' })
    expect([first.status, second.status]).toEqual([409, 409])
    expect(second.body.current?.value).toBe(650)
  })
  it('made upon an own write that was taken, it follows it', async () => {
    await put('/api/readings/own', reading(700), { key: 'own-1' })
    const second = await put('/api/readings/own', reading(710), { baseVersion: 0, basedOnKey: 'own-1' })
    expect([second.status, second.body.version]).toEqual([200, 2])
  })
  it('two hands that entered the same are of one mind', async () => {
    await put('/api/readings/alike', reading(700))
    const again = await put('/api/readings/alike', reading(700))
    expect([again.status, again.body.version]).toEqual([200, 1])
  })
  it('counts from two tablets add up', async () => {
    const plug = { visitId: 'visit-vet', thing: 'hose plug', station: 'throttle', putIn: 1, takenOut: 0 }
    await put('/api/counts/a', plug)
    await put('/api/counts/b', plug)
    expect((await vet()).counts.filter((c) => c.thing === 'hose plug')).toHaveLength(2)
  })
})

describe('what a screen makes, the server takes', () => {
  it.each(['visit-vet:count:hose plug', 'Schlauchstopfen für Kühler', 'a/b?c#d%', '軟管塞'])('id %s', async (id) => {
    const { status, body } = await put(`/api/readings/${encodeURIComponent(id)}`, reading(700))
    expect([status, body.id]).toEqual([200, id])
  })
  it.each([' before', 'two\nlines', 'x'.repeat(161)])('id %j is refused by name', async (id) => {
    const { status, body } = await put(`/api/readings/${encodeURIComponent(id)}`, reading(700))
    expect([status, body.field]).toEqual([400, 'id'])
  })
})

describe('what no entry is', () => {
  const run = { visitId: 'visit-vet', procedure: 'staged-idle-learn', attempt: 1, preconditions: [] }
  const code = { visitId: 'visit-vet', code: 'P0171', state: 'stored', when: 'before', cleared: false }
  const fieldOf = async (path: string, data: object): Promise<[number, unknown]> => {
    const { status, body } = await put(path, data)
    return [status, body.field]
  }

  it('a run with a hundred thousand events is refused at once, and nothing waits for it', async () => {
    const events = Array.from({ length: 100_000 }, () => 0)
    const began = performance.now()
    const [huge, beside] = await Promise.all([
      put('/api/runs/huge', { ...run, events }),
      put('/api/readings/beside', reading(700)),
    ])
    expect([huge.status, huge.body.field, beside.status]).toEqual([400, 'events', 200])
    expect(huge.body.detail).toMatch(/100000.*2000/)
    expect(performance.now() - began).toBeLessThan(1500)
  })
  it('a body of many megabytes that carries no file is refused by its size', async () => {
    const { status, body } = await put('/api/findings/long', {
      visitId: 'visit-vet',
      test: 'look',
      station: 'duct',
      outcome: 'pass',
      note: 'x'.repeat(2_000_000),
    })
    expect([status, body.type]).toEqual([413, 'uvula:too-large'])
  })
  it('lists and maps have bounds of their own', async () => {
    expect(await fieldOf('/api/runs/many', { ...run, events: [], preconditions: Array(101).fill('x') })).toEqual([
      400,
      'preconditions',
    ])
    const mapping = Object.fromEntries(Array.from({ length: 201 }, (_, i) => [`c${i}`, 'none']))
    expect(
      await fieldOf('/api/recordings/wide', { visitId: 'visit-vet', round: 0, name: 'x', content: 'eA==', mapping }),
    ).toEqual([400, 'mapping'])
    let deep: unknown = 1
    for (let i = 0; i < 12; i++) deep = [deep]
    expect((await put('/api/runs/deep', { ...run, events: [], feed: deep })).status).toBe(400)
  })
  it.each([{ rpm: '690' }, { rpm: -5 }, { wobble: 3 }, { rpm: null }, { rpm: { $ne: 1 } }])(
    'a freeze-frame of %j',
    async (frame) => expect(await fieldOf('/api/codes/frame', { ...code, frame })).toEqual([400, 'frame']),
  )
  it.each(['2026-02-30', '2026-13-01', '26-1-1', 'tomorrow'])('the day %s', async (recheckOn) => {
    const repair = {
      visitId: 'visit-vet',
      station: 'duct',
      kind: 'wrap',
      state: 'planned',
      afterRound: 0,
      temporary: true,
      minutes: 1,
      partsPrice: 1,
      conditions: [],
    }
    const { status, body } = await put('/api/repairs/day', { ...repair, recheckOn })
    expect([status, body.field]).toEqual([400, 'recheckOn'])
    expect(body.detail).toContain(recheckOn)
  })
  it.each(['2026-02-30T10:00:00Z', '2026-01-01T10:61:00Z', 'now'])('the moment %s', async (at) =>
    expect(await fieldOf('/api/readings/moment', { ...reading(700), at })).toEqual([400, 'at']),
  )
  it('a reading that moves to another visit', async () => {
    await put('/api/readings/mover', reading(700))
    const moved = await put('/api/readings/mover', reading(700, { visitId: 'visit-lift' }), { baseVersion: 1 })
    expect([moved.status, moved.body.field]).toEqual([400, 'visitId'])
    expect((await vet()).readings.find((r) => r.id === 'mover')?.version).toBe(1)
  })
  it('a used key with another record', async () => {
    await put('/api/readings/key-a', reading(700), { key: 'used' })
    const other = await put('/api/readings/key-b', reading(700), { key: 'used' })
    expect([other.status, other.body.field]).toEqual([400, 'Idempotency-Key'])
  })
})

describe('killed and full', () => {
  interface Run {
    readonly acknowledged: number
    readonly noRoom: number
    readonly lost: number
    readonly doubled: number
    readonly unlike: number
    readonly unexpected: string[]
    readonly integrity: string
    readonly stray: number
  }
  const crash = async (options: object): Promise<Run> => {
    const script = fileURLToPath(new URL('../../tools/dist/crash-bench.js', import.meta.url))
    const args = [script, JSON.stringify(options)]
    // a small file system is mounted: by root as it is, by anybody else in a name space of its own
    const own = process.getuid?.() === 0
    const { stdout } = await promisify(execFile)(
      own ? process.execPath : 'unshare',
      own ? args : ['-rm', process.execPath, ...args],
    )
    return JSON.parse(stdout) as Run
  }
  const sound = { lost: 0, doubled: 0, unlike: 0, unexpected: [], integrity: 'ok', stray: 0 }

  it('four writers, and the server killed under them: nothing acknowledged is lost or doubled', async () => {
    const r = await crash({ kills: 3, seed: 5 })
    expect(r).toMatchObject(sound)
    expect(r.acknowledged).toBeGreaterThan(20)
  }, 120_000)
  it('the disk runs full in the middle: refused in words, and every later write is kept', async () => {
    const r = await crash({ kills: 2, seed: 6, fullDisk: true })
    expect(r).toMatchObject(sound)
    expect(r.noRoom).toBeGreaterThan(0)
  }, 120_000)
})

it('what is confirmed in this shop is weighed beside the server, which answers meanwhile', async () => {
  const count = async (): Promise<Answer['body']> => (await call('GET', '/api/shop/outcomes')).body
  let now = await count()
  for (const end = Date.now() + 20_000; now.counted !== now.of && Date.now() < end; now = await count())
    await new Promise((r) => setTimeout(r, 100))
  expect(now.counted).toBe(now.of)
  expect(Number(now.of)).toBeGreaterThan(0)
}, 30_000)
