/** @jest-environment jsdom */
import { beforeEach, describe, expect, it } from '@jest/globals'
import { PlayedServer } from '../../test/browser.js'
import { fireEvent, screen, waitFor } from '@testing-library/react'
import { repairOptionsAt, type RepairRecord, type StationId, type StepRecord, type VisitFile } from '@uvula/core'
import type { Shop } from '@uvula/contract'
import { drawOnVisit } from '../../test/draw.js'
import { keepsAll, may, tap, written } from '../../test/hand.js'
import { aVisit } from '../../test/visit.fixture.js'
import { Mend } from './Mend.js'

const server = new PlayedServer()
const shop = { labourPerHour: 60, partsDays: [5] } as unknown as Shop
const draw = (station: StationId, part: Partial<VisitFile> = {}): void =>
  void drawOnVisit(aVisit(part), (file) => <Mend file={file} station={station} shop={shop} />)
const meta = { version: 1, by: 'R', at: '2026-01-01T09:00:00Z', visitId: 'v' }
const planned: RepairRecord = {
  ...meta,
  id: 'r',
  station: 'duct',
  kind: 'clamp',
  state: 'planned',
  afterRound: 0,
  temporary: false,
  minutes: 8,
  partsPrice: 4,
  conditions: [],
}

beforeEach(() => keepsAll(server))

describe('a find is answered', () => {
  it.each(['duct', 'vacuum-lines', 'throttle', 'airflow-sensor', 'plenum'] as const)(
    'at the %s by everything that fits, each with its price, and by leaving it',
    (station) => {
      draw(station)
      const options = repairOptionsAt(station)
      expect(screen.getAllByRole('row')).toHaveLength(options.length + 1)
      expect(options.at(-1)!.kind).toBe('leave')
    },
  )
  it('a wrap only dry, clean and stretched, with the day of its next look', async () => {
    draw('duct')
    tap(/^Wrap with self-bonding tape/)
    expect(may('done')).toBe(false)
    expect(screen.getByText(/A wrap holds only dry/)).toBeTruthy()
    for (const box of screen.getAllByRole('checkbox')) fireEvent.click(box)
    expect(may('done')).toBe(true)
    tap('done')
    expect(await written(server, 'repairs')).toMatchObject([
      { station: 'duct', kind: 'wrap', state: 'done', temporary: true, afterRound: 0, minutes: 12, partsPrice: 6 },
    ])
  })
  it('a plan is done later, in the round that stands then', async () => {
    const reading = {
      ...meta,
      id: 'v:0:idle:rpm',
      round: 0,
      slot: 'idle',
      channel: 'rpm',
      value: 700,
      typed: '700',
    } as const
    draw('duct', { repairs: [planned], readings: [reading, { ...reading, id: 'v:1:idle:rpm', round: 1 }] })
    expect(screen.getByText(/clamped anew,/)).toBeTruthy()
    tap('done')
    expect(await written(server, 'repairs')).toMatchObject([{ state: 'done', afterRound: 1 }])
  })
  it('what was done can be followed by something else at the same place', async () => {
    draw('duct', { repairs: [{ ...planned, state: 'done' }] })
    tap('something else here')
    tap(/^New part/)
    tap('done')
    await waitFor(() => expect(screen.getByText(/renewed,/)).toBeTruthy())
    await written(server, 'repairs')
    const [record] = server.writes
    expect(decodeURIComponent(record.path)).not.toMatch(/\/r$/)
  })
  it('a surface cleaned to its end stands there as done', () => {
    const step: StepRecord = {
      ...meta,
      id: 's',
      station: 'airflow-sensor',
      surface: 'airflow-element',
      product: 'airflow-cleaner',
      method: 'off-the-car',
      passed: true,
      afterRound: 0,
    }
    draw('airflow-sensor', { steps: [step] })
    expect(screen.getByText(/airflow sensor element cleaned with airflow sensor cleaner/)).toBeTruthy()
  })
})
