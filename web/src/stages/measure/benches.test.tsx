/** @jest-environment jsdom */
import { beforeEach, describe, expect, it, jest } from '@jest/globals'
import { PlayedServer, type Asked, type Played } from '../../test/browser.js'
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import { ENGINE_PATTERNS, type Balance, type BalanceRecord, type VisitFile, type WaveResult } from '@uvula/core'
import type { GaugesState } from '@uvula/contract'
import { drawOnVisit } from '../../test/draw.js'
import { keepsAll, may, say, tap, written } from '../../test/hand.js'
import { aVisit } from '../../test/visit.fixture.js'
import type { Reader } from '../../workers/heart.js'

const unasked = (): Promise<never> => Promise.reject(new Error('not asked'))
let waveAnswer: WaveResult<Balance>
let stopped = 0
let calibratedBy: unknown
jest.mock('../../workers/heart.js', () => ({
  useSoundRecords: () => [],
  reader: (): Reader => ({
    read: unasked,
    speed: unasked,
    speedOfFile: unasked,
    balance: (_bytes, _vehicle, _side, calibration, tell) => {
      calibratedBy = calibration
      tell(0.5)
      return Promise.resolve(waveAnswer)
    },
    stop: () => void stopped++,
  }),
}))
const { CylinderBench } = jest.requireActual<typeof import('./CylinderBench.js')>('./CylinderBench.js')
const { GaugeBench } = jest.requireActual<typeof import('./GaugeBench.js')>('./GaugeBench.js')
const { PumpBench } = jest.requireActual<typeof import('./PumpBench.js')>('./PumpBench.js')
const { ThrottleBench } = jest.requireActual<typeof import('./ThrottleBench.js')>('./ThrottleBench.js')
const { TrimSheet } = jest.requireActual<typeof import('./TrimSheet.js')>('./TrimSheet.js')

const server = new PlayedServer()
const meta = { version: 1, by: 'R', at: '2026-01-01T09:10:00Z', visitId: 'v' }
const balance = (id: string, taken: BalanceRecord['taken'], minute = 10): BalanceRecord => ({
  ...meta,
  id,
  at: `2026-01-01T09:${minute}:00Z`,
  round: 0,
  taken,
})
const ticked = (...cautions: string[]): VisitFile['ticks'] =>
  cautions.map((caution) => ({ ...meta, id: caution, caution }))
/** A visit of a car with four throttles, or of another engine, at 1180 m. */
function hill(part: Partial<VisitFile> = {}, engine = 'four-bodies'): VisitFile {
  const file = aVisit({ ticks: ticked('exhaust-gas', 'vehicle-moves'), ...part })
  const spec = { ...ENGINE_PATTERNS.find((p) => p.id === engine)!.vehicle, name: 'hill', altitudeM: 1180 }
  return { ...file, vehicle: { ...file.vehicle, spec }, visit: { ...file.visit, altitudeM: 1180 } }
}
const reading = (slot: VisitFile['readings'][number]['slot'], channel: string, value: number) => ({
  ...meta,
  id: `v:0:${slot}:${channel}`,
  round: 0,
  slot,
  channel: channel as VisitFile['readings'][number]['channel'],
  value,
  typed: String(value),
})
const row = (vacuumKpa: number[], slot: 'idle' | 'hold-2500' = 'hold-2500'): BalanceRecord['taken'] => ({
  kind: 'throttles',
  slot,
  layout: 'each',
  vacuumKpa,
})

beforeEach(async () => {
  stopped = 0
  await keepsAll(server)
})

describe('vacuum gauge', () => {
  it('shows what is missing beside what is left, and judges for this height', () => {
    const readings = [reading('idle', 'gauge_vacuum_kpa', 52)]
    drawOnVisit(hill({ readings }, 'carb-one'), (f) => <GaugeBench file={f} />)
    expect(document.querySelector('[data-verdict=inside]')?.textContent).toMatch(/52\.0.*35\.9.*65\.4/)
    expect(screen.getByText(/A rule made at sea level would call it low/)).toBeTruthy()
  })
  it('behind throttles of each cylinder’s own it is not judged, and why is said', () => {
    drawOnVisit(hill({ readings: [reading('idle', 'gauge_vacuum_kpa', 40)] }), (f) => <GaugeBench file={f} />)
    expect(document.querySelector('[data-verdict=unknown] .wrong')).toBeNull()
    expect(screen.getByText(/swings with every stroke/)).toBeTruthy()
    // nor does its needle tell anything
    expect(screen.queryByRole('button', { name: /^regular tick/ })).toBeNull()
  })
  it('more than there is to miss is told instead of judged', () => {
    drawOnVisit(hill({ readings: [reading('idle', 'gauge_vacuum_kpa', 95)] }), (f) => <GaugeBench file={f} />)
    expect(screen.getByRole('alert').textContent).toMatch(/cannot be missing/)
    expect(document.querySelector('[data-verdict=unknown] .wrong')).toBeNull()
  })
  it('a needle is chosen with one tap and taken back with another', async () => {
    drawOnVisit(hill({}, 'carb-one'), (f) => <GaugeBench file={f} />)
    tap(/^regular tick/)
    expect(await written(server, 'balances')).toMatchObject([
      { round: 0, taken: { kind: 'needle', needle: 'needle.regular-tick' } },
    ])
    await waitFor(() => expect(screen.getByText(/It counts in the diagnosis: one cylinder draws less/)).toBeTruthy())
    tap(/^regular tick/)
    expect((await written(server, 'balances', 2))[1]).toMatchObject({ deleted: true })
  })
})

describe('throttles', () => {
  const bench = (file: VisitFile): void => void drawOnVisit(file, (f) => <ThrottleBench file={f} />)
  it('a typed row is kept with what was turned before it; a figure that is none is named', async () => {
    bench(hill({ balances: [balance('a', row([60, 66, 60, 60]))] }))
    expect(screen.getByText(/^Open the screw of throttle 2/)).toBeTruthy()
    expect(may(/^keep this row/)).toBe(false)
    for (const i of [1, 2, 3, 4]) say(`throttle ${i}`, i === 3 ? 'tea' : '60')
    tap(/^keep this row/)
    expect(screen.getByRole('alert').textContent).toMatch(/Throttle 3: "tea" is not a number/)
    say('throttle 3', '60.2')
    fireEvent.click(document.querySelector('[data-advised=true]')!)
    tap(/^keep this row/)
    const [kept] = await written(server, 'balances')
    expect(kept.taken).toMatchObject({
      vacuumKpa: [60, 60, 60.2, 60],
      turned: { adjuster: 'throttle-2', turns: expect.any(Number) },
    })
    await waitFor(() => expect(screen.getByText(/^Balanced/)).toBeTruthy())
  })
  it('a typed row waits for its STOPs: somebody ran the engine for it', async () => {
    bench(hill({ ticks: ticked('exhaust-gas'), balances: [balance('a', row([60, 66, 60, 60]))] }))
    say('throttle 1', '60')
    expect(may(/^keep this row/)).toBe(false)
    fireEvent.click(screen.getByRole('checkbox', { name: 'seen to' }))
    expect(await written(server, 'ticks')).toMatchObject([{ caution: 'vehicle-moves' }])
    await waitFor(() => expect(may(/^keep this row/)).toBe(true))
  })
  it('bypass screws wait for the linkage', async () => {
    bench(hill({ balances: [balance('a', row([60, 66, 60, 60]))] }))
    fireEvent.click(screen.getByRole('radio', { name: '2. bypass, idle' }))
    expect(screen.getByRole('alert').textContent).toMatch(/^Linkage first/)
    expect(screen.queryByRole('button', { name: /^keep this row/ })).toBeNull()
  })
  const state = (part: Partial<GaugesState> = {}): GaugesState => ({
    phase: 'running',
    visitId: 'v',
    standIn: true,
    speed: 'hold-2500',
    rows: 10,
    vacuumKpa: [60.04, 62.26, 60, 59],
    ...part,
  })
  /** The server with gauges at it; `demo` says whose shop is open. */
  const plays = (gauges: GaugesState, demo: boolean): void => {
    const keep = server.answer
    server.answer = (a: Asked): Played | 'away' | Promise<Played> => {
      if (a.path.startsWith('/api/gauges')) return { status: 200, body: gauges }
      if (a.path.startsWith('/api/bay')) return { status: 200, body: { shop: { demo }, rows: [] } }
      return keep(a)
    }
  }
  it('live figures are kept as they stand; what a hand turned at simulated ones is sent there', async () => {
    plays(state(), true)
    bench(hill({ balances: [balance('a', row([60, 62.3, 60, 59]))] }))
    await waitFor(() => expect(screen.getByText('62.3')).toBeTruthy())
    fireEvent.click(document.querySelector('[data-advised=true]')!)
    await waitFor(() => expect(server.asked.some((a) => a.path === '/api/gauges/turn')).toBe(true))
    expect(server.asked.find((a) => a.path === '/api/gauges/turn')?.body).toMatchObject({ adjuster: 'throttle-2' })
    await waitFor(() => expect(may(/^keep this row/)).toBe(true))
    tap(/^keep this row/)
    const [kept] = await written(server, 'balances')
    expect(kept.taken).toMatchObject({ vacuumKpa: [60.04, 62.26, 60, 59], turned: { adjuster: 'throttle-2' } })
  })
  it('practice is not kept in a customer’s visit', async () => {
    plays(state(), false)
    bench(hill())
    await waitFor(() => expect(document.querySelector('[data-rule=simulated]')).toBeTruthy())
    expect(may(/^keep this row/)).toBe(false)
  })
  it('both hands at the screws: the big bars lead from the turn to the row, one tap each', async () => {
    plays(state(), true)
    bench(hill({ balances: [balance('a', row([60, 66, 60, 60]))] }))
    fireEvent.click(await screen.findByRole('button', { name: /^big bars/ }))
    const big = screen.getByTestId('throttles-big')
    // 62.26 − 59
    expect(within(big).getByLabelText('spread').textContent).toMatch(/^3\.3 .*1\.7 allowed/)
    expect(within(big).getByText(/^Open the screw of throttle 2/)).toBeTruthy()
    await act(() => new Promise((r) => setTimeout(r, 450)))
    fireEvent.click(big)
    await waitFor(() => expect(server.asked.some((a) => a.path.endsWith('/gauges/turn'))).toBe(true))
    await screen.findByText('keep this row: tap anywhere')
    fireEvent.click(big)
    expect(server.writes).toEqual([])
    await act(() => new Promise((r) => setTimeout(r, 450)))
    fireEvent.click(big)
    const [kept] = await written(server, 'balances')
    expect(kept.taken).toMatchObject({ practice: true, turned: { adjuster: 'throttle-2' } })
    fireEvent.click(within(big).getByRole('button', { name: 'back' }))
    expect(screen.queryByTestId('throttles-big')).toBeNull()
  })
  it('gauges of a real engine wait for its STOPs, and silence is said', async () => {
    plays(state({ standIn: false, phase: 'lost', vacuumKpa: undefined, message: 'They hung up.' }), true)
    bench(hill({ ticks: ticked() }))
    await waitFor(() => expect(screen.getByText(/The gauges say nothing any more\. They hung up\./)).toBeTruthy())
    expect(screen.getByText(/Exhaust gas kills/)).toBeTruthy()
    expect(document.querySelector('[data-rule=exhaust-gas]')).toBeTruthy()
  })
})

describe('cylinders', () => {
  const pull = (cylinder: number | null, position: number, median: number) => ({
    cylinder,
    position,
    pullPct: { median, low: median - 2, high: median + 2 },
  })
  const found = (odd: Balance['odd']): Balance => ({
    rpm: { median: 712, low: 700, high: 720 },
    cycles: 30,
    cylinders: [pull(1, 1, 104), pull(3, 2, 82), pull(4, 3, 104), pull(2, 4, 104)],
    odd,
    orders: [],
    cycleSpreadPct: 2,
    meanCycle: [],
    warnings: [{ code: 'clipped', message: 'It is cut off.' }],
  })
  const choose = (): void =>
    void fireEvent.change(screen.getByLabelText('waveform file'), {
      target: { files: [Object.assign(new File(['x'], 'idle.wav'), { arrayBuffer: async () => new ArrayBuffer(1) })] },
    })
  it('a waveform names the weak cylinder, its chance and what speaks against it, and is kept', async () => {
    waveAnswer = {
      ok: true,
      value: found({ cylinder: 3, probability: 0.96, kind: [{ id: 'runner', probability: 0.8 }] }),
    }
    drawOnVisit(aVisit(), (f) => <CylinderBench file={f} />)
    choose()
    await waitFor(() => expect(screen.getByText('Cylinder 3 draws less than the others')).toBeTruthy())
    expect(screen.getByText(/30 cycles at 712 rpm; chance 96 %; its runner is narrower/)).toBeTruthy()
    expect(screen.getByText('It is cut off.')).toBeTruthy()
    expect((await written(server, 'balances'))[0].taken).toMatchObject({
      kind: 'wave',
      name: 'idle.wav',
      side: 'intake',
    })
    expect(stopped).toBeGreaterThan(0)
  })
  it('one that is refused is told at the file and keeps nothing', async () => {
    waveAnswer = { ok: false, error: { code: 'flat', message: 'The signal does not move at all.' } }
    drawOnVisit(aVisit(), (f) => <CylinderBench file={f} />)
    choose()
    await waitFor(() =>
      expect(screen.getByRole('alert').textContent).toBe('idle.wav: The signal does not move at all.'),
    )
    expect(server.writes).toHaveLength(0)
  })
  it.each([
    [null, 'No cylinder stands out'],
    [{ cylinder: null, probability: 0.9, kind: [] }, 'One cylinder differs from the others'],
    [{ cylinder: null, probability: 0.9, kind: [], pair: [2, 3] }, 'Cylinder 2 or 3 differs from the others'],
  ])('what cannot be named is not named: %#', (odd, words) => {
    const taken = { kind: 'wave', name: 'a.wav', side: 'intake', balance: found(odd) } as const
    drawOnVisit(aVisit({ balances: [balance('w', taken)] }), (f) => <CylinderBench file={f} />)
    expect(screen.getByText(words)).toBeTruthy()
  })
  it('the drop test waits for its STOP, keeps each drop, and says which does less', async () => {
    const tick = { ...meta, id: 't', caution: 'test-misfire-count' }
    drawOnVisit(aVisit(), (f) => <CylinderBench file={f} />)
    expect(screen.getByRole<HTMLInputElement>('textbox', { name: 'cylinder 1' }).disabled).toBe(true)
    cleanup()
    const drops = [150, 146, 62].map((rpmDrop, i) =>
      balance(`d${i}`, { kind: 'drop', cylinder: i + 1, rpmDrop }, 20 + i),
    )
    drawOnVisit(aVisit({ ticks: [tick], balances: drops }), (f) => <CylinderBench file={f} />)
    expect(within(screen.getByRole('list', { name: 'drops' })).getByText(/does less: 42 %/)).toBeTruthy()
    say('cylinder 4', '9000')
    expect(screen.getByRole('alert').textContent).toMatch(/−50 to 1500 rpm/)
    say('cylinder 4', '155')
    expect((await written(server, 'balances'))[0].taken).toEqual({ kind: 'drop', cylinder: 4, rpmDrop: 155 })
  })
})

describe('hand pump', () => {
  it('figures are kept as a decay and judged; one alone, and more than there is, are refused', async () => {
    drawOnVisit(hill({ ticks: ticked() }), (f) => <PumpBench file={f} />)
    say('at 0 s', '60')
    expect(may('keep what it held')).toBe(false)
    fireEvent.click(screen.getByRole('checkbox', { name: 'seen to' }))
    await waitFor(() => expect(may('keep what it held')).toBe(true))
    tap('keep what it held')
    expect(screen.getByRole('alert').textContent).toMatch(/Two figures at least/)
    say('at 60 s', '98')
    tap('keep what it held')
    expect(screen.getByRole('alert').textContent).toMatch(/cannot be missing/)
    say('at 60 s', '59')
    tap('keep what it held')
    expect((await written(server, 'balances'))[0].taken).toEqual({
      kind: 'pump',
      part: 'booster',
      samples: [
        { t: 0, kpa: 60 },
        { t: 60, kpa: 59 },
      ],
    })
    await waitFor(() => expect(screen.getByText('It loses 1.0 kPa a minute: it holds.')).toBeTruthy())
  })
})

describe('trim sheet', () => {
  it('both figures and their total, airflow against what belongs there', () => {
    const values = { rpm: 700, maf_gs: 0.9, stft1_pct: 10, ltft1_pct: 10 }
    const readings = Object.entries(values).map(([channel, value]) => reading('idle', channel, value))
    drawOnVisit(aVisit({ readings }), (f) => <TrimSheet file={f} />)
    const cells = screen.getAllByRole('cell').map((c) => c.textContent)
    expect(cells.slice(0, 8)).toEqual(['warm idle', '700', '1', '10.0', '10.0', '21.0', 'outside', '0.90'])
    expect(cells[8]).toMatch(/, low$/)
  })
  it('nothing read says where to read it', () => {
    drawOnVisit(aVisit(), (f) => <TrimSheet file={f} />)
    expect(screen.getByText(/No trims yet/)).toBeTruthy()
  })
})

describe('a transducer that reads by itself', () => {
  const plays = (state: object): void => {
    server.answer = (a) =>
      a.path.startsWith('/api/transducer/capture')
        ? { status: 200, body: 'time_s,pressure,trigger' }
        : a.path.startsWith('/api/transducer')
          ? { status: 200, body: state }
          : a.path.startsWith('/api/bay')
            ? { status: 200, body: { shop: { demo: true }, rows: [] } }
            : { status: 200, body: { ...a.body, id: 'x', version: 1 } }
  }
  it('is calibrated with the hose open and at one known vacuum; then it says the pressure', async () => {
    localStorage.setItem('uvula-calibration', JSON.stringify({ open: 3.8, drawn: 2.4667, vacuumKpa: 40 }))
    plays({ phase: 'running', visitId: 'v', standIn: true, hose: 'engine', mean: 1.5, unit: 'V', sampleHz: 5000 })
    drawOnVisit(aVisit(), (f) => <CylinderBench file={f} />)
    const ambient = (await screen.findByTestId('absolute')).textContent
    // a straight line through both: 30 kPa a volt
    expect(Number(ambient)).toBeCloseTo(101.3 - 30 * (3.8 - 1.5), 0)
    fireEvent.click(screen.getByRole('button', { name: 'take the last 5 s' }))
    await waitFor(() => expect(calibratedBy).toMatchObject({ scale: expect.closeTo(30, 1) }))
  })
  it('two points that are one are refused with the reason', () => {
    localStorage.setItem('uvula-calibration', JSON.stringify({ open: 3.8, drawn: 3.8, vacuumKpa: 40 }))
    plays({ phase: 'off', standIn: false })
    drawOnVisit(aVisit(), (f) => <CylinderBench file={f} />)
    expect(screen.getByRole('alert').textContent).toMatch(/the same at both pressures/)
    fireEvent.click(screen.getByRole('button', { name: 'forget the calibration' }))
    expect(screen.queryByRole('alert')).toBeNull()
  })
})
