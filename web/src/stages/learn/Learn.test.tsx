/** @jest-environment jsdom */
import { beforeEach, describe, expect, it, jest } from '@jest/globals'
import { PlayedServer } from '../../test/browser.js'
import { fireEvent, screen, waitFor } from '@testing-library/react'
import { KEY_PEDAL_RELEARN, type IdleSample, type VisitFile } from '@uvula/core'
import { drawOnVisit } from '../../test/draw.js'
import { keepsAll, may, tap, written } from '../../test/hand.js'
import { aVisit } from '../../test/visit.fixture.js'

jest.mock('../../charts/Chart.js', () => ({ Chart: () => null }))
const { Learn } = jest.requireActual<typeof import('./Learn.js')>('./Learn.js')

const server = new PlayedServer()
const meta = { version: 1, by: 'R', at: new Date().toISOString(), visitId: 'v' }
const gas = { ...meta, id: 'g', caution: 'exhaust-gas' }
const draw = (part: Partial<VisitFile> = {}): void => void drawOnVisit(aVisit(part), (file) => <Learn file={file} />)
const settled = (samples: readonly IdleSample[], ended = true): VisitFile['balances'] => [
  {
    ...meta,
    id: 's',
    round: 0,
    taken: { kind: 'settle', beganAt: new Date(Date.now() - 300_000).toISOString(), ended, samples },
  },
]
const flat = (rpm: number): IdleSample[] => Array.from({ length: 12 }, (_, i) => ({ s: 25 * i, rpm }))
const tab = (name: string): void => {
  const t = screen.getByRole('tab', { name })
  fireEvent.mouseDown(t, { button: 0 })
  fireEvent.focus(t)
}

beforeEach(() => keepsAll(server))

describe('settle and decide', () => {
  it('nothing is watched before its STOP; a typed speed is kept, one that is none is named', async () => {
    draw()
    expect(may('watch the idle')).toBe(false)
    document.body.innerHTML = ''
    draw({ ticks: [gas] })
    tap('watch the idle')
    const speed = screen.getByRole('textbox', { name: 'speed now' })
    fireEvent.change(speed, { target: { value: 'fast' } })
    fireEvent.keyDown(speed, { key: 'Enter' })
    expect(screen.getByRole('alert').textContent).toMatch(/“fast” is not a speed; accepted is 0 to 6000 rpm/)
    fireEvent.change(speed, { target: { value: '890' } })
    fireEvent.keyDown(speed, { key: 'Enter' })
    const [kept] = await written(server, 'balances')
    expect(kept.taken).toMatchObject({ kind: 'settle', samples: [{ rpm: 890 }] })
  })
  it('goes on after a reload', () => {
    draw({ ticks: [gas], balances: settled(flat(900).slice(0, 3), false) })
    expect(screen.getByRole('button', { name: /min watched: stop$/ })).toBeTruthy()
  })
  it('in its band: nothing is taught; above it the way to teaching stands open', () => {
    const { idleSpecRpm } = aVisit().vehicle.spec
    draw({ balances: settled(flat((idleSpecRpm.min + idleSpecRpm.max) / 2)) })
    tab('settle and decide')
    expect(screen.getByText(/Nothing needs to be taught/)).toBeTruthy()
    expect(screen.queryByRole('button', { name: 'teach it' })).toBeNull()
    document.body.innerHTML = ''
    draw({ balances: settled(flat(idleSpecRpm.max + 300)) })
    tab('settle and decide')
    tap('teach it')
    expect(screen.getByRole('button', { name: /^arm attempt 1/ })).toBeTruthy()
  })
})

describe('teach', () => {
  const toTeach = (part: Partial<VisitFile> = {}): void => {
    draw(part)
    tab('teach')
  }
  it('one tap sees to all but the STOPs; armed, the run holds what was seen to', async () => {
    toTeach()
    tap('all but the STOPs seen to')
    expect(may(/^arm attempt 1/)).toBe(false)
    for (const c of KEY_PEDAL_RELEARN.preconditions.filter((x) => x.stop))
      fireEvent.click(screen.getByRole('checkbox', { name: `${c.label}: seen to` }))
    tap(/^arm attempt 1/)
    const [run] = await written(server, 'runs')
    expect(run).toMatchObject({ procedure: KEY_PEDAL_RELEARN.id, attempt: 1, events: [] })
    expect([...(run.preconditions as string[])].sort()).toEqual(KEY_PEDAL_RELEARN.preconditions.map((c) => c.id).sort())
  })
  it('after a pass the new idle and the codes are asked for', async () => {
    let t = Date.now() - 200_000
    const taps = KEY_PEDAL_RELEARN.steps.flatMap(({ rule }) => {
      const n = rule.kind === 'count' ? rule.times : 1
      const seconds = 'seconds' in rule && rule.kind !== 'at-most' ? rule.seconds : n > 1 ? 4 : 1
      return Array.from({ length: n }, () => ({ kind: 'tap' as const, atMs: (t += (1000 * seconds) / n) }))
    })
    draw({
      runs: [
        {
          ...meta,
          id: 'r',
          procedure: KEY_PEDAL_RELEARN.id,
          attempt: 1,
          preconditions: [],
          events: [{ kind: 'begin', atMs: Date.now() - 200_000 }, ...taps],
          afterRound: 0,
        },
      ],
    })
    await waitFor(() => expect(document.querySelector('[data-status=passed]')).toBeTruthy())
    expect(screen.getByRole('link', { name: 'read the new idle' })).toBeTruthy()
    expect(screen.getByRole('link', { name: 'read the codes' })).toBeTruthy()
  })
})

it('an engine without a controller has nothing to teach', () => {
  const file = aVisit()
  const spec = { ...file.vehicle.spec, injection: 'carburettor' as const, metering: 'none' as const }
  drawOnVisit({ ...file, vehicle: { ...file.vehicle, spec } }, (f) => <Learn file={f} />)
  expect(screen.getByText(/^Nothing to teach/)).toBeTruthy()
})
