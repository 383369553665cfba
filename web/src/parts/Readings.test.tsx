/** @jest-environment jsdom */
import { beforeEach, describe, expect, it } from '@jest/globals'
import { cleanup, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { ReadingRecord } from '@uvula/core'
import { PlayedServer } from '../test/browser.js'
import { drawOnVisit } from '../test/draw.js'
import { aVisit } from '../test/visit.fixture.js'
import { outbox } from '../store/outbox.js'
import { Readings } from './Readings.js'

const server = new PlayedServer()
const reading = (value: number, part: Partial<ReadingRecord> = {}): ReadingRecord => ({
  id: 'v:0:idle:rpm',
  version: 1,
  by: 'R',
  at: '2026-01-01T09:00:00Z',
  visitId: 'v',
  round: 0,
  slot: 'idle',
  channel: 'rpm',
  value,
  typed: String(value),
  ...part,
})
const pad = (readings: ReadingRecord[] = []): void =>
  void drawOnVisit(aVisit({ readings }), (file) => (
    <Readings file={file} slot="idle" round={0} channels={['rpm', 'maf_gs', 'stft1_pct']} />
  ))
const cell = (name: string): HTMLInputElement =>
  screen.getByRole<HTMLInputElement>('textbox', { name: new RegExp(`^${name}`) })
const written = (): unknown[] => server.writes.map((w) => [w.body.channel, w.body.value, w.body.typed])

beforeEach(async () => {
  for (const w of outbox.snapshot().writes) await outbox.drop(w)
  server.asked.length = 0
  sessionStorage.clear()
  server.answer = (a) => ({
    status: 200,
    body: { ...a.body, id: decodeURIComponent(a.path.split('/').at(-1)!), version: 2 },
  })
})

describe('the reading pad', () => {
  it.each(['cruise', 'pull'] as const)(
    'what is driven (%s) is typed once its STOP is seen to, and not before',
    async (slot) => {
      drawOnVisit(aVisit(), (file) => <Readings file={file} slot={slot} round={0} channels={['rpm']} />)
      expect(screen.queryByRole('textbox')).toBeNull()
      await userEvent.click(screen.getByRole('checkbox', { name: 'seen to' }))
      await waitFor(() => expect(cell('speed')).toBeTruthy())
      await waitFor(() => expect(server.writes.map((w) => w.body.caution)).toEqual(['road-test']))
    },
  )
  it('takes one after another with Enter, decimal commas and units as they are said', async () => {
    const user = userEvent.setup()
    pad()
    await user.click(cell('speed'))
    await user.keyboard('668{Enter}2,38{Enter}-4.7%{Enter}')
    await waitFor(() => expect(written()).toHaveLength(3))
    expect(written()).toEqual([
      ['rpm', 668, '668'],
      ['maf_gs', 2.38, '2,38'],
      ['stft1_pct', -4.7, '-4.7%'],
    ])
  })
  it('a figure that is none stays where it was typed, with the reason, and nothing is sent', async () => {
    const user = userEvent.setup()
    pad()
    await user.click(cell('speed'))
    await user.keyboard('fast{Enter}')
    expect(screen.getByRole('alert').textContent).toContain('fast')
    expect(cell('speed').value).toBe('fast')
    expect(cell('speed').getAttribute('aria-invalid')).toBe('true')
    await user.keyboard('{Escape}')
    expect(cell('speed').value).toBe('')
    await user.click(cell('speed'))
    await user.keyboard('-4{Enter}')
    expect(screen.getByRole('alert').textContent).toMatch(/outside/)
    expect(written()).toEqual([])
  })
  it('typed without Enter when the page is loaded anew: kept as if the field had been left, and once', async () => {
    const user = userEvent.setup()
    pad()
    await user.click(cell('speed'))
    await user.keyboard('668')
    cleanup()
    expect(written()).toEqual([])
    pad()
    await waitFor(() => expect(written()).toEqual([['rpm', 668, '668']]))
    cleanup()
    pad()
    await new Promise((r) => setTimeout(r, 50))
    expect(written()).toHaveLength(1)
  })
  it('arrows go up and down and keep what was typed on the way', async () => {
    const user = userEvent.setup()
    pad()
    await user.click(cell('airflow'))
    await user.keyboard('2.5{ArrowUp}')
    expect(document.activeElement).toBe(cell('speed'))
    await user.keyboard('{ArrowDown}{ArrowDown}')
    expect(document.activeElement).toBe(cell('short trim'))
    await waitFor(() => expect(written()).toEqual([['maf_gs', 2.5, '2.5']]))
  })
  it('a pasted column fills the cells below', async () => {
    const user = userEvent.setup()
    pad()
    await user.click(cell('speed'))
    await user.paste('668\n2.38\n-1.5')
    await waitFor(() => expect(written()).toHaveLength(3))
  })
  it('the same figure again is no entry; an emptied cell takes it off', async () => {
    const user = userEvent.setup()
    pad([reading(700)])
    await user.click(cell('speed'))
    await user.keyboard('700{Enter}')
    expect(written()).toEqual([])
    await user.clear(cell('speed'))
    await user.keyboard('{Enter}')
    await waitFor(() => expect(server.writes[0]?.body.deleted).toBe(true))
  })
  it('an entry that the server refused stays in its cell, with the reason', () => {
    pad([reading(668, { refused: 'value: no, not 668' })])
    expect(cell('speed').value).toBe('668')
    expect(screen.getByRole('alert').textContent).toBe('value: no, not 668')
  })
})
