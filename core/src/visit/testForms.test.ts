import { describe, expect, it } from '@jest/globals'
import { orificeMassFlow } from '../air/index.js'
import type { StationId, Vehicle } from '../engine/index.js'
import {
  figuresProblem,
  figuresSaid,
  lookOrder,
  TEST_FORMS,
  testForm,
  type FindingRecord,
  type ReadingRecord,
  type VisitFile,
} from './index.js'
import { idleOf, reading, repairAt, tried, visitOf } from './remedies.fixture.js'
import type { Diagnosis } from '../diagnosis/index.js'

const at20C = (part: Partial<VisitFile> = {}): VisitFile => {
  const f = visitOf(part)
  return { ...f, visit: { ...f.visit, altitudeM: 0, ambientC: 20 } }
}
const judged = (test: string, x: Record<string, number>, f = at20C(), at?: StationId) =>
  testForm(test, f.vehicle.spec)!.judge(x, f, { station: at })
/** A visit with another engine, its idle as read. */
const idling = (spec: Partial<Vehicle>, means: Partial<Record<ReadingRecord['channel'], number>>): VisitFile =>
  visitOf(
    {
      readings: Object.entries(means).map(([channel, value]) =>
        reading(0, 'idle', channel as ReadingRecord['channel'], value),
      ),
    },
    spec,
  )

describe('tests with figures', () => {
  // Q = CdA·√(2Δp/ρ): 3 mm² at 3.5 kPa and 1.204 kg/m³ pass 13.72 L/min, and are quoted as 3.85 mm² at idle
  it('smoke by its flow is the area of the orifice law', () => {
    const said = judged('smoke', { pressure: 3.5, flow: 13.72 })
    expect(said.value).toBeCloseTo(3, 2)
    expect(said.said).toBe('3.0 mm² at 3.5 kPa, as much as 3.9 mm² at idle.')
    expect(said.outcome).toBe('fail')
  })
  it('smoke without a size says so and sizes nothing', () => {
    const { outcome, value } = judged('smoke', { pressure: 3.5 })
    expect([outcome, value]).toEqual(['unclear', undefined])
    expect(judged('smoke', { pressure: 3.5, area: 0.1 }).outcome).toBe('pass')
  })
  it('a pinch: the trim that it takes away, against the newest idle or what is typed', () => {
    const f = at20C({ readings: idleOf(0, { trim: 12 }) })
    expect(judged('pinch', { shut: 4 }, f)).toMatchObject({ outcome: 'fail', value: 4, unit: '%' })
    expect(judged('pinch', { shut: 4 }, f).said).toMatch(/falls by 8\.0 points: \d\.\d mm² let in here/)
    expect(judged('pinch', { shut: 11.5 }, f).outcome).toBe('pass')
    expect(judged('pinch', { shut: 4 }).outcome).toBe('unclear')
    expect(judged('pinch', { shut: 4, open: 5 }).outcome).toBe('pass')
  })
  it('a pinch of a trim at its stop: where it stays nothing is told, and what it falls by is the least', () => {
    const f = at20C({
      readings: [
        ...idleOf(0, { trim: 25 }).filter((r) => r.channel !== 'stft1_pct'),
        reading(0, 'idle', 'stft1_pct', 20.3),
      ],
    })
    expect(judged('pinch', { shut: 50 }, f)).toMatchObject({
      outcome: 'unclear',
      said: expect.stringMatching(/stays at its stop/),
    })
    expect(judged('pinch', { shut: 30 }, f)).toMatchObject({
      outcome: 'fail',
      said: expect.stringMatching(/: at least \d+\.\d mm² let in/),
    })
    // once something else was mended the trim is its own again
    expect(judged('pinch', { shut: 30, open: 31 }, f).outcome).toBe('pass')
  })
  it('a branch that brings in vapour raises the trim when it is shut: found, and no air', () => {
    const f = at20C({ readings: idleOf(0, { trim: -14 }) })
    for (const test of ['pinch', 'purge-pinch']) {
      expect(judged(test, { shut: 1 }, f).outcome).toBe('fail')
      expect(judged(test, { shut: 1 }, f).said).toMatch(/rises by 15\.0 points: fuel or its vapour/)
    }
  })
  it('metered by pressure the opening tells, and the trim is not asked for', () => {
    const f = idling({ metering: 'map' }, { rpm: 800, throttle_pct: 3.1 })
    expect(testForm('pinch', f.vehicle.spec)!.fields.map((q) => q.id)).toEqual(['speed', 'before', 'opening', 'was'])
    expect(judged('pinch', { speed: 790, opening: 4.7 }, f)).toMatchObject({
      outcome: 'fail',
      said: 'Shut, the throttle opens by 1.6 points: something comes in here.',
    })
    expect(judged('pinch', { speed: 790, opening: 3.1 }, f).outcome).toBe('pass')
    // a controlled idle keeps its speed with or without a leak
    expect(judged('pinch', { speed: 795 }, f).outcome).toBe('unclear')
    expect(judged('pinch', { speed: 700 }, f).outcome).toBe('fail')
    // the vent is part of a sound engine's idle air
    expect(judged('pinch', { speed: 800, opening: 4.7 }, f, 'pcv').outcome).toBe('unclear')
  })
  it('nothing controls the idle of a carburettor: its speed tells', () => {
    const f = idling({ metering: 'none', injection: 'carburettor', idleControl: 'none' }, { rpm: 980 })
    expect(testForm('pinch', f.vehicle.spec)!.fields.map((q) => q.id)).toEqual(['speed', 'before'])
    expect(judged('pinch', { speed: 850 }, f).said).toBe('Shut, the speed falls by 130 rpm: something comes in here.')
    expect(judged('pinch', { speed: 985 }, f)).toMatchObject({ outcome: 'pass' })
    expect(judged('pinch', { speed: 1010 }, f).outcome).toBe('unclear')
  })
  it('what a finding says is held against the readings of its time, whatever was read since', () => {
    const shut: FindingRecord = {
      ...tried('pinch', 'booster', 'fail', 0),
      figures: { shut: 4 },
    }
    const mended = at20C({
      readings: [...idleOf(0, { trim: 12 }), ...idleOf(1, { trim: 3 })],
      findings: [shut],
      repairs: [repairAt('booster', 0)],
    })
    expect(figuresSaid(mended, shut)!.said).toMatch(/^Shut, the trim falls by 8\.0 points/)
    // made again since, it is the newer idle that counts
    const again: FindingRecord = { ...tried('pinch', 'booster', 'pass', 1), figures: { shut: 3 } }
    expect(figuresSaid(mended, again)!.said).toMatch(/changes by 0\.0 points: nothing unmeasured comes in/)
  })
  it('a decay gives back the opening that let the air out', () => {
    // 5 mm² out of 12 L at 293.15 K, from 60 kPa, stepped by the orifice law
    const R = 287.05
    let p = 101_325 + 60_000
    for (let t = 0; t < 8; t += 0.001)
      p -= ((R * 293.15) / 12e-3) * orificeMassFlow(5e-6, { pressurePa: p, temperatureK: 293.15 }, 101_325) * 0.001
    const said = judged('boost-decay', { from: 60, to: (p - 101_325) / 1000, seconds: 8, litres: 12 })
    expect(said.value! / 5).toBeGreaterThan(0.98)
    expect(said.value! / 5).toBeLessThan(1.02)
    expect(judged('boost-decay', { from: 60, to: 58, seconds: 30 })).toMatchObject({ outcome: 'pass', unit: 'kPa/min' })
    expect(judged('boost-decay', { from: 60, to: 65, seconds: 30 }).outcome).toBe('unclear')
  })
  it.each([
    ['back-pressure', { pressure: 4 }, 'pass'],
    ['back-pressure', { pressure: 15 }, 'unclear'],
    ['back-pressure', { pressure: 30 }, 'fail'],
    ['fuel-pressure', { read: 395, stated: 400 }, 'pass'],
    ['fuel-pressure', { read: 300, stated: 400 }, 'fail'],
    ['compression', { lowest: 1150, highest: 1250 }, 'pass'],
    ['compression', { lowest: 800, highest: 1250 }, 'fail'],
    ['compression', { lowest: 1300, highest: 1250 }, 'unclear'],
    ['intake-blockage', { rpm: 2500, air: 46 }, 'pass'],
    ['intake-blockage', { rpm: 2500, air: 20 }, 'fail'],
  ] as const)('%s %o: %s', (test, x, outcome) => {
    // 2.0 L at 2500 could take about 42 g/s
    const f = at20C()
    expect(
      judged(test, x, { ...f, vehicle: { ...f.vehicle, spec: { ...f.vehicle.spec, displacementL: 2 } } }).outcome,
    ).toBe(outcome)
  })
  it('every field has bounds that a slip falls out of', () => {
    for (const form of TEST_FORMS) for (const q of form.fields) expect(q.max).toBeGreaterThan(q.min)
  })
  it('a find tells its own figures, and not with one missing', () => {
    const find = { test: 'back-pressure', figures: { pressure: 30 } } as unknown as FindingRecord
    expect(figuresSaid(at20C(), find)?.said).toMatch(/^30 kPa stand against/)
    expect(figuresSaid(at20C(), { ...find, figures: {} })).toBeUndefined()
    expect(figuresSaid(at20C(), { ...find, test: 'look' })).toBeUndefined()
  })
  it('figures that are none are refused', () => {
    expect(figuresProblem({ a: 1 })).toBeUndefined()
    for (const bad of [{ a: NaN }, { a: '1' }, [1], null, { A1: 3 }])
      expect(figuresProblem(bad)).toMatch(/figures must be/)
  })
})

describe('the first look', () => {
  const first = (f: VisitFile, d?: Partial<Diagnosis>): string[] => [
    ...new Set(lookOrder(f, d as Diagnosis | undefined).map((r) => r.item.station)),
  ]
  const lead = (fault: string): Partial<Diagnosis> => ({
    ranking: [{ fault, probability: 0.9, sentence: '' }] as never,
  })
  it('goes first where the cause that leads is found in least time', () => {
    expect(first(visitOf(), lead('maf-under-reads'))[0]).toBe('airflow-sensor')
    expect(first(visitOf(), lead('throttle-deposits'))[0]).toBe('throttle')
  })
  it('recent work and old rubber move a place forward; every line comes once', () => {
    const f = visitOf()
    const place = (x: VisitFile, id: string): number => first(x, lead('unmetered-air')).indexOf(id)
    const worked: VisitFile = { ...f, visit: { ...f.visit, conditions: ['after-work'] } }
    expect(place(worked, 'vacuum-lines')).toBeLessThanOrEqual(place(f, 'vacuum-lines'))
    const stations = { purge: { fittedOn: '2006-01-01', material: 'rubber' as const } }
    const old: VisitFile = { ...f, vehicle: { ...f.vehicle, spec: { ...f.vehicle.spec, stations } } }
    expect(place(old, 'purge')).toBeLessThan(place(f, 'purge'))
    const ids = lookOrder(f).map((r) => r.item.id)
    expect(new Set(ids).size).toBe(ids.length)
  })
})
