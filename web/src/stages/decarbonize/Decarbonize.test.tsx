/** @jest-environment jsdom */
import { beforeEach, describe, expect, it, jest } from '@jest/globals'
import { PlayedServer } from '../../test/browser.js'
import { fireEvent, screen, waitFor } from '@testing-library/react'
import type { ItemRecord, ReadingRecord, TimerRecord, VisitFile } from '@uvula/core'
import { drawOnVisit } from '../../test/draw.js'
import { keepsAll, tap, written } from '../../test/hand.js'
import { aVisit } from '../../test/visit.fixture.js'

jest.mock('../../charts/Chart.js', () => ({ Chart: () => null }))
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
})
