/** @jest-environment jsdom */
import { beforeEach, describe, expect, it } from '@jest/globals'
import { PlayedServer } from '../../test/browser.js'
import { fireEvent, screen, waitFor } from '@testing-library/react'
import type { CodeRecord, RepairRecord, VisitFile } from '@uvula/core'
import { drawOnVisit } from '../../test/draw.js'
import { keepsAll, say, written } from '../../test/hand.js'
import { aVisit } from '../../test/visit.fixture.js'
import { Arrive } from './Arrive.js'

const server = new PlayedServer()
const meta = { version: 1, by: 'R', at: '2026-01-01T09:00:00Z', visitId: 'v' }
const draw = (part: Partial<VisitFile> = {}): void => void drawOnVisit(aVisit(part), (file) => <Arrive file={file} />)

beforeEach(() => keepsAll(server))

describe('arrival', () => {
  it('takes the complaint in the customer’s words, once it is left', async () => {
    draw()
    say('in the customer’s words', '  Hunts at the lights  ')
    expect(await written(server, 'visits')).toMatchObject([{ complaint: 'Hunts at the lights' }])
    say('in the customer’s words', 'Hunts at the lights')
    await new Promise((r) => setTimeout(r, 30))
    expect(server.writes).toHaveLength(1)
  })
  it('a code is typed where it is read, and told what it means', async () => {
    draw()
    say('code', 'p0171')
    expect(await written(server, 'codes')).toMatchObject([{ code: 'P0171', when: 'before', state: 'stored' }])
    await waitFor(() => expect(document.querySelector('[data-code=P0171]')?.textContent).toMatch(/lean/))
    expect(document.querySelector('[data-code=P0171]')?.textContent).not.toMatch(/ours/)
  })
  it('what is no code stays with its reason', async () => {
    draw()
    say('code', 'lean')
    expect(await screen.findByText(/as in P0171/)).toBeTruthy()
    expect(server.writes).toEqual([])
  })
  it('codes of our own work are not those that it came with', () => {
    const code: CodeRecord = { ...meta, id: 'c', code: 'P0507', state: 'stored', when: 'after', cleared: false }
    draw({ codes: [code] })
    expect(document.querySelector('[data-code=P0507]')).toBeNull()
  })
  it('signs are tapped on and off', async () => {
    draw()
    fireEvent.click(screen.getByRole('button', { name: 'hiss' }))
    expect(await written(server, 'visits')).toMatchObject([{ signs: ['hiss'] }])
  })
  it('an engine that holds no idle is read at a held speed, and one that holds none either at rest', async () => {
    draw()
    expect(screen.queryByText(/2500 held, nothing touched yet/)).toBeNull()
    fireEvent.click(screen.getByRole('checkbox', { name: 'it does not hold an idle' }))
    expect(await written(server, 'ticks')).toMatchObject([{ caution: 'no-idle-0' }])
    expect(await screen.findByText(/2500 held, nothing touched yet/)).toBeTruthy()
    expect(screen.getAllByLabelText('speed')).toHaveLength(1)
    fireEvent.click(screen.getByRole('checkbox', { name: 'nor a held speed' }))
    await waitFor(() => expect(screen.queryByText(/2500 held, nothing touched yet/)).toBeNull())
    expect(screen.getByText(/tested at rest/)).toBeTruthy()
  })
  it('one whose idle was read is not asked whether it holds one', () => {
    const idle = {
      ...meta,
      id: 'r',
      round: 0,
      slot: 'idle' as const,
      channel: 'rpm' as const,
      value: 700,
      typed: '700',
    }
    draw({ readings: [idle] })
    expect(screen.queryByRole('checkbox', { name: 'it does not hold an idle' })).toBeNull()
  })
  it('after a remedy the baseline is shown and locked until a correction is asked for', async () => {
    const done: RepairRecord = {
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
    const reading = {
      ...meta,
      id: 'v:0:idle:rpm',
      round: 0,
      slot: 'idle',
      channel: 'rpm',
      value: 700,
      typed: '700',
    } as const
    draw({ readings: [reading], repairs: [done] })
    const speed = screen.getByRole<HTMLInputElement>('textbox', { name: /^speed/ })
    expect(speed.readOnly).toBe(true)
    expect(screen.getByRole('note').textContent).toMatch(/Read before duct refitted\./)
    fireEvent.click(screen.getByRole('button', { name: 'correct one' }))
    expect(speed.readOnly).toBe(false)
    fireEvent.change(speed, { target: { value: '710' } })
    fireEvent.keyDown(speed, { key: 'Enter' })
    expect(await written(server, 'readings')).toMatchObject([{ value: 710, round: 0, corrected: true }])
    // a figure that never was is taken away by the same word
    fireEvent.change(speed, { target: { value: '' } })
    fireEvent.keyDown(speed, { key: 'Enter' })
    expect((await written(server, 'readings', 2))[1]).toMatchObject({ deleted: true, corrected: true })
  })
  it('what the last sheet left is told on the next visit of the car, and not on its own', async () => {
    const left = { visitId: 'earlier', openedAt: '2025-12-01T09:00:00Z', lines: ['Booster hose, not mended.'] }
    server.answer = (a) => ({ status: 200, body: a.path.endsWith('/card') ? { left } : a.body })
    draw()
    expect(await screen.findByText('Booster hose, not mended.')).toBeTruthy()
  })
})
