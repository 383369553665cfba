import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { airPathOf, ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import { betterWay, followFeed, methodInfo, METHODS, planFeed, sharingAt, type FeedRequest } from './index.js'

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
    expect(rules(ask({ method: 'water-mist', product: { kind: 'water', afr: 14.5 } }))).toEqual([])
  })
  it('whatever the way, the plan stays inside every limit when it is followed', () =>
    fc.assert(
      fc.property(
        fc.constantFrom(...FEEDS.filter((m) => m.only !== 'water').map((m) => m.id)),
        fc.constantFrom('plenum' as const, 'duct' as const, 'booster' as const, 'throttle' as const),
        fc.double({ min: 4, max: 40, noNaN: true }),
        fc.constantFrom('four-maf', 'v6-maf', 'v8-twin', 'v10-maf', 'three-map'),
        (method, point, airGS, id) => {
          const q = ask({ method, point, airGS, vehicle: vehicle(id) })
          const r = planFeed(q)
          if (!r.ok) return
          const f = followFeed(r.plan, q)
          for (const used of [f.film, f.tenSeconds, f.oneSecond]) expect(used).toBeLessThanOrEqual(1)
          expect(r.plan.worstShare).toBeGreaterThanOrEqual(sharingAt(q.vehicle, point).worst)
        },
      ),
      { numRuns: 60 },
    ))
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
