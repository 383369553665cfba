import { createServer, type AddressInfo, type Socket } from 'node:net'
import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import { balanceOf, calibrated, calibrationOf, readWave, vehicleAtPlace, type VisitFile } from '@uvula/core'
import type { TransducerState } from '@uvula/contract'
import { Harness } from '../harness.fixture.js'

const server = new Harness()
beforeAll(() => server.open(), 60_000)
afterAll(() => server.close())

const visitId = 'visit-library'
type Answer = TransducerState & { readonly detail?: string }
const post = async (path: string, body: object): Promise<{ status: number; body: Answer }> => {
  const r = await server.call('POST', `/api/transducer/${path}`, body)
  return { status: r.status, body: r.body as unknown as Answer }
}
const now = async (): Promise<Answer> => (await server.call('GET', '/api/transducer')).body as unknown as Answer
/** Asks until it is so. */
async function until(so: (s: Answer) => boolean): Promise<Answer> {
  for (let i = 0; i < 100; i++) {
    const s = await now()
    if (so(s)) return s
    await new Promise((r) => setTimeout(r, 100))
  }
  throw new Error('not within ten seconds')
}

describe('a pressure transducer', () => {
  it('a simulated engine is calibrated by two points, and its weak cylinder is named from what was taken live', async () => {
    // the seed's third cylinder of four
    expect((await post('stand-in', { visitId, seed: 2 })).status).toBe(202)
    const mean = async (hose: 'open' | 'pump'): Promise<number> => {
      await post('hose', { hose })
      return (await until((s) => s.phase === 'running' && s.mean !== undefined)).mean!
    }
    const file = (await server.call('GET', `/api/visits/${visitId}`)).body as unknown as VisitFile
    const open = { raw: await mean('open'), kpa: 87.9 }
    const made = calibrationOf(open, { raw: await mean('pump'), kpa: 47.9 })
    // what was on its way when the hose was moved tells of where it was: each mean is of one end alone
    expect(open.raw - (await mean('pump'))).toBeCloseTo(40 / 30, 3)
    expect(made.ok && made.value.scale).toBeCloseTo(30, 1)
    await post('hose', { hose: 'engine' })
    expect((await fetchText('/api/transducer/capture?seconds=5')).status).toBe(409)
    const { text } = await taken()
    const read = readWave(new TextEncoder().encode(text))
    const wave = read.ok && made.ok ? calibrated(read.value, made.value) : read
    if (!wave.ok) throw new Error(wave.error.message)
    const found = balanceOf({ vehicle: vehicleAtPlace(file), wave: wave.value, side: 'intake' })
    expect(found.ok && found.value.odd?.cylinder).toBe(3)
    expect((await post('off', {})).body.phase).toBe('off')
    expect((await post('hose', { hose: 'open' })).status).toBe(409)
  }, 30_000)
  it('one on the network: a rate that tells nothing is said, silence and hanging up are told', async () => {
    const clients: Socket[] = []
    const box = createServer((c) => {
      clients.push(c)
      c.on('error', () => undefined)
      c.write(
        '{"sample_hz":50}\n{"pressure":[1,2]}\n{"sample_hz":1000,"unit":"V"}\n{"pressure":[1,2,3]}\n{"pressure":["x"]}\n',
      )
      c.write(`{"pressure":[${'1,2,3,'.repeat(165)}2,2]}\n`)
    })
    await new Promise<void>((r) => box.listen(0, '127.0.0.1', r))
    try {
      await post('connect', { visitId, host: '127.0.0.1', port: (box.address() as AddressInfo).port })
      expect(await until((s) => s.mean !== undefined)).toMatchObject({
        mean: 2,
        sampleHz: 1000,
        unit: 'V',
        standIn: false,
      })
      expect((await now()).message).toMatch(/50 samples a second; 200 to 20000/)
      for (const c of clients) c.destroy()
      expect((await until((s) => /hung up/.test(s.message ?? ''))).mean).toBeUndefined()
      expect((await fetchText('/api/transducer/capture?seconds=99')).status).toBe(400)
      await post('off', {})
    } finally {
      for (const c of clients) c.destroy()
      await new Promise((r) => box.close(r))
    }
  })
})

/** Five seconds, once so much was heard. */
async function taken(): ReturnType<typeof fetchText> {
  for (let i = 0; i < 75; i++) {
    const r = await fetchText('/api/transducer/capture?seconds=5')
    if (r.status === 200) return r
    await new Promise((done) => setTimeout(done, 200))
  }
  throw new Error('five seconds were not heard within fifteen')
}

async function fetchText(path: string): Promise<{ status: number; text: string }> {
  const r = await fetch(`${server.base}${path}`)
  return { status: r.status, text: await r.text() }
}
