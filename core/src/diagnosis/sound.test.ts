import { describe, expect, it } from '@jest/globals'
import type { Vehicle } from '../engine/index.js'
import { totalTrimPct, type OperatingPoint } from '../signals/index.js'
import { HEALTHY, readCar } from '../simulation/index.js'
import {
  diagnose,
  EQUIPMENT,
  evidenceFromRecording,
  mergePoints,
  pointFromTyped,
  testInfo,
  type Diagnosis,
  type Evidence,
  type FaultId,
  type TypedPoint,
} from './index.js'
import { carOf } from './cars.fixture.js'
import { basicsOf } from './basics.js'

const vehicle = (id: string, part: Partial<Vehicle> = {}): Vehicle => carOf(id, 0, part)
const point = (kind: TypedPoint['kind'], values: TypedPoint['values']) => pointFromTyped({ kind, values }, totalTrimPct)
const weigh = (v: Vehicle, evidence: Partial<Evidence>): Diagnosis =>
  diagnose(v, { intent: 'not-stated', points: [], signs: [], findings: [], ...evidence })
const chance = (d: Diagnosis, fault: FaultId): number => d.ranking.find((r) => r.fault === fault)!.probability

describe('what a sound engine draws', () => {
  const idleGs = (displacementL: number, rpm = 700): number =>
    1e3 * basicsOf(point('idle', { rpm }), vehicle('four-maf', { displacementL })).soundKgS
  it('2.4 L at 700 rpm: 2.95 g/s, of which a choked hole of 1.6 mm is 0.13 to 0.15', () => {
    expect(idleGs(2.4)).toBeCloseTo(2.95, 1)
    expect(0.3847 / (idleGs(2.4) - 0.3847)).toBeCloseTo(0.15, 2)
  })
  it('a small engine draws more a litre, since accessories know nothing of its size', () =>
    expect(idleGs(1.4) / 1.4).toBeGreaterThan((1.08 * idleGs(3.2)) / 3.2))
  it('the simulated engines idle by the same physics within 6 %', () => {
    const v = vehicle('four-maf')
    const { recording } = readCar({ vehicle: v, drive: 'shop', seed: 3 })
    const idle = mergePoints(evidenceFromRecording(recording, v).points).find((p) => p.kind === 'idle')!
    expect(idle.means.maf_gs! / idleGs(v.displacementL, idle.rpm)).toBeGreaterThan(0.94)
    expect(idle.means.maf_gs! / idleGs(v.displacementL, idle.rpm)).toBeLessThan(1.06)
  })
})

describe('codes', () => {
  const points = [
    point('idle', { rpm: 700, maf_gs: 2.5, ltft1_pct: 5 }),
    point('hold', { rpm: 2500, maf_gs: 8.2, ltft1_pct: 4 }),
  ]
  const misfires = (codes?: Evidence['codes']): number =>
    chance(weigh(vehicle('four-maf'), { points, codes }), 'ignition-misfire')
  it('read, and none stands: against what its own monitor would have found; not read says nothing', () => {
    expect(misfires([])).toBeLessThan(0.4 * misfires())
    expect(misfires([{ code: 'P0301', state: 'stored' }])).toBeGreaterThan(5 * misfires())
  })
  const rough = [
    { ...point('idle', { rpm: 700, maf_gs: 2.7, ltft1_pct: 9 }), n: 200, sds: { rpm: 25 } },
    point('hold', { rpm: 2500, maf_gs: 8.3, ltft1_pct: 6 }),
  ]
  it('a test is told by its own name and place, each once', () => {
    const { reasons } = weigh(vehicle('four-maf', { egr: 'valve' }), {
      points: rough,
      findings: [
        { test: 'egr-hand-pump', station: 'egr', outcome: 'fail' },
        { test: 'smoke', station: 'vacuum-lines', outcome: 'fail' },
        { test: 'compression', station: 'beyond', outcome: 'fail' },
      ],
    })
    const told = new Set(
      Object.values(reasons)
        .flatMap((r) => r!.filter((x) => x.source === 'finding'))
        .map((x) => x.text),
    )
    expect([...told].sort()).toEqual([
      'compression, or cranking compared',
      'hand pump on the EGR valve',
      'smoke at low pressure, vacuum lines',
    ])
  })
  it('that none stands is told among the reasons, against it', () => {
    const { reasons } = weigh(vehicle('four-maf'), { points: rough, codes: [], signs: ['idle-rough'] })
    const told = reasons['ignition-misfire']!.find((r) => r.text === 'codes read, none stands')!
    expect(told.bits).toBeLessThan(-1)
    expect(told.source).toBe('code')
  })
})

describe('repeats of a point', () => {
  const idle = (trim: number, sd: number) => ({
    ...point('idle', { rpm: 700, maf_gs: 2.5, stft1_pct: 0, ltft1_pct: trim }),
    n: 100,
    sds: { trim1_pct: sd, rpm: 4 },
  })
  it('a trim that moved between two stretches scatters by as much: √(1² + 4²/4)', () =>
    expect(mergePoints([idle(0, 1), idle(4, 1)])[0].sds.trim1_pct).toBeCloseTo(Math.sqrt(5), 6))
  it('and is believed less than one that stood', () => {
    const at = (sd: number): number => chance(weigh(vehicle('four-maf'), { points: [idle(12, sd)] }), 'none')
    expect(at(8)).toBeGreaterThan(1.5 * at(1))
  })
})

describe('this car when it was sound', () => {
  const v = vehicle('four-valve')
  const read = (part: Partial<TypedPoint['values']>) => [
    { ...point('idle', { rpm: 780, map_kpa: 36, ltft1_pct: 0, idle_valve_pct: 30, ...part }), n: 100, sds: { rpm: 4 } },
  ]
  it('makes deposits of a rise in duty that alone would say little', () => {
    const now = read({ idle_valve_pct: 46 })
    const before = [{ of: 'same-car' as const, points: read({}), altitudeM: 0 }]
    const alone = chance(weigh(v, { points: now }), 'throttle-deposits')
    expect(chance(weigh(v, { points: now, sound: before }), 'throttle-deposits')).toBeGreaterThan(3 * alone)
  })
  it('a typed plate that stands lower than its own at the same speed and pressure tells of air, one that stands higher of deposits', () => {
    const map = vehicle('four-map')
    const typed = (opening: number): readonly OperatingPoint[] => [
      point('idle', { rpm: 775, map_kpa: 31.3, stft1_pct: 0, ltft1_pct: 0, throttle_pct: opening }),
      point('hold', { rpm: 2500, map_kpa: 26.5, stft1_pct: 0, ltft1_pct: 0, throttle_pct: opening + 3.8 }),
    ]
    const then = [{ of: 'same-car' as const, points: typed(13.7), altitudeM: 0 }]
    const kin = [{ of: 'same-model' as const, points: typed(13.7), altitudeM: 0 }]
    const of = (fault: FaultId, opening: number, sound: typeof then | typeof kin | []): number =>
      chance(weigh(map, { points: typed(opening), sound }), fault)
    expect(of('unmetered-air', 11.6, then)).toBeGreaterThan(4 * of('unmetered-air', 11.6, []))
    expect(of('throttle-deposits', 15.8, then)).toBeGreaterThan(4 * of('throttle-deposits', 15.8, []))
    // another car's sensor has another zero
    expect(of('unmetered-air', 11.6, kin)).toBeLessThan(2 * of('unmetered-air', 11.6, []))
  })
  it('one that always stood there clears it', () => {
    const high = read({ idle_valve_pct: 46 })
    const sound = [{ of: 'same-car' as const, points: high, altitudeM: 0 }]
    expect(chance(weigh(v, { points: high, sound }), 'throttle-deposits')).toBeLessThan(
      chance(weigh(v, { points: high }), 'throttle-deposits'),
    )
  })
})

describe('air that idle control cannot keep out', () => {
  it('raises speed and pressure together, and is a leak on an engine fuelled by pressure', () => {
    const v = vehicle('four-map')
    const high = (map_kpa: number) => [
      { ...point('idle', { rpm: 905, map_kpa, ltft1_pct: 0, throttle_pct: 1 }), n: 100, sds: { rpm: 6 } },
      { ...point('hold', { rpm: 1500, map_kpa: 30, ltft1_pct: 0 }), n: 100 },
      { ...point('hold', { rpm: 2500, map_kpa: 30, ltft1_pct: 0 }), n: 100 },
    ]
    const leak = (map: number): number => {
      const d = weigh(v, { points: high(map), closedThrottlePct: 0.5 })
      return chance(d, 'unmetered-air') + chance(d, 'pcv-stuck-open')
    }
    expect(leak(40)).toBeGreaterThan(leak(33))
  })
})

describe('equipment', () => {
  const points = [
    point('idle', { rpm: 700, maf_gs: 2.1, ltft1_pct: 19 }),
    point('hold', { rpm: 2500, maf_gs: 7.8, ltft1_pct: 5 }),
  ]
  it('tests that need what is not at hand are not proposed', () => {
    const needs = (equipment?: readonly string[]) =>
      weigh(vehicle('four-maf'), { points, equipment }).nextTests.map((t) => testInfo(t.test).needs)
    expect(needs()).toContain('smoke machine')
    expect(needs(EQUIPMENT.filter((x) => x !== 'smoke machine'))).not.toContain('smoke machine')
  })
})

describe('an engine read on two days', () => {
  it('is the same engine with other noise, and the day can be told apart', () => {
    const v = vehicle('four-maf')
    const on = (day: number) => readCar({ vehicle: v, drive: 'shop', seed: 5, day }).recording
    const idle = (day: number) =>
      mergePoints(evidenceFromRecording(on(day), v).points).find((p) => p.kind === 'idle')!.means.maf_gs!
    expect(idle(1) / idle(0)).toBeCloseTo(1, 2)
    expect(on(1).columns.maf_gs![5]).not.toBe(on(0).columns.maf_gs![5])
  })
  it('codes of the days before are stored; a sound one has none', () => {
    const codes = (misfireShare: number) =>
      readCar({
        vehicle: vehicle('four-maf'),
        drive: 'shop',
        seed: 5,
        faults: { ...HEALTHY, misfireCylinder: misfireShare ? 2 : 0, misfireShare },
      }).codes
    expect(codes(0)).toEqual([])
    expect(codes(0.4)).toContainEqual({ code: 'P0302', state: 'stored' })
  })
})
