/** @jest-environment jsdom */
import { beforeEach, describe, expect, it } from '@jest/globals'
import { PlayedServer } from '../test/browser.js'
import { fireEvent, render, screen, waitFor } from '@testing-library/react'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { MemoryRouter, Route, Routes } from 'react-router'
import { PROCEDURES, type OwnProcedure } from '@uvula/core'
import { keepsAll, say, tap } from '../test/hand.js'
import { connectOutbox } from '../store/visit.js'
import { checkDraft, draftOf, emptyDraft } from './draft.js'
import { ProceduresPage } from './ProceduresPage.js'
import { TryRun } from './TryRun.js'

const server = new PlayedServer()
const own: OwnProcedure = {
  format: 'uvula-procedure',
  formatVersion: 1,
  id: 'own-1',
  label: 'Stops of the throttle',
  kind: 'teach',
  why: 'Stored at key out.',
  source: 'workshop book, page 12',
  sourceDate: '2026-11-20',
  preconditions: [{ id: 'own-1', label: 'supply', reads: { channel: 'battery_v', min: 12.9, max: 15.5 } }],
  steps: [
    { say: 'key on', rule: { kind: 'exact', seconds: 3, toleranceS: 0.4 } },
    { say: 'pedal', rule: { kind: 'count', times: 5, withinS: 5 } },
  ],
}
function open(path: string, kept: readonly OwnProcedure[] = []): void {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: Infinity } } })
  client.setQueryData(
    ['procedures'],
    kept.map((value) => ({ id: value.id, version: 1, by: 'R', at: '', value })),
  )
  connectOutbox(client)
  render(
    <QueryClientProvider client={client}>
      <MemoryRouter initialEntries={[path]}>
        <Routes>
          <Route path="/procedures/:id?" element={<ProceduresPage />} />
          <Route path="/procedures/:id/try" element={<TryRun />} />
        </Routes>
      </MemoryRouter>
    </QueryClientProvider>,
  )
}
const wrote = async (count: number): Promise<Record<string, unknown>[]> => {
  const of = () => server.writes.filter((w) => w.path.startsWith('/api/procedures/')).map((w) => w.body)
  await waitFor(() => expect(of().length).toBeGreaterThanOrEqual(count))
  return of()
}
beforeEach(() => keepsAll(server))

describe('what is typed', () => {
  it('a kept one, and each of ours, comes through the fields as it was', () => {
    expect(checkDraft('own-1', draftOf(own, '2026-11-27'))).toEqual({ ok: true, value: own })
    for (const p of PROCEDURES) {
      const checked = checkDraft('x', { ...draftOf(p, '2026-11-27'), source: 'ours' })
      expect(checked.ok && checked.value.steps).toEqual(p.steps)
    }
  })
  it('a comma is a point, and an empty figure is none', () => {
    const d = { ...emptyDraft('2026-11-27'), label: 'x', source: 'y' }
    const step = { say: 'wait', kind: 'at-least' as const, seconds: '3,5', more: '', sign: '' }
    const read = checkDraft('x', { ...d, steps: [step] })
    expect(read.ok && read.value.steps[0].rule).toEqual({ kind: 'at-least', seconds: 3.5 })
    const empty = checkDraft('x', { ...d, steps: [{ ...step, seconds: '' }] })
    expect(empty.ok ? '' : empty.problems[0]).toMatchObject({ step: 1, field: 'seconds' })
  })
})

describe('the editor', () => {
  it('writes a new one: named, sourced, its steps by Enter; wrong is said at its step and nothing is sent', async () => {
    open('/procedures/new-1')
    say('name', 'Stops of the throttle')
    say('source', 'book')
    say('step 1: what is done', 'key on')
    tap('keep it')
    expect(screen.getByRole('alert').textContent).toMatch(/^Step 1 needs its seconds/)
    expect(server.writes).toHaveLength(0)
    say('step 1: seconds', '30')
    fireEvent.keyDown(screen.getByRole('textbox', { name: 'step 1: seconds' }), { key: 'Enter' })
    say('step 2: what is done', 'key out')
    say('step 2: seconds', '15')
    tap('keep it')
    const [body] = await wrote(1)
    expect(body.value).toMatchObject({
      id: 'own-1',
      label: 'Stops of the throttle',
      steps: [{ say: 'key on' }, { say: 'key out' }],
    })
    expect(localStorage.getItem('uvula-procedure-draft own-1')).toBeNull()
  })
  it('begins with one of ours, its source still to be named', () => {
    open('/procedures')
    tap('Teach the throttle: key cycles')
    expect(screen.getByRole<HTMLInputElement>('textbox', { name: 'step 2: seconds' }).value).toBe('15')
    expect(screen.getByRole<HTMLInputElement>('textbox', { name: 'source' }).value).toBe('')
  })
  it('what was typed and not kept is there after a reload', () => {
    open('/procedures/new-2')
    say('name', 'half written')
    document.body.innerHTML = ''
    open('/procedures/new-2')
    expect(screen.getByRole<HTMLInputElement>('textbox', { name: 'name' }).value).toBe('half written')
  })
  it('a STOP and a reading exclude each other; a kept one is taken off', async () => {
    open('/procedures/own-1', [own])
    fireEvent.click(screen.getByRole('checkbox', { name: 'STOP' }))
    expect(screen.queryByRole('textbox', { name: 'condition 1: from' })).toBeNull()
    tap('take it off')
    expect((await wrote(1)).at(-1)).toMatchObject({ deleted: true })
    await waitFor(() => expect(screen.getByText(/^None yet/)).toBeTruthy())
  })
  it('a file is taken, one that is none is named', async () => {
    open('/procedures')
    const give = (text: string): void =>
      void fireEvent.change(screen.getByLabelText('procedure file'), {
        target: { files: [{ name: 'p.json', size: text.length, text: () => Promise.resolve(text) }] },
      })
    give('not json')
    await waitFor(() => expect(screen.getByRole('alert').textContent).toMatch(/^p\.json: This is no JSON/))
    give(JSON.stringify({ ...own, steps: [{ say: 'x', rule: { kind: 'exact', seconds: 3, toleranceS: 0 } }] }))
    await waitFor(() => expect(screen.getByRole('alert').textContent).toMatch(/Step 1 waits for the impossible/))
    give(JSON.stringify(own))
    expect((await wrote(1))[0].value).toEqual(own)
  })
})

it('a test run is judged like a real one and keeps nothing', async () => {
  // a wait that no busy machine comes to the end of
  open('/procedures/own-1/try', [{ ...own, steps: [{ say: 'key on', rule: { kind: 'at-least', seconds: 600 } }] }])
  const begin = screen.getByRole<HTMLButtonElement>('button', { name: 'begin' })
  expect(begin.disabled).toBe(true)
  // the two that stand before each, and the shop's own
  for (let i = 0; i < 3; i++) fireEvent.click(screen.getAllByRole('checkbox')[0])
  fireEvent.click(begin)
  const face = (): Element => document.querySelector('[data-status]')!
  expect(face().getAttribute('data-status')).toBe('running')
  await new Promise((r) => setTimeout(r, 30))
  fireEvent.pointerDown(face())
  await waitFor(() => expect(face().getAttribute('data-status')).toBe('failed'))
  expect(screen.getByText(/“key on” came \d+\.\d s too early/)).toBeTruthy()
  expect(server.writes).toHaveLength(0)
})
