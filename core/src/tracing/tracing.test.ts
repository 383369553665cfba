import { describe, expect, it } from '@jest/globals'
import { airPathOf, ENGINE_PATTERNS } from '../engine/index.js'
import type { Ranked } from '../diagnosis/index.js'
import { ledgerOf, nextPlaces, pinchedAreaMm2, siteShares, smokeAreaMm2 } from './index.js'

const total = { median: 4, low: 3.4, high: 4.6 }

describe('ledger of unmetered air', () => {
  it('with no entry everything is left', () =>
    expect(ledgerOf(total, [])).toMatchObject({ locatedMm2: 0, closed: false, remaining: { median: 4 } }))
  it('takes off what has a place and keeps the rest with its interval', () => {
    const l = ledgerOf(total, [{ station: 'pcv', areaMm2: 2.4, sdMm2: 0.3, repaired: true, how: 'smoke' }])
    expect(l.remaining.median).toBeCloseTo(1.6, 9)
    expect(l.repairedMm2).toBe(2.4)
    expect(l.closed).toBe(false)
    // quadrature of ±0.6 and ±1.645·0.3
    expect(l.remaining.high - l.remaining.median).toBeCloseTo(Math.hypot(0.6, 1.645 * 0.3), 9)
  })
  it('closes when the remainder reaches down to nothing', () =>
    expect(
      ledgerOf(total, [{ station: 'booster', areaMm2: 3.9, sdMm2: 0.3, repaired: true, how: 'pinch' }]).closed,
    ).toBe(true))
  it('keeps a place without a size apart', () =>
    expect(ledgerOf(total, [{ station: 'duct', repaired: false, how: 'look' }]).unsized).toEqual(['duct']))
  it('refuses a total below zero', () =>
    expect(() => ledgerOf({ median: -1, low: -2, high: 0 }, [])).toThrow(RangeError))
})

it('a total that is a bound may be far more and hardly less', () => {
  const l = ledgerOf({ median: 4, low: 3.6, high: 8 }, [{ station: 'pcv', areaMm2: 2, repaired: false, how: 'smoke' }])
  expect(l.remaining.median).toBe(2)
  expect(l.remaining.high).toBeGreaterThan(5.9)
  expect(l.remaining.low).toBeGreaterThan(1.2)
})

describe('sizes', () => {
  it('a pinch that takes 10 % of trim at 2.5 g/s is 0.25 g/s', () =>
    expect(pinchedAreaMm2(0.15, 0.05, 2.5e-3, 200)).toBeCloseTo(1.25, 9))
  it('a pinch that changes nothing is nothing, never less', () =>
    expect(pinchedAreaMm2(0.1, 0.12, 2.5e-3, 200)).toBe(0))
  it('smoke at 3.5 kPa reads small', () => expect(smokeAreaMm2(3, 3500)).toBeCloseTo(3.85, 1))
})

describe('the test that names the place soonest', () => {
  const path = airPathOf({ ...ENGINE_PATTERNS.find((p) => p.id === 'v6-maf')!.vehicle, name: 'x', altitudeM: 0 })
  const at = (booster: number): { station: 'booster' | 'gaskets'; probability: number }[] => [
    { station: 'booster', probability: booster },
    { station: 'gaskets', probability: 1 - booster },
  ]
  it('a likely hose is pinched, an unlikely one left to the smoke', () => {
    expect(nextPlaces(path, at(0.6), [])[0]).toMatchObject({ test: 'pinch', station: 'booster' })
    const [all] = nextPlaces(path, at(0.1), [])
    expect([all.test, all.station]).toEqual(['smoke', undefined])
  })
  it('nothing twice, nothing without its equipment, a fire risk last', () => {
    const tried = [{ test: 'smoke', station: 'gaskets' as const }]
    expect(nextPlaces(path, at(0.1), tried).map((t) => t.test)).toEqual(['enrichment', 'pinch'])
    expect(nextPlaces(path, at(0.1), [], (t) => t !== 'smoke').map((t) => t.test)).not.toContain('smoke')
    expect(nextPlaces(path, [], [])).toEqual([])
  })
  it('a hose that was closed off for its valve is not pinched once more', () => {
    const v6 = airPathOf({ ...ENGINE_PATTERNS.find((p) => p.id === 'v6-maf')!.vehicle, name: 'x', altitudeM: 0 })
    const sites = [{ station: 'purge' as const, probability: 0.8 }]
    expect(nextPlaces(v6, sites, [])[0]).toMatchObject({ test: 'pinch', station: 'purge' })
    for (const found of [true, false])
      expect(
        nextPlaces(v6, sites, [{ test: 'purge-pinch', station: 'purge', found }]).map((t) => t.test),
      ).not.toContain('pinch')
  })
  it('a place where air was found is not asked to be named once more', () => {
    const tried = [{ test: 'smoke', station: 'booster' as const, found: true }]
    expect(nextPlaces(path, at(0.9), tried).map((t) => t.test)).toEqual(['enrichment'])
  })
})

describe('where it comes in', () => {
  it('a throttle’s gasket counts with what comes in behind the plate', () =>
    expect(
      siteShares(
        airPathOf({ ...ENGINE_PATTERNS[0].vehicle, name: 'x', altitudeM: 0 }),
        [{ fault: 'unmetered-air', probability: 1, sentence: '' }],
        [],
      ).find((s) => s.station === 'throttle')!.probability,
    ).toBeGreaterThan(0.02))
  const path = airPathOf({ ...ENGINE_PATTERNS.find((p) => p.id === 'v6-maf')!.vehicle, name: 'x', altitudeM: 0 })
  const ranked = (fault: Ranked['fault'], probability: number): Ranked => ({ fault, probability, sentence: '' })
  const share = (list: ReturnType<typeof siteShares>, id: string): number =>
    list.find((s) => s.station === id)?.probability ?? 0
  it('sums to one and follows the cause', () => {
    const s = siteShares(path, [ranked('unmetered-air-duct', 0.9), ranked('unmetered-air', 0.05)], [])
    expect(s.reduce((a, x) => a + x.probability, 0)).toBeCloseTo(1, 9)
    expect(share(s, 'duct')).toBeGreaterThan(0.6)
  })
  it('a find outweighs, a pass takes away, a mended place is all but out', () => {
    const r = [ranked('unmetered-air', 0.9)]
    const plain = siteShares(path, r, [])
    const found = siteShares(path, r, [{ test: 'smoke', outcome: 'fail', station: 'booster' }])
    expect(share(found, 'booster')).toBeGreaterThan(0.8)
    expect(
      share(siteShares(path, r, [{ test: 'pinch', outcome: 'pass', station: 'booster' }]), 'booster'),
    ).toBeLessThan(share(plain, 'booster') / 4)
    expect(
      share(
        siteShares(path, r, [{ test: 'smoke', outcome: 'fail', station: 'booster' }], new Set(['booster'])),
        'booster',
      ),
    ).toBeLessThan(0.05)
  })
  it('a valve that stands open is where its branch joins, and smoke does not show it', () => {
    const hole = siteShares(path, [ranked('unmetered-air', 0.14)], [])
    const s = siteShares(path, [ranked('pcv-stuck-open', 0.86), ranked('unmetered-air', 0.14)], [])
    expect(s.reduce((a, x) => a + x.probability, 0)).toBeCloseTo(1, 9)
    expect(share(s, 'pcv')).toBeCloseTo(0.86 + 0.14 * share(hole, 'pcv'), 6)
    expect(nextPlaces(path, s, [])[0]).toMatchObject({ test: 'pinch', station: 'pcv' })
    expect(nextPlaces(path, s, []).find((x) => x.test === 'smoke')!.chance).toBeLessThan(0.15)
    expect(share(siteShares(path, [ranked('pcv-stuck-open', 0.86)], [], new Set(['pcv'])), 'pcv')).toBeCloseTo(1, 6)
  })
  it('nothing lets air in, no place is named', () => expect(siteShares(path, [ranked('none', 1)], [])).toEqual([]))
})
