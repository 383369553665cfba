/** @jest-environment jsdom */
import { beforeEach, expect, it } from '@jest/globals'
import { PlayedServer } from '../../test/browser.js'
import { fireEvent, screen } from '@testing-library/react'
import { diagnose, ENGINE_PATTERNS, pointsFromTyped, type Diagnosis, type StationId, type VisitFile } from '@uvula/core'
import type { Shop } from '@uvula/contract'
import { drawOnVisit } from '../../test/draw.js'
import { keepsAll } from '../../test/hand.js'
import { aVisit } from '../../test/visit.fixture.js'
import { Place } from './Place.js'

const server = new PlayedServer()
const shop = { labourPerHour: 60, partsDays: [5] } as unknown as Shop
const spec = { ...ENGINE_PATTERNS.find((p) => p.id === 'turbo-di')!.vehicle, name: 'turbo', altitudeM: 0 }
const idle = { rpm: 720, maf_gs: 2.2, map_kpa: 34, stft1_pct: 0, ltft1_pct: 1 }

const opened: StationId[] = []
function draw(codes: readonly string[], signs: readonly string[] = ['flat', 'hiss'], kind = 'turbo-di'): void {
  const own = ENGINE_PATTERNS.find((p) => p.id === kind)!.vehicle
  const file: VisitFile = { ...aVisit(), vehicle: { ...aVisit().vehicle, spec: { ...spec, ...own } } }
  const diagnosis: Diagnosis = diagnose(spec, {
    intent: 'complaint',
    points: pointsFromTyped([{ kind: 'idle', values: idle }]),
    signs,
    findings: [],
    codes: codes.map((code) => ({ code, state: 'stored' })),
  })
  drawOnVisit(file, (f) => <Place file={f} diagnosis={diagnosis} shop={shop} onOpen={(id) => void opened.push(id)} />)
}
beforeEach(() => {
  keepsAll(server)
  opened.length = 0
})

it('where air is lost under boost, that is looked for between compressor and throttle', () => {
  draw(['P0299'])
  expect(screen.getByText(/Under boost air is lost, \d+ % likely/)).toBeTruthy()
  fireEvent.click(screen.getByRole('button', { name: /^Boost pipes under pressure/ }))
  expect(opened).toEqual(['boost-pipe'])
})

it('where nothing that is likely lets air in or out, nothing is looked for', () => {
  draw([], [])
  expect(screen.getByText(/nothing to look for along the pipe/)).toBeTruthy()
})

it.each([
  ['diesel-four', /A diesel has no fuel trims/],
  ['carb-one', /Nothing on this engine measures its air/],
  ['four-map', /a leak is metered/],
  ['four-maf', /opens with airflow and trims at idle/],
] as const)('why no account of air stands is said by what the engine has: %s', (kind, words) => {
  draw([], [], kind)
  expect(screen.getByText(words)).toBeTruthy()
})

it('what leads and lets no air in is shown where it sits', () => {
  const own = { ...ENGINE_PATTERNS.find((p) => p.id === 'four-maf')!.vehicle, name: 'four', altitudeM: 0 }
  const file: VisitFile = { ...aVisit(), vehicle: { ...aVisit().vehicle, spec: own } }
  const ranking = [{ fault: 'maf-under-reads', probability: 0.9, sentence: '' }]
  drawOnVisit(file, (f) => (
    <Place
      file={f}
      diagnosis={{ ranking, reasons: {}, unmarked: [] } as unknown as Diagnosis}
      shop={shop}
      onOpen={(id) => void opened.push(id)}
    />
  ))
  expect(screen.getByText('Airflow sensor reads low, 90 %; tap to look and test there')).toBeTruthy()
  fireEvent.click(screen.getByRole('button', { name: 'airflow sensor' }))
  expect(opened).toEqual(['airflow-sensor'])
  expect(screen.getByText('No cause that lets air in is likely.')).toBeTruthy()
})
