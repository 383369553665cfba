import { describe, expect, it } from '@jest/globals'
import { airPathOf, ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import {
  betterWay,
  boreMlS,
  equipmentRate,
  feedPointsOf,
  feedRefusals,
  methodInfo,
  METHODS,
  planFeed,
  pointRefusals,
  pressureFor,
  sharingAt,
  type FeedRequest,
} from './index.js'

const vehicle = (id = 'four-maf', part: Partial<Vehicle> = {}): Vehicle => ({
  ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle,
  name: 'x',
  altitudeM: 0,
  confirmed: ['displacementL', 'cylinders', 'compressionRatio'],
  ...part,
})
const ask = (part: Partial<FeedRequest> = {}): FeedRequest => ({
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
  extraction: true,
  fireCover: true,
  lampFlashing: false,
  heldRunning: true,
  boostKpa: 0,
  feedRunning: false,
  ...part,
})
const FEEDS = METHODS.filter((m) => m.feeds)

describe('ways to feed', () => {
  it.each(FEEDS.map((m) => m.id))('%s says where the hands are, what stops it and how it is closed down', (id) => {
    const m = methodInfo(id)
    for (const words of [m.hands, m.engineDoes, m.stoppedBy]) expect(words!.length).toBeGreaterThan(5)
    expect(m.closeDown!.length).toBeGreaterThanOrEqual(2)
    expect(m.wetShare).toBeGreaterThan(0)
    expect(m.wetShare).toBeLessThanOrEqual(1)
  })
  it('a canister is closed by its valve before the engine stops, and bled before it is removed', () => {
    const order = methodInfo('canister').closeDown!
    expect(order.slice(0, 4)).toEqual(['valve shut', 'engine off', 'regulator to zero', 'air off'])
    expect(order.indexOf('bled')).toBeLessThan(order.indexOf('removed'))
    expect(methodInfo('canister').stoppedBy).toMatch(/vacuum alone still feeds/)
  })
  it('a mister of water takes water, a canister of cleaner takes none', () => {
    const rules = (q: FeedRequest): string[] => {
      const r = planFeed(q)
      return r.ok ? [] : r.refusals.map((x) => x.rule)
    }
    expect(rules(ask({ method: 'water-mist' }))).toContain('method-product')
    expect(rules(ask({ method: 'canister', product: { kind: 'water', afr: 14.5 } }))).toContain('method-product')
    expect(rules(ask({ method: 'water-mist', point: 'duct', product: { kind: 'water', afr: 14.5 } }))).toEqual([])
  })
  it('no lamp is watched on an engine that has no controller', () => {
    const signs = (q: FeedRequest): string => {
      const r = planFeed(q)
      return r.ok ? r.plan.stopSigns.join(' ') : r.refusals.map((x) => x.rule).join(' ')
    }
    expect(signs(ask())).toMatch(/lamp/)
    expect(signs(ask({ vehicle: vehicle('four-maf', { injection: 'carburettor' }) }))).toMatch(/^speed falls/)
  })
  it('a way that takes hundreds of shots is told to be too small, with one that is not', () => {
    const q = ask({ method: 'drip-line', doseMl: 200, airGS: 14 })
    const r = planFeed(q)
    expect(r.ok).toBe(true)
    const better = r.ok ? betterWay(q, r.plan) : undefined
    expect(better!.minutes).toBeLessThan(r.ok ? 0.6 * r.plan.minutes : 0)
    const quick = ask({ doseMl: 10, airGS: 20 })
    const plan = planFeed(quick)
    expect(plan.ok && betterWay(quick, plan.plan)).toBe(undefined)
  })
  it('film that is left of the last feed stands in the next plan', () => {
    const fresh = planFeed(ask())
    const after = planFeed(ask({ filmStartMl: 2 }))
    expect(fresh.ok && after.ok && after.plan.minutes >= fresh.plan.minutes).toBe(true)
    const full = planFeed(ask({ filmStartMl: 20 }))
    expect(full.ok ? '' : full.refusals[0].message).toMatch(/film may be left of the last feed/)
  })
})

describe('what sets the rate', () => {
  const canister = (part: Partial<FeedRequest> = {}): FeedRequest =>
    ask({ method: 'canister', point: 'duct', airGS: 14, equipment: { pressureBar: 4, nozzleMm: 0.2 }, ...part })
  it('3 bar through 0.3 mm passes 1.26 mL/s; four times the pressure twice as much, none none', () => {
    expect(boreMlS(300, 0.3)).toBeCloseTo(1.258, 3)
    expect(boreMlS(1200, 0.3)).toBeCloseTo(2 * boreMlS(300, 0.3), 9)
    expect(boreMlS(-5, 0.3)).toBe(0)
    expect(pressureFor(boreMlS(300, 0.3), 0.3, 0)).toBeCloseTo(3, 9)
    expect(pressureFor(0.1, 0.3, 60)).toBe(undefined)
  })
  it('a canister is set to a pressure at which it feeds what is planned, the vacuum with it', () => {
    for (const q of [canister(), canister({ point: 'plenum', vacuumKpa: 55 })]) {
      const r = planFeed(q)
      if (!r.ok) throw new Error(r.refusals[0].message)
      const vacuum = q.point === 'plenum' ? 55 : 0
      expect(boreMlS(100 * r.plan.pressureBar! + vacuum, 0.2)).toBeCloseTo(r.plan.rateMlS, 9)
      expect(r.plan.pressureBar).toBeLessThanOrEqual(4 + 1e-9)
      expect(r.plan.atZeroMlS).toBeCloseTo(boreMlS(vacuum, 0.2), 9)
    }
  })
  it('a nozzle through which the least pressure is too much is refused with what passes', () => {
    const r = planFeed(canister({ equipment: { pressureBar: 3, nozzleMm: 1.2 } }))
    expect(r.ok ? [] : r.refusals).toMatchObject([
      { rule: 'no-safe-rate', message: expect.stringContaining('smaller nozzle') },
    ])
  })
  it('a can is weighed: 24 g in 30 s is 1 mL/s', () =>
    expect(equipmentRate('aerosol-ahead-of-plate', { massG: 24, overS: 30 }, 0).rateMlS).toBeCloseTo(1, 9))
  it('a bottle without a measured bore feeds as its way is known to', () =>
    expect(equipmentRate('gravity-bleed', undefined, 60).rateMlS).toBe(methodInfo('gravity-bleed').rateMlS))
})

describe('two inlets fed together', () => {
  const twin = (part: Partial<FeedRequest> = {}): FeedRequest =>
    ask({ vehicle: vehicle('v8-twin'), method: 'mist-raised-idle', point: 'throttle', airGS: 22, doseMl: 60, ...part })
  it('share nearly evenly, where one alone feeds its side, and take half the time or less', () => {
    const [both, one] = [planFeed(twin({ together: true })), planFeed(twin())]
    if (!both.ok || !one.ok) throw new Error('no plan')
    expect(both.plan.inlets).toBe(2)
    expect(both.plan.worstShare).toBeLessThan(one.plan.worstShare)
    expect(both.plan.minutes).toBeLessThan(one.plan.minutes)
  })
})

describe('where this engine can be fed', () => {
  it.each(ENGINE_PATTERNS.map((p) => p.id))('%s: the most even first, nothing that is forbidden', (id) => {
    const points = feedPointsOf(vehicle(id))
    expect(points.length).toBeGreaterThan(0)
    expect(points.map((p) => p.worst)).toEqual([...points.map((p) => p.worst)].sort((a, b) => a - b))
    for (const p of points) expect(pointRefusals(vehicle(id), p.point)).toEqual([])
  })
})

describe('a coated bore, or one whose label says not to clean it', () => {
  it.each([{ coatedBore: true }, { doNotClean: ['throttle' as const] }])('is fed behind its plate: %j', (spec) => {
    const v = { ...vehicle('four-maf'), ...spec }
    const rules = (part: Partial<FeedRequest>): string[] =>
      feedRefusals(ask({ vehicle: v, ...part })).map((r) => r.rule)
    const [first] = feedPointsOf(v)
    expect(first.ahead).toBe(false)
    expect(rules({ point: 'throttle' })).toContain('coated-bore')
    expect(rules({ point: first.point })).not.toContain('coated-bore')
    // water takes no coating off
    expect(rules({ point: 'throttle', product: { kind: 'water', afr: 14.5 } })).not.toContain('coated-bore')
    expect(feedRefusals(ask({ point: 'throttle' })).map((r) => r.rule)).not.toContain('coated-bore')
  })
})

describe('how a feed point shares', () => {
  it('a single runner gets all of it, ahead of the plate nearly even, a side port uneven', () => {
    expect(sharingAt(vehicle('v8-maf'), 'runners-1').worst).toBe(8)
    expect(sharingAt(vehicle('four-bodies'), 'throttle').worst).toBe(4)
    expect(sharingAt(vehicle(), 'duct').worst).toBeLessThan(sharingAt(vehicle(), 'plenum').worst)
    expect(sharingAt(vehicle(), 'plenum').worst).toBeLessThan(sharingAt(vehicle(), 'booster').worst)
  })
  it('one inlet of two feeds its side, and with a plenum a bank only its bank', () => {
    expect(sharingAt(vehicle('v8-twin'), 'duct-2').words).toMatch(/its side gets more/)
    expect(sharingAt(vehicle('v8-twin', { plenum: 'per-bank' }), 'duct').worst).toBeGreaterThan(2)
  })
  it('every station of every engine has a share from even to all in one', () => {
    for (const p of ENGINE_PATTERNS) {
      const v = vehicle(p.id)
      for (const s of airPathOf(v).stations) {
        const { worst } = sharingAt(v, s.info.id)
        expect(worst).toBeGreaterThanOrEqual(1)
        expect(worst).toBeLessThanOrEqual(Math.max(v.cylinders, 2.3))
      }
    }
  })
})
