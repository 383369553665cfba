/** @jest-environment jsdom */
import { beforeEach, describe, expect, it } from '@jest/globals'
import { PlayedServer } from '../test/browser.js'
import { screen, waitFor } from '@testing-library/react'
import type { ItemRecord, ReadingRecord, StageId, StepRecord, TimerRecord, VisitFile } from '@uvula/core'
import { drawOnVisit } from '../test/draw.js'
import { keepsAll, tap, written } from '../test/hand.js'
import { aVisit } from '../test/visit.fixture.js'
import { Rail } from './Rail.js'

const server = new PlayedServer()
const meta = { version: 1, by: 'R', at: '2026-01-01T09:00:00Z', visitId: 'v' }
const IDLE: ReadingRecord[] = Object.entries({ rpm: 700, maf_gs: 2.4, stft1_pct: 0, ltft1_pct: 0 }).map(
  ([channel, value]) => ({
    ...meta,
    id: `v:0:idle:${channel}`,
    round: 0,
    slot: 'idle',
    channel: channel as ReadingRecord['channel'],
    value,
    typed: '',
  }),
)
const cleaned: StepRecord = {
  ...meta,
  id: 's',
  station: 'airflow-sensor',
  surface: 'airflow-element',
  product: 'airflow-cleaner',
  method: 'off-the-car',
  passed: true,
  afterRound: 0,
}
const drying = (): TimerRecord => ({
  ...meta,
  id: 't',
  label: 'airflow sensor element drying',
  kind: 'drying',
  startedAt: new Date().toISOString(),
  seconds: 900,
  ended: false,
})
const draw = (part: Partial<VisitFile>, stage: StageId): void => {
  const file = aVisit(part)
  drawOnVisit({ ...file, visit: { ...file.visit, signs: ['hiss'] } }, (f) => <Rail file={f} stage={stage} />)
}
const now = (): string => screen.getByTestId('now').textContent

beforeEach(() => keepsAll(server))

describe('the rail', () => {
  it('tells of the wait before the proof, and of the proof once it is ended', async () => {
    draw({ readings: IDLE, steps: [cleaned], timers: [drying()] }, 'clean')
    expect(now()).toMatch(/Let it dry/)
    tap(/^end airflow sensor element drying/)
    await waitFor(() => expect(now()).toMatch(/Measure the same points again/))
    expect(await written(server, 'timers')).toMatchObject([{ ended: true }])
  })
  it('on another bench it says which the act stands on, and what this one wants', () => {
    draw({}, 'look')
    expect(now()).toMatch(/now, at arrive/)
    expect(screen.getByTestId('bench-next').textContent).toMatch(/looks left along the pipe/)
  })
  it('what is off the car is named, but where the close-up says it itself', () => {
    const bolt: ItemRecord = {
      ...meta,
      id: 'i',
      station: 'throttle',
      name: 'bolt',
      count: 4,
      arrival: 'present',
      state: 'off',
    }
    const items = [bolt, { ...bolt, id: 'j', name: 'gasket', count: 1 }]
    draw({ readings: IDLE, items }, 'open-up')
    expect(now()).toMatch(/Off: 4 × bolt at the throttle.*And 1 more/)
    // what the act tells is not told again
    expect(screen.queryByText('Off: 4 × bolt at the throttle.')).toBeNull()
    expect(screen.getByText('Off: 1 × gasket at the throttle.')).toBeTruthy()
    document.body.innerHTML = ''
    draw({ readings: IDLE, items }, 'close-up')
    expect(screen.queryByText('open or loose')).toBeNull()
  })
})
