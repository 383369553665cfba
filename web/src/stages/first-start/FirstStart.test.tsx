/** @jest-environment jsdom */
import { beforeEach, describe, expect, it, jest } from '@jest/globals'
import { PlayedServer } from '../../test/browser.js'
import { fireEvent, screen, waitFor } from '@testing-library/react'
import type { CountRecord, RunRecord, TimerRecord, VisitFile } from '@uvula/core'
import { drawOnVisit } from '../../test/draw.js'
import { keepsAll, tap, written } from '../../test/hand.js'
import { aVisit } from '../../test/visit.fixture.js'

jest.mock('../../charts/Chart.js', () => ({ Chart: () => null }))
const { FirstStart } = jest.requireActual<typeof import('./FirstStart.js')>('./FirstStart.js')

const server = new PlayedServer()
const meta = { version: 1, by: 'R', at: '2026-01-01T09:00:00Z', visitId: 'v' }
const draw = (part: Partial<VisitFile> = {}): void =>
  void drawOnVisit(aVisit(part), (file) => <FirstStart file={file} />)
const feed = (kind: 'stop' | 'stall'): RunRecord => ({
  ...meta,
  id: 'f',
  procedure: 'feed',
  attempt: 1,
  preconditions: [],
  events: [
    { kind: 'begin', atMs: Date.now() - 60_900 },
    { kind: 'tap', atMs: Date.now() - 60_000 },
    { kind, atMs: Date.now() - 30_000 },
  ],
  feed: {
    method: 'metered-port',
    product: { kind: 'combustible', afr: 14.5 },
    doseMl: 60,
    labelMaxMl: 250,
    point: 'plenum',
    airGS: 9,
    rpm: 2000,
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
const timer = (kind: TimerRecord['kind']): TimerRecord => ({
  ...meta,
  id: 't',
  label: kind,
  kind,
  startedAt: new Date().toISOString(),
  seconds: 900,
  ended: false,
})
const alert = (): string => screen.getByRole('alert').textContent

beforeEach(() => keepsAll(server))

describe('the first start', () => {
  it('may be, when nothing is open', () => {
    draw()
    expect(screen.getByText('May be started: nothing is open.')).toBeTruthy()
  })
  it('waits for a plug that is still in, by its name', () => {
    const plug: CountRecord = { ...meta, id: 'c', thing: 'hose plug', station: 'throttle', putIn: 2, takenOut: 1 }
    draw({ counts: [plug] })
    expect(alert()).toMatch(/hose plug: 2 in, 1 out, at the throttle/)
  })
  it('waits for a soak and for what dries, and not for a battery that is off', () => {
    draw({ timers: [timer('soak')] })
    expect(alert()).toMatch(/nothing is cranked in it/)
    document.body.innerHTML = ''
    draw({ timers: [timer('drying')] })
    expect(alert()).toMatch(/no start before it is dry/)
    document.body.innerHTML = ''
    draw({ timers: [timer('battery-off')] })
    expect(screen.getByText('May be started: nothing is open.')).toBeTruthy()
  })
  it('after a feed somebody looks for pools first, with name and time', async () => {
    draw({ runs: [feed('stop')] })
    expect(alert()).toMatch(/look for liquid standing/)
    tap('looked: no pool stands')
    await waitFor(() => expect(screen.getByText('May be started: nothing is open.')).toBeTruthy())
    expect(await written(server, 'ticks')).toMatchObject([{ caution: 'pools-looked-at', by: 'Technician' }])
  })
  it('after a stall nobody cranks before it was turned by hand', async () => {
    draw({ runs: [feed('stall')] })
    expect(alert()).toMatch(/do not crank/)
    expect(screen.queryByRole('button', { name: 'looked: no pool stands' })).toBeNull()
    tap('plugs out, turned by hand')
    await waitFor(() => expect(alert()).toMatch(/look for liquid standing/))
  })
})

describe('after a feed', () => {
  const begun = Date.now() - 3600_000
  /** Fed to its end, or broken off in its first shot. */
  const over = (kind: 'shut' | 'stall', part: Partial<RunRecord> = {}): RunRecord => ({
    ...feed('stop'),
    preconditions: ['closed-1', 'closed-2', 'closed-3', 'closed-4'],
    events: [
      { kind: 'begin', atMs: begun },
      { kind: 'open', atMs: begun + 3000 },
      { kind, atMs: begun + 4000 },
      { kind: 'stop', atMs: begun + 5000 },
    ],
    ...part,
  })
  const looked = { ...meta, id: 'k', at: new Date(begun + 10_000).toISOString(), caution: 'pools-looked-at' }
  const clear = (): HTMLButtonElement => screen.getByRole('button', { name: /^clear it out/ })
  it('nothing is said of it where nothing was fed', () => {
    draw()
    expect(screen.queryByRole('region', { name: 'after the feed' })).toBeNull()
  })
  it('clears out only once it is closed down and looked for pools', () => {
    draw({ runs: [over('shut', { preconditions: ['closed-1'] })], ticks: [looked] })
    expect(clear().disabled).toBe(true)
    expect(alert()).toMatch(/not closed down: engine off comes next/)
    document.body.innerHTML = ''
    draw({ runs: [over('shut')] })
    expect(clear().disabled).toBe(true)
    expect(alert()).toMatch(/look for liquid standing/)
  })
  it('armed, it is a run of its own with its conditions still to be ticked', async () => {
    draw({ runs: [over('shut')], ticks: [looked] })
    expect(screen.getByText(/pedal flat down/)).toBeTruthy()
    tap(/^clear it out/)
    expect(await written(server, 'runs')).toMatchObject([{ procedure: 'clear-out', attempt: 1, preconditions: [] }])
  })
  it('after a stall the oil is changed, whatever it smells of', () => {
    draw({ runs: [over('stall')] })
    expect(screen.getByText(/whatever it smells of/)).toBeTruthy()
    expect(clear().disabled).toBe(true)
  })
})

describe('after the work', () => {
  const clamp: VisitFile['items'][number] = {
    ...meta,
    id: 'i',
    station: 'duct',
    name: 'duct clamp',
    count: 1,
    arrival: 'present',
    state: 'on',
  }
  it('each act is ticked by itself, the next one marked; a rest starts its timer', async () => {
    draw({ items: [clamp] })
    const acts = () =>
      [...document.querySelectorAll('[data-act]')].map((a) => [a.getAttribute('data-act'), a.getAttribute('data-done')])
    expect(acts()).toEqual([
      ['crank', 'false'],
      ['first-minute', 'false'],
      ['leaks', 'false'],
      ['codes', 'false'],
    ])
    fireEvent.click(screen.getByRole('checkbox', { name: /^Looked for leaks.*: done$/ }))
    expect(await written(server, 'ticks')).toMatchObject([{ caution: 'after:leaks' }])
    await waitFor(() => expect(acts()[2]).toEqual(['leaks', 'true']))
    tap(/^start 01:00: the starter rests/)
    expect(await written(server, 'timers')).toMatchObject([{ kind: 'other', seconds: 60 }])
  })
  it('readiness is spoken of only where this work has wiped it', () => {
    draw({ items: [clamp] })
    expect(screen.queryByRole('region', { name: 'readiness' })).toBeNull()
    document.body.innerHTML = ''
    draw({ timers: [{ ...timer('battery-off'), ended: true }] })
    expect(screen.getByRole('region', { name: 'readiness' }).textContent).toMatch(/catalyst/)
  })
})
