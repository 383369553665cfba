import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import {
  clearanceMl,
  FEED,
  feedRefusals,
  filmSeconds,
  liquidBoundMl,
  mayTouch,
  mixtureLimitGS,
  peakFilmMl,
  planFeed,
  shotReaches,
  PRODUCTS,
  SURFACES,
  trimRho,
  type FeedRequest,
} from './index.js'

const vehicle = (part: Partial<Vehicle> = {}): Vehicle => ({
  ...ENGINE_PATTERNS[0].vehicle,
  name: 'x',
  altitudeM: 0,
  displacementL: 2.4,
  ...part,
})
const good = (part: Partial<FeedRequest> = {}): FeedRequest => ({
  vehicle: vehicle(),
  method: 'metered-port',
  product: { kind: 'combustible', afr: 14.5 },
  doseMl: 60,
  labelMaxMl: 250,
  point: 'plenum',
  airGS: 9,
  rpm: 2000,
  speedFrom: 'scan',
  coolantC: 90,
  trims: { total: 0, totalMin: -0.25, short: 0, shortMin: -0.2 },
  extraction: true,
  fireCover: true,
  lampFlashing: false,
  heldRunning: true,
  boostKpa: 0,
  feedRunning: false,
  ...part,
})

describe('limits', () => {
  it.each([
    [0.83, 0.143],
    [0.9, 0.114],
    [1, 0.073],
  ])('6.0 g/s at ρ %d allows %d g/s', (rho, gs) => expect(mixtureLimitGS(6, 14.5, 0.85, rho)).toBeCloseTo(gs, 3))
  it('over one second 0.223 g/s', () => expect(mixtureLimitGS(6, 14.5, 0.65, 1)).toBeCloseTo(0.223, 3))
  it('authority: from 0 to −25 % is 0.75, from −10 % is 0.833; the rebound floor is 0.83; unknown is 1', () => {
    expect((1 - 0.25) / (1 + 0)).toBe(0.75)
    expect(trimRho({ total: 0, totalMin: -0.25, short: 0, shortMin: -0.25 })).toBe(0.83)
    expect(trimRho({ total: -0.1, totalMin: -0.25, short: 0, shortMin: -0.25 })).toBeCloseTo(0.8333, 4)
    expect(trimRho(undefined)).toBe(1)
  })
  it('clearance: 2.4 L, 4, 10.5 is 63.2 mL; 5.2 L, 8, 9.8 is 73.9 mL', () => {
    expect(clearanceMl(2.4, 4, 10.5)).toBeCloseTo(63.2, 1)
    expect(clearanceMl(5.2, 8, 9.8)).toBeCloseTo(73.9, 1)
    expect(liquidBoundMl(2.4, 4, 10.5)).toBeCloseTo(6.32, 2)
  })
  it('a steady straw at 0.263 mL/s fills the film to the bound', () =>
    expect(peakFilmMl(0.263, 0.6, 40, 1e6, 0)).toBeCloseTo(6.32, 1))
  it('a cooler engine evaporates more slowly', () => {
    expect(filmSeconds(90)).toBe(40)
    expect(filmSeconds(65)).toBe(80)
    expect(() => filmSeconds(NaN)).toThrow(RangeError)
  })
})

describe('plans', () => {
  it('a warm 2.4 L gets a plan inside its limits, a shot twice as long too', () => {
    const r = planFeed(good())
    if (!r.ok) throw new Error('no plan')
    const { rateMlS, shotS, pauseS, limits, shots } = r.plan
    const before = peakFilmMl(rateMlS, limits.wetShare, limits.tauS, shotS, pauseS) * Math.exp(-pauseS / limits.tauS)
    for (const [times, most] of [
      [1, 0.9],
      [2, 0.98],
    ]) {
      const used = shotReaches(limits, { rateMlS, shotS: times * shotS, filmBeforeMl: before })
      expect(Math.max(used.film, used.tenSeconds, used.oneSecond)).toBeLessThanOrEqual(most)
    }
    expect(shots * rateMlS * shotS).toBeGreaterThanOrEqual(60 - 1e-9)
  })
  it('of plans nearly as fast the one with the fewest shots is taken', () => {
    const r = planFeed(good({ airGS: 14 }))
    expect(r.ok && r.plan.shots).toBeLessThan(80)
  })
})

describe('what is refused, with its reason', () => {
  const rules = (part: Partial<FeedRequest>): string[] => feedRefusals(good(part)).map((r) => r.rule)
  it.each([
    ['label', { doseMl: 300 }],
    ['ahead-of-airflow-sensor', { point: 'filter' }],
    ['ahead-of-compressor', { vehicle: vehicle({ induction: 'turbo' }), point: 'duct' }],
    ['boost', { vehicle: vehicle({ induction: 'turbo' }), boostKpa: 10 }],
    ['diesel', { vehicle: vehicle({ fuel: 'diesel' }) }],
    ['coolant-band', { coolantC: 40 }],
    ['extraction', { extraction: false }],
    ['fire-cover', { fireCover: false }],
    ['guessed-speed', { speedFrom: 'guessed' }],
    ['one-feed', { feedRunning: true }],
    ['lamp-flashing', { lampFlashing: true }],
    ['held-running', { heldRunning: false }],
    ['particulate-filter', { vehicle: vehicle({ injection: 'direct' }), filterClear: false }],
    ['fuel-cut', { fuelCutAbove: 1800 }],
    ['method', { method: 'cloth-in-place' }],
    ['method-point', { method: 'mist-raised-idle' }],
    ['no-such-point', { point: 'flaps' }],
    ['no-opening', { point: 'gaskets' }],
    ['together', { point: 'duct', method: 'mist-raised-idle', together: true }],
    ['canister-pressure', { method: 'canister', equipment: { pressureBar: 20, nozzleMm: 0.3 } }],
    ['canister-pressure', { method: 'canister', equipment: { pressureBar: 0, nozzleMm: 0.3 } }],
    ['nozzle', { method: 'canister', equipment: { pressureBar: 3, nozzleMm: 5 } }],
    ['equipment-unknown', { method: 'canister' }],
    ['airflow', { airGS: NaN }],
  ] as [string, Partial<FeedRequest>][])('%s', (rule, part) => expect(rules(part)).toContain(rule))
  it('water may go into a diesel, a combustible never, at any speed', () => {
    expect(rules({ vehicle: vehicle({ fuel: 'diesel' }), product: { kind: 'water', afr: 14.5 } })).toEqual([])
    expect(planFeed(good({ vehicle: vehicle({ fuel: 'diesel' }), rpm: 4000, airGS: 90 })).ok).toBe(false)
  })
  it('too little air says what to do', () => {
    const r = planFeed(good({ airGS: 0.05 }))
    expect(r.ok ? '' : r.refusals[0].message).toMatch(/Hold a higher speed/)
  })
})

describe('product on surface', () => {
  it('the element is for its own cleaner alone', () =>
    expect(PRODUCTS.filter((p) => mayTouch(p.id, 'airflow-element').ok).map((p) => p.id)).toEqual(['airflow-cleaner']))
  it('chlorinated cleaner goes nowhere; a metal brush not on a coated bore', () => {
    expect(SURFACES.some((s) => mayTouch('chlorinated-brake-cleaner', s.id).ok)).toBe(false)
    expect(mayTouch('metal-brush', 'throttle-coated')).toMatchObject({
      ok: false,
      reason: expect.stringContaining('scrapes the coating'),
    })
  })
  it('what no table names is refused until its label says so', () =>
    expect(mayTouch('water-soap', 'throttle-plate')).toMatchObject({
      ok: false,
      reason: expect.stringContaining('label'),
    }))
  it('no constant is looser than it was set', () =>
    expect(FEED).toMatchObject({ lambdaMin: 0.85, clearanceShare: 0.1, waterPerAir: 0.03 }))
})
