/** @jest-environment jsdom */
import { beforeEach, describe, expect, it } from '@jest/globals'
import { PlayedServer } from '../../test/browser.js'
import { fireEvent, screen } from '@testing-library/react'
import {
  SLOTS,
  type FindingRecord,
  type ReadingRecord,
  type RepairRecord,
  type Slot,
  type StepRecord,
  type VisitFile,
} from '@uvula/core'
import { drawOnVisit } from '../../test/draw.js'
import { keepsAll, written } from '../../test/hand.js'
import { aVisit } from '../../test/visit.fixture.js'
import { Prove } from './Prove.js'

const server = new PlayedServer()
const meta = { version: 1, by: 'R', at: '2026-01-01T09:00:00Z', visitId: 'v' }
const at = (round: number, slot: Slot, values: Record<string, number>): ReadingRecord[] =>
  Object.entries(values).map(([channel, value]) => ({
    ...meta,
    id: `v:${round}:${slot}:${channel}`,
    round,
    slot,
    channel: channel as ReadingRecord['channel'],
    value,
    typed: '',
  }))
const idle = (round: number, trim: number, rpm = 700): ReadingRecord[] =>
  at(round, 'idle', { rpm, maf_gs: 2.4, stft1_pct: 0, ltft1_pct: trim })
const refit: RepairRecord = {
  ...meta,
  id: 'r',
  station: 'duct',
  kind: 'refit',
  state: 'done',
  afterRound: 0,
  temporary: false,
  minutes: 4,
  partsPrice: 0,
  conditions: [],
}
const cleaned: StepRecord = {
  ...meta,
  id: 's',
  station: 'airflow-sensor',
  surface: 'airflow-element',
  product: 'airflow-cleaner',
  method: 'off-the-car',
  passed: true,
  afterRound: 0,
}
const draw = (part: Partial<VisitFile>): void =>
  void drawOnVisit(aVisit(part), (file) => <Prove file={file} onOpen={() => undefined} />)
const text = (): string => document.body.textContent
const verdictOf = (label: string): string | undefined =>
  [...document.querySelectorAll<HTMLElement>('.change')].find((e) => e.textContent.startsWith(label))?.dataset.verdict

beforeEach(() => keepsAll(server))

describe('proving', () => {
  it('has nothing to prove before anything is done', () => {
    draw({ readings: idle(0, 18) })
    expect(text()).toMatch(/No work is entered in this visit yet/)
  })
  it('says after what the next readings are, and keeps them in their round', async () => {
    draw({ readings: idle(0, 18), repairs: [refit] })
    expect(text()).toMatch(/^round 1, after: duct refitted/)
    const speed = screen.getByRole<HTMLInputElement>('textbox', { name: /^speed/ })
    expect(speed.readOnly).toBe(false)
    fireEvent.change(speed, { target: { value: '705' } })
    fireEvent.keyDown(speed, { key: 'Enter' })
    expect(await written(server, 'readings')).toMatchObject([{ round: 1, slot: 'idle', channel: 'rpm', value: 705 }])
  })
  it('two remedies before one measuring have their gain together', () => {
    draw({ readings: [...idle(0, 18), ...idle(1, 1)], repairs: [refit], steps: [cleaned] })
    expect(text()).toMatch(/after: .*duct refitted/)
    expect(text()).toMatch(/airflow sensor element cleaned/)
    expect(text()).toMatch(/Done together, so their gain is joint/)
    expect(verdictOf('total trim')).toBe('better')
    expect(text()).toMatch(/It helped/)
  })
  it('what is driven stands behind its STOP; what is read standing does not', () => {
    draw({ readings: idle(0, 18), repairs: [refit] })
    const legs = (): (string | undefined)[] =>
      [...document.querySelectorAll<HTMLElement>('[data-leg]')].map((e) => e.dataset.leg)
    expect(legs()).toContain('idle')
    expect(legs()).not.toContain('cruise')
    fireEvent.click(screen.getByRole('checkbox', { name: 'seen to' }))
    expect(legs()).toContain('cruise')
  })
  it('a test that found something is made again on what was done, at its own place', () => {
    const found: FindingRecord = { ...meta, id: 'f', test: 'flex-duct', station: 'duct', outcome: 'fail', afterWork: 0 }
    const opened: unknown[] = []
    void drawOnVisit(aVisit({ readings: idle(0, 18), repairs: [refit], findings: [found] }), (file) => (
      <Prove file={file} onOpen={(...to) => opened.push(to)} />
    ))
    fireEvent.click(screen.getByRole('button', { name: /^Flex the duct, watch the trim, duct/ }))
    expect(opened).toEqual([['duct', 'flex-duct']])
  })
  it('what it came with is said to be gone or there still with one tap, and another tap says otherwise', async () => {
    const { visit } = aVisit()
    const signs = { ...visit, signs: ['idle-rough', 'lamp'] }
    draw({ readings: [...idle(0, 1), ...idle(1, 1)], repairs: [refit], visit: signs })
    expect(screen.getAllByText('gone')).toHaveLength(1)
    fireEvent.click(screen.getByRole('radio', { name: 'still there' }))
    expect(await written(server, 'ticks')).toMatchObject([{ caution: 'idle-rough-there-1' }])
    document.body.innerHTML = ''
    const tick = { ...meta, id: 'v:idle-rough-there-1', caution: 'idle-rough-there-1' }
    draw({ readings: [...idle(0, 1), ...idle(1, 1)], repairs: [refit], ticks: [tick], visit: signs })
    expect(screen.getByRole('radio', { name: 'still there' }).getAttribute('aria-checked')).toBe('true')
    fireEvent.click(screen.getByRole('radio', { name: 'gone' }))
    expect(screen.getByRole('radio', { name: 'gone' }).getAttribute('aria-checked')).toBe('true')
    expect(screen.getByRole('radio', { name: 'still there' }).getAttribute('aria-checked')).toBe('false')
    fireEvent.click(screen.getByRole('radio', { name: 'not tried' }))
    for (const [name, checked] of [
      ['gone', 'false'],
      ['still there', 'false'],
      ['not tried', 'true'],
    ])
      expect(screen.getByRole('radio', { name }).getAttribute('aria-checked')).toBe(checked)
  })
  it('idle speed back in its band is better; out of it is worse', () => {
    const { min, max } = aVisit().vehicle.spec.idleSpecRpm
    draw({ readings: [...idle(0, 0, max + 400), ...idle(1, 0, (min + max) / 2)], repairs: [refit] })
    expect(verdictOf('idle speed')).toBe('better')
    document.body.innerHTML = ''
    draw({ readings: [...idle(0, 0, (min + max) / 2), ...idle(1, 0, max + 400)], repairs: [refit] })
    expect(verdictOf('idle speed')).toBe('worse')
    expect(text()).toMatch(/Worse than before/)
  })
  it('the STOP of the road stands once, wherever the pull is typed', () => {
    draw({ readings: [...idle(0, 18), ...at(0, 'pull', { rpm: 3800, maf_gs: 40 })], repairs: [refit] })
    fireEvent.click(screen.getByRole('radio', { name: SLOTS.pull.label }))
    expect(screen.getAllByRole('checkbox', { name: 'seen to' })).toHaveLength(1)
    fireEvent.click(screen.getByRole('checkbox', { name: 'seen to' }))
    expect(document.querySelectorAll('[data-leg]').length).toBeGreaterThan(0)
  })
  it('what the last work made worse stands beside the gain of all of it', () => {
    const readings = [...idle(0, 24), ...idle(1, 0), ...idle(2, 9)]
    draw({ readings, repairs: [refit], steps: [{ ...cleaned, afterRound: 1 }] })
    expect(text()).toMatch(/It helped/)
    expect(text()).toMatch(/Worse since airflow sensor element cleaned .*: total trim by 9\.0/)
  })
  it('asks for the points that the baseline has, typed or recorded', () => {
    draw({
      readings: [...idle(0, 18), ...at(0, 'hold-2500', { rpm: 2480, ltft1_pct: 5, maf_gs: 9 })],
      repairs: [refit],
    })
    expect(screen.getAllByRole('radio').map((r) => r.textContent)).toEqual([SLOTS.idle.label, SLOTS['hold-2500'].label])
  })
})
