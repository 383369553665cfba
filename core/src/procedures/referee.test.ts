import { describe, expect, it } from '@jest/globals'
import { feedPointsOf, methodInfo, planFeed, plenumPlaces, plenumShares, sharingAt } from '../cleaning/index.js'
import { ENGINE_PATTERNS } from '../engine/index.js'
import { parcelShares } from '../simulation/index.js'
import { seededRandom } from '../statistics/index.js'
import { feedRunState, followFlow, ownShare, randomFeed, refereed, workFeed, type Slip } from './index.js'

const engines = ENGINE_PATTERNS.filter((p) => p.vehicle.plenum !== 'individual').map((p) => ({
  ...p.vehicle,
  name: p.id,
  altitudeM: 0,
}))

describe('sharing against parcels in the simulated engine', () => {
  it('four places from one end, let in at the far one: 1.94 there', () =>
    expect(Math.max(...plenumShares(4, 3, 'one-end'))).toBeCloseTo(1.94, 2))
  it.each(['one-end', 'both-ends'] as const)(
    'every engine, every place, inflow %s: within 10 %%',
    (inflow) => {
      for (const v of engines) {
        const places = plenumPlaces(v)
        for (let at = 0; at < places; at++) {
          const stated = plenumShares(places, at, inflow)
          const got = parcelShares({ vehicle: v, seed: 3, at, inflow, parcels: 12_000 })
          // runners of one place draw from one mixture
          stated.forEach((x, place) => {
            const here = got.filter((_, k) => k % places === place)
            const mean = here.reduce((a, b) => a + b, 0) / here.length
            expect(Math.abs(mean - x)).toBeLessThan(0.1 * x + 0.02)
          })
        }
      }
    },
    60_000,
  )
  it('what a plan reckons with is never less than a tenth below what the engine does', () => {
    for (const v of engines)
      for (const p of feedPointsOf(v)) {
        const { request } = randomFeed(seededRandom(1))
        const own = ownShare({ ...request, vehicle: v, point: p.point, together: false }, 5)
        expect(sharingAt(v, p.point).worst).toBeGreaterThan(0.9 * own)
      }
  }, 60_000)
})

describe('the referee', () => {
  const some = (slips: readonly Slip[], seed: number) => {
    const random = seededRandom(seed)
    for (;;) {
      const { request } = randomFeed(random)
      const planned = planFeed(request)
      if (planned.ok && planned.plan.shots > 4) return { request, plan: planned.plan, random, slips }
    }
  }
  it('random engines, ways and slips: none over mixture, liquid, label', () => {
    const random = seededRandom(5)
    let planned = 0
    for (let i = 0; i < 400; i++) {
      const { request, slips } = randomFeed(random)
      const w = refereed(request, ownShare(request, i), slips, random)
      if (!w) continue
      planned++
      for (const used of [w.tenSeconds, w.oneSecond, w.film, w.label - 1e-9]) expect(used).toBeLessThanOrEqual(1)
    }
    expect(planned).toBeGreaterThan(250)
  }, 60_000)
  it('sees a rate that is too fast', () => {
    const { request, plan, random } = some([], 9)
    const flows = workFeed(request, plan, [], random).flows.map((x) => ({ ...x, rateMlS: 8 * x.rateMlS }))
    const w = followFlow(request, flows, methodInfo(request.method).wetShare, plan.worstShare)
    expect(Math.max(w.tenSeconds, w.oneSecond, w.film)).toBeGreaterThan(1)
  })
  it('a feed with two slips goes on, ends, and counts no less than flowed', () => {
    for (let seed = 1; seed < 20; seed++) {
      const { request, plan, random } = some(['long', 'doubled'], seed)
      const worked = workFeed(request, plan, ['long', 'doubled'], random)
      const s = feedRunState(plan, request, worked.events, worked.events.at(-1)!.atMs)
      const flowed = worked.flows.reduce((ml, x) => ml + x.rateMlS * (x.toS - x.fromS), 0)
      expect(worked.ended).toBe(true)
      expect(s.fedMl).toBeGreaterThanOrEqual(flowed - 1e-6)
    }
  })
})
