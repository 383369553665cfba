import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import { bandOf, expectedAirflow, manifoldFromAirflowPa, priorVe, standing, swallowKgS } from './index.js'

it('swallow: 2.4 L, ηv 0.75, 33 kPa, 313.15 K, 700 rpm is 3.855 g/s', () =>
  expect(
    1e3 * swallowKgS({ displacementL: 2.4, volumetricEfficiency: 0.75, manifoldPa: 33_000, chargeK: 313.15, rpm: 700 }),
  ).toBeCloseTo(3.855, 3))

it('prior VE at a 30.2 kPa idle goes with 11 mm² for a 2.4 L', () =>
  expect(priorVe(30_200, 101_325)).toBeCloseTo(0.56, 2))

describe('expected airflow', () => {
  const base = { displacementL: 2.4, rpm: 700, ambientPa: 101_325, intakeC: 20, turbo: false }
  it('from pressure is narrower than from size', () => {
    const known = expectedAirflow({ ...base, manifoldPa: 30_200, load: 'none' })!
    const size = expectedAirflow({ ...base, load: 'none' })!
    expect(known.logSd).toBeLessThan(size.logSd)
    expect(size.kgS * 1e3).toBeCloseTo(2.63, 2)
    expect(known.lowKgS).toBeLessThan(known.kgS)
  })
  it('is not made up where neither pressure nor load is known', () =>
    expect(expectedAirflow({ ...base, load: 'some' })).toBeUndefined())
  it('inverts to the pressure it came from', () => {
    const flow = expectedAirflow({ ...base, manifoldPa: 35_000, load: 'none' })!.kgS
    expect(manifoldFromAirflowPa(flow, 2.4, 700, 101_325, 20)).toBeCloseTo(35_000, -1)
  })
})

describe('bands', () => {
  const v: Vehicle = { ...ENGINE_PATTERNS[0].vehicle, name: 'x', altitudeM: 1180 }
  it('are of this height, not of sea level', () => {
    const b = bandOf('map_kpa', { vehicle: { ...v, metering: 'maf+map' }, kind: 'key-on', ambientC: 9 })!
    expect(standing(87.9, b)).toBe('inside')
    expect(standing(101.3, b)).toBe('high')
  })
  it('have nothing to say of a raw throttle reading: its zero differs from car to car', () =>
    expect(bandOf('throttle_pct', { vehicle: v, kind: 'idle', ambientC: 9 })).toBeUndefined())
  it('λ of a pull belongs at the commanded one, wider where a turbo sweeps its cylinders', () => {
    const at = (commandedLambda: number | undefined, induction: 'natural' | 'turbo' = 'natural') =>
      bandOf('lambda1', { vehicle: { ...v, induction }, kind: 'pull', ambientC: 9, commandedLambda })
    expect(at(undefined)).toBeUndefined()
    expect(at(0.87)!.low).toBeCloseTo(0.87 * 0.94, 9)
    expect(at(0.87)!.high).toBeCloseTo(0.87 * 1.06, 9)
    expect(at(0.87, 'turbo')!.high).toBeGreaterThan(at(0.87)!.high)
    expect(standing(1.03, at(0.87))).toBe('high')
    expect(bandOf('lambda1', { vehicle: v, kind: 'idle', ambientC: 9, commandedLambda: 1 })).toBeUndefined()
  })
  it('an intake temperature belongs near the air of the day', () => {
    const b = bandOf('iat_c', { vehicle: v, kind: 'idle', ambientC: 12 })
    expect([-40, 28, 130].map((x) => standing(x, b))).toEqual(['low', 'inside', 'high'])
  })
  it('ask no airflow of an engine without the sensor', () =>
    expect(bandOf('maf_gs', { vehicle: { ...v, metering: 'map' }, kind: 'idle', ambientC: 9 })).toBeUndefined())
})
