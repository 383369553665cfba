import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import type { Hand } from '@uvula/contract'
import { Harness } from '../harness.fixture.js'

const server = new Harness()
beforeAll(() => server.open(), 60_000)
afterAll(() => server.close())

/** A page that holds its line: what it was told, and how to hang up. */
function line(who: Hand, visitId = 'visit-vet'): { hands: () => Hand[]; changes: () => string[]; hangUp: () => void } {
  const stop = new AbortController()
  const told: { event: string; data: string }[] = []
  const query = new URLSearchParams({ ...who })
  void (async () => {
    const r = await fetch(`${server.base}/api/visits/${visitId}/together?${query.toString()}`, { signal: stop.signal })
    const decoder = new TextDecoder()
    let rest = ''
    const reader = r.body!.getReader()
    for (;;) {
      const { done, value } = await reader.read()
      if (done) return
      rest += decoder.decode(value, { stream: true })
      const parts = rest.split('\n\n')
      rest = parts.pop()!
      for (const p of parts) {
        const m = /^event: (\w+)\ndata: (.*)$/m.exec(p)
        if (m) told.push({ event: m[1], data: m[2] })
      }
    }
  })().catch(() => undefined)
  return {
    hands: () => JSON.parse(told.filter((t) => t.event === 'hands').at(-1)?.data ?? '[]') as Hand[],
    changes: () => told.filter((t) => t.event === 'change').map((t) => (JSON.parse(t.data) as { noun: string }).noun),
    hangUp: () => stop.abort(),
  }
}
async function until(holds: () => boolean): Promise<void> {
  for (const end = Date.now() + 8000; !holds(); await new Promise((r) => setTimeout(r, 20)))
    if (Date.now() > end) throw new Error('it did not come')
}
const hand = (device: string, by: string, stage = 'arrive'): Hand => ({ device, by, stage })

describe('two tablets on one visit', () => {
  it('each is told of the other, where it is, and that it went', async () => {
    const runa = line(hand('a', 'Runa'))
    await until(() => runa.hands().length === 1)
    const ebbe = line(hand('b', 'Ebbe', 'measure'))
    await until(() => runa.hands().length === 2)
    expect(runa.hands()).toContainEqual(hand('b', 'Ebbe', 'measure'))
    const moved = await fetch(`${server.base}/api/visits/visit-vet/together`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(hand('b', 'Ebbe', 'trace')),
    })
    expect(moved.status).toBe(204)
    await until(() => runa.hands().some((h) => h.stage === 'trace'))
    ebbe.hangUp()
    await until(() => runa.hands().length === 1)
    runa.hangUp()
  })
  it('what one writes the other hears of at once, with the sender’s key, and nobody on another car', async () => {
    const runa = line(hand('a', 'Runa'))
    const other = line(hand('c', 'Liv'), 'visit-bakery')
    await until(() => runa.hands().length === 1 && other.hands().length === 1)
    const put = await server.put('/api/readings/visit-vet:0:idle:rpm', {
      visitId: 'visit-vet',
      round: 0,
      slot: 'idle',
      channel: 'rpm',
      value: 702,
      typed: '702',
    })
    expect(put.status).toBe(200)
    await until(() => runa.changes().length === 1)
    expect(runa.changes()).toEqual(['readings'])
    expect(other.changes()).toEqual([])
    runa.hangUp()
    other.hangUp()
  })
  it('a name or a device that is none is refused in words', async () => {
    const r = await fetch(`${server.base}/api/visits/visit-vet/together?device=&by=Runa&stage=arrive`)
    expect(r.status).toBe(400)
    expect(await r.text()).toMatch(/device/)
  })
})
