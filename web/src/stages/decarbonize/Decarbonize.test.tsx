/** @jest-environment jsdom */
import { beforeEach, describe, expect, it, jest } from '@jest/globals'
import { PlayedServer } from '../../test/browser.js'
import { fireEvent, screen, waitFor } from '@testing-library/react'
import type { ItemRecord, ReadingRecord, TimerRecord, VisitFile } from '@uvula/core'
import { drawOnVisit } from '../../test/draw.js'
import { keepsAll, tap, written } from '../../test/hand.js'
import { aVisit } from '../../test/visit.fixture.js'

jest.mock('../../charts/Chart.js', () => ({ Chart: () => null }))
jest.mock('../../workers/heart.js', () => ({ useDiagnosis: () => ({ diagnosis: undefined, busy: false }) }))
const { Decarbonize } = jest.requireActual<typeof import('./Decarbonize.js')>('./Decarbonize.js')

const server = new PlayedServer()
const meta = { version: 1, by: 'R', visitId: 'v' }
const now = (): string => new Date().toISOString()
const reading = (slot: ReadingRecord['slot'], channel: ReadingRecord['channel'], value: number): ReadingRecord => ({
  ...meta,
  id: `v:0:${slot}:${channel}`,
  at: now(),
  round: 0,
  slot,
  channel,
  value,
  typed: '',
})
const HELD = [reading('hold-2500', 'rpm', 2500), reading('hold-2500', 'maf_gs', 10)]
const draw = (part: Partial<VisitFile> = {}, spec = {}): void => {
  const file = aVisit(part)
  drawOnVisit({ ...file, vehicle: { ...file.vehicle, spec: { ...file.vehicle.spec, ...spec } } }, (f) => (
    <Decarbonize file={f} />
  ))
}
const rules = (): (string | undefined)[] =>
  [...document.querySelectorAll<HTMLElement>('[data-rule]')].map((e) => e.dataset.rule)
const tick = (name: string): void => void fireEvent.click(screen.getByRole('checkbox', { name }))
const type = (label: string, text: string): void =>
  void fireEvent.change(screen.getByRole('textbox', { name: label }), { target: { value: text } })
const open = (list: string): void => {
  screen.getByRole('combobox', { name: list }).focus()
  fireEvent.keyDown(screen.getByRole('combobox', { name: list }), { key: 'Enter' })
}
const choose = (list: string, option: RegExp): void => {
  open(list)
  const chosen = screen.getByRole('option', { name: option })
  chosen.focus()
  fireEvent.keyDown(chosen, { key: 'Enter' })
}
const allSafe = (): void => ['extraction on', 'extinguisher at hand', 'cannot stop by itself'].forEach(tick)

beforeEach(() => keepsAll(server))

describe('a feed on its bench', () => {
  it('asks for what nobody has measured and fills in nothing', () => {
    draw()
    expect(rules()).toEqual(expect.arrayContaining(['speed-unknown', 'airflow-unknown', 'coolant-unknown']))
    expect(rules()).not.toContain('coolant-band')
    for (const field of screen.getAllByRole<HTMLInputElement>('textbox').slice(2)) expect(field.value).toBe('')
  })
  it('takes the held speed that was measured, and says so in grey', async () => {
    draw({ readings: HELD })
    expect(rules()).not.toContain('speed-unknown')
    expect(screen.getByRole<HTMLInputElement>('textbox', { name: 'airflow there' }).placeholder).toBe('10.0 measured')
    allSafe()
    type('coolant', '88')
    await waitFor(() => expect(rules()).toEqual([]))
    tap(/^arm the feed/)
    const [run] = await written(server, 'runs')
    expect(run).toMatchObject({
      procedure: 'feed',
      afterRound: 0,
      feed: { rpm: 2500, airGS: 10, coolantC: 88, boostKpa: 0 },
    })
    expect((run.feed as { trims?: object }).trims).toBeUndefined()
  })
  it('of another speed than the one that will be held no airflow is taken', async () => {
    draw({ readings: HELD })
    type('speed held', '1500')
    await waitFor(() => expect(rules()).toContain('airflow-unknown'))
    expect(screen.getByRole<HTMLInputElement>('textbox', { name: 'airflow there' }).placeholder).toBe('not known')
  })
  it('asks a carburetted engine for nothing that a controller does', () => {
    draw({}, { injection: 'carburettor', metering: 'none' })
    expect(screen.queryByRole('checkbox', { name: 'cannot stop by itself' })).toBeNull()
    expect(screen.queryByRole('checkbox', { name: /lamp flashes/ })).toBeNull()
    for (const name of ['trim can take off', 'fuel cut from'])
      expect(screen.queryByRole('textbox', { name })).toBeNull()
    expect(rules()).not.toContain('held-running')
    expect(screen.getByRole('combobox', { name: 'speed read by' }).textContent).toBe('inductive pick-up')
  })
  it('coolant read just now stands for itself; an old one is asked for again', () => {
    draw({ readings: [...HELD, reading('idle', 'ect_c', 91)] })
    expect(rules()).not.toContain('coolant-unknown')
    document.body.innerHTML = ''
    draw({ readings: [...HELD, { ...reading('idle', 'ect_c', 91), at: '2026-01-01T09:00:00Z' }] })
    expect(rules()).toContain('coolant-unknown')
  })
  it('a turbo engine is asked for its charge pressure, and not fed under it', async () => {
    draw({ readings: HELD }, { induction: 'turbo' })
    expect(rules()).toContain('boost-unknown')
    type('charge over ambient', '12')
    allSafe()
    type('coolant', '88')
    await waitFor(() => expect(rules()).toEqual(['boost']))
  })
  it('a fuel cut below the held speed forbids it', async () => {
    draw({ readings: HELD })
    allSafe()
    type('coolant', '88')
    type('fuel cut from', '2400')
    await waitFor(() => expect(rules()).toEqual(['fuel-cut']))
  })
  it('waits for bolts that are off and for what dries', () => {
    const bolt: ItemRecord = {
      ...meta,
      id: 'i',
      at: now(),
      station: 'throttle',
      name: 'bolt',
      count: 4,
      arrival: 'present',
      state: 'off',
    }
    const drying: TimerRecord = {
      ...meta,
      id: 't',
      at: now(),
      label: 'throttle drying',
      kind: 'drying',
      startedAt: now(),
      seconds: 300,
      ended: false,
    }
    draw({ readings: HELD, items: [bolt], timers: [drying] })
    expect(rules()).toEqual(expect.arrayContaining(['item-off', 'still-drying', 'extraction']))
    expect(screen.queryByRole('button', { name: /arm the feed/ })).toBeNull()
  })
  it('a canister is asked for its pressure and nozzle, and is told what to set', async () => {
    draw({ readings: [reading('hold-2500', 'rpm', 2500), reading('hold-2500', 'maf_gs', 16)] })
    allSafe()
    type('coolant', '88')
    expect(screen.queryByRole('textbox', { name: 'nozzle' })).toBeNull()
    choose('way', /^pressurised canister/)
    choose('feed point', /^duct/)
    await waitFor(() => expect(rules()).toEqual(['equipment-unknown']))
    type('regulator at most', '5')
    type('nozzle', '0.2')
    await waitFor(() => expect(screen.getByTestId('plan').textContent).toMatch(/bar.*on the regulator/))
  })
  it('points are those of this engine, the most even first, with the worst-placed cylinder’s share', () => {
    draw({ readings: HELD })
    open('feed point')
    const points = screen.getAllByRole('option').map((o) => o.textContent)
    expect(points[0]).toMatch(/^plenum, worst cylinder × 1\.5/)
    expect(points.join()).not.toMatch(/filter|airflow|duct/)
  })
  it('the other school is a tap away', async () => {
    draw({ readings: HELD })
    fireEvent.click(screen.getByRole('button', { name: /^Water, or solvent/ }))
    tap('take water as mist')
    await waitFor(() => expect(screen.getByRole('combobox', { name: 'way' }).textContent).toMatch(/^water as mist/))
    expect(screen.getByRole('combobox', { name: 'product' }).textContent).toBe('demineralised water')
  })
  it('what is left of the last feed stands first: going on with it, then closing it down, then its soak', () => {
    const feed = {
      method: 'metered-port',
      product: { kind: 'combustible', afr: 14.5 },
      doseMl: 2,
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
    } as const
    const t = Date.now() - 60_000
    const run = { ...meta, id: 'r', at: now(), procedure: 'feed', attempt: 1, preconditions: [], feed } as const
    const opened = [
      { kind: 'begin', atMs: t },
      { kind: 'open', atMs: t + 3000 },
    ] as const
    draw({ runs: [{ ...run, events: opened }] })
    expect(screen.getByRole('link', { name: 'go on with it' })).toBeTruthy()
    document.body.innerHTML = ''
    draw({ runs: [{ ...run, events: [...opened, { kind: 'lamp', atMs: t + 4000 }] }] })
    expect(screen.getByRole('link', { name: 'close it down: valve shut' })).toBeTruthy()
    expect(screen.getByText(/The lamp flashed/)).toBeTruthy()
  })
})
