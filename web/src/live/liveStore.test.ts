/** @jest-environment jsdom */
import { beforeEach, describe, expect, it, jest } from '@jest/globals'
import '../test/browser.js'
import type { LinkSample } from '@uvula/contract'
import { database } from '../store/database.js'

/** The server's stream, played by the test. */
class Stream {
  static readonly CLOSED = 2
  static all: Stream[] = []
  readyState = 1
  readonly hears = new Map<string, (e: { data: string }) => void>()
  constructor(readonly url: string) {
    Stream.all.push(this)
  }
  addEventListener(kind: string, f: (e: { data: string }) => void): void {
    this.hears.set(kind, f)
  }
  close(): void {
    this.readyState = Stream.CLOSED
  }
  say(kind: string, data: unknown = ''): void {
    this.hears.get(kind)?.({ data: JSON.stringify(data) })
  }
}
Object.assign(globalThis, { EventSource: Stream })

const sample = (seq: number, t = seq / 10): LinkSample => ({ seq, t, values: { rpm: 700 + seq } })
const several = (from: number, to: number): LinkSample[] =>
  Array.from({ length: to - from + 1 }, (_, i) => sample(from + i))
const STATE = { session: 's1', standIn: true }

type Store = (typeof import('./liveStore.js'))['liveStore']
/** A page that has just been opened: the module as it starts. */
async function opened(): Promise<{ store: Store; stream: Stream; leave: () => void }> {
  jest.resetModules()
  const { liveStore: store } = (await import('./liveStore.js')) as { liveStore: Store }
  const leave = store.subscribe(() => undefined)
  const before = Stream.all.length
  for (let i = 0; i < 1000 && Stream.all.length === before; i++) await new Promise((r) => setTimeout(r, 5))
  return { store, stream: Stream.all.at(-1)!, leave }
}
const shown = (): Promise<void> => new Promise((r) => setTimeout(r, 230))

beforeEach(async () => {
  Stream.all = []
  const db = await database()
  await db.clear('live')
})

describe('live data', () => {
  it('one stream serves every part that looks, and closes when the last has gone', async () => {
    const { store, stream, leave } = await opened()
    const other = store.subscribe(() => undefined)
    expect(Stream.all).toHaveLength(1)
    leave()
    expect(stream.readyState).toBe(1)
    other()
    expect(stream.readyState).toBe(Stream.CLOSED)
  })
  it('counts sample numbers that never came, and passes over what came twice', async () => {
    const { store, stream } = await opened()
    stream.say('state', STATE)
    stream.say('samples', several(1, 3))
    stream.say('samples', [...several(2, 3), ...several(6, 8)])
    await shown()
    expect(store.snapshot().samples.map((s) => s.seq)).toEqual([1, 2, 3, 6, 7, 8])
    expect(store.snapshot().dropped).toBe(2)
  })
  it('another session begins anew; one that is gone leaves what was seen', async () => {
    const { store, stream } = await opened()
    stream.say('state', STATE)
    stream.say('samples', several(1, 5))
    stream.say('state', { ...STATE, session: '' })
    expect(store.snapshot().samples).toHaveLength(5)
    stream.say('state', { ...STATE, session: 's2' })
    expect(store.snapshot().samples).toHaveLength(0)
    expect(store.snapshot().dropped).toBe(0)
  })
  it('a recording holds what comes after it began, and nothing from before', async () => {
    const { store, stream } = await opened()
    stream.say('state', STATE)
    stream.say('samples', several(1, 10))
    store.begin('v', 0)
    stream.say('samples', several(11, 14))
    store.mark()
    await shown()
    expect(store.snapshot().rows.map((s) => s.seq)).toEqual([11, 12, 13, 14])
    expect(store.snapshot().recording).toMatchObject({ visitId: 'v', fromSeq: 11, simulated: true, marks: [1.4] })
  })
  it('a page that closes and opens again goes on with its recording from the last sample kept', async () => {
    const first = await opened()
    first.stream.say('state', STATE)
    first.store.begin('v', 1)
    first.stream.say('samples', several(1, 120))
    first.leave()
    await new Promise((r) => setTimeout(r, 200))

    const second = await opened()
    expect(decodeURIComponent(second.stream.url)).toMatch(/since=s1:120$/)
    expect(second.store.snapshot().rows).toHaveLength(120)
    second.stream.say('state', STATE)
    second.stream.say('samples', several(121, 125))
    await shown()
    expect(second.store.snapshot().rows.map((s) => s.seq)).toEqual(several(1, 125).map((s) => s.seq))
    expect(second.store.snapshot().dropped).toBe(0)
  })
  it('pieces are forgotten when the recording has ended', async () => {
    const { store, stream, leave } = await opened()
    stream.say('state', STATE)
    store.begin('v', 0)
    stream.say('samples', several(1, 60))
    leave()
    await new Promise((r) => setTimeout(r, 200))
    expect(await (await database()).count('live')).toBe(2)
    await store.end()
    expect(await (await database()).count('live')).toBe(0)
    expect(store.snapshot().recording).toBeUndefined()
    expect(localStorage.getItem('uvula-live-recording')).toBeNull()
  })
  it('says when the server is out of reach, and when it is back', async () => {
    const { store, stream } = await opened()
    expect(store.snapshot().reached).toBeUndefined()
    stream.say('open')
    expect(store.snapshot().reached).toBe(true)
    stream.say('error')
    expect(store.snapshot().reached).toBe(false)
    stream.say('open')
    expect(store.snapshot().reached).toBe(true)
  })
})
