/** @jest-environment jsdom */
import { beforeEach, describe, expect, it } from '@jest/globals'
import { PlayedServer } from '../test/browser.js'
import { act, screen, waitFor } from '@testing-library/react'
import type { Diagnosis, VisitFile } from '@uvula/core'
import { draw } from '../test/draw.js'
import { aVisit } from '../test/visit.fixture.js'
import type { Reader } from './heart.js'

/** Questions that the worker was asked, and how each is answered. */
const asked: { round: number; answer: (d: Partial<Diagnosis>) => void }[] = []
/** Workers that were started and that were ended. */
const workers = { started: 0, ended: 0 }
class PlayedWorker {
  constructor() {
    workers.started++
  }
  private readonly hears: ((e: { data: unknown }) => void)[] = []
  addEventListener(_: string, f: (e: { data: unknown }) => void): void {
    this.hears.push(f)
  }
  removeEventListener(): void {}
  start(): void {}
  postMessage(m: { id: string; argumentList?: { value: unknown }[] }): void {
    if (!m.argumentList) return
    const round = m.argumentList[1].value as number
    const answer = (d: Partial<Diagnosis>): void => {
      for (const f of [...this.hears]) f({ data: { id: m.id, type: 'RAW', value: d } })
    }
    asked.push({ round, answer })
  }
  terminate(): void {
    workers.ended++
  }
}
Object.assign(globalThis, { Worker: PlayedWorker })

const server = new PlayedServer()
server.answer = (a) => ({ status: 200, body: a.path.includes('/sound') ? { sound: null } : {} })
const meta = { version: 1, by: 'R', at: '2026-01-01T09:00:00Z', visitId: 'v' }
const reading = (value: number) =>
  ({ ...meta, id: 'v:0:idle:rpm', round: 0, slot: 'idle', channel: 'rpm', value, typed: '' }) as const

let show: (file: VisitFile) => void
async function open(file: VisitFile): Promise<void> {
  const { useDiagnosis } = await import('./heart.js')
  const { useState } = await import('react')
  function Shown() {
    const [now, set] = useState(file)
    show = set
    const { diagnosis } = useDiagnosis(now, 0)
    return <p>{diagnosis?.stop.because ?? 'weighing'}</p>
  }
  draw(<Shown />)
  await waitFor(() => expect(asked.length).toBeGreaterThan(0))
}
const says = (because: string): Partial<Diagnosis> => ({ stop: { verdict: 'test', because } })
const settle = (): Promise<void> => act(() => new Promise<void>((r) => setTimeout(r, 30)))

beforeEach(() => void (asked.length = 0))

describe('the diagnosis of what is shown', () => {
  it('is asked anew whenever anything it reads changes, and for nothing else', async () => {
    const file = aVisit({ readings: [reading(700)] })
    await open(file)
    await settle()
    const first = asked.length
    const of = async (f: VisitFile): Promise<number> => {
      act(() => show(f))
      await settle()
      return asked.length - first
    }
    // a photo, a price and the customer's words are not read
    expect(await of({ ...file, photos: [{ ...meta, id: 'p', station: 'duct', sha256: '', mime: '' }] })).toBe(0)
    expect(await of({ ...file, visit: { ...file.visit, complaint: 'hunts' } })).toBe(0)
    // a figure corrected in place, a barometer, the air, a sign and a look are
    expect(await of({ ...file, readings: [reading(710)] })).toBe(1)
    expect(await of({ ...file, visit: { ...file.visit, baroKpa: 88 } })).toBe(2)
    expect(await of({ ...file, visit: { ...file.visit, ambientC: 30 } })).toBe(3)
    expect(await of({ ...file, visit: { ...file.visit, signs: ['hiss'] } })).toBe(4)
    const look = { ...meta, id: 'l', test: 'look', station: 'duct', item: 'duct.2', outcome: 'fail' } as const
    expect(await of({ ...file, findings: [look] })).toBe(5)
  })
  it('the answer to an older question does not overtake the newer', async () => {
    const file = aVisit({ readings: [reading(700)] })
    await open(file)
    await settle()
    act(() => show({ ...file, readings: [reading(900)] }))
    await settle()
    const [older, newer] = asked.slice(-2)
    act(() => newer.answer(says('newer')))
    expect(await screen.findByText('newer')).toBeTruthy()
    act(() => older.answer(says('older')))
    await settle()
    expect(screen.queryByText('older')).toBeNull()
  })
})

describe('the worker of a file', () => {
  const vehicle = aVisit().vehicle.spec
  const begun = async (): Promise<{ by: Reader; work: Promise<unknown> }> => {
    const { reader } = await import('./heart.js')
    const by = reader()
    return { by, work: by.speed(new Float64Array(8), 100, vehicle) }
  }
  it('waits for the next once its file was read, and is ended in the middle of one', async () => {
    const { warmReader } = await import('./heart.js')
    workers.started = workers.ended = 0
    warmReader()
    warmReader()
    const first = await begun()
    asked.at(-1)!.answer({})
    await first.work
    first.by.stop()
    first.by.stop()
    const second = await begun()
    expect(workers).toEqual({ started: 1, ended: 0 })
    second.by.stop()
    expect(workers).toEqual({ started: 1, ended: 1 })
    const third = await begun()
    expect(workers).toEqual({ started: 2, ended: 1 })
    asked.at(-1)!.answer({})
    await third.work
    third.by.stop()
  })
  it('two files at once have one each, and one of them is kept', async () => {
    workers.started = workers.ended = 0
    const both = [await begun(), await begun()]
    for (const a of asked.splice(-2)) a.answer({})
    for (const { by, work } of both) {
      await work
      by.stop()
    }
    expect(workers).toEqual({ started: 1, ended: 1 })
  })
})
