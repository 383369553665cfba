import { readdirSync, utimesSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import { UPLOAD_PIECE } from '@uvula/contract'
import { Harness } from '../harness.fixture.js'

const server = new Harness()
const { call, put } = server
beforeAll(() => server.open(), 60_000)
afterAll(() => server.close())

const piece = async (key: string, at: number, bytes: Uint8Array): Promise<{ status: number; bytes?: number }> => {
  const r = await fetch(`${server.base}/api/uploads/${key}?at=${at}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/octet-stream' },
    body: Buffer.from(bytes),
  })
  return { status: r.status, ...((await r.json()) as object) }
}
const folder = (): string[] => {
  try {
    return readdirSync(join(server.dir, 'uploads'))
  } catch {
    return []
  }
}

const head = 'time_s,Engine RPM (rpm),MAF Air Flow Rate (g/s),Coolant Temp (°C)\n'
const log = Buffer.from(
  head + Array.from({ length: 60_000 }, (_, i) => `${(i / 10).toFixed(1)},${780 + (i % 5)},2.9,90\n`).join(''),
)
const recording = (upload: string, more: object = {}): object => ({
  visitId: 'visit-vet',
  round: 0,
  name: 'long.csv',
  upload,
  ...more,
})

describe('a file in pieces', () => {
  it('goes on where it stopped, and is read and kept byte for byte', async () => {
    expect(log.length).toBeGreaterThan(1.5 * UPLOAD_PIECE)
    expect((await call('GET', '/api/uploads/k-one')).body).toEqual({ bytes: 0 })
    expect(await piece('k-one', 0, log.subarray(0, UPLOAD_PIECE))).toMatchObject({ status: 200, bytes: UPLOAD_PIECE })
    // the answer was lost: the same piece once more, and one that is ahead of it, change nothing
    expect(await piece('k-one', 0, log.subarray(0, UPLOAD_PIECE))).toMatchObject({ bytes: UPLOAD_PIECE })
    expect(await piece('k-one', 2 * UPLOAD_PIECE, log.subarray(0, 9))).toMatchObject({ bytes: UPLOAD_PIECE })
    await server.restart()
    const { bytes } = (await call('GET', '/api/uploads/k-one')).body as { bytes?: number }
    for (let at = bytes!; at < log.length; at += UPLOAD_PIECE)
      await piece('k-one', at, log.subarray(at, at + UPLOAD_PIECE))
    const made = await put('/api/recordings/in-pieces', recording('k-one'), { key: 'k-one' })
    expect(made).toMatchObject({ status: 200, body: { rows: 60_000, bytes: log.length } })
    expect(folder()).toEqual([])
    const original = await fetch(`${server.base}/api/recordings/in-pieces/original`)
    expect(Buffer.from(await original.arrayBuffer()).equals(log)).toBe(true)
    // its answer was lost: sent again it gets the same one, without its file
    expect(await put('/api/recordings/in-pieces', recording('k-one'), { key: 'k-one' })).toEqual(made)
  })
  it('is refused where it is not here, and where it is no recording it can be taken off', async () => {
    const lost = await put('/api/recordings/lost', recording('k-nobody'))
    expect(lost).toMatchObject({ status: 400, body: { field: 'upload' } })
    expect(lost.body.detail).toMatch(/send its pieces first/)
    await piece('k-part', 0, log.subarray(0, 5000))
    const part = recording('k-part', { uploadBytes: log.length })
    expect(await put('/api/recordings/part', part)).toMatchObject({ status: 400, body: { field: 'upload' } })
    await piece('k-text', 0, Buffer.from('nothing of an engine'))
    expect((await put('/api/recordings/text', recording('k-text'))).status).toBe(422)
  })
  it.each([
    ['an empty piece', 'k-a', 0, new Uint8Array(0), 422],
    ['a piece from nowhere', 'k-b', -1, new Uint8Array(9), 400],
    ['a piece beyond what is taken', 'k-c', 100 * 1024 * 1024, new Uint8Array(9), 422],
    ['a piece that is too large', 'k-d', 0, new Uint8Array(UPLOAD_PIECE + 1), 413],
  ])('%s is refused with a sentence', async (_what, key, at, bytes, status) => {
    const before = folder().length
    expect((await piece(key, at, bytes)).status).toBe(status)
    expect(folder()).toHaveLength(before)
  })
  it('that nobody goes on with is given up after a week', async () => {
    await piece('k-old', 0, new Uint8Array(9))
    for (const n of folder()) utimesSync(join(server.dir, 'uploads', n), 1, 1)
    await piece('k-new', 0, new Uint8Array(9))
    expect(folder()).toHaveLength(1)
  })
})
