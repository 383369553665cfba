/** @jest-environment jsdom */
import { beforeEach, describe, expect, it } from '@jest/globals'
import { PlayedServer } from '../test/browser.js'
import { createEvent, fireEvent, render, screen, waitFor } from '@testing-library/react'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { MemoryRouter, Route, Routes } from 'react-router'
import { PROCEDURES, type RunEvent, type RunRecord } from '@uvula/core'
import { aVisit } from '../test/visit.fixture.js'
import { outbox } from '../store/outbox.js'
import { connectOutbox } from '../store/visit.js'
import { HandsBusy } from './HandsBusy.js'

const server = new PlayedServer()
/** Begins with a wait that must not be cut short. */
const procedure = PROCEDURES.find(
  (p) => p.steps.length > 3 && p.steps[0].rule.kind === 'at-least' && p.steps[0].rule.seconds > 3,
)!
/** The page that leads, in these tests. */
const PAGE = 'page-1'
const run = (part: Partial<RunRecord> = {}): RunRecord => ({
  id: 'v:run:1',
  version: 1,
  by: 'R',
  at: '2026-01-01T09:00:00Z',
  visitId: 'v',
  procedure: procedure.id,
  attempt: 1,
  preconditions: procedure.preconditions.map((p) => p.id),
  events: [],
  // begun by somebody: one page leads it
  ...(part.events?.length ? { leader: { page: PAGE, by: 'Runa' } } : {}),
  ...part,
})
const begun = (secondsAgo: number): RunEvent => ({ kind: 'begin', atMs: Date.now() - 1000 * secondsAgo })

function open(r: RunRecord): void {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: Infinity } } })
  client.setQueryData(['visit', 'v'], aVisit({ runs: [r] }))
  client.setQueryData(['bay'], { shop: { demo: true }, rows: [] })
  connectOutbox(client)
  render(
    <QueryClientProvider client={client}>
      <MemoryRouter initialEntries={['/visit/v/run/v:run:1']}>
        <Routes>
          <Route path="/visit/:id/run/:run" element={<HandsBusy />} />
          <Route path="*" element={<p>the bench</p>} />
        </Routes>
      </MemoryRouter>
    </QueryClientProvider>,
  )
}
/** A key with the time that a browser gives it; jsdom counts from another beginning. */
function space(repeat = false): void {
  const event = createEvent.keyDown(document, { key: ' ', code: 'Space', repeat })
  Object.defineProperty(event, 'timeStamp', { value: performance.now() })
  fireEvent(document, event)
}
const status = (): string | null => document.querySelector('.hands')!.getAttribute('data-status')
const step = (): string | null => document.querySelector('.hands')!.getAttribute('data-step')
const kinds = (): string[] => (server.writes.at(-1)?.body.events as RunEvent[] | undefined)?.map((e) => e.kind) ?? []

beforeEach(async () => {
  sessionStorage.setItem('uvula-page', PAGE)
  for (const w of outbox.snapshot().writes) await outbox.drop(w)
  server.asked.length = 0
  // what is asked again stands in the cache already
  server.answer = (a) =>
    a.method === 'GET'
      ? 'away'
      : {
          status: 200,
          // as the real one: a leader that is not told of stays
          body: {
            leader: { page: PAGE, by: 'Runa' },
            ...a.body,
            id: decodeURIComponent(a.path.split('/').at(-1)!),
            version: 2,
          },
        }
})

describe('before it begins', () => {
  it('nothing begins while a condition is open; each is ticked by itself', async () => {
    open(run({ preconditions: procedure.preconditions.slice(1).map((p) => p.id) }))
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'begin' }).disabled).toBe(true)
    const [open1, ...others] = screen.getAllByRole('checkbox')
    expect(others).toEqual([])
    fireEvent.click(open1)
    await waitFor(() => expect(screen.getByRole<HTMLButtonElement>('button', { name: 'begin' }).disabled).toBe(false))
    fireEvent.click(screen.getByRole('button', { name: 'begin' }))
    await waitFor(() => expect(status()).toBe('running'))
    await waitFor(() => expect(kinds()).toEqual(['begin']))
  })
  it('a start that the server refuses tells why and can be taken off', async () => {
    server.answer = () => ({
      status: 409,
      body: { type: 'gate', title: 'refused', status: 422, detail: 'The engine stalled while liquid was fed.' },
    })
    open(run())
    fireEvent.click(screen.getByRole('button', { name: 'begin' }))
    expect(await screen.findByText(/engine stalled while liquid was fed/)).toBeTruthy()
    expect(status()).toBe('ready')
    fireEvent.click(screen.getByRole('button', { name: 'take it off' }))
    await waitFor(() => expect(outbox.snapshot().writes).toEqual([]))
  })
})

describe('while it runs', () => {
  it('space and a tap anywhere go on; a key that is held down counts once', async () => {
    open(run({ events: [begun(61)] }))
    expect(step()).toBe('0')
    space()
    space(true)
    await waitFor(() => expect(step()).toBe('1'))
    await waitFor(() => expect(kinds()).toEqual(['begin', 'tap']))
  })
  it('a button is not "anywhere"', async () => {
    open(run({ events: [begun(61)] }))
    fireEvent.pointerDown(screen.getByRole('button', { name: 'back one' }))
    await new Promise((r) => setTimeout(r, 30))
    expect(server.writes).toEqual([])
  })
  it('STOP and Escape stop it, and the reason stands', async () => {
    open(run({ events: [begun(3)] }))
    fireEvent.click(screen.getByRole('button', { name: 'STOP' }))
    expect(await screen.findByText('Stopped by hand.')).toBeTruthy()
    expect(status()).toBe('stopped')
    fireEvent.click(screen.getByRole('button', { name: 'back to the bench' }))
    expect(await screen.findByText('the bench')).toBeTruthy()
  })
  it('on another page is watched: no key and no tap go on; who leads it stands, STOP is taken, and it can be taken over', async () => {
    sessionStorage.setItem('uvula-page', 'page-2')
    open(run({ events: [begun(61)] }))
    expect(await screen.findByText('Runa leads this run on another page.')).toBeTruthy()
    space()
    fireEvent.pointerDown(document.querySelector('.hands')!)
    await new Promise((r) => setTimeout(r, 30))
    expect([step(), server.writes]).toEqual(['0', []])
    fireEvent.click(screen.getByRole('button', { name: 'lead it here' }))
    await waitFor(() => expect(server.writes.at(-1)?.body.leader).toMatchObject({ page: 'page-2' }))
    space()
    await waitFor(() => expect(step()).toBe('1'))
    // what is told of it later says nothing of whose hand it is in
    await waitFor(() => expect(kinds()).toEqual(['begin', 'tap']))
    expect(server.writes.at(-1)?.body).not.toHaveProperty('leader')
  })
  it('too early fails with how much, in words', async () => {
    open(run({ events: [begun(0.5)] }))
    space()
    expect(await screen.findByText(/s too early/)).toBeTruthy()
    expect(status()).toBe('failed')
  })
})

describe('a feed', () => {
  const feed = (events: RunEvent[]): RunRecord =>
    run({
      procedure: 'feed',
      preconditions: ['stop-liquid', 'stop-fire', 'stop-gas'],
      events,
      feed: {
        method: 'metered-port',
        product: { kind: 'combustible', afr: 14.5 },
        doseMl: 20,
        labelMaxMl: 200,
        point: 'plenum',
        airGS: 15,
        rpm: 2500,
        speedFrom: 'scan',
        coolantC: 90,
        extraction: true,
        fireCover: true,
        lampFlashing: false,
        heldRunning: true,
        boostKpa: 0,
        feedRunning: false,
      },
    })
  const phase = (): string | null => document.querySelector('.hands')!.getAttribute('data-phase')
  beforeEach(() => sessionStorage.clear())
  const leads = (): void => sessionStorage.setItem('uvula-page', PAGE)
  it('begins by a tap, and from then on the clock opens and shuts', async () => {
    leads()
    open(feed([begun(2.7)]))
    expect(phase()).toBe('count-in')
    await waitFor(() => expect(phase()).toBe('shot'))
    await waitFor(() => expect(phase()).toBe('pause'), { timeout: 6000 })
    await waitFor(() => expect(kinds()).toEqual(['begin', 'open', 'shut']))
  })
  it('a begin that the server refuses has not happened: nothing counts in, and its reason stands', async () => {
    server.answer = (a) =>
      a.method === 'GET'
        ? 'away'
        : {
            status: 409,
            body: { type: 'gate', title: 'no', status: 409, detail: 'Another feed is running on this car.' },
          }
    open(feed([]))
    fireEvent.click(screen.getByRole('button', { name: 'begin' }))
    expect(await screen.findByText('Another feed is running on this car.')).toBeTruthy()
    expect(status()).toBe('ready')
    await new Promise((r) => setTimeout(r, 3300))
    expect(server.writes.flatMap((w) => (w.body.events as RunEvent[]).map((e) => e.kind))).toEqual(['begin'])
  })
  it('a second page follows: it shows the speed to hold, sounds nothing, and can take over', async () => {
    open(feed([begun(2.7)]))
    await new Promise((r) => setTimeout(r, 600))
    expect(server.writes).toEqual([])
    fireEvent.click(screen.getByRole('button', { name: 'lead it here' }))
    await waitFor(() => expect(kinds()).toEqual(['begin', 'open']))
  })
  it('a page that slept past a sound holds instead of making up for it; a tap goes on', async () => {
    leads()
    open(feed([begun(600)]))
    await waitFor(() => expect(phase()).toBe('held'))
    await waitFor(() => expect(kinds()).toEqual(['begin', 'hold']))
    fireEvent.click(screen.getByRole('button', { name: 'go on' }))
    await waitFor(() => expect(phase()).toBe('count-in'))
  })
  it('one tap ends it; what went in is told, and closing down goes in its order', async () => {
    const at = begun(30).atMs
    open(feed([begun(30), { kind: 'open', atMs: at + 3000 }, { kind: 'shut', atMs: at + 5000 }]))
    fireEvent.click(screen.getByRole('button', { name: 'it stalled' }))
    expect(await screen.findByText(/do not crank/)).toBeTruthy()
    const [first, second] = screen.getAllByRole<HTMLButtonElement>('checkbox')
    expect([first.disabled, second.disabled]).toEqual([false, true])
    fireEvent.click(first)
    await waitFor(() => expect(second.disabled).toBe(false))
  })
})

it('a run that nobody knows waits instead of guessing', () => {
  open(run({ id: 'v:run:2' }))
  expect(screen.getByText(/the procedure/)).toBeTruthy()
})
