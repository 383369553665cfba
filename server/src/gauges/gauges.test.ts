import { createServer, type AddressInfo, type Socket } from 'node:net'
import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import type { GaugesState } from '@uvula/contract'
import { Harness } from '../harness.fixture.js'

const server = new Harness()
beforeAll(() => server.open(), 60_000)
afterAll(() => server.close())

const visitId = 'visit-hill'
const post = async (
  path: string,
  body: object,
): Promise<{ status: number; body: GaugesState & { detail?: string } }> => {
  const r = await server.call('POST', `/api/gauges/${path}`, body)
  return { status: r.status, body: r.body as unknown as GaugesState & { detail?: string } }
}
const now = async (): Promise<GaugesState> => (await server.call('GET', '/api/gauges')).body as unknown as GaugesState
/** Asks until it is so. */
async function until(so: (s: GaugesState) => boolean): Promise<GaugesState> {
  for (let i = 0; i < 100; i++) {
    const s = await now()
    if (so(s)) return s
    await new Promise((r) => setTimeout(r, 100))
  }
  throw new Error('not within ten seconds')
}

describe('vacuum gauges', () => {
  it('simulated throttles are read, turned and held at another speed', async () => {
    expect((await post('stand-in', { visitId, seed: 7 })).status).toBe(202)
    const before = await until((s) => s.rows >= 5)
    expect(before).toMatchObject({ phase: 'running', standIn: true, speed: 'hold-2500', visitId })
    expect(before.vacuumKpa).toHaveLength(4)
    const turned = await post('turn', { layout: 'each', adjuster: 'throttle-2', turns: 1 })
    // what was read before the turn is not read any more
    expect(turned.body.vacuumKpa).toBeUndefined()
    const after = await until((s) => s.rows >= 5)
    expect(after.vacuumKpa![1]).toBeLessThan(before.vacuumKpa![1] - 1)
    expect((await post('speed', { speed: 'idle' })).body.speed).toBe('idle')
    expect((await post('turn', { layout: 'each', adjuster: 'middle', turns: 1 })).status).toBe(400)
    expect((await post('off', {})).body).toMatchObject({ phase: 'off', standIn: false })
    expect((await post('turn', { layout: 'each', adjuster: 'throttle-2', turns: 1 })).status).toBe(409)
  })
  it('a box on the network: what is no row is left out, silence and hanging up are told', async () => {
    const clients: Socket[] = []
    const box = createServer((c) => {
      clients.push(c)
      c.on('error', () => undefined)
      c.write('hello\n{"vacuum_kpa":[50,51]}\n{"vacuum_kpa":[50,"x"]}\n{"vacuum_kpa":[52,53]}\n{"vacuum')
    })
    await new Promise<void>((r) => box.listen(0, '127.0.0.1', r))
    const { port } = box.address() as AddressInfo
    await post('connect', { visitId, host: '127.0.0.1', port })
    const read = await until((s) => s.rows === 2)
    expect(read.vacuumKpa).toEqual([51, 52])
    expect(read.message).toMatch(/no row of figures/)
    for (const c of clients) c.destroy()
    const lost = await until((s) => s.phase === 'lost')
    expect(lost.vacuumKpa).toBeUndefined()
    await new Promise((r) => box.close(r))
    await post('connect', { visitId, host: '127.0.0.1', port })
    const nothing = (await until((s) => s.message !== undefined)).message
    expect(nothing).toMatch(/^No gauges can be heard at 127\.0\.0\.1:\d+: /)
    // something else that listens there is the same answer, whatever it says
    const other = createServer((c) => void c.on('error', () => undefined).write('{"not":"gauges"}\nhello\n'))
    await new Promise<void>((r) => other.listen(port, '127.0.0.1', r))
    await post('connect', { visitId, host: '127.0.0.1', port })
    expect((await until((s) => s.message !== undefined)).message).toBe(nothing)
    await post('off', {})
    await new Promise((r) => other.close(r))
  }, 30_000)
  it('an engine with one throttle, a visit that is none, an address that is none: refused', async () => {
    expect((await post('stand-in', { visitId: 'visit-vet', seed: 1 })).status).toBe(400)
    expect((await post('stand-in', { visitId: 'nowhere', seed: 1 })).status).toBe(404)
    expect((await post('connect', { visitId, host: 'a b', port: 1 })).status).toBe(400)
  })
})
