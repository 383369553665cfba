/** @jest-environment jsdom */
import { beforeEach, describe, expect, it, jest } from '@jest/globals'
import { PlayedServer } from '../test/browser.js'
import { fireEvent, render, screen, waitFor } from '@testing-library/react'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { MemoryRouter, Route, Routes } from 'react-router'
import type { FillRecord } from '@uvula/core'
import type { VehicleCard } from '@uvula/contract'
import { connectOutbox } from '../store/visit.js'
import { keepsAll, say, tap } from '../test/hand.js'
import { aVisit } from '../test/visit.fixture.js'

jest.mock('../charts/Chart.js', () => ({
  Chart: ({ label, table }: { label: string; table: { rows: unknown[] } }) => (
    <p>{`${label}: ${JSON.stringify(table.rows)}`}</p>
  ),
}))
const { Card } = jest.requireActual<typeof import('./Card.js')>('./Card.js')

const server = new PlayedServer()
const { vehicle, visit } = aVisit()
const fill = (n: number, litres: number): FillRecord => ({
  id: `f${n}`,
  version: 1,
  by: 'R',
  at: '',
  vehicleId: vehicle.id,
  on: `2026-0${n}-10`,
  odometerKm: 10_000 + 600 * n,
  litres,
  full: true,
})
const card = (part: Partial<VehicleCard> = {}): VehicleCard => ({
  vehicle,
  visits: [visit],
  fills: [],
  temporary: [],
  left: null,
  balances: [],
  nextLook: { say: 'Too few visits for a trend.' },
  history: [
    {
      visitId: 'v',
      openedAt: '2026-04-20T09:00:00.000Z',
      odometerKm: 12_000,
      state: 'handed-over',
      complaint: 'idle hunts',
      figures: { 'idle-used': 41, trim: 12 },
      done: ['throttle plate cleaned'],
      parts: [],
      promised: ['Look at the duct again by 2026-05-01.'],
      cleaned: true,
    },
    {
      visitId: 'w',
      openedAt: '2026-09-02T09:00:00.000Z',
      state: 'open',
      complaint: 'idle low',
      figures: { 'idle-used': 30 },
      done: [],
      parts: [],
      promised: [],
      cleaned: false,
    },
  ],
  ...part,
})
function open(c: VehicleCard): void {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: Infinity } } })
  client.setQueryData(['card', vehicle.id], c)
  client.setQueryData(['bay'], { shop: { demo: true, altitudeM: 0 }, rows: [] })
  connectOutbox(client)
  render(
    <QueryClientProvider client={client}>
      <MemoryRouter initialEntries={[`/car/${vehicle.id}`]}>
        <Routes>
          <Route path="/car/:id" element={<Card />} />
        </Routes>
      </MemoryRouter>
    </QueryClientProvider>,
  )
}
const wrote = async (noun: string): Promise<Record<string, unknown>[]> => {
  const of = () => server.writes.filter((w) => w.path.startsWith(`/api/${noun}/`)).map((w) => w.body)
  await waitFor(() => expect(of().length).toBeGreaterThan(0))
  return of()
}
beforeEach(() => keepsAll(server))

describe('the card of a car', () => {
  it('tells what was done, what was promised, what drifts, and when to look again', () => {
    open(card())
    expect(screen.getByText('Too few visits for a trend.')).toBeTruthy()
    expect(screen.getByText('done: throttle plate cleaned')).toBeTruthy()
    expect(screen.getByText('promised: Look at the duct again by 2026-05-01.')).toBeTruthy()
    expect(
      screen.getByText('range of idle control used over the visits: [["2026-04-20",41],["2026-09-02",30]]'),
    ).toBeTruthy()
    fireEvent.click(screen.getByRole('radio', { name: /^total trim/ }))
    // one visit is no line
    expect(screen.getByText(/on 2026-04-20; a line needs two visits/).textContent).toMatch(/total trim.* 12\.0 %/)
  })
  it('how it is driven is kept with the car', async () => {
    open(card())
    fireEvent.click(screen.getByRole('checkbox', { name: 'short trips' }))
    expect((await wrote('vehicles'))[0].spec).toMatchObject({ driving: ['short-trips'] })
  })
})

describe('tanks filled', () => {
  it('one is typed and stands at once; of −3 L or with an odometer that runs backwards it is named and kept out', async () => {
    open(card({ fills: [fill(1, 50)] }))
    const type = (km: string, litres: string): void => {
      say('odometer, km', km)
      say('litres', litres)
      tap('add')
    }
    type('11200', '-3')
    expect(screen.getByRole('alert').textContent).toMatch(/more than 0 and at most 400 L/)
    type('9000', '50')
    expect(screen.getByRole('alert').textContent).toMatch(/runs backwards/)
    expect(server.writes).toHaveLength(0)
    type('11 200,5', '48,2')
    expect((await wrote('fills'))[0]).toMatchObject({ odometerKm: 11200.5, litres: 48.2, full: true })
    expect(screen.getByText(/11,200\.5 km/)).toBeTruthy()
  })
  it('a pasted table is read first, then kept: what is here already and what is none is said', async () => {
    open(card({ fills: [fill(1, 50)] }))
    tap('from a table')
    await screen.findByRole('textbox', { name: 'table of fills' })
    say('table of fills', 'date,km,litres\n2026-01-10,10600,50\n2026-03-01,11800,44\n2026-03-20,12300,-3')
    expect(screen.getByText('1 fill read, 1 here already, 1 row left out:')).toBeTruthy()
    expect(screen.getByText(/row 4 .*more than 0 and at most 400 L/)).toBeTruthy()
    expect(server.writes).toHaveLength(0)
    tap('add 1 fill')
    expect(await wrote('fills')).toMatchObject([{ on: '2026-03-01', odometerKm: 11800, litres: 44, full: true }])
  })
  it('before and after the last work is told, or how many tanks it takes', () => {
    open(card({ fills: [1, 2, 3, 4, 5, 6, 7, 8].map((n) => fill(n, n < 5 ? 60 : 48)) }))
    expect(document.querySelector('[data-economy]')?.getAttribute('data-economy')).toBe('better')
  })
  it('one that was wrong is taken off', async () => {
    open(card({ fills: [fill(1, 50)] }))
    tap('take the fill of 2026-01-10 off')
    expect((await wrote('fills'))[0]).toMatchObject({ deleted: true })
    await waitFor(() => expect(document.querySelector('[data-fill]')).toBeNull())
  })
})
