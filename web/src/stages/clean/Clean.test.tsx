/** @jest-environment jsdom */
import { beforeEach, describe, expect, it } from '@jest/globals'
import { PlayedServer } from '../../test/browser.js'
import { fireEvent, screen, waitFor } from '@testing-library/react'
import type { StepRecord, TickRecord, VisitFile } from '@uvula/core'
import { drawOnVisit } from '../../test/draw.js'
import { keepsAll, may, tap, written } from '../../test/hand.js'
import { aVisit } from '../../test/visit.fixture.js'
import { Clean } from './Clean.js'

const server = new PlayedServer()
const meta = { version: 1, by: 'R', at: '2026-01-01T09:00:00Z', visitId: 'v' }
const seen: TickRecord = { ...meta, id: 't', caution: 'throttle-plate-shuts' }
const step: StepRecord = {
  ...meta,
  id: 's',
  station: 'airflow-sensor',
  surface: 'airflow-element',
  product: 'airflow-cleaner',
  method: 'off-the-car',
  passed: false,
}
const draw = (part: Partial<VisitFile> = {}): void => void drawOnVisit(aVisit(part), (file) => <Clean file={file} />)
/** A surface, then a product for it. */
const cell = (product: string, surface: RegExp): void => {
  tap(surface)
  tap(new RegExp(`^${product}.* on `))
}

beforeEach(() => keepsAll(server))

describe('cleaning', () => {
  it('waits for the STOP at the throttle, which is ticked once', async () => {
    draw()
    cell('throttle cleaner', /^throttle edge/)
    expect(may(/^begin: off the car/)).toBe(false)
    fireEvent.click(screen.getByRole('checkbox', { name: 'seen to' }))
    expect(await written(server, 'ticks')).toMatchObject([{ caution: 'throttle-plate-shuts' }])
    await waitFor(() => expect(may(/^begin: off the car/)).toBe(true))
    fireEvent.click(screen.getByRole('checkbox', { name: 'seen to' }))
    await new Promise((r) => setTimeout(r, 20))
    expect(server.writes).toHaveLength(1)
  })
  it('asks for the STOP of the part in hand: a sensor shuts on nobody, what is hot and turns stands beside it', () => {
    draw({ ticks: [seen] })
    cell('airflow sensor cleaner', /^airflow sensor element/)
    expect(may(/^begin: off the car/)).toBe(false)
    expect(screen.getByText(/Belts, fan, hot coolant/)).toBeTruthy()
  })
  it('an element is sprayed, and in place only where all of it is reached', () => {
    draw()
    tap(/^airflow sensor element/)
    expect(screen.getByRole('button', { name: 'begin: sprayed in place' })).toBeTruthy()
    expect(screen.getByText(/every opening of it is reached and the filter is out; else off the car/)).toBeTruthy()
    expect(screen.queryByRole('button', { name: /^begin: .*cloth/ })).toBeNull()
  })
  it('the wrong product is refused with its reason, and nothing can be kept', () => {
    draw({ ticks: [seen] })
    cell('throttle cleaner', /^airflow sensor element/)
    expect(screen.getByRole('alert').textContent).toMatch(/film on the element/)
    expect(screen.queryByRole('button', { name: /^begin:/ })).toBeNull()
  })
  it('what was done is kept, and its end says which round stood', async () => {
    draw({ ticks: [seen], steps: [step] })
    expect(screen.getByText(/Ends when: zero with the engine off/)).toBeTruthy()
    tap(/^start 15:00: airflow sensor element drying/)
    expect(await written(server, 'timers')).toMatchObject([{ kind: 'drying', seconds: 900, ended: false }])
    fireEvent.click(screen.getByRole('checkbox', { name: 'ends there' }))
    expect(await written(server, 'steps')).toMatchObject([{ passed: true, afterRound: 0 }])
  })
  it('each stage is kept with its time and what it was done with; the next one stands out', async () => {
    draw({ ticks: [seen], steps: [{ ...step, more: { stages: [] } }] })
    expect(screen.getByRole('checkbox', { name: 'spray' }).className).toContain('border-4')
    fireEvent.click(screen.getByRole('checkbox', { name: 'spray' }))
    const [kept] = await written(server, 'steps')
    expect(kept).toMatchObject({ more: { stages: [{ id: 'flush', product: 'airflow-cleaner' }] } })
    await waitFor(() => expect(screen.getByRole('checkbox', { name: 'dry' }).className).toContain('border-4'))
  })
  it('a filter is weighed dry and oiled; too much oil has no end', async () => {
    const weights = { id: 'settle', at: step.at, value: 410 } as const
    const flushed = { id: 'flush', at: step.at } as const
    const filter = { ...step, station: 'filter', surface: 'filter-washable', product: 'filter-cleaner' } as const
    draw({ steps: [{ ...filter, more: { stages: [flushed, weights] } }] })
    expect(screen.getByRole<HTMLButtonElement>('checkbox', { name: 'ends there' }).disabled).toBe(true)
    expect(screen.getByRole<HTMLButtonElement>('checkbox', { name: 'oil' }).disabled).toBe(true)
    fireEvent.change(screen.getByRole('textbox', { name: 'oil, weight' }), { target: { value: '455' } })
    fireEvent.click(screen.getByRole('checkbox', { name: 'oil' }))
    expect(await screen.findAllByText(/45 g of oil where 25 g belong/)).toHaveLength(2)
    expect(screen.getByRole<HTMLButtonElement>('checkbox', { name: 'ends there' }).disabled).toBe(true)
  })
  it('a port is opened only once the last one is drawn out', async () => {
    const ports = {
      ...step,
      station: 'gaskets',
      surface: 'intake-valves',
      product: 'soft-media',
      method: 'ports-open',
    } as const
    draw({ ticks: [{ ...seen, caution: 'turned-by-hand' }], steps: [{ ...ports, more: { stages: [] } }] })
    tap('cylinder 1: valves shut')
    await waitFor(() =>
      expect(screen.getByRole('button', { name: 'cylinder 1: valves shut', pressed: true })).toBeTruthy(),
    )
    tap('cylinder 3: valves shut')
    expect((await screen.findByRole('alert')).textContent).toMatch(/Cylinder 1 is not drawn out yet/)
    tap('cylinder 1: draw out')
    expect(screen.getByRole('alert').textContent).toMatch(/Cylinder 1: blast or soak comes first/)
  })
  it('what does not end is gone on with by the next class', async () => {
    draw({
      ticks: [seen],
      steps: [
        { ...step, station: 'plenum', surface: 'manifold-aluminium', product: 'water-soap', more: { stages: [] } },
      ],
    })
    tap(/^does not end: on with/)
    expect(await written(server, 'steps')).toMatchObject([{ more: { failed: ['water-soap'] } }])
  })
})
