import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import type { Vehicle } from '../engine/index.js'
import { totalTrimPct } from '../signals/index.js'
import {
  CODE_MEANINGS,
  codeMeaning,
  diagnose,
  FAULTS,
  pointFromTyped,
  TESTS,
  type Diagnosis,
  type Evidence,
  type TypedPoint,
} from './index.js'
import { carOf } from './cars.fixture.js'

const vehicle = (id: string, part: Partial<Vehicle> = {}): Vehicle => carOf(id, 300, part)
const weigh = (v: Vehicle, points: readonly TypedPoint[], more: Partial<Evidence> = {}): Diagnosis =>
  diagnose(v, {
    intent: 'not-stated',
    signs: [],
    findings: [],
    ...more,
    points: points.map((p) => pointFromTyped(p, totalTrimPct)),
  })
const says = (d: Diagnosis): string[] => d.warnings.map((w) => w.code)
const idle = { rpm: 700, maf_gs: 2.5, stft1_pct: 0, ltft1_pct: 0 }
const hold = { rpm: 2500, maf_gs: 8.2, stft1_pct: 0, ltft1_pct: 0 }

describe('evidence that is poor, wrong or against itself', () => {
  it('one point only: an answer, no certainty, and what to measure', () => {
    const d = weigh(vehicle('four-maf'), [{ kind: 'idle', values: { ...idle, ltft1_pct: 22 } }])
    expect(says(d)).toContain('one-point')
    expect(d.ranking[0].probability).toBeLessThan(0.9)
  })
  it('readings that no engine gives together are told as that, and not shared out among the causes', () => {
    const v = vehicle('four-maf', { displacementL: 1.9, egr: 'valve', altitudeM: 120 })
    const at = (holdKpa: number, pullGs: number): Diagnosis =>
      weigh(v, [
        {
          kind: 'idle',
          values: { rpm: 705, maf_gs: 2.75, stft1_pct: 0.8, ltft1_pct: 0.8, throttle_pct: 3.4, gauge_vacuum_kpa: 62 },
        },
        {
          kind: 'hold',
          values: {
            rpm: 2500,
            maf_gs: 9.7,
            stft1_pct: 0,
            ltft1_pct: 1.6,
            throttle_pct: 8.2,
            gauge_vacuum_kpa: holdKpa,
          },
        },
        { kind: 'pull', values: { rpm: 3800, maf_gs: pullGs, gauge_vacuum_kpa: 2 } },
      ])
    // an exhaust that takes so much at a held speed lets no such pull through
    const against = at(52, 37)
    expect(says(against)).toContain('none-of-these-explains-it')
    expect(against.ranking.find((r) => r.fault === 'none')!.sentence).toMatch(
      /fits neither a sound engine nor any cause/,
    )
    expect(against.ranking.reduce((s, r) => s + r.probability, against.unexplained)).toBeGreaterThan(0.99)
    // each of them by itself is told
    for (const one of [at(67, 37), at(52, 18)]) {
      expect(one.ranking[0].fault).toBe('exhaust-restriction')
      expect(says(one)).not.toContain('none-of-these-explains-it')
    }
  })
  it('an engine without a controller is asked for nothing that only one would count', () => {
    const ids = (v: Vehicle): string[] => TESTS.filter((t) => t.admissible(v)).map((t) => t.id)
    const carburetted = ids(vehicle('carb-one'))
    for (const id of [
      'misfire-count',
      'exhaust-leak-look',
      'oxygen-sensor-swing',
      'temperatures-cold',
      'temperatures-warm',
    ]) {
      expect(carburetted).not.toContain(id)
      expect(ids(vehicle('four-maf'))).toContain(id)
    }
  })
  it('trims at their stops are bounds: a bigger leak agrees with them', () => {
    const at = (stft: number) => [
      { kind: 'idle' as const, values: { ...idle, maf_gs: 1.2, stft1_pct: stft, ltft1_pct: 23.5 } },
      { kind: 'hold' as const, values: { ...hold, maf_gs: 6.6, stft1_pct: 2, ltft1_pct: 14 } },
    ]
    const bound = weigh(vehicle('four-maf'), at(25))
    expect(says(bound)).toContain('trim-at-its-stop')
    const size = (d: Diagnosis) => d.ranking.find((r) => r.fault === 'unmetered-air')!.effectiveAreaMm2!
    expect(size(bound).high).toBeGreaterThan(size(weigh(vehicle('four-maf'), at(22))).high)
  })
  it('a second bank that this engine has not, an airflow that it does not measure: said and left aside', () => {
    const plain = weigh(vehicle('four-maf'), [
      { kind: 'idle', values: idle },
      { kind: 'hold', values: hold },
    ])
    const second = weigh(vehicle('four-maf'), [
      { kind: 'idle', values: { ...idle, stft2_pct: 0, ltft2_pct: 30 } },
      { kind: 'hold', values: hold },
    ])
    expect(says(second)).toContain('bank-not-here')
    expect(second.ranking[0]).toEqual(plain.ranking[0])
    expect(says(weigh(vehicle('four-map'), [{ kind: 'idle', values: idle }]))).toContain('channel-not-here')
  })
  it('a channel that lies is one cause among others, and no other figure is believed less', () => {
    const d = weigh(vehicle('four-maf', { metering: 'maf+map' }), [
      { kind: 'idle', values: { ...idle, map_kpa: 31, iat_c: -40 } },
      { kind: 'hold', values: { ...hold, map_kpa: 31, iat_c: -40 } },
    ])
    expect(d.ranking[0].fault).toBe('temperature-sensor-implausible')
  })
  it('tests against the readings: no cause is certain', () => {
    const leak: TypedPoint[] = [
      { kind: 'idle', values: { ...idle, maf_gs: 2.05, ltft1_pct: 23 } },
      { kind: 'hold', values: { ...hold, maf_gs: 7.75, ltft1_pct: 5.6 } },
    ]
    const d = weigh(vehicle('four-maf'), leak, {
      findings: [
        { test: 'smoke', outcome: 'pass', station: 'plenum' },
        { test: 'pinch', outcome: 'pass', station: 'pcv' },
        { test: 'maf-look', outcome: 'pass', station: 'airflow-sensor' },
        { test: 'exhaust-leak-look', outcome: 'pass', station: 'runners-1' },
      ],
    })
    expect(d.ranking[0].probability).toBeLessThan(0.9)
  })
  it('whatever is typed, every probability is one and nothing throws', () => {
    const figure = fc.option(fc.double({ min: -40, max: 40, noNaN: true }), { nil: undefined })
    const kinds = ['four-maf', 'four-map', 'four-valve', 'v6-maf', 'turbo-di', 'four-bodies'] as const
    fc.assert(
      fc.property(
        fc.constantFrom(...kinds),
        fc.array(
          fc.record({
            kind: fc.constantFrom('idle', 'idle-load', 'hold', 'cruise', 'pull', 'cold', 'key-on' as const),
            rpm: fc.double({ min: 300, max: 6500, noNaN: true }),
            maf_gs: fc.option(fc.double({ min: 0, max: 300, noNaN: true }), { nil: undefined }),
            map_kpa: fc.option(fc.double({ min: 5, max: 250, noNaN: true }), { nil: undefined }),
            stft1_pct: figure,
            ltft2_pct: figure,
            iat_c: fc.option(fc.double({ min: -40, max: 215, noNaN: true }), { nil: undefined }),
            idle_valve_pct: fc.option(fc.double({ min: 0, max: 100, noNaN: true }), { nil: undefined }),
          }),
          { maxLength: 4 },
        ),
        (kind, rows) => {
          const points = rows.map(({ kind: k, ...values }) => ({
            kind: k as TypedPoint['kind'],
            values: Object.fromEntries(Object.entries(values).filter(([, x]) => x !== undefined)),
          }))
          const d = weigh(vehicle(kind), points)
          return (
            d.ranking.every((r) => r.probability >= 0 && r.probability <= 1 + 1e-9 && r.sentence !== '') &&
            d.unexplained >= 0 &&
            d.unexplained <= 1
          )
        },
      ),
      { numRuns: 80 },
    )
  })
})

describe('codes', () => {
  it('a code lifts its cause, twice the same no more than once', () => {
    const p = (codes: string[]): number =>
      weigh(vehicle('v6-maf'), [], { codes: codes.map((code) => ({ code, state: 'stored' as const })) }).ranking.find(
        (r) => r.fault === 'egr-no-flow',
      )!.probability
    expect(p(['P0401'])).toBeGreaterThan(5 * p([]))
    expect(p(['P0401', 'P0401'])).toBeCloseTo(p(['P0401']), 9)
    expect(p(['P9999'])).toBeCloseTo(p([]), 9)
  })
  it.each([
    ['P2279', 'four-maf', ['unmetered-air', 'unmetered-air-duct']],
    ['P2281', 'four-maf', ['unmetered-air-duct']],
    ['P2282', 'four-map', ['unmetered-air']],
    ['P0040', 'v6-maf', ['oxygen-sensors-crossed']],
    ['P2463', 'diesel-four', ['exhaust-restriction']],
    ['P0351', 'four-maf', ['ignition-misfire']],
  ] as const)('%s alone, of a %s, puts %s first', (code, id, first) => {
    const d = weigh(vehicle(id), [], { codes: [{ code, state: 'stored' }] })
    const causes = d.ranking.map((r) => r.fault).filter((f) => f !== 'none')
    expect(causes.slice(0, first.length).sort()).toEqual([...first].sort())
  })
  it('is told among the reasons', () => {
    const d = weigh(vehicle('v6-maf'), [{ kind: 'idle', values: idle }], {
      codes: [{ code: 'P0496', state: 'stored' }],
    })
    const reasons = Object.values(d.reasons).flat()
    expect(reasons.find((r) => r.source === 'code')?.text).toBe('code P0496: purge flow when none is asked')
  })
  it('names only causes that exist; the longest match of a family counts', () => {
    const ids = new Set(FAULTS.map((f) => f.id))
    for (const m of CODE_MEANINGS) expect(Object.keys(m.favours).filter((id) => !ids.has(id as never))).toEqual([])
    expect(codeMeaning('p0304')!.label).toBe('misfire')
    expect(new Set(CODE_MEANINGS.map((m) => m.code)).size).toBe(CODE_MEANINGS.length)
    expect(codeMeaning('U0100')).toBeUndefined()
  })
})

describe('what a technician tells at a glance', () => {
  const dripping = (both: boolean): TypedPoint[] => {
    const at = (stft: number, ltft: number): Record<string, number> => ({
      stft1_pct: stft,
      ltft1_pct: ltft,
      stft2_pct: both ? stft : 0,
      ltft2_pct: both ? ltft : -1.6,
    })
    return [
      { kind: 'idle', values: { rpm: 660, maf_gs: 3.3, throttle_pct: 2.8, ...at(-7, -14.1) } },
      { kind: 'hold', values: { rpm: 2500, maf_gs: 12.4, throttle_pct: 8.1, ...at(-2.3, -3.9) } },
    ]
  }
  it('one bank too rich at idle is too much fuel on that bank, and no two causes', () => {
    const one = weigh(vehicle('v6-maf'), dripping(false))
    expect(one.ranking[0]).toMatchObject({ fault: 'fuel-delivery-high', bank: 1 })
    expect(one.ranking[0].probability).toBeGreaterThan(0.9)
    expect(one.ranking[0].sentence).toMatch(/too much fuel on bank 1 at idle/)
    const two = weigh(vehicle('v6-maf'), dripping(true))
    expect(two.ranking[0].fault).toBe('fuel-delivery-high')
    expect(two.ranking[0].bank).toBeUndefined()
    expect(two.ranking[0].sentence).not.toMatch(/bank/)
  })
  it('a warm engine that is taken for a frozen one is fed and held faster by its sensor', () => {
    const d = weigh(vehicle('four-map'), [
      {
        kind: 'idle',
        values: { rpm: 1050, map_kpa: 38, stft1_pct: -8, ltft1_pct: -12, throttle_pct: 5, ect_c: -38, iat_c: 22 },
      },
    ])
    expect(d.ranking[0].fault).toBe('temperature-sensor-implausible')
    expect(says(d)).not.toContain('none-of-these-explains-it')
  })
  it('rich after refuelling speaks for the purge valve', () => {
    const rich: TypedPoint[] = [
      { kind: 'idle', values: { ...idle, ltft1_pct: -16 } },
      { kind: 'hold', values: { ...hold, ltft1_pct: -4 } },
    ]
    const purge = (conditions: readonly string[]): number =>
      weigh(vehicle('four-maf', { purge: true }), rich, { conditions }).ranking.find(
        (r) => r.fault === 'purge-stuck-open',
      )!.probability
    expect(purge(['after-fuel'])).toBeGreaterThan(2 * purge([]))
  })
})
