/** @jest-environment jsdom */
import { beforeEach, describe, expect, it } from '@jest/globals'
import { PlayedServer } from '../../test/browser.js'
import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import type { Shop } from '@uvula/contract'
import { benchOf, ENGINE_PATTERNS } from '@uvula/core'
import type { FindingRecord, RepairRecord, StationId, TickRecord, VisitFile } from '@uvula/core'
import { drawOnVisit } from '../../test/draw.js'
import { keepsAll, written } from '../../test/hand.js'
import { aVisit } from '../../test/visit.fixture.js'
import { Station } from './Station.js'

const server = new PlayedServer()
const shop = { labourPerHour: 60, partsDays: [5] } as unknown as Shop
const meta = { version: 1, by: 'R', at: '2026-01-01T09:00:00Z', visitId: 'v' }
const draw = (id: StationId, part: Partial<VisitFile> = {}): void =>
  void drawOnVisit(aVisit(part), (file) => <Station file={file} id={id} shop={shop} onClose={() => undefined} />)
const test = (id: string) => within(document.querySelector<HTMLElement>(`[data-test="${id}"]`)!)
const tick = (caution: string): TickRecord => ({ ...meta, id: 't', caution })

beforeEach(() => keepsAll(server))

describe('the bench of a station', () => {
  it('a test with a STOP waits for its tick, which is a record with a name', async () => {
    draw('booster')
    expect(test('pinch').getByRole<HTMLButtonElement>('button', { name: 'nothing' }).disabled).toBe(true)
    fireEvent.click(test('pinch').getByRole('checkbox', { name: 'seen to' }))
    expect(await written(server, 'ticks')).toMatchObject([{ caution: 'test-hot-and-turning', by: 'Technician' }])
    await waitFor(() =>
      expect(test('pinch').getByRole<HTMLButtonElement>('button', { name: 'nothing' }).disabled).toBe(false),
    )
  })
  it('the same caution at another test is seen to already', () => {
    draw('purge', { ticks: [tick('test-hot-and-turning')] })
    expect(test('purge-pinch').getByRole('checkbox', { name: 'seen to' }).getAttribute('aria-checked')).toBe('true')
  })
  it('a measured trim is kept with the judgement; one that no engine shows is not', async () => {
    draw('booster', { ticks: [tick('test-hot-and-turning')] })
    const type = (field: string, value: string): void => {
      fireEvent.change(test('pinch').getByLabelText(field), { target: { value } })
      fireEvent.blur(test('pinch').getByLabelText(field))
    }
    type('total trim with it shut', '200')
    fireEvent.click(test('pinch').getByRole('button', { name: 'found it' }))
    expect(screen.getByRole('alert').textContent).toMatch(/^total trim with it shut: .60\.0 to 60\.0 %$/)
    expect(server.writes).toEqual([])
    type('total trim with it shut', '4,5')
    type('total trim with it open', '12')
    expect(screen.getByText('Shut, the trim falls by 7.5 points.')).toBeTruthy()
    fireEvent.click(test('pinch').getByRole('button', { name: 'found it' }))
    expect(await written(server, 'findings')).toMatchObject([
      { test: 'pinch', station: 'booster', outcome: 'fail', value: 4.5, unit: '%', figures: { shut: 4.5, open: 12 } },
    ])
  })
  it('leads to its cleaning where something of it may be cleaned', () => {
    draw('airflow-sensor')
    expect(screen.getByRole('link', { name: 'clean it' }).getAttribute('href')).toBe('/visit/v/clean?of=airflow-sensor')
    document.body.innerHTML = ''
    draw('booster')
    expect(screen.queryByRole('link', { name: 'clean it' })).toBeNull()
  })
  it('a test of the whole manifold stands at the manifold of an engine without a plenum', () => {
    const bodies = ENGINE_PATTERNS.find((p) => p.id === 'four-bodies')!.vehicle
    const file = aVisit()
    const spec = { ...file.vehicle.spec, ...bodies }
    const where = benchOf(spec, 'cylinder-pull')
    if (where === 'places') throw new Error('it stands at a station')
    expect(where.station).not.toBe('plenum')
    draw(where.station, { vehicle: { ...file.vehicle, spec } })
    expect(test('cylinder-pull').getByRole('button', { name: 'found it' })).toBeTruthy()
  })
  it('runners are looked into at either bank', () => {
    const file = aVisit()
    const v6 = ENGINE_PATTERNS.find((p) => p.id === 'v6-maf')!.vehicle
    draw('runners-2', { vehicle: { ...file.vehicle, spec: { ...file.vehicle.spec, ...v6 } } })
    expect(test('runner-look').getByRole('button', { name: 'soot in all of them' })).toBeTruthy()
  })
  it('a test that may find unlike things asks which', async () => {
    draw('pcv', { ticks: [tick('test-hot-and-turning')] })
    expect(test('oil-cap').queryByRole('button', { name: 'found it' })).toBeNull()
    fireEvent.click(test('oil-cap').getByRole('button', { name: 'pressure' }))
    expect(await written(server, 'findings')).toMatchObject([{ test: 'oil-cap', outcome: 'fail', item: 'pressure' }])
    await waitFor(() =>
      expect(test('oil-cap').getByRole('button', { name: 'pressure' }).getAttribute('aria-pressed')).toBe('true'),
    )
  })
  it('what is found there opens the ways to answer it', async () => {
    draw('booster')
    expect(screen.queryByText('What is done at the booster hose')).toBeNull()
    fireEvent.click(screen.getByRole('radio', { name: /: failed$/ }))
    expect(await written(server, 'findings')).toMatchObject([{ test: 'look', item: 'booster.1', outcome: 'fail' }])
    await waitFor(() => expect(screen.getByText('What is done at the booster hose')).toBeTruthy())
  })
  it('what is found beyond the air path is mended there, and said in words before it is done', async () => {
    draw('beyond', { ticks: [tick('test-hot-exhaust')] })
    expect(screen.queryByText('What is done beyond the air path')).toBeNull()
    fireEvent.click(test('exhaust-leak-look').getByRole('button', { name: 'found it' }))
    expect(await written(server, 'findings')).toMatchObject([{ test: 'exhaust-leak-look', station: 'beyond' }])
    fireEvent.click(await screen.findByRole('button', { name: /^Put right/ }))
    const done = screen.getByRole<HTMLButtonElement>('button', { name: 'done' })
    expect(done.disabled).toBe(true)
    fireEvent.change(screen.getByLabelText(/as the customer reads it/), { target: { value: ' the joint sealed ' } })
    fireEvent.click(done)
    expect(await written(server, 'repairs')).toMatchObject([
      { station: 'beyond', kind: 'refit', state: 'done', note: 'the joint sealed' },
    ])
  })
  it('a part that is renewed there has the price that is typed', async () => {
    draw('beyond', { findings: [{ ...meta, id: 'f', test: 'fuel-pressure', station: 'beyond', outcome: 'fail' }] })
    fireEvent.click(screen.getByRole('button', { name: /^New part/ }))
    fireEvent.change(screen.getByLabelText(/as the customer reads it/), { target: { value: 'fuel filter renewed' } })
    fireEvent.change(screen.getByLabelText(/^its price/), { target: { value: 'a lot' } })
    expect(screen.getByRole('alert').textContent).toMatch(/must be a number from 0/)
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'done' }).disabled).toBe(true)
    fireEvent.change(screen.getByLabelText(/^its price/), { target: { value: '34,5' } })
    fireEvent.click(screen.getByRole('button', { name: 'done' }))
    expect(await written(server, 'repairs')).toMatchObject([{ kind: 'replace', partsPrice: 34.5 }])
  })
  it('of two finds there the one that is answered is named', async () => {
    const found = (test: string): VisitFile['findings'][number] => ({
      ...meta,
      id: test,
      test,
      station: 'beyond',
      outcome: 'fail',
    })
    draw('beyond', { findings: [found('fuel-pressure'), found('compression')] })
    fireEvent.click(screen.getByRole('button', { name: /^Put right/ }))
    fireEvent.change(screen.getByLabelText(/as the customer reads it/), { target: { value: 'the rail’s plug seated' } })
    const done = screen.getByRole<HTMLButtonElement>('button', { name: 'done' })
    expect(done.disabled).toBe(true)
    fireEvent.click(screen.getByRole('radio', { name: /^Fuel pressure/ }))
    fireEvent.click(done)
    expect(await written(server, 'repairs')).toMatchObject([{ finding: 'fuel-pressure' }])
  })
  it('a test is made anew once its place was worked on, beside what it found before', async () => {
    const found: FindingRecord = {
      ...meta,
      id: 'v:smoke:booster',
      test: 'smoke',
      station: 'booster',
      outcome: 'fail',
      note: 'a wisp at the tee',
      afterWork: 0,
    }
    const repair: RepairRecord = {
      ...meta,
      id: 'r',
      station: 'booster',
      kind: 'clamp',
      state: 'done',
      afterRound: 0,
      temporary: false,
      minutes: 5,
      partsPrice: 1,
      conditions: [],
    }
    draw('booster', { findings: [found], repairs: [repair], ticks: [tick('test-smoke')] })
    expect(document.querySelector('[data-earlier]')!.textContent).toBe('Before the work: found it. a wisp at the tee')
    const button = (name: string) => test('smoke').getByRole('button', { name })
    expect(button('found it').getAttribute('aria-pressed')).toBe('false')
    expect(screen.getByRole('button', { name: 'something else here' })).toBeTruthy()
    fireEvent.click(button('found it'))
    expect(await written(server, 'findings')).toMatchObject([
      { test: 'smoke', station: 'booster', outcome: 'fail', afterWork: 1 },
    ])
    // what was found stays as it was, and the ways stand open again under what was done
    expect(server.writes.some((w) => w.path.endsWith(encodeURIComponent(found.id)))).toBe(false)
    await waitFor(() => expect(screen.getByText('What is done next at the booster hose')).toBeTruthy())
    expect(screen.getByRole('button', { name: 'take it back' })).toBeTruthy()
  })
  it('a test that it was opened for stands first', () => {
    void drawOnVisit(aVisit(), (file) => (
      <Station file={file} id="beyond" first="cam-timing" shop={shop} onClose={() => undefined} />
    ))
    expect(document.querySelector('[data-test]')!.getAttribute('data-test')).toBe('cam-timing')
  })
})
