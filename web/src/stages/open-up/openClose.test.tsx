/** @jest-environment jsdom */
import { beforeEach, describe, expect, it } from '@jest/globals'
import { PlayedServer } from '../../test/browser.js'
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import {
  facesTick,
  type ItemMore,
  type ItemRecord,
  type Piece,
  type StationId,
  type TickRecord,
  type VisitFile,
} from '@uvula/core'
import { CloseUp } from '../close-up/CloseUp.js'
import { drawOnVisit } from '../../test/draw.js'
import { keepsAll, may, tap, written } from '../../test/hand.js'
import { aVisit } from '../../test/visit.fixture.js'
import { OpenUp } from './OpenUp.js'

const server = new PlayedServer()
const meta = { version: 1, by: 'R', at: '2026-01-01T09:00:00Z', visitId: 'v' }
const ticks = (...ids: string[]): readonly TickRecord[] => ids.map((caution) => ({ ...meta, id: caution, caution }))
const STOPS = ticks('belts-fan-hot-coolant', 'throttle-plate-shuts')
const off: Piece = { state: 'off', arrival: 'present' }
const on: Piece = { state: 'on', arrival: 'present' }

function part(
  id: string,
  kind: ItemMore['kind'],
  pieces: readonly Piece[],
  more: Partial<ItemMore> = {},
  station: StationId = 'throttle',
): ItemRecord {
  const state = pieces.some((p) => p.state === 'off') ? 'off' : pieces.some((p) => p.state === 'loose') ? 'loose' : 'on'
  return {
    ...meta,
    id,
    station,
    name: kind,
    count: pieces.length,
    arrival: 'present',
    state,
    more: { kind, pieces, ...more },
  }
}
const four = (): ItemRecord => part('bolts', 'bolt', [on, on, on, on], { shape: 'round' })
const openUp = (file: Partial<VisitFile>): void => void drawOnVisit(aVisit(file), (f) => <OpenUp file={f} />)
const closeUp = (file: Partial<VisitFile>): void => void drawOnVisit(aVisit(file), (f) => <CloseUp file={f} />)
const pieces = (body: Record<string, unknown>): string[] => (body.more as ItemMore).pieces.map((p) => p.state)

beforeEach(() => keepsAll(server))

describe('opening up', () => {
  it('nothing comes off before both STOPs of a throttle', async () => {
    openUp({})
    expect(may('4 × bolt off')).toBe(false)
    for (const left of [2, 1]) {
      const open = screen.getAllByRole('checkbox', { name: 'seen to' })
      expect(open).toHaveLength(left)
      fireEvent.click(open[0])
      await written(server, 'ticks', 3 - left)
      await waitFor(() => expect(screen.queryAllByRole('checkbox', { name: 'seen to' })).toHaveLength(left - 1))
    }
    tap('4 × bolt off')
    const [bolts] = await written(server, 'items')
    expect(bolts).toMatchObject({ name: 'bolt', count: 4, state: 'off', drive: '8 mm socket' })
    expect(pieces(bolts)).toEqual(['off', 'off', 'off', 'off'])
  })
  it('a tap takes one fastener off, then loose, then on; the others stay', async () => {
    openUp({ ticks: STOPS, items: [four()] })
    const third = (): HTMLElement => screen.getByRole('button', { name: /^bolt 3: / })
    fireEvent.click(third())
    expect(pieces((await written(server, 'items'))[0])).toEqual(['on', 'on', 'off', 'on'])
    await waitFor(() => expect(third().getAttribute('aria-label')).toBe('bolt 3: off'))
    fireEvent.keyDown(third(), { key: 'Enter' })
    expect(pieces((await written(server, 'items', 2))[1])).toEqual(['on', 'on', 'loose', 'on'])
  })
  it('the last fastener of a joint is the hanging bolt', () => {
    openUp({ ticks: STOPS, items: [part('bolts', 'bolt', [off, on, off, off], { shape: 'round' })] })
    expect(screen.getByRole('status').textContent).toMatch(/hanging bolt/)
  })
  it('how one was found is told of that one: missing is not put on', async () => {
    openUp({ ticks: STOPS, items: [four()] })
    fireEvent.click(screen.getByRole('button', { name: /^bolt 2: / }))
    await written(server, 'items')
    fireEvent.click(within(screen.getByTestId('piece')).getByRole('radio', { name: 'missing' }))
    const second = (await written(server, 'items', 2))[1]
    expect(second).toMatchObject({ arrival: 'missing', state: 'on' })
    expect((second.more as ItemMore).pieces[1]).toEqual({ state: 'on', arrival: 'missing' })
    await waitFor(() => expect(screen.getByRole('button', { name: 'bolt 2: missing' })).toBeTruthy())
    fireEvent.click(screen.getByRole('checkbox', { name: 'a new one is in' }))
    expect(((await written(server, 'items', 3))[2].more as ItemMore).pieces[1].renewed).toBe(true)
  })
  it('anything in own words, with its count before it', async () => {
    openUp({ ticks: STOPS })
    fireEvent.change(screen.getByRole('textbox', { name: 'something else that comes off' }), {
      target: { value: '3 × bracket bolt' },
    })
    tap('off')
    expect((await written(server, 'items'))[0]).toMatchObject({
      name: 'bracket bolt',
      count: 3,
      more: { kind: 'bolt' },
    })
  })
  it('a fuel line waits for a STOP of its own', async () => {
    const file = aVisit({ ticks: STOPS, items: [part('g', 'gasket', [off], {}, 'gaskets')] })
    drawOnVisit(file, (f) => <OpenUp file={f} />)
    expect(may('1 × gasket off')).toBe(true)
    expect(may('1 × fuel hose off')).toBe(false)
    // which stands there before the hose is off
    fireEvent.click(screen.getByRole('checkbox', { name: 'seen to' }))
    await waitFor(() => expect(may('1 × fuel hose off')).toBe(true))
  })
  it('details: count, torque with its source, what a hose carries', async () => {
    openUp({ ticks: STOPS, items: [four(), part('h', 'hose', [off])] })
    fireEvent.click(screen.getByRole('button', { name: /^4 × bolt on/ }))
    tap('one more')
    expect((await written(server, 'items'))[0]).toMatchObject({ count: 5 })
    const torque = screen.getByRole('textbox', { name: 'torque' })
    fireEvent.change(torque, { target: { value: '2000' } })
    fireEvent.blur(torque)
    expect(screen.getByRole('alert').textContent).toMatch(/above 0 and at most 1000/)
    fireEvent.change(torque, { target: { value: '9,5' } })
    fireEvent.blur(torque)
    expect((await written(server, 'items', 2))[1].more).toMatchObject({
      torque: { value: 9.5, unit: 'N·m', from: 'book' },
    })
    fireEvent.click(screen.getByRole('button', { name: /^1 × hose/ }))
    fireEvent.click(screen.getByRole('radio', { name: 'coolant' }))
    expect((await written(server, 'items', 3))[2].more).toMatchObject({ carries: 'coolant' })
  })
  it('the way in: outermost first, minutes, the battery and the other school', async () => {
    openUp({ ticks: STOPS })
    fireEvent.mouseDown(screen.getByRole('tab', { name: 'the way in' }), { button: 0 })
    const way = await screen.findByRole('region', { name: 'the way in' })
    expect(
      within(way)
        .getAllByRole('listitem')
        .map((x) => x.textContent),
    ).toEqual([
      expect.stringMatching(/^1duct, in the open: clamps at both ends8′$/),
      expect.stringMatching(/^2throttle/),
    ])
    expect(way.textContent).toMatch(/About 28 minutes off and on.*Battery stays on.*Off where the maker asks for it/)
  })
})

describe('closing up', () => {
  it('what is off is named, and goes back on in its order', async () => {
    closeUp({
      ticks: STOPS,
      items: [four(), part('g', 'gasket', [off]), { ...part('b', 'bolt', [off, off]), bag: 'C' }],
    })
    expect(screen.getByRole('alert').textContent).toMatch(
      /Not closed.*Off: 1 × gasket.*Off: 2 × bolt at the throttle, bag C/,
    )
    const rows = within(screen.getByRole('list', { name: 'the way back' })).getAllByRole('listitem')
    expect(rows.map((r) => /gasket|bolt/.exec(r.textContent ?? '')?.[0])).toEqual(['gasket', 'bolt'])
    fireEvent.click(within(rows[1]).getByRole('button', { name: 'back on' }))
    expect(pieces((await written(server, 'items'))[0])).toEqual(['on', 'on'])
  })
  it('the numbers on the fasteners are the order to draw them down in', () => {
    closeUp({ items: [four()] })
    expect(
      [1, 2, 3, 4].map((k) =>
        screen.getByRole('button', { name: new RegExp(`^bolt ${k}: `) }).getAttribute('aria-label'),
      ),
    ).toEqual(['bolt 1: on, number 1', 'bolt 2: on, number 3', 'bolt 3: on, number 2', 'bolt 4: on, number 4'])
    expect(screen.getByText(/torque unknown: ask the book/)).toBeTruthy()
  })
  it('a seal is spoken for and its faces seen before it is closed', async () => {
    closeUp({ items: [part('g', 'gasket', [on])] })
    expect(screen.getByRole('alert').textContent).toMatch(/new, used again or doubtful.*Faces at the throttle/)
    fireEvent.click(screen.getByRole('radio', { name: 'new' }))
    expect((await written(server, 'items'))[0].more).toMatchObject({ seal: 'new' })
    fireEvent.click(screen.getByRole('checkbox', { name: /faces at the throttle seen/ }))
    expect(await written(server, 'ticks')).toMatchObject([{ caution: facesTick('throttle') }])
    await waitFor(() => expect(screen.getByText(/^Closed: nothing off/)).toBeTruthy())
  })
  it('a connection may go on earlier, by its reason; fasteners and seals may not', async () => {
    closeUp({ ticks: STOPS, items: [part('p', 'connector', [off]), part('b', 'bolt', [off])] })
    expect(screen.getAllByRole('button', { name: /goes on earlier/ })).toHaveLength(1)
    tap('connector goes on earlier')
    expect((await written(server, 'items'))[0].more).toMatchObject({ before: 'blind while the part is loose' })
    cleanup()
  })
  it('coolant is made up before it is closed', async () => {
    closeUp({ items: [part('h', 'hose', [on], { carries: 'coolant' })] })
    expect(screen.getByRole('alert').textContent).toMatch(/Coolant hoses were off: make up the level/)
    fireEvent.click(screen.getByRole('checkbox', { name: 'coolant made up, hoses tight' }))
    expect(await written(server, 'ticks')).toMatchObject([{ caution: 'coolant-filled' }])
  })
})
