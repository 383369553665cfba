/** @jest-environment jsdom */
import { beforeEach, describe, expect, it } from '@jest/globals'
import { PlayedServer } from '../../test/browser.js'
import { act, fireEvent, screen, waitFor } from '@testing-library/react'
import { useState } from 'react'
import type { Diagnosis, FindingRecord, RepairRecord, VisitFile } from '@uvula/core'
import { drawOnVisit } from '../../test/draw.js'
import { keepsAll, written } from '../../test/hand.js'
import { aVisit } from '../../test/visit.fixture.js'
import { Look } from './Look.js'

const server = new PlayedServer()
const lead = (fault: string): Diagnosis =>
  ({ ranking: [{ fault, probability: 0.9, sentence: '' }] }) as unknown as Diagnosis
const draw = (file: VisitFile = aVisit(), d?: Diagnosis): void =>
  void drawOnVisit(file, (f) => <Look file={f} diagnosis={d} onOpen={() => undefined} />)
let arrive: (d: Diagnosis) => void = () => undefined
/** The first look of a visit whose diagnosis is still being made; `arrive` hands it over. */
function drawLate(): void {
  function Late({ file }: { file: VisitFile }) {
    const [d, setD] = useState<Diagnosis>()
    arrive = setD
    return <Look file={file} diagnosis={d} onOpen={() => undefined} />
  }
  drawOnVisit(aVisit(), (f) => <Late file={f} />)
}
const order = (): string[] => [...document.querySelectorAll('[data-item]')].map((x) => x.getAttribute('data-item')!)

beforeEach(() => keepsAll(server))

describe('the first look', () => {
  it('begins where the leading cause is found soonest, and along the pipe at a tap', () => {
    draw(aVisit(), lead('throttle-deposits'))
    expect(order()[0]).toBe('throttle.1')
    fireEvent.click(screen.getByRole('radio', { name: 'along the pipe' }))
    expect(order()[0]).toBe('inlet.1')
  })
  it('the diagnosis orders it when it comes, unless a look was judged by then: nothing moves under a finger', async () => {
    drawLate()
    act(() => arrive(lead('throttle-deposits')))
    expect(order()[0]).toBe('throttle.1')
    document.body.innerHTML = ''
    drawLate()
    const before = order()
    const tapped = screen.getAllByRole('radio', { name: /: sound$/ })[3]
    fireEvent.click(tapped)
    await written(server, 'findings')
    act(() => arrive(lead('throttle-deposits')))
    expect(order()).toEqual(before)
    expect(tapped.isConnected && tapped.getAttribute('aria-checked')).toBe('true')
  })
  it('nor from under the keys: a look that has the focus keeps it when the diagnosis comes', () => {
    drawLate()
    const before = order()
    const held = screen.getAllByRole('radio', { name: /: sound$/ })[3]
    act(() => held.focus())
    act(() => arrive(lead('throttle-deposits')))
    expect(order()).toEqual(before)
    expect(document.activeElement).toBe(held)
  })
  it('a cable is asked about only where there is one', () => {
    draw()
    expect(order()).not.toContain('throttle.3')
  })
  it('what is not in order takes a word and a photo', async () => {
    draw()
    fireEvent.click(screen.getByRole('radio', { name: /^Split in the bends.*: failed$/ }))
    expect(await written(server, 'findings')).toMatchObject([{ item: 'duct.2', outcome: 'fail' }])
    await waitFor(() => expect(screen.getByRole('textbox', { name: 'what was seen' })).toBeTruthy())
    expect(screen.getByTestId('photo-input')).toBeTruthy()
  })
  it('what was seen before the work stays as it was seen', async () => {
    const meta = { version: 1, by: 'R', at: '2026-01-01T09:00:00Z', visitId: 'v' }
    const seen: FindingRecord = {
      ...meta,
      id: 'v:look:duct.2',
      test: 'look',
      station: 'duct',
      item: 'duct.2',
      outcome: 'fail',
      note: 'split on the underside',
      afterWork: 0,
    }
    const repair: RepairRecord = {
      ...meta,
      id: 'r',
      station: 'duct',
      kind: 'replace',
      state: 'done',
      afterRound: 0,
      temporary: false,
      minutes: 5,
      partsPrice: 1,
      conditions: [],
    }
    draw(aVisit({ findings: [seen], repairs: [repair] }))
    const ring = (state: string) => screen.getByRole('radio', { name: new RegExp(`^Split in the bends.*: ${state}$`) })
    expect(ring('failed').getAttribute('aria-checked')).toBe('true')
    fireEvent.click(ring('sound'))
    const [again] = await written(server, 'findings')
    expect(again).toMatchObject({ item: 'duct.2', outcome: 'pass', afterWork: 1 })
    expect(again.note).toBeUndefined()
    expect(server.writes.some((w) => w.path.endsWith(encodeURIComponent(seen.id)))).toBe(false)
    await waitFor(() => expect(ring('sound').getAttribute('aria-checked')).toBe('true'))
  })
})

describe('the battery', () => {
  const battery = (): HTMLElement => screen.getByRole('region', { name: 'battery' })
  const type = (name: string, value: string): void => {
    const field = screen.getByRole('textbox', { name })
    fireEvent.change(field, { target: { value } })
    fireEvent.blur(field)
  }
  it('stands first where it starts hard, last elsewhere', () => {
    const file = aVisit()
    draw({ ...file, visit: { ...file.visit, signs: ['hard-start'] } })
    const first = document.querySelector('[data-item]')!
    expect(battery().compareDocumentPosition(first) & Node.DOCUMENT_POSITION_FOLLOWING).toBeTruthy()
  })
  it('two voltages are kept at their moments and judged', async () => {
    draw()
    expect(battery().getAttribute('data-battery')).toBe('unread')
    type('at rest', '12,7')
    type('cranking', '8.9')
    expect(await written(server, 'readings', 2)).toMatchObject([
      { slot: 'key-on', channel: 'battery_v', value: 12.7 },
      { slot: 'cranking', channel: 'battery_v', value: 8.9 },
    ])
    await waitFor(() => expect(battery().getAttribute('data-battery')).toBe('weak'))
    expect(battery().textContent).toMatch(/battery, cable or starter/)
  })
  it('a voltage that no car has is refused', () => {
    draw()
    type('at rest', '48')
    expect(screen.getByRole('alert').textContent).toMatch(/3 to 16 V/)
    expect(server.writes).toEqual([])
  })
})
