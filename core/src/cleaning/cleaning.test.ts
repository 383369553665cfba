import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import {
  clearanceMl,
  FEED,
  feedRefusals,
  filmSeconds,
  liquidBoundMl,
  mayTouch,
  methodInfo,
  mixtureLimitGS,
  peakFilmMl,
  planFeed,
  PRODUCTS,
  SURFACES,
  trimRho,
  type FeedPlan,
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

/**
 * The mixture and film equations on their own, second by second in steps of 50 ms, knowing nothing of the planner:
 * worst cylinder's mixture over any ten seconds and any one, and the film, as shares of their limits.
 */
function follow(p: FeedPlan, q: FeedRequest): { ten: number; one: number; film: number; fed: number } {
  const m = methodInfo(q.method)
  const dt = 0.05
  const tau = 40 * 2 ** (Math.max(0, 90 - q.coolantC) / 25)
  const density = q.product.kind === 'water' ? 1 : 0.8
  let film = 0
  let fed = 0
  let worst = { ten: 0, one: 0, film: 0 }
  const vapour: number[] = []
  const cycle = p.shotS + p.pauseS
  for (let t = 0; t < p.shots * cycle + 60; t += dt) {
    const open = t < p.shots * cycle && t % cycle < p.shotS
    const rate = open ? p.rateMlS : 0
    fed += rate * dt
    const leaving = film / tau
    film += (m.wetShare * rate - leaving) * dt
    vapour.push(((1 - m.wetShare) * rate + leaving) * density * m.worstShare)
    const mean = (seconds: number): number => {
      const n = Math.min(vapour.length, Math.round(seconds / dt))
      let s = 0
      for (let k = vapour.length - n; k < vapour.length; k++) s += vapour[k]
      return s / Math.round(seconds / dt)
    }
    const rho = q.trims
      ? Math.max((1 + q.trims.totalMin) / (1 + q.trims.total), (1 + q.trims.shortMin) / (1 + q.trims.short), 0.83)
      : 1
    const ten = q.product.kind === 'water' ? 0.03 * q.airGS : (q.airGS / q.product.afr) * (1 / 0.85 - Math.min(1, rho))
    const one = q.product.kind === 'water' ? ten : (q.airGS / q.product.afr) * (1 / 0.65 - 1)
    worst = {
      ten: Math.max(worst.ten, mean(10) / ten),
      one: Math.max(worst.one, mean(1) / one),
      film: Math.max(
        worst.film,
        film / (0.1 * ((q.vehicle.displacementL * 1000) / (q.vehicle.cylinders * (q.vehicle.compressionRatio - 1)))),
      ),
    }
  }
  return { ...worst, fed }
}

describe('plans', () => {
  it('a warm 2.4 L gets a plan inside its limits', () => {
    const r = planFeed(good())
    expect(r.ok).toBe(true)
    if (!r.ok) return
    const w = follow(r.plan, good())
    expect(Math.max(w.ten, w.one, w.film)).toBeLessThanOrEqual(1)
    expect(r.plan.shots * r.plan.rateMlS * r.plan.shotS).toBeGreaterThanOrEqual(60 - 1e-9)
  })
  it('10,000 random engines and methods: no second of any plan exceeds mixture, liquid or label', () => {
    const any = fc.record({
      displacementL: fc.double({ min: 0.8, max: 6, noNaN: true }),
      cylinders: fc.constantFrom(3, 4, 5, 6, 8),
      compressionRatio: fc.double({ min: 8, max: 13, noNaN: true }),
      method: fc.constantFrom('aerosol-ahead-of-plate' as const, 'metered-port' as const),
      kind: fc.constantFrom('combustible' as const, 'water' as const),
      afr: fc.double({ min: 9, max: 15, noNaN: true }),
      doseMl: fc.double({ min: 1, max: 30, noNaN: true }),
      airGS: fc.double({ min: 1, max: 40, noNaN: true }),
      coolantC: fc.double({ min: 75, max: 105, noNaN: true }),
      trim: fc.double({ min: -0.2, max: 0.2, noNaN: true }),
      known: fc.boolean(),
      labelRate: fc.option(fc.double({ min: 0.05, max: 1, noNaN: true })),
    })
    let planned = 0
    fc.assert(
      fc.property(any, (x) => {
        const q = good({
          vehicle: vehicle({
            displacementL: x.displacementL,
            cylinders: x.cylinders,
            compressionRatio: x.compressionRatio,
          }),
          method: x.method,
          product: { kind: x.kind, afr: x.afr },
          doseMl: x.doseMl,
          airGS: x.airGS,
          coolantC: x.coolantC,
          trims: x.known ? { total: x.trim, totalMin: -0.25, short: 0, shortMin: -0.2 } : undefined,
          labelRateMlS: x.labelRate ?? undefined,
        })
        const r = planFeed(q)
        if (!r.ok) return r.refusals.every((f) => f.rule === 'no-safe-rate')
        planned++
        // a row of shots repeats: its film has reached its height after twenty
        const w = follow({ ...r.plan, shots: Math.min(r.plan.shots, 20) }, q)
        return (
          w.ten <= 1 &&
          w.one <= 1 &&
          w.film <= 1 &&
          r.plan.rateMlS <= (x.labelRate ?? Infinity) &&
          q.doseMl <= q.labelMaxMl
        )
      }),
      { numRuns: 10_000 },
    )
    expect(planned).toBeGreaterThan(3000)
  }, 120_000)
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
    ['fuel-cut', { fuelCutAbove: 1800 }],
    ['method', { method: 'cloth-in-place' }],
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
