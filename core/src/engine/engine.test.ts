import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import {
  airPathOf,
  checkVehicle,
  describeEngine,
  ENGINE_PATTERNS,
  lookItemsOf,
  maybeStation,
  REST_ANGLE_RAD,
  throttleAreaMm2,
  trunkOf,
  type Vehicle,
} from './index.js'

const vehicle = (id: string, part: Partial<Vehicle> = {}): Vehicle => ({
  ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle,
  name: 'Test car',
  altitudeM: 0,
  ...part,
})
const ids = (v: Vehicle): string[] => airPathOf(v).stations.map((s) => s.info.id)

describe('air path', () => {
  it('of a MAF four runs from the inlet past the sensor to the gaskets', () =>
    expect(trunkOf(airPathOf(vehicle('four-maf'))).map((s) => s.info.id)).toEqual([
      'inlet',
      'filter',
      'airflow-sensor',
      'duct',
      'throttle',
      'plenum',
      'gaskets',
    ]))
  it('of a V6 ends in two banks', () => {
    const path = airPathOf(vehicle('v6-maf'))
    expect(path.stations.filter((s) => s.lane === 'bank').map((s) => s.bank)).toEqual([1, 2])
    expect(maybeStation(path, 'egr')?.joins).toBe('plenum')
  })
  it('of a speed-density four has no airflow sensor but a pressure sensor and an idle valve', () => {
    const list = ids(vehicle('four-valve'))
    expect(list).not.toContain('airflow-sensor')
    expect(list).toEqual(expect.arrayContaining(['map-sensor', 'idle-valve']))
  })
  it('of a turbo has its boost side between compressor and plate', () => {
    const trunk = trunkOf(airPathOf(vehicle('turbo-di')))
    const zones = Object.fromEntries(trunk.map((s) => [s.info.id, s.zone]))
    expect(zones).toMatchObject({
      duct: 'sensor-to-plate',
      intercooler: 'boost',
      'boost-pipe': 'boost',
      plenum: 'behind-plate',
    })
  })
  it('every edge joins stations that are there, whatever the engine', () => {
    const any = fc.record({
      pattern: fc.constantFrom(...ENGINE_PATTERNS.map((p) => p.id)),
      banks: fc.constantFrom(1, 2),
      egr: fc.constantFrom('none' as const, 'valve' as const),
      pcvJoins: fc.constantFrom('plenum' as const, 'duct' as const, 'throttle' as const),
      booster: fc.boolean(),
    })
    fc.assert(
      fc.property(any, ({ pattern, ...part }) => {
        const path = airPathOf(vehicle(pattern, part))
        const has = new Set(path.stations.map((s) => s.info.id))
        return path.edges.every((e) => has.has(e.to)) && has.size === path.stations.length
      }),
    )
  })
  it('asks nothing about an airflow sensor where there is none', () => {
    const items = lookItemsOf(vehicle('four-map'))
    expect(items.some((i) => i.station === 'airflow-sensor')).toBe(false)
    expect(new Set(items.map((i) => i.id)).size).toBe(items.length)
  })
})

describe('vehicle format', () => {
  it('takes every pattern', () => {
    for (const p of ENGINE_PATTERNS) expect(checkVehicle(vehicle(p.id)).ok).toBe(true)
  })
  it('lists every field that is wrong with what is accepted', () => {
    const checked = checkVehicle({
      ...vehicle('four-maf'),
      cylinders: 4.5,
      metering: 'guess',
      idleSpecRpm: { min: 900, max: 700 },
    })
    expect(checked.ok ? [] : checked.problems.map((p) => p.field)).toEqual(['metering', 'cylinders', 'idleSpecRpm'])
  })
  it('refuses what is no object', () => expect(checkVehicle([1]).ok).toBe(false))
  it('describes an engine as people do', () => expect(describeEngine(vehicle('v6-maf'))).toBe('V6 2.9, airflow sensor'))
})

describe('throttle', () => {
  it('closed is closed, wide open nearly the bore', () => {
    expect(throttleAreaMm2(60, REST_ANGLE_RAD)).toBe(0)
    expect(throttleAreaMm2(60, Math.PI / 2)).toBeCloseTo((Math.PI * 3600) / 4, 6)
  })
  it('one step of 0.39 % on a 60 mm bore near idle is 2.3 to 2.8 mm² or less', () => {
    const step = (0.0039 * Math.PI) / 2
    const at = (pct: number): number => throttleAreaMm2(60, REST_ANGLE_RAD + (pct / 100) * (Math.PI / 2))
    const area = throttleAreaMm2(60, REST_ANGLE_RAD + (2.5 / 100) * (Math.PI / 2) + step) - at(2.5)
    expect(area).toBeGreaterThan(2.2)
    expect(area).toBeLessThan(2.9)
  })
  it('refuses an angle below rest and NaN', () => {
    expect(() => throttleAreaMm2(60, 0)).toThrow(RangeError)
    expect(() => throttleAreaMm2(NaN, 1)).toThrow(RangeError)
  })
})
