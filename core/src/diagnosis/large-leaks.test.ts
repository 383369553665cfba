import { describe, expect, it } from '@jest/globals'
import type { Vehicle } from '../engine/index.js'
import { HEALTHY, simulateRecording, type SimulatedFaults } from '../simulation/index.js'
import { carOf } from './cars.fixture.js'
import { trimStop, type OperatingPoint } from '../signals/index.js'
import { diagnose, evidenceFromRecording, type Diagnosis } from './index.js'
import { stillValve } from './stillValve.js'

/** A small four fuelled by pressure, its plate moved by a motor. */
const BY_PRESSURE = carOf('four-maf', 200, {
  displacementL: 1.2,
  metering: 'map',
  throttleBoreMm: 46,
  idleSpecRpm: { min: 700, max: 850 },
})
const BY_AIRFLOW = carOf('four-maf', 200)

function told(v: Vehicle, part: Partial<SimulatedFaults>): { d: Diagnosis; kinds: Map<string, number> } {
  const recording = simulateRecording({ vehicle: v, faults: { ...HEALTHY, ...part }, drive: 'shop', seed: 4 })
  const { points, closedThrottlePct } = evidenceFromRecording(recording, v)
  return {
    d: diagnose(v, { intent: 'complaint', signs: [], findings: [], codes: [], points, closedThrottlePct }),
    kinds: new Map(points.map((p) => [p.kind, p.rpm])),
  }
}
const leak = (d: Diagnosis): { low: number; high: number; p: number } => {
  const r = d.ranking.find((x) => x.fault === 'unmetered-air')!
  return { low: r.effectiveAreaMm2!.low, high: r.effectiveAreaMm2!.high, p: r.probability }
}

describe('a hole so large that the idle is no longer held', () => {
  it.each([14, 24])('fuelled by pressure: %d mm² lead, and the interval holds them', (leakMm2) => {
    const { d } = told(BY_PRESSURE, { leakMm2 })
    expect(d.ranking[0].fault).toBe('unmetered-air')
    expect(d.unexplained).toBeLessThan(0.3)
    expect(leak(d).low).toBeLessThan(leakMm2)
    expect(leak(d).high).toBeGreaterThan(leakMm2)
  })
  it('an idle faster than others are held is an idle where plate and foot rest', () => {
    const { kinds } = told(BY_PRESSURE, { leakMm2: 24 })
    expect(kinds.get('idle')).toBeGreaterThan(1200)
    expect(told(BY_PRESSURE, {}).kinds.get('idle')).toBeLessThan(850)
  })
  it('with an airflow sensor and trims at their stop the lean engine asks for more air, and the hole still leads', () => {
    const { d } = told(BY_AIRFLOW, { leakMm2: 6.5 * BY_AIRFLOW.displacementL })
    expect(d.ranking[0].fault).toBe('unmetered-air')
    expect(leak(d).p).toBeGreaterThan(0.9)
  })
  it('what else drives trims to their stop keeps its lead', () => {
    expect(told(BY_AIRFLOW, { fuelErrorIdle: -0.42, fuelErrorFull: -0.45 }).d.ranking[0].fault).toBe(
      'fuel-delivery-low',
    )
    // a sensor that reads low by the same share everywhere and a duct that is off read alike
    const { ranking } = told(BY_AIRFLOW, { mafErrorIdle: -0.42, mafErrorFull: -0.42 }).d
    expect(
      ranking
        .slice(0, 2)
        .map((r) => r.fault)
        .sort(),
    ).toEqual(['maf-under-reads', 'unmetered-air-duct'])
    expect(ranking.find((r) => r.fault === 'maf-under-reads')!.probability).toBeGreaterThan(0.15)
  })
})

describe('typed short trims that read alike at two speeds', () => {
  const point = (kind: 'idle' | 'hold', rpm: number, gs: number, short: number, long: number): OperatingPoint => ({
    ...{ kind, rpm, startS: 0, endS: 0, n: 1, sds: {} },
    means: {
      rpm,
      maf_gs: gs,
      stft1_pct: short,
      ltft1_pct: long,
      trim1_pct: 100 * ((1 + short / 100) * (1 + long / 100) - 1),
    },
  })
  const lead = (points: OperatingPoint[]): string =>
    diagnose(BY_AIRFLOW, { intent: 'complaint', signs: [], findings: [], points }).ranking[0].fault
  it('stand at their stop, whatever their controller calls it', () => {
    const [idle, hold] = [point('idle', 720, 2.5, 20.3, 22.7), point('hold', 2500, 5.1, 20.3, 22.7)]
    expect(trimStop(idle, 1)).toBeUndefined()
    expect(trimStop(idle, 1, [idle, hold])).toBe(1)
    expect(trimStop(idle, 1, [idle, point('hold', 2500, 5.1, 16.4, 22.7)])).toBeUndefined()
    expect(trimStop(point('idle', 720, 2.5, 3.1, 0), 1, [point('hold', 2500, 7, 3.1, 0)])).toBeUndefined()
  })
  it('a hole leads where much less air was metered than the engine needs, fuel where as much was', () => {
    expect(lead([point('idle', 720, 2.5, 22.7, 22.7), point('hold', 2500, 5.1, 22.7, 22.7)])).toBe('unmetered-air')
    expect(lead([point('idle', 720, 2.4, 22.7, 22.7), point('hold', 2500, 7.3, 22.7, 22.7)])).toBe('fuel-delivery-low')
  })
})

describe('a hole that drives the trims to their stop at idle', () => {
  /** Its three points, as somebody would type them. */
  const typed = (v: Vehicle, mm2PerLitre: number): Diagnosis => {
    const faults = { ...HEALTHY, leakMm2: mm2PerLitre * v.displacementL }
    const { points } = evidenceFromRecording(simulateRecording({ vehicle: v, faults, drive: 'shop', seed: 4 }), v)
    const taken = [...points.filter((p) => p.kind === 'idle').slice(0, 1), ...points.filter((p) => p.kind === 'hold')]
    return diagnose(v, {
      ...{ intent: 'complaint', signs: [], findings: [] },
      points: taken.map((p) => ({ ...p, n: 1, sds: {} })),
    })
  }
  it.each(['four-maf', 'v6-maf', 'six-line'].flatMap((id) => [2.5, 3, 3.6].map((mm2) => [id, mm2] as const)))(
    '%s, %d mm² a litre: it leads, and its size is told within a quarter',
    (id, mm2) => {
      const v = carOf(id, 200)
      const d = typed(v, mm2)
      expect(d.ranking[0].fault).toBe('unmetered-air')
      const { median } = d.ranking[0].effectiveAreaMm2!
      expect(Math.abs(Math.log(median / (mm2 * v.displacementL)))).toBeLessThan(0.22)
      // the idle is a bound, and not what the size rests on
      expect(d.warnings.map((w) => w.message).join(' ')).toMatch(/The size rests on the other readings\./)
    },
  )
  it.each(['flat-four', 'v8-maf', 'turbo-di'].flatMap((id) => [6, 8, 12].map((mm2) => [id, mm2] as const)))(
    '%s, %d mm² a litre, of which the trims show a half: it leads, and the interval holds it',
    (id, mm2) => {
      const v = carOf(id, 200)
      const { fault, effectiveAreaMm2 } = typed(v, mm2).ranking[0]
      expect(fault).toBe('unmetered-air')
      expect(effectiveAreaMm2!.low).toBeLessThan(mm2 * v.displacementL)
      expect(effectiveAreaMm2!.high).toBeGreaterThan(mm2 * v.displacementL)
    },
  )
  it.each([3, 4.5])('%d mm² a litre on one bank is one bank’s, and its interval holds it', (mm2) => {
    const v = carOf('v6-maf', 200, { metering: 'maf+map' })
    const faults = { ...HEALTHY, leakMm2: mm2 * v.displacementL, leakBank: 2 as const }
    const { points } = evidenceFromRecording(simulateRecording({ vehicle: v, faults, drive: 'road', seed: 5 }), v)
    const { fault, bank, effectiveAreaMm2 } = diagnose(v, {
      ...{ intent: 'complaint', signs: [], findings: [] },
      points,
    }).ranking[0]
    expect({ fault, bank }).toEqual({ fault: 'unmetered-air-bank', bank: 2 })
    expect(effectiveAreaMm2!.low).toBeLessThan(mm2 * v.displacementL)
    expect(effectiveAreaMm2!.high).toBeGreaterThan(mm2 * v.displacementL)
  })
  it('a typed short trim that pulls on where the long one is at its end is at its stop', () => {
    const idle = (short: number, long: number): OperatingPoint => ({
      ...{ kind: 'idle', rpm: 700, startS: 0, endS: 0, n: 1, sds: {} },
      means: { rpm: 700, maf_gs: 2.4, stft1_pct: short, ltft1_pct: long },
    })
    expect(trimStop(idle(20.3, 25), 1)).toBe(1)
    expect(trimStop(idle(-20.3, -25), 1)).toBe(-1)
    expect(trimStop(idle(12, 25), 1)).toBeUndefined()
    expect(trimStop(idle(20.3, -25), 1)).toBeUndefined()
    // at another speed it gives more
    expect(trimStop(idle(17.3, 25), 1, [{ ...idle(20.3, 25), rpm: 2500 }])).toBeUndefined()
    expect(trimStop(idle(19.5, 25), 1, [{ ...idle(20.3, 25), rpm: 2500 }])).toBe(1)
  })
})

describe('an idle valve that stands still', () => {
  const stood = (kind: OperatingPoint['kind'], rpm: number, duty: number, sd = 0): OperatingPoint => ({
    ...{ kind, rpm, startS: 0, endS: 30, n: 60 },
    means: { rpm, idle_valve_pct: duty },
    sds: { idle_valve_pct: sd },
  })
  it('is told by a duty that no load moves, unless it stands at its end, hunts, or was read once', () => {
    expect(stillValve([stood('idle', 900, 41), stood('idle-load', 700, 41), stood('cruise', 1900, 41.2)])).toBeCloseTo(
      41.1,
    )
    expect(stillValve([stood('idle', 900, 41), stood('idle-load', 850, 52)])).toBeUndefined()
    expect(stillValve([stood('idle', 640, 90), stood('idle-load', 520, 90)])).toBeUndefined()
    expect(stillValve([stood('idle', 1500, 0), stood('hold', 2500, 0)])).toBeUndefined()
    expect(stillValve([stood('idle', 900, 41, 0.6), stood('hold', 1500, 41)])).toBeUndefined()
    expect(stillValve([stood('idle', 900, 41)])).toBeUndefined()
    expect(
      stillValve([stood('idle', 690, 16.5), stood('hold', 1500, 16.5), stood('cruise', 1900, 16.5)]),
    ).toBeUndefined()
    expect(
      stillValve([
        { ...stood('idle', 900, 41), n: 1 },
        { ...stood('hold', 2500, 41), n: 1 },
      ]),
    ).toBeUndefined()
  })
  it('leads though the idle stands in its band, and says why', () => {
    const v = carOf('four-valve', 200)
    const recording = simulateRecording({
      vehicle: v,
      faults: { ...HEALTHY, valveStuckAt: 0.4 },
      drive: 'shop',
      seed: 4,
    })
    const { points, closedThrottlePct } = evidenceFromRecording(recording, v)
    const d = diagnose(v, { intent: 'complaint', signs: [], findings: [], points, closedThrottlePct })
    expect(d.ranking[0].fault).toBe('idle-valve-stuck')
    expect(d.reasons['idle-valve-stuck']!.map((r) => r.text)).toContain('idle valve stands at 40 %, whatever the load')
  })
})

describe('an idle that a load pulls down', () => {
  it('is not taken for the idle where it stood faster and longer without it', () => {
    const { d, kinds } = told(BY_PRESSURE, { leakMm2: 14 })
    expect(kinds.get('idle')).toBeGreaterThan(1200)
    expect(kinds.get('idle-load')).toBeLessThan(kinds.get('idle')!)
    expect(d.ranking[0].fault).toBe('unmetered-air')
  })
})
