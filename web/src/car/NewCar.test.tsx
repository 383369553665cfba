/** @jest-environment jsdom */
import { beforeEach, describe, expect, it } from '@jest/globals'
import { PlayedServer } from '../test/browser.js'
import { fireEvent, render, screen, waitFor } from '@testing-library/react'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { MemoryRouter, Route, Routes, useParams } from 'react-router'
import { outbox } from '../store/outbox.js'
import { aVisit } from '../test/visit.fixture.js'
import { NewCar } from './NewCar.js'

const server = new PlayedServer()
const known = { ...aVisit().vehicle, plate: 'VAL 12 L', customer: 'Summit lifts' }
function Visit() {
  return <p>visit {useParams().id}</p>
}
function open(): void {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: Infinity } } })
  client.setQueryData(['bay'], { shop: { name: 'Pass workshop', altitudeM: 1180, demo: true }, rows: [] })
  render(
    <QueryClientProvider client={client}>
      <MemoryRouter initialEntries={['/new']}>
        <Routes>
          <Route path="/new" element={<NewCar />} />
          <Route path="/visit/:id/arrive" element={<Visit />} />
          <Route path="*" element={<p>elsewhere</p>} />
        </Routes>
      </MemoryRouter>
    </QueryClientProvider>,
  )
}
const type = (name: string, text: string): void =>
  void fireEvent.change(screen.getByRole('textbox', { name }), { target: { value: text } })
const tap = (name: string): void => void fireEvent.click(screen.getByRole('button', { name }))
const wrote = (noun: string): Record<string, unknown>[] =>
  server.writes.filter((w) => w.path.startsWith(`/api/${noun}/`)).map((w) => w.body)

beforeEach(async () => {
  for (const w of outbox.snapshot().writes) await outbox.drop(w)
  server.asked.length = 0
  server.answer = (a) => {
    if (a.path.startsWith('/api/find'))
      return { status: 200, body: { vehicles: a.path.includes('VAL%2012') ? [known] : [], visits: [] } }
    return { status: 200, body: { ...a.body, id: decodeURIComponent(a.path.split('/').at(-1)!), version: 1 } }
  }
})

describe('a car that is taken in', () => {
  it('one that nobody knows: car and visit are written, and its arrival opens', async () => {
    open()
    type('plate', 'new 1')
    type('what people call it', 'Tinker’s van')
    tap('take it in')
    expect(await screen.findByText(/^visit visit-/, {}, { timeout: 5000 })).toBeTruthy()
    await waitFor(() => expect(wrote('visits')).toHaveLength(1))
    expect(wrote('vehicles')).toMatchObject([{ plate: 'NEW 1', spec: { name: 'Tinker’s van', altitudeM: 1180 } }])
    expect(wrote('visits')[0]).toMatchObject({ intent: 'complaint', complaint: '', altitudeM: 1180 })
  })
  it('a known plate is asked about before anything is written', async () => {
    open()
    type('plate', 'val 12 l')
    tap('take it in')
    expect((await screen.findByRole('alert')).textContent).toMatch(/VAL 12 L is known: test car, Summit lifts/)
    expect(server.writes).toEqual([])
    expect(screen.getByRole('link', { name: 'look at its card' }).getAttribute('href')).toBe('/car/car')
  })
  it('the known car gets a visit and no second self', async () => {
    open()
    type('plate', 'VAL 12 L')
    tap('take it in')
    await screen.findByRole('alert')
    tap('take that car in')
    expect(await screen.findByText(/^visit visit-/)).toBeTruthy()
    await waitFor(() => expect(wrote('visits')).toMatchObject([{ vehicleId: 'car' }]))
    expect(wrote('vehicles')).toEqual([])
  })
  it('another car may carry the same plate, by a word', async () => {
    open()
    type('plate', 'VAL 12 L')
    tap('take it in')
    await screen.findByRole('alert')
    tap('it is another car')
    tap('take it in')
    await waitFor(() => expect(wrote('vehicles')).toMatchObject([{ plate: 'VAL 12 L' }]))
  })
  it('without the server a car is taken in all the same', async () => {
    server.answer = () => 'away'
    open()
    type('plate', 'VAL 12 L')
    tap('take it in')
    expect(await screen.findByText(/^visit visit-/)).toBeTruthy()
    expect(outbox.snapshot().writes.map((w) => w.noun)).toEqual(['vehicles', 'visits'])
  })
  it('a plate is needed, and says why', async () => {
    open()
    tap('take it in')
    expect(await screen.findByText(/the plate finds the car again/)).toBeTruthy()
    expect(server.writes).toEqual([])
  })
})
