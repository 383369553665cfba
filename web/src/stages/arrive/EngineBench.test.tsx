/** @jest-environment jsdom */
import { beforeEach, describe, expect, it } from '@jest/globals'
import { PlayedServer } from '../../test/browser.js'
import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import type { Vehicle, VisitFile } from '@uvula/core'
import { drawOnVisit } from '../../test/draw.js'
import { keepsAll, tap, written } from '../../test/hand.js'
import { aVisit } from '../../test/visit.fixture.js'
import { Part } from '../station/Part.js'
import { EngineBench } from './EngineBench.js'

const server = new PlayedServer()
const draw = (file: VisitFile = aVisit()): void => void drawOnVisit(file, (f) => <EngineBench file={f} />)
const type = (name: string, value: string): void => {
  const field = screen.getByRole('textbox', { name })
  fireEvent.change(field, { target: { value } })
  fireEvent.blur(field)
}
const spec = async (n = 1): Promise<Vehicle> => (await written(server, 'vehicles', n))[n - 1].spec as Vehicle

beforeEach(() => keepsAll(server))

describe('all of an engine', () => {
  it('a choice turns with a tap and back with an arrow; what goes with it goes along', async () => {
    draw()
    tap('fuel: gasoline')
    expect(await spec()).toMatchObject({ fuel: 'diesel', injection: 'direct', purge: false })
    await waitFor(() => expect(screen.getByRole('button', { name: 'fuel: diesel' })).toBeTruthy())
    fireEvent.keyDown(screen.getByRole('button', { name: 'fuel: diesel' }), { key: 'ArrowLeft' })
    expect(await spec(2)).toMatchObject({ fuel: 'gasoline' })
  })
  it('a figure is kept by leaving it, and confirmed by that; one that is none is refused', async () => {
    draw()
    type('compression', '40')
    expect(screen.getByRole('alert').textContent).toBe('compression: 6 to 25')
    expect(server.writes).toEqual([])
    type('compression', '9,8')
    expect(await spec()).toMatchObject({ compressionRatio: 9.8, confirmed: ['compressionRatio'] })
  })
  it('a guess that is right is confirmed as it stands', async () => {
    draw()
    tap(/^displacement a guess: right\?$/)
    expect(await spec()).toMatchObject({ displacementL: 2, confirmed: ['displacementL'] })
  })
  it('branches: taken away, added again, and a path that does not hold together refused', async () => {
    draw()
    tap('no booster hose on this engine')
    expect((await spec()).branches).toEqual({ joins: {}, without: ['booster'] })
    await waitFor(() => expect(screen.getByRole('button', { name: '+ booster hose' })).toBeTruthy())
    tap('+ cruise line')
    expect((await spec(2)).branches).toEqual({ joins: { 'cruise-line': 'plenum' }, without: ['booster'] })
    tap('+ booster hose')
    expect((await spec(3)).branches).toEqual({ joins: { 'cruise-line': 'plenum', booster: 'plenum' }, without: [] })
  })
  it('the number on the frame is doubted and kept', async () => {
    draw()
    type('number on the frame (VIN)', '1m8gdm9a1kp042788')
    expect(screen.getByText(/check digit would be X and is 1/)).toBeTruthy()
    expect((await written(server, 'vehicles'))[0]).toMatchObject({ vin: '1M8GDM9A1KP042788' })
  })
})

describe('a part of the path', () => {
  const part = (): void => void drawOnVisit(aVisit(), (f) => <Part file={f} id="booster" />)
  it('what it is made of and how it is held stay with the car', async () => {
    part()
    fireEvent.click(screen.getByRole('radio', { name: 'rubber' }))
    expect((await spec()).stations).toEqual({ booster: { material: 'rubber' } })
    fireEvent.change(screen.getByLabelText('fitted on'), { target: { value: '2012-05-01' } })
    expect((await spec(2)).stations).toEqual({ booster: { material: 'rubber', fittedOn: '2012-05-01' } })
    const hose = screen.getByLabelText('hose, inside, mm')
    fireEvent.change(hose, { target: { value: '12,5' } })
    fireEvent.blur(hose)
    expect((await spec(3)).stations?.booster?.hoseMm).toBe(12.5)
  })
  it('a label that forbids cleaning is kept, and taken off again', async () => {
    part()
    fireEvent.click(screen.getByRole('checkbox', { name: 'its label says: do not clean' }))
    expect((await spec()).doNotClean).toEqual(['booster'])
    await waitFor(() =>
      expect(screen.getByRole('checkbox', { name: /do not clean/ }).getAttribute('aria-checked')).toBe('true'),
    )
    fireEvent.click(screen.getByRole('checkbox', { name: /do not clean/ }))
    expect((await spec(2)).doNotClean).toEqual([])
  })
  it('shows where its hose belongs', () => {
    part()
    expect(within(screen.getByRole('combobox')).getByText('plenum, where it belongs')).toBeTruthy()
  })
})
