import { describe, expect, it } from '@jest/globals'
import type { Vehicle } from '../engine/index.js'
import { findOperatingPoints, totalTrimPct } from '../signals/index.js'
import { addFault, HEALTHY, simulateRecording } from '../simulation/index.js'
import {
  diagnose,
  evidenceFromRecording,
  FAULTS,
  findChance,
  mergePoints,
  NO_EFFECT,
  observe,
  posterior,
  prepare,
  pointFromTyped,
  testInfo,
  TESTS,
  type Diagnosis,
  type Evidence,
  type FaultId,
  type Finding,
  type TypedPoint,
} from './index.js'
import { addEffects, predict } from './cells.js'
import { densitiesOf } from './densities.js'
import { carOf } from './cars.fixture.js'

const vehicle = (id: string, part: Partial<Vehicle> = {}): Vehicle => carOf(id, 1180, part)
const blank: Evidence = { intent: 'not-stated', points: [], signs: [], findings: [] }
const typed = (points: TypedPoint[]): Evidence => ({
  ...blank,
  points: points.map((p) => pointFromTyped(p, totalTrimPct)),
})
const p = (d: Diagnosis, id: FaultId): number => d.ranking.find((r) => r.fault === id)?.probability ?? 0

function simulated(id: string, spec: string, seed = 7): Diagnosis {
  const v = vehicle(id)
  const f = addFault(HEALTHY, spec)
  if (!f.ok) throw new Error(f.message)
  const r = simulateRecording({ vehicle: v, faults: f.faults, drive: 'road', seed })
  return diagnose(v, { ...blank, ...evidenceFromRecording(r, v) })
}

describe('on simulated engines whose equations it does not share', () => {
  it.each([
    ['four-maf', 'none', 'none'],
    ['v6-maf', 'none', 'none'],
    ['four-map', 'none', 'none'],
    ['four-maf', 'unmetered-air:areaMm2=2', 'unmetered-air'],
    ['v6-maf', 'unmetered-air:areaMm2=3', 'unmetered-air'],
    ['v6-maf', 'unmetered-air-bank:areaMm2=2,bank=2', 'unmetered-air-bank'],
    ['four-maf', 'maf-under-reads:errorPct=-5,errorPctHigh=-20', 'maf-under-reads'],
    ['four-maf', 'fuel-delivery-low:errorPct=-15', 'fuel-delivery-low'],
    ['four-valve', 'throttle-deposits:severity=0.85', 'throttle-deposits'],
    ['four-map', 'unmetered-air:areaMm2=9', 'unmetered-air'],
  ] as const)('%s with %s leads with %s', (id, spec, fault) => expect(simulated(id, spec).ranking[0].fault).toBe(fault))

  it('the interval of a leak holds its true size, most times', () => {
    const held = [1, 2, 3, 4, 5].filter((seed) => {
      const area = simulated('four-maf', 'unmetered-air:areaMm2=2.4', seed).ranking[0].effectiveAreaMm2!
      return area.low <= 2.4 && area.high >= 2.4
    })
    expect(held.length).toBeGreaterThanOrEqual(3)
  })
  it('names the bank', () => expect(simulated('v6-maf', 'unmetered-air-bank:areaMm2=2,bank=2').ranking[0].bank).toBe(2))
})

describe('typed readings', () => {
  const idle = (stft: number, ltft: number): TypedPoint => ({
    kind: 'idle',
    values: { rpm: 700, maf_gs: 2.2, stft1_pct: stft, ltft1_pct: ltft },
  })
  const hold = (stft: number, ltft: number): TypedPoint => ({
    kind: 'hold',
    values: { rpm: 2500, maf_gs: 7.6, stft1_pct: stft, ltft1_pct: ltft },
  })
  it('a trim that fades is air behind the plate', () =>
    expect(diagnose(vehicle('four-maf'), typed([idle(4, 18), hold(1, 3)])).ranking[0].fault).toBe('unmetered-air'))
  it('a trim that stays is not', () => {
    const d = diagnose(vehicle('four-maf'), typed([idle(3, 15), hold(3, 15)]))
    expect(p(d, 'unmetered-air')).toBeLessThan(0.1)
    expect(p(d, 'unmetered-air-duct') + p(d, 'fuel-delivery-low') + p(d, 'maf-under-reads')).toBeGreaterThan(0.8)
  })
  it('much air at a held speed says less when it was typed than watched; what takes more than can be told says so', () => {
    const v = vehicle('v6-maf')
    const trims = { stft1_pct: 0.8, ltft1_pct: 2.3, stft2_pct: 0.8, ltft2_pct: 2.3 }
    const moments = typed([
      { kind: 'idle', values: { rpm: 688, maf_gs: 3.05, gauge_vacuum_kpa: 57, ...trims } },
      { kind: 'hold', values: { rpm: 2510, maf_gs: 13.9, ...trims } },
    ])
    const once = diagnose(v, moments)
    const watched = diagnose(v, { ...moments, points: moments.points.map((x) => ({ ...x, n: 50 })) })
    expect(p(once, 'exhaust-restriction')).toBeLessThan(p(watched, 'exhaust-restriction') - 0.1)
    const { sentence } = once.ranking.find((r) => r.fault === 'exhaust-restriction')!
    expect(sentence).toMatch(/70 or more\) %|70 % or more/)
  })
  it('nothing typed says so and gives the prior back', () => {
    const d = diagnose(vehicle('four-maf'), blank)
    expect(d.warnings.map((w) => w.code)).toContain('nothing-to-judge')
    // pairs that the leaders do not hold are left out, so a little more than its 0.38
    expect(p(d, 'none')).toBeCloseTo(0.4, 1)
  })
  it('banks that rest far apart are nothing in the list: it says so and stays below 0.6', () => {
    const bank = (t: number, u: number) => ({ stft1_pct: 1, ltft1_pct: t, stft2_pct: -1, ltft2_pct: u })
    const d = diagnose(
      vehicle('v6-maf'),
      typed([
        { kind: 'idle', values: { rpm: 680, maf_gs: 3, ...bank(24, -22) } },
        { kind: 'hold', values: { rpm: 2500, maf_gs: 11, ...bank(25, -23) } },
      ]),
    )
    expect(d.warnings.map((w) => w.code)).toContain('none-of-these-explains-it')
    expect(Math.max(...d.ranking.map((r) => r.probability))).toBeLessThanOrEqual(0.6)
  })
  it('an engine without the sensor is never told that it reads low', () => {
    const d = diagnose(vehicle('four-map'), blank)
    expect(d.ranking.map((r) => r.fault)).not.toContain('maf-under-reads')
  })
})

describe('other evidence', () => {
  const trims = [
    { kind: 'idle' as const, values: { rpm: 700, maf_gs: 2.2, stft1_pct: 2, ltft1_pct: 9 } },
    { kind: 'hold' as const, values: { rpm: 2500, maf_gs: 7.6, stft1_pct: 2, ltft1_pct: 8 } },
  ]
  const v = vehicle('four-maf')
  it('a duct seen off its clip lifts the duct and nothing else that leaks', () => {
    const before = diagnose(v, typed(trims))
    const after = diagnose(v, { ...typed(trims), findings: [{ test: 'look', outcome: 'fail', station: 'duct' }] })
    expect(p(after, 'unmetered-air-duct')).toBeGreaterThan(0.8)
    expect(p(after, 'unmetered-air')).toBeLessThanOrEqual(p(before, 'unmetered-air') + 0.01)
  })
  it('branches pinched one by one that hold are together one test, and each a part of it', () => {
    const branches = ['booster', 'purge', 'pcv', 'vacuum-lines', 'heater-line'] as const
    const air = (findings: readonly Finding[]): number => p(diagnose(v, { ...typed(trims), findings }), 'unmetered-air')
    const held = branches.map((station): Finding => ({ test: 'pinch', outcome: 'pass', station }))
    const [none, one, three, five, whole] = [
      air([]),
      air(held.slice(0, 1)),
      air(held.slice(0, 3)),
      air(held),
      air([{ test: 'pinch', outcome: 'pass' }]),
    ]
    expect(one).toBeLessThan(none)
    expect(three).toBeLessThan(one)
    expect(five).toBeCloseTo(three, 6)
    expect(whole).toBeCloseTo(three, 6)
    // and stand among the reasons once, as that, whether there are three of them or five
    const fading = typed([
      { kind: 'idle', values: { rpm: 700, maf_gs: 2.2, stft1_pct: 2, ltft1_pct: 14 } },
      { kind: 'hold', values: { rpm: 2500, maf_gs: 7.6, stft1_pct: 0, ltft1_pct: 5 } },
    ])
    const told = (n: number): number[] =>
      diagnose(v, { ...fading, findings: held.slice(0, n) }).reasons['unmetered-air']!.flatMap((r) =>
        r.source === 'finding' ? [r.bits] : [],
      )
    expect(told(5)).toHaveLength(1)
    expect(told(5)[0]).toBeLessThan(0)
    expect(told(5)[0]).toBeCloseTo(told(3)[0], 6)
    // where one of them does not hold, the others say nothing
    const found: Finding = { test: 'pinch', outcome: 'fail', station: 'booster' }
    expect(air([found, ...held.slice(1)])).toBeCloseTo(air([found]), 6)
    // smoke fills all of it, and made again at one place tells of that place
    const smoke: Finding = { test: 'smoke', outcome: 'pass', station: 'booster' }
    expect(air([smoke])).toBeLessThan(air([{ ...smoke, here: true }]))
  })
  it('twenty sound hoses are one look, not twenty proofs', () => {
    const looks = Array.from({ length: 20 }, () => ({
      test: 'look',
      outcome: 'pass' as const,
      station: 'pcv' as const,
    }))
    expect(p(diagnose(v, { ...typed(trims), findings: looks }), 'unmetered-air-duct')).toBeGreaterThan(0.02)
  })
  it('check-up and complaint start from different priors', () => {
    const [a, b] = (['check-up', 'complaint'] as const).map((intent) => p(diagnose(v, { ...blank, intent }), 'none'))
    expect(a).toBeGreaterThan(b + 0.3)
  })
  it('says why: the fading trim speaks for a leak and against a sensor', () => {
    const d = diagnose(
      v,
      typed([trims[0], { ...trims[1], values: { ...trims[1].values, stft1_pct: 0, ltft1_pct: 1 } }]),
    )
    const reasons = d.reasons[d.ranking[0].fault]!
    expect(reasons[0].text).toMatch(/trim fades/)
    expect(reasons[0].bits).toBeGreaterThan(0)
  })
  it('what was measured and tells nothing is not called unmeasured', () => {
    const bodies = vehicle('four-bodies')
    const stop = (e: Evidence): Diagnosis['stop'] => diagnose(bodies, e).stop
    expect(stop(blank).because).toMatch(/^Nothing is measured yet/)
    const slow = typed([{ kind: 'idle', values: { battery_v: 14.1 } }])
    expect(stop(slow)).toMatchObject({ verdict: 'test', because: expect.stringMatching(/does not tell one cause/) })
  })
  it('ranks tests by what they tell a minute and leaves out what was done', () => {
    const d = diagnose(v, typed(trims))
    // hazard and taking apart count as minutes
    const dear = (id: string): number => (testInfo(id).caution?.stop ? 2 : 0) + 2 * testInfo(id).invasive
    const rates = d.nextTests.map((t) => t.bits / (2 + t.minutes + dear(t.test)))
    expect([...rates].sort((a, b) => b - a)).toEqual(rates)
    const done = diagnose(v, { ...typed(trims), findings: [{ test: d.nextTests[0].test, outcome: 'pass' }] })
    expect(done.nextTests.map((t) => t.test)).not.toContain(d.nextTests[0].test)
  })
})

describe('coherence', () => {
  it('hypotheses, with what nothing explains, hold all the probability there is', () => {
    const v = vehicle('four-maf')
    const { points } = typed([
      { kind: 'idle', values: { rpm: 700, maf_gs: 2.2, ltft1_pct: 18 } },
      { kind: 'hold', values: { rpm: 2500, maf_gs: 7.6, ltft1_pct: 5 } },
    ])
    const p = posterior(prepare(observe(points, v), v), { intent: 'complaint', discrete: () => 0, sizes: true })
    expect(p.hypotheses.reduce((s, h) => s + h.probability, p.unexplained)).toBeCloseTo(1, 9)
    for (const [fault, probability] of p.marginal) {
      const weights = p.sizesOf(fault)?.weights
      // what weighs next to nothing is left out
      if (weights && probability > 0.01) expect(weights.reduce((s, w) => s + w, 0) / probability).toBeCloseTo(1, 2)
    }
  })
  it('two cells weighed as if they added up come near the forward model, with a trim at its stop too', () => {
    const v = vehicle('four-maf')
    for (const ltft1_pct of [12, 30]) {
      const { points } = typed([
        { kind: 'idle', values: { rpm: 700, maf_gs: 2.2, stft1_pct: 25, ltft1_pct } },
        { kind: 'hold', values: { rpm: 2500, maf_gs: 7.6, stft1_pct: 3, ltft1_pct: 5 } },
      ])
      const set = observe(points, v)
      const prepared = prepare(set, v)
      const { of, summed } = densitiesOf(
        prepared,
        set.observations.map((_, i) => i),
      )
      const [i, j] = ['unmetered-air', 'maf-under-reads'].map((id) =>
        prepared.candidates.findIndex((c) => c.fault.id === id),
      )
      const [a, b] = [prepared.candidates[i], prepared.candidates[j]]
      const predicted = new Float64Array(set.observations.length)
      for (const [m, n] of [
        [0, 0],
        [10, 3],
        [20, 5],
      ]) {
        const effects = set.contexts.map((_, c) => addEffects({ ...NO_EFFECT }, a.effectsOf(m)[c], b.effectsOf(n)[c]))
        const exact = of(predict(set, effects, predicted))
        expect(Math.abs(summed(i, m, j, n) - exact)).toBeLessThan(0.5)
      }
    }
  })
  it('merging repeats of a point keeps their weighted mean', () => {
    const v = vehicle('four-maf')
    const list = findOperatingPoints(simulateRecording({ vehicle: v, drive: 'shop', seed: 3 }), v).filter(
      (x) => x.kind === 'idle',
    )
    const merged = mergePoints(list)
    expect(merged).toHaveLength(1)
    expect(merged[0].n).toBe(list.reduce((s, x) => s + x.n, 0))
  })
  it('either of two faults may be what a test finds', () => {
    const t = testInfo('smoke')
    expect(findChance(t, ['unmetered-air', 'unmetered-air-duct'])).toBeGreaterThan(
      findChance(t, ['unmetered-air-duct']),
    )
    expect(findChance(t, [])).toBeCloseTo(t.otherwise, 12)
  })
  it('tables name only faults that exist, and STOP cautions say what to do if it has happened', () => {
    const ids = new Set<string>(FAULTS.map((f) => f.id))
    for (const t of TESTS) {
      expect(Object.keys(t.finds).every((id) => ids.has(id))).toBe(true)
      if (t.caution) expect(t.caution.ifHappened.length).toBeGreaterThan(10)
    }
  })
})
