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
const cell = (product: string, surface: string): void => tap(new RegExp(`^${product}.* on ${surface}:`))

beforeEach(() => keepsAll(server))

describe('cleaning', () => {
  it('waits for the STOP at the throttle, which is ticked once', async () => {
    draw()
    cell('throttle cleaner', 'throttle plate')
    expect(may(/^cleaned: off the car/)).toBe(false)
    fireEvent.click(screen.getByRole('checkbox', { name: 'seen to' }))
    expect(await written(server, 'ticks')).toMatchObject([{ caution: 'throttle-plate-shuts' }])
    await waitFor(() => expect(may(/^cleaned: off the car/)).toBe(true))
    fireEvent.click(screen.getByRole('checkbox', { name: 'seen to' }))
    await new Promise((r) => setTimeout(r, 20))
    expect(server.writes).toHaveLength(1)
  })
  it('asks for the STOP of the part in hand: a sensor shuts on nobody, what is hot and turns stands beside it', () => {
    draw({ ticks: [seen] })
    cell('airflow sensor cleaner', 'airflow element')
    expect(may(/^cleaned: off the car/)).toBe(false)
    expect(screen.getByText(/Belts, fan, hot coolant/)).toBeTruthy()
  })
  it('the wrong product is refused with its reason, and nothing can be kept', () => {
    draw({ ticks: [seen] })
    cell('throttle cleaner', 'airflow element')
    expect(screen.getByRole('alert').textContent).toMatch(/film on the element/)
    expect(screen.queryByRole('button', { name: /^cleaned:/ })).toBeNull()
  })
  it('what was done is kept, and its end says which round stood', async () => {
    draw({ ticks: [seen], steps: [step] })
    expect(screen.getByText(/ends when: zero with the engine off/)).toBeTruthy()
    tap(/^start 15:00: airflow sensor element drying/)
    expect(await written(server, 'timers')).toMatchObject([{ kind: 'drying', seconds: 900, ended: false }])
    fireEvent.click(screen.getByRole('checkbox', { name: 'ends there' }))
    expect(await written(server, 'steps')).toMatchObject([{ passed: true, afterRound: 0 }])
  })
})
