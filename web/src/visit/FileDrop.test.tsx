/** @jest-environment jsdom */
import { beforeEach, describe, expect, it, jest } from '@jest/globals'
import { fireEvent, screen, waitFor } from '@testing-library/react'
import { PlayedServer } from '../test/browser.js'
import type { RepairRecord } from '@uvula/core'
import { drawOnVisit } from '../test/draw.js'
import { aVisit } from '../test/visit.fixture.js'
import { outbox } from '../store/outbox.js'
import type { Reader } from '../workers/heart.js'
import type { ReadResult } from '../workers/heart.worker.js'

/** The worker, played: what it answers for a file. */
let answers: ReadResult[] = []
let tells: number[] = []
const stopped: string[] = []
let hold: Promise<void> | undefined
const read = jest.fn(async (...[, , , tell]: Parameters<Reader['read']>): Promise<ReadResult> => {
  for (const share of tells) tell(share)
  await hold
  return answers.shift()!
})
const unasked = (): Promise<never> => Promise.reject(new Error('not asked'))
const UNASKED = { balance: unasked, speed: unasked, speedOfFile: unasked }
jest.mock('../workers/heart.js', () => ({
  warmReader: () => undefined,
  reader: (): Reader => ({
    read,
    ...UNASKED,
    stop: () => void stopped.push('stopped'),
  }),
}))
const { DropArea, FileDrop } = jest.requireActual<typeof import('./FileDrop.js')>('./FileDrop.js')

const server = new PlayedServer()
const GOOD: ReadResult = { ok: true, rows: 120, points: [], warnings: [] }
const draw = (): void =>
  void drawOnVisit(aVisit(), (file) => (
    <DropArea file={file} round={0}>
      <FileDrop />
    </DropArea>
  ))
const file = (name: string, bytes = 'time,rpm\n0,700\n'): File =>
  Object.assign(new File([bytes], name), { arrayBuffer: () => Promise.resolve(new ArrayBuffer(8)) })
const drop = (...files: File[]): void =>
  void fireEvent.drop(document.querySelector('.drop-area')!, {
    dataTransfer: { files, items: files.map((f) => ({ kind: 'file', getAsFile: () => f })), types: ['Files'] },
  })
const kept = (): unknown[] => server.writes.map((w) => w.body.name)

beforeEach(async () => {
  for (const w of outbox.snapshot().writes) await outbox.drop(w)
  server.asked.length = 0
  server.answer = (a) => ({ status: 200, body: { ...a.body, id: 'x', version: 1 } })
  answers = [GOOD]
  tells = []
  stopped.length = 0
  hold = undefined
  read.mockClear()
})

describe('a recording that is dropped', () => {
  it('is read, kept, and told how many rows and points it has', async () => {
    draw()
    drop(file('morning.csv'))
    expect(await screen.findByText('morning.csv: 120 rows, 0 operating points found.')).toBeTruthy()
    await waitFor(() => expect(kept()).toEqual(['morning.csv']))
    expect(server.writes[0].body).toMatchObject({ visitId: 'v', round: 0 })
    expect(stopped).toHaveLength(1)
  })
  it('several at once are each kept', async () => {
    answers = [GOOD, GOOD]
    draw()
    drop(file('one.csv'), file('two.csv'))
    await waitFor(() => expect(kept().sort()).toEqual(['one.csv', 'two.csv']))
  })
  it('says how far it is, and what stops it', async () => {
    // a worker that was ended answers nothing any more
    hold = new Promise(() => undefined)
    tells = [0.4]
    draw()
    drop(file('long.csv'))
    expect(await screen.findByText(/Reading long.csv, 40 %/)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'stop' }))
    await waitFor(() => expect(screen.queryByText(/Reading long.csv/)).toBeNull())
    expect(stopped).toHaveLength(1)
  })
  it('after a remedy a person says on which side of it the engine ran', async () => {
    const done: RepairRecord = {
      id: 'r',
      version: 1,
      by: 'R',
      at: '2026-01-01T09:00:00Z',
      visitId: 'v',
      station: 'duct',
      kind: 'refit',
      state: 'done',
      afterRound: 0,
      temporary: false,
      minutes: 4,
      partsPrice: 0,
      conditions: [],
    }
    answers = [GOOD, GOOD]
    drawOnVisit(aVisit({ repairs: [done] }), (f) => (
      <DropArea file={f} round={1}>
        <FileDrop />
      </DropArea>
    ))
    drop(file('first.csv'))
    expect(await screen.findByText('When was first.csv recorded?')).toBeTruthy()
    expect(kept()).toEqual([])
    fireEvent.click(screen.getByRole('button', { name: 'before: duct refitted' }))
    await waitFor(() => expect(server.writes.map((w) => w.body.round)).toEqual([0]))
    drop(file('second.csv'))
    fireEvent.click(await screen.findByRole('button', { name: 'after: duct refitted' }))
    await waitFor(() => expect(server.writes.map((w) => w.body.round)).toEqual([0, 1]))
  })
  it('one that is too large is refused with its size and what is taken, and is not read', async () => {
    draw()
    drop(Object.defineProperty(file('huge.csv'), 'size', { value: 100 * 1048576 }))
    expect(await screen.findByText(/huge.csv has 100 MB; 96 MB are taken/)).toBeTruthy()
    expect(read).not.toHaveBeenCalled()
    expect(kept()).toEqual([])
  })
  it('one that cannot be read stays refused, with the reason, and nothing is kept', async () => {
    answers = [{ ok: false, error: { code: 'not-text', message: 'This is no text.' } as never, columns: [] }]
    draw()
    drop(file('picture.csv'))
    expect(await screen.findByText('picture.csv: This is no text.')).toBeTruthy()
    expect(kept()).toEqual([])
    fireEvent.click(screen.getByRole('button', { name: 'close' }))
    await waitFor(() => expect(screen.queryByText(/This is no text/)).toBeNull())
  })
})
