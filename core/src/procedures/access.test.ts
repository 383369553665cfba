import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { airPathOf, ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import { accessTo, batteryAdvice, inNewtonMetres, passesOf, placesOf, tighteningOrder } from './index.js'

const vehicle = (id: string, part: Partial<Vehicle> = {}): Vehicle => ({
  ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle,
  name: 'x',
  altitudeM: 0,
  ...part,
})
const way = (v: Vehicle, station: Parameters<typeof accessTo>[1]): string[] =>
  accessTo(v, station).map((s) => s.station)

describe('the way in', () => {
  it('a separator under the manifold brings the manifold, outermost first', () =>
    expect(way(vehicle('six-line', { separator: 'under-manifold' }), 'separator')).toEqual([
      'duct',
      'throttle',
      'plenum',
      'gaskets',
      'separator',
    ]))
  it('one in reach brings nothing', () =>
    expect(way(vehicle('six-line', { separator: 'open' }), 'separator')).toEqual(['separator']))
  it('a throttle of the second inlet lies behind the second duct', () =>
    expect(way(vehicle('v8-twin'), 'throttle-2')).toEqual(['duct-2', 'throttle-2']))
  it('a diesel’s manifold lies behind its flap and charge pipe', () =>
    expect(way(vehicle('diesel-four'), 'gaskets')).toEqual(['boost-pipe', 'throttle-flap', 'plenum', 'gaskets']))
  it('every station of every engine can be reached, itself last and each once', () => {
    for (const p of ENGINE_PATTERNS) {
      const v = vehicle(p.id, { egr: 'valve', egrCooler: true, flaps: true })
      for (const { info } of airPathOf(v).stations) {
        const list = way(v, info.id)
        expect(list.at(-1)).toBe(info.id)
        expect(new Set(list).size).toBe(list.length)
      }
    }
  })
  it('a station that the engine has not is refused', () =>
    expect(() => accessTo(vehicle('four-map'), 'airflow-sensor')).toThrow(RangeError))
  it('the battery stays on for a duct and comes off for a manifold, each with the other school', () => {
    expect(batteryAdvice(['duct'])).toMatchObject({ off: false })
    expect(batteryAdvice(['duct', 'gaskets'])).toMatchObject({ off: true })
    expect(batteryAdvice(['gaskets']).other.length).toBeGreaterThan(20)
  })
})

describe('tightening', () => {
  it('four round a hole cross over', () => expect(tighteningOrder(4, 'round')).toEqual([0, 2, 1, 3]))
  it('six round a hole: each opposite or far from the one before', () => {
    const order = tighteningOrder(6, 'round')
    expect(order.slice(0, 2)).toEqual([0, 3])
    const places = placesOf(6, 'round')
    order.slice(1).forEach((i, k) => {
      const before = places[order[k]]
      expect(Math.hypot(places[i].x - before.x, places[i].y - before.y)).toBeGreaterThan(0.99)
    })
  })
  it('two rows go from the centre out', () => {
    const places = placesOf(8, 'rows')
    const along = tighteningOrder(8, 'rows').map((i) => Math.abs(places[i].x))
    expect(along).toEqual([...along].sort((a, b) => a - b))
  })
  it('every fastener once, whatever the joint', () =>
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 40 }), fc.constantFrom('round' as const, 'rows' as const), (n, shape) => {
        expect([...tighteningOrder(n, shape)].sort((a, b) => a - b)).toEqual(Array.from({ length: n }, (_, i) => i))
      }),
    ))
  it('refuses half a fastener', () => expect(() => placesOf(2.5, 'round')).toThrow(RangeError))
  // NIST SP 811, app. B: 1 lbf·ft = 1.355 818 N·m, 1 lbf·in = 0.112 984 8 N·m
  it('knows its units', () => {
    expect(inNewtonMetres({ value: 10, unit: 'ft·lb' })).toBeCloseTo(13.558, 3)
    expect(inNewtonMetres({ value: 89, unit: 'in·lb' })).toBeCloseTo(10.0557, 3)
  })
  it('an unknown torque has no figure', () => {
    expect(passesOf(undefined, 4).join()).not.toMatch(/\d/)
    expect(passesOf(undefined, 4).join()).toMatch(/unknown/)
  })
  it('a known one is drawn down in passes, with where it is from', () => {
    expect(passesOf({ value: 20, unit: 'N·m', from: 'book' }, 6)).toEqual([
      'all started by hand',
      '8.0 N·m in the order drawn',
      '15 N·m in the order drawn',
      '20 N·m in the order drawn, by the book',
    ])
    expect(passesOf({ value: 10, unit: 'ft·lb', from: 'generic' }, 1).at(-1)).toBe(
      '10 ft·lb (14 N·m), generic for its size with dry threads, a fifth less where they are oiled: the book wins',
    )
  })
})
