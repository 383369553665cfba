import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { createServer, type AddressInfo, type Server, type Socket } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, afterEach, beforeAll, describe, expect, it } from '@jest/globals'
import { createApp, databaseOptions, restoreShop, type ShopFile } from '@uvula/server'
import type { CodesRead, LinkSample, LinkState } from '@uvula/contract'
import type { Response } from 'express'
import { DataSource } from 'typeorm'
import { LinkSession } from './link-session.js'
import { LiveStream } from './live-stream.js'
import { SampleRing } from './sample-ring.js'

const dir = mkdtempSync(join(tmpdir(), 'uvula-link-'))
let app: Awaited<ReturnType<typeof createApp>>
let base = ''

beforeAll(async () => {
  const database = join(dir, 'shop.sqlite')
  const demo = JSON.parse(
    readFileSync(new URL('../../../demo/dist/demo-shop.json', import.meta.url), 'utf8'),
  ) as ShopFile
  const source = await new DataSource(databaseOptions(database)).initialize()
  await restoreShop(source, demo)
  await source.destroy()
  app = await createApp({ database })
  await app.listen(0, '127.0.0.1')
  base = await app.getUrl()
}, 60_000)
afterAll(async () => {
  await app.close()
  rmSync(dir, { recursive: true, force: true })
})

async function post<T>(path: string, body: object = {}): Promise<{ status: number; body: T & { detail?: string } }> {
  const r = await fetch(`${base}/api/link/${path}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  })
  return { status: r.status, body: (await r.json()) as T & { detail?: string } }
}
const state = async (): Promise<LinkState> => (await (await fetch(`${base}/api/link`)).json()) as LinkState
const sleep = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms))
async function until(what: string, holds: (s: LinkState) => boolean, ms = 8000): Promise<LinkState> {
  const end = Date.now() + ms
  for (;;) {
    const s = await state()
    if (holds(s)) return s
    if (Date.now() > end) throw new Error(`${what} did not come: ${JSON.stringify(s)}`)
    await sleep(50)
  }
}
const isLive = (s: LinkState): boolean => s.phase === 'live' && s.seq > 2

/** Reads the stream for a time. */
async function listen(ms: number, since = ''): Promise<{ samples: LinkSample[]; id: string }> {
  const stop = new AbortController()
  const r = await fetch(`${base}/api/link/stream?since=${encodeURIComponent(since)}`, { signal: stop.signal })
  setTimeout(() => stop.abort(), ms)
  let text = ''
  const decoder = new TextDecoder()
  try {
    const reader = r.body!.getReader()
    for (;;) {
      const { done, value } = await reader.read()
      if (done) break
      text += decoder.decode(value, { stream: true })
    }
  } catch {
    // it is we who hang up
  }
  const events = text.split('\n\n').filter((e) => e.includes('event: samples') && e.endsWith(']'))
  return {
    samples: events.flatMap((e) => JSON.parse(/data: (.*)$/m.exec(e)![1]) as LinkSample[]),
    id: /id: (.*)/.exec(events.at(-1) ?? '')?.[1] ?? '',
  }
}

const standIn = (more: object = {}): Promise<{ status: number; body: LinkState & { detail?: string } }> =>
  post('stand-in', { visitId: 'visit-vet', faults: [], link: 'none', ...more })
afterEach(async () => void (await post('disconnect')))

describe('the stand-in over the link', () => {
  it('ten rows a second, every channel it has, none dropped; what was missed comes again', async () => {
    expect((await standIn()).status).toBe(202)
    const live = await until('live', isLive)
    expect(live.channels).toEqual(expect.arrayContaining(['rpm', 'maf_gs', 'stft1_pct', 'ltft2_pct', 'fuel_status']))
    expect(live.channels).not.toContain('map_kpa')
    expect(live.vin).toMatch(/^0/)
    const first = await listen(1500)
    await sleep(1200)
    const second = await listen(600, first.id)
    const seqs = [...first.samples, ...second.samples].map((s) => s.seq)
    expect(seqs).toEqual(seqs.map((_, i) => i + 1))
    const all = [...first.samples, ...second.samples]
    const middle = all
      .slice(1)
      .map((s, i) => s.t - all[i].t)
      .sort((a, b) => a - b)[all.length >> 1]
    expect(middle).toBeLessThan(1 / 8)
    expect(Object.keys(all.at(-1)!.values).length).toBe(live.channels.length)
  })
  it('follows the foot; codes are refused at speed, cleared at idle', async () => {
    await standIn({ faults: ['unmetered-air:areaMm2=9'] })
    await until('live', isLive)
    await post('foot', { kind: 'hold', rpm: 2500 })
    await sleep(2500)
    expect((await listen(300)).samples.at(-1)!.values.rpm).toBeGreaterThan(2200)
    const no = await post('codes/clear', { understood: true })
    expect([no.status, no.body.detail]).toEqual([409, expect.stringMatching(/refuses: conditions/)])
    await post('foot', { kind: 'idle' })
    const before = (await post<CodesRead>('codes')).body
    expect(before.stored).toEqual(expect.arrayContaining(['P0171', 'P0174']))
    expect(before.frame?.values.rpm).toBeGreaterThan(400)
    expect(before.monitors?.lamp).toBe(true)
    await sleep(2500)
    expect((await post('codes/clear', { understood: false })).status).toBe(400)
    const after = (await post<CodesRead>('codes/clear', { understood: true })).body
    expect(after.stored).toEqual([])
    expect(after.permanent).toEqual(before.stored)
    expect(after.monitors?.monitors.find((m) => m.id === 'catalyst')?.complete).toBe(false)
  })
  it('goes away and comes back: numbers go on, the gap stays a gap', async () => {
    await standIn()
    await until('live', isLive)
    await post('trouble', { link: 'gone' })
    const lost = await until('lost', (s) => s.phase === 'lost')
    expect(lost.message).toMatch(/lost|Nothing answers/)
    await sleep(1200)
    await post('trouble', { link: 'none' })
    const back = await until('back', (s) => s.phase === 'live' && s.seq > lost.seq + 3)
    expect(back.session).toBe(lost.session)
    const { samples } = await listen(300)
    expect(samples.map((s) => s.seq)).toEqual(samples.map((_, i) => i + 1))
    const [before, after] = [samples[lost.seq - 1], samples[lost.seq]]
    expect([before.seq, after.seq]).toEqual([lost.seq, lost.seq + 1])
    expect(after.t - before.t).toBeGreaterThan(1.2)
  })
  it.each([
    ['usual', 1, 4.5, undefined],
    ['slow', 0.4, 2.5, 'slow'],
    ['garbled', 0.5, 11, 'garbled'],
  ] as const)(
    'a %s link: says so, and rows still come',
    async (link, least, most, word) => {
      await standIn({ link })
      await until(
        'live',
        (s) => s.phase === 'live' && s.seq > 6 && (word === undefined || s.trouble.includes(word)),
        20_000,
      )
      const { samples } = await listen(400)
      const rate = (samples.length - 1) / (samples.at(-1)!.t - samples[0].t)
      expect(rate).toBeGreaterThan(least)
      expect(rate).toBeLessThan(most)
    },
    30_000,
  )
  it('silence and refusal have their words, and pass', async () => {
    await standIn()
    await until('live', isLive)
    await post('trouble', { link: 'refusing' })
    await until('refusing', (s) => s.trouble.includes('refusing'))
    await post('trouble', { link: 'silent' })
    await until('silent', (s) => s.trouble.includes('silent'))
    await post('trouble', { link: 'none' })
    await until('well again', (s) => s.phase === 'live' && s.trouble.length === 0, 12_000)
  }, 30_000)
  it('a fault that this car cannot have is named', async () => {
    const { status, body } = await standIn({ faults: ['boost-leak'] })
    expect([status, body.detail]).toEqual([400, expect.stringMatching(/faults: .*compressor/)])
  })
})

/** A vehicle written byte by byte, sharing nothing with the product: other parameters, two controllers, delays, refusals. */
class OtherVehicle {
  readonly server: Server
  private readonly sockets = new Set<Socket>()
  constructor(private readonly hangUp = false) {
    this.server = createServer((s) => {
      if (this.hangUp) return void s.destroy()
      this.sockets.add(s)
      let rest = Buffer.alloc(0)
      s.on('error', () => undefined)
      s.on('data', (d) => {
        rest = Buffer.concat([rest, d])
        for (; rest.length >= 13; rest = rest.subarray(13)) this.hear(s, rest.readUInt32BE(0), rest.subarray(5, 13))
      })
    })
  }
  async start(): Promise<number> {
    await new Promise<void>((r) => this.server.listen(0, '127.0.0.1', r))
    return (this.server.address() as AddressInfo).port
  }
  stop(): void {
    this.sockets.forEach((s) => s.destroy())
    this.server.close()
  }
  private frame(s: Socket, id: number, hex: string): void {
    const data = Buffer.from(hex.replaceAll(' ', '').padEnd(16, '0'), 'hex')
    s.write(Buffer.concat([Buffer.from([0, 0, id >> 8, id & 255, 8]), data]))
  }
  private hear(s: Socket, id: number, d: Buffer): void {
    const ask = d.subarray(1, 1 + d[0]).toString('hex')
    const engine = (hex: string): void => this.frame(s, 0x7e8, hex)
    const gearbox = (hex: string): void => this.frame(s, 0x7ea, hex)
    if (id === 0x7df && ask === '0100') {
      engine('06 41 00 18 39 00 00') // 04 05, 0b 0c 0d 10
      gearbox('06 41 00 00 08 00 01') // 0d and a next map
    } else if (id === 0x7df && ask === '0120')
      gearbox('06 41 20 00 00 20 01') // 33
    else if (id === 0x7df && ask === '0140')
      gearbox('06 41 40 40 00 00 00') // 42
    else if (id === 0x7e2 && ask === '0133')
      gearbox('03 41 33 58') // 88 kPa
    else if (id === 0x7e2 && ask === '0142') {
      // answer follows, then it does
      gearbox('03 7f 01 78')
      setTimeout(() => gearbox('04 41 42 35 e8'), 1500)
    } else if (id === 0x7e0 && ask === '010c')
      engine('04 41 0c 0c 80') // 800
    else if (id === 0x7e0 && ask === '0110')
      engine('04 41 10 01 90') // 4.00
    else if (id === 0x7e0 && ask === '0105')
      engine('03 41 05 78') // 80
    else if (id === 0x7e0 && ask === '010b')
      engine('03 7f 01 22') // refused
    else if (id === 0x7e0 && ask.startsWith('01'))
      engine(`03 41 ${ask.slice(2, 4)} 40`) // only the first of several
    else if (id === 0x7df && ask === '03') {
      this.frame(s, 0x7e8, '10 08 43 03 01 71 01 74')
      this.flow = () => this.frame(s, 0x7e8, '21 21 87')
    } else if (d[0] === 0x30 && id === 0x7e0) this.flow()
    else if (id === 0x7df && ask === '07') engine('02 47 00')
  }
  private flow: () => void = () => undefined
}

describe('another vehicle', () => {
  let other: OtherVehicle
  afterEach(() => other?.stop())
  const connect = (port: number): Promise<{ status: number; body: LinkState & { detail?: string } }> =>
    post('connect', { visitId: 'visit-vet', host: '127.0.0.1', port })

  it('one parameter at a time, two controllers, delays and refusals: what it gives is taken', async () => {
    other = new OtherVehicle()
    await connect(await other.start())
    const s = await until('live', (x) => x.phase === 'live' && x.seq > 15, 20_000)
    expect([...s.channels].sort()).toEqual(
      ['baro_kpa', 'battery_v', 'ect_c', 'load_pct', 'maf_gs', 'map_kpa', 'rpm', 'speed_kph'].sort(),
    )
    expect(s.trouble).toContain('refusing')
    const { samples } = await listen(300)
    const seen = Object.assign({}, ...samples.map((x) => x.values)) as LinkSample['values']
    expect(seen).toMatchObject({ rpm: 800, maf_gs: 4, ect_c: 80, baro_kpa: 88, battery_v: 13.8 })
    expect(seen.map_kpa).toBeUndefined()
    const codes = (await post<CodesRead>('codes')).body
    expect(codes.stored).toEqual(['P0171', 'P0174', 'P2187'])
    expect(codes.refused.join()).toMatch(/permanent codes: no answer/)
  }, 30_000)
  it('nothing there, one that hangs up and one that is silent are one answer: what else listens is not told', async () => {
    const told: unknown[] = []
    const quiet = createServer((s) => void s.on('error', () => undefined).resume())
    for (const there of ['nothing', 'hangs up', 'silent'] as const) {
      other = new OtherVehicle(there === 'hangs up')
      let port = await other.start()
      if (there !== 'hangs up') other.stop()
      if (there === 'silent') {
        await new Promise<void>((r) => quiet.listen(0, '127.0.0.1', r))
        port = (quiet.address() as AddressInfo).port
      }
      await connect(port)
      const s = await until(there, (x) => x.phase === 'lost' && x.message !== undefined, 30_000)
      const { phase, channels, latencyMs, skippedBytes, trouble, unanswered } = s
      told.push({
        ...{ phase, channels, latencyMs, skippedBytes, trouble, unanswered },
        message: s.message!.replace(String(port), 'PORT'),
      })
      other.stop()
    }
    await post('disconnect')
    await new Promise((r) => quiet.close(r))
    expect(told[0]).toMatchObject({ message: expect.stringMatching(/^No vehicle answers at 127.0.0.1:PORT: .*key/) })
    expect(told[1]).toEqual(told[0])
    expect(told[2]).toEqual(told[0])
  }, 60_000)
  it('attempts in vain end, and that is said', async () => {
    let opened = 0
    const session = new LinkSession({
      ...{ session: 's', visitId: 'v', address: { host: '127.0.0.1', port: 9 }, standIn: false },
      open: () => {
        opened++
        return Promise.reject(new Error('nobody'))
      },
      givesUpMs: { unmet: 300, met: 300 },
    })
    while (session.state.phase !== 'off') await sleep(20)
    expect(session.state.message).toMatch(/^No vehicle answers at 127.0.0.1:9.*tried no longer: connect again/)
    await sleep(700)
    expect(opened).toBe(2)
  })
  it('nobody there: says where, and goes on trying until it is told to stop', async () => {
    other = new OtherVehicle()
    const port = await other.start()
    other.stop()
    await connect(port)
    const s = await until('lost', (x) => x.phase === 'lost' && x.attempts > 1)
    expect(s.message).toMatch(`127.0.0.1:${port}`)
    expect((await post<LinkState>('disconnect')).body.phase).toBe('off')
  })
})

it('a browser that does not keep up is waited for: nothing is dropped, nothing is sent twice', () => {
  const ring = new SampleRing()
  let changed: () => void = () => undefined
  let state = { session: 's' } as LinkState
  const service = {
    get state() {
      return state
    },
    over: false,
    current: { ring } as LinkSession,
    onChange: (f: () => void) => {
      changed = f
      return () => undefined
    },
  }
  const got: LinkSample[] = []
  const on: Record<string, () => void> = {}
  let full = false
  let ended = false
  const response = {
    set: () => response,
    flushHeaders: () => undefined,
    on: (name: string, f: () => void) => (on[name] = f),
    end: () => (ended = true),
    write: (text: string) => {
      if (text.includes('event: samples')) got.push(...(JSON.parse(/data: (.*)/.exec(text)![1]) as LinkSample[]))
      return !full
    },
  }
  new LiveStream(service, response as unknown as Response, 's:0')
  for (let i = 1; i <= 900; i++) {
    ring.add(i / 10, { rpm: i })
    full = i > 100 && i < 700
    changed()
    if (i === 800) on.drain()
  }
  expect(got.map((s) => s.seq)).toEqual(Array.from({ length: 900 }, (_, i) => i + 1))
  state = { ...state, session: 't' }
  service.over = true
  changed()
  expect(ended).toBe(true)
  on.close()
})

describe('bad input', () => {
  it.each([
    ['connect', { visitId: 'visit-vet', host: '127.0.0.1', port: 1 }],
    ['stand-in', { visitId: 'visit-vet', faults: [], link: 'none' }],
    ['disconnect', {}],
    ['foot', { kind: 'idle' }],
    ['trouble', { link: 'none' }],
    ['codes', {}],
    ['codes/clear', { understood: true }],
  ])('%s refuses a field it does not know', async (path, body) => {
    const r = await post(path, { ...body, wobble: 1 })
    expect([r.status, r.body.detail]).toEqual([400, expect.stringMatching(/wobble/)])
  })
  it.each([
    ['connect', { visitId: 'visit-vet', host: 'a b', port: 1 }, 400],
    ['connect', { visitId: 'visit-vet', host: 'x', port: 0 }, 400],
    ['connect', { visitId: 'nowhere', host: 'x', port: 1 }, 404],
    ['foot', { kind: 'fly' }, 400],
    ['foot', { kind: 'idle' }, 409],
    ['codes', {}, 503],
  ])('%s %j gives %s', async (path, body, status) => expect((await post(path, body)).status).toBe(status))
})
