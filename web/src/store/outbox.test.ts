/** @jest-environment jsdom */
import { beforeEach, describe, expect, it } from '@jest/globals'
import { waitFor } from '@testing-library/react'
import { UPLOAD_PIECE } from '@uvula/contract'
import { PlayedServer, type Asked, type Played } from '../test/browser.js'
import { letIn } from './access.js'
import { database } from './database.js'
import { baseOf, outbox } from './outbox.js'
import { technician } from './settings.js'

const server = new PlayedServer()
let versions: Map<string, number>

/** A server that keeps versions as the real one does. */
function taking(a: Asked): Played {
  const id = a.path.split('/').at(-1)!
  const version = (versions.get(id) ?? 0) + 1
  versions.set(id, version)
  return { status: 200, body: { ...a.body, id, version } }
}
const refusing: Played = { status: 422, body: { type: 'uvula:bad', title: 'no', status: 422, detail: 'value: no' } }
const conflicting: Played = {
  status: 409,
  body: {
    type: 'uvula:conflict',
    title: 'Changed meanwhile',
    status: 409,
    detail: 'changed on another device',
    current: { id: 'r', value: 650, version: 7 },
  },
}

const add = (id: string, value: number): Promise<void> =>
  outbox.add({
    noun: 'readings',
    id,
    visitId: 'v',
    by: 'R',
    at: '2026-01-01T09:00:00Z',
    data: { visitId: 'v', round: 0, slot: 'idle', channel: 'rpm', value, typed: String(value) },
    ...baseOf(outbox.snapshot().writes, 'readings', id, 0),
  })
const states = (): string[] => outbox.snapshot().writes.map((w) => `${w.id}:${w.state}`)
const settled = (n: number): Promise<void> =>
  waitFor(() => expect(outbox.snapshot().writes).toHaveLength(n), { timeout: 4000 })

beforeEach(async () => {
  versions = new Map()
  server.asked.length = 0
  server.answer = taking
  for (const w of outbox.snapshot().writes) await outbox.drop(w)
  await (await database()).clear('outbox')
})

describe('the outbox', () => {
  it('delivers in the order of entry, once, each under its own key', async () => {
    await Promise.all([add('a', 1), add('b', 2), add('c', 3)])
    await settled(0)
    expect(server.writes.map((w) => w.path)).toEqual(['/api/readings/a', '/api/readings/b', '/api/readings/c'])
    expect(new Set(server.writes.map((w) => w.key)).size).toBe(3)
  })
  it('tells twice of an entry, when it is made and when it is taken, and with the server’s answer at once', async () => {
    const told: string[][] = []
    const stop = [outbox.subscribe(() => told.push(states())), outbox.onDelivered((w) => told.push([`${w.id} taken`]))]
    await add('a', 1)
    expect(outbox.snapshot().writes[0]?.seq).toBeDefined()
    await waitFor(async () => expect(await (await database()).count('outbox')).toBe(0))
    for (const end of stop) end()
    expect(told).toEqual([['a:waiting'], ['a taken'], []])
  })
  it('another’s entry leaves those that wait the same objects', async () => {
    server.answer = () => 'away'
    await add('a', 1)
    await waitFor(() => expect(outbox.snapshot().reachable).toBe(false))
    const [a] = outbox.snapshot().writes
    server.answer = (x) => (x.path.endsWith('/a') ? 'away' : taking(x))
    // another page's entry, which this one finds when it starts anew
    const { seq: _, ...rest } = a
    await (await database()).add('outbox', { ...rest, key: 'of another page', id: 'b' })
    await outbox.start()
    expect(states()).toEqual(['a:waiting', 'b:waiting'])
    expect(outbox.snapshot().writes[0]).toBe(a)
    server.answer = taking
    outbox.kick()
    await settled(0)
  })
  it('waits while nobody is signed in, refuses nothing, and goes with the one who signs in', async () => {
    await outbox.start()
    server.answer = () => ({
      status: 401,
      body: { type: 'uvula:signed-out', title: 'Not signed in', status: 401, detail: 'Nobody is signed in.' },
    })
    await add('a', 1)
    await waitFor(() => expect(server.writes).toHaveLength(1))
    expect(states()).toEqual(['a:waiting'])
    expect(outbox.snapshot().reachable).toBe(true)
    server.answer = taking
    letIn({ here: false, paired: true, me: { id: 'p', name: 'Ebbe', role: 'technician' }, people: [] })
    await settled(0)
    expect(technician()).toBe('Ebbe')
  })
  it('loses nothing to a page that goes before storage has it, and sends nothing twice for it', async () => {
    server.answer = () => 'away'
    await outbox.start()
    const going = add('a', 1)
    dispatchEvent(new Event('pagehide'))
    await going
    // storage had it after all
    await outbox.start()
    expect(states()).toEqual(['a:waiting'])
    void add('b', 2)
    dispatchEvent(new Event('pagehide'))
    await settled(2)
    await (await database()).clear('outbox')
    await outbox.start()
    expect(states()).toEqual(['b:waiting'])
    server.answer = taking
    outbox.kick()
    await settled(0)
    expect(localStorage.length).toBe(0)
  })
  it('keeps what is entered while the server is away, and sends it under the same key when it is back', async () => {
    server.answer = () => 'away'
    await add('a', 1)
    await waitFor(() => expect(outbox.snapshot().reachable).toBe(false))
    expect(await (await database()).count('outbox')).toBe(1)
    server.answer = taking
    outbox.kick()
    await settled(0)
    expect(outbox.snapshot().reachable).toBe(true)
    expect(new Set(server.writes.map((w) => w.key)).size).toBe(1)
  })
  it('a refused entry stays with its reason, and nothing behind it waits for it', async () => {
    server.answer = (a) => (a.path.endsWith('/a') ? refusing : taking(a))
    await add('a', 1)
    await add('b', 2)
    await waitFor(() => expect(states()).toEqual(['a:refused']))
    expect(outbox.snapshot().writes[0].problem).toBe('value: no')
    expect(versions.get('b')).toBe(1)
    server.answer = taking
    await outbox.insist(outbox.snapshot().writes[0])
    await settled(0)
    expect(versions.get('a')).toBe(1)
  })
  it('a second edit waits behind a conflict, and both follow the choice of mine, in order', async () => {
    server.answer = () => 'away'
    await add('r', 690)
    await add('r', 695)
    server.answer = (a) => (a.body.value === 690 && a.body.baseVersion === 0 ? conflicting : taking(a))
    outbox.kick()
    await waitFor(() => expect(states()).toEqual(['r:conflict', 'r:waiting']))
    const [first, second] = outbox.snapshot().writes
    expect(second.basedOnKey).toBe(first.key)
    await outbox.insist(first)
    await settled(0)
    const sent = server.writes.slice(-2).map((w) => [w.body.value, w.body.baseVersion, w.body.basedOnKey])
    // on top of what is stored now, then upon the own one before it
    expect(sent).toEqual([
      [690, 7, undefined],
      [695, 0, first.key],
    ])
  })
  it('the choice of the other takes off what was made upon mine too, and shows what stands there', async () => {
    server.answer = () => 'away'
    await add('r', 690)
    await add('r', 695)
    server.answer = () => conflicting
    outbox.kick()
    await waitFor(() => expect(states()).toEqual(['r:conflict', 'r:waiting']))
    const shown: unknown[] = []
    const stop = outbox.onDelivered((_, record) => shown.push(record))
    await outbox.drop(outbox.snapshot().writes[0])
    await settled(0)
    expect(shown).toEqual([{ id: 'r', value: 650, version: 7 }])
    stop()
  })
  it('a server that stumbles is tried again; one that answers "no" is in reach', async () => {
    let n = 0
    server.answer = (a) =>
      n++ ? taking(a) : { status: 503, body: { type: 'x', title: '', status: 503, detail: 'full' } }
    await add('a', 1)
    await settled(0)
    expect(n).toBe(2)
    server.answer = () => refusing
    await add('b', 2)
    await waitFor(() => expect(states()).toEqual(['b:refused']))
    expect(outbox.snapshot().reachable).toBe(true)
  })
})

describe('a write with a file', () => {
  const file = new Uint8Array(2 * UPLOAD_PIECE + 77).map((_, i) => i % 251)
  const drop = (): Promise<void> =>
    outbox.add(
      {
        noun: 'recordings',
        id: 'long',
        visitId: 'v',
        by: 'R',
        at: '2026-01-01T09:00:00Z',
        data: { visitId: 'v', round: 0, name: 'long.csv' },
        baseVersion: 0,
      },
      file,
    )
  const kept = async (): Promise<number> => (await database()).count('pieces')

  it('sends it in pieces, names it by the key, and keeps none of it afterwards', async () => {
    await drop()
    await settled(0)
    const [sent] = server.writes.filter((w) => w.path.includes('recordings'))
    expect(sent.body).toMatchObject({ name: 'long.csv', upload: sent.key, uploadBytes: file.length })
    expect(server.pieces.get(sent.key!)).toEqual([UPLOAD_PIECE, UPLOAD_PIECE, 77])
    expect(await kept()).toBe(0)
  })
  it('goes on where it stopped when the server comes back', async () => {
    let pieces = 0
    server.answer = (a) => (a.path.startsWith('/api/uploads/') && ++pieces > 2 ? 'away' : taking(a))
    await drop()
    await waitFor(() => expect(outbox.snapshot().reachable).toBe(false))
    expect(await kept()).toBe(3)
    // what lies in the outbox itself is small
    expect(JSON.stringify(await (await database()).getAll('outbox')).length).toBeLessThan(1000)
    server.answer = taking
    outbox.kick()
    await settled(0)
    const [sent] = server.writes.filter((w) => w.path.includes('recordings'))
    expect(server.pieces.get(sent.key!)).toEqual([UPLOAD_PIECE, UPLOAD_PIECE, 77])
  })
  it('that is refused and taken off leaves nothing of its file', async () => {
    server.answer = (a) => (a.path.includes('recordings') ? refusing : taking(a))
    await drop()
    await waitFor(() => expect(states()).toEqual(['long:refused']))
    expect(await kept()).toBe(3)
    await outbox.drop(outbox.snapshot().writes[0])
    expect(await kept()).toBe(0)
  })
})
