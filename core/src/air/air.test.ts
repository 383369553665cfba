import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import {
  CRITICAL_RATIO,
  effectiveAreaForFlow,
  flowFunction,
  holeDiameterMm,
  lowPressureVolumeFlow,
  orificeMassFlow,
  pressureAltitudeM,
  quotedAreaMm2,
  sharpEdgeCd,
  standardPressurePa,
} from './index.js'

const SEA = { pressurePa: 101_325, temperatureK: 293.15 }
const gramsPerS = (diameterMm: number): number =>
  1e3 * orificeMassFlow((0.8 * Math.PI * (diameterMm * 1e-3) ** 2) / 4, SEA, 35_000)

describe('standard atmosphere (ISO 2533)', () => {
  it.each([
    [500, 95.461],
    [1500, 84.556],
    [3000, 70.109],
  ])('%d m is %d kPa', (altitude, kpa) => expect(standardPressurePa(altitude) / 1000).toBeCloseTo(kpa, 3))

  it('turns round: the height of a pressure', () => {
    for (const h of [-600, 0, 1180, 4000]) expect(pressureAltitudeM(standardPressurePa(h))).toBeCloseTo(h, 6)
    expect(() => pressureAltitudeM(0)).toThrow(RangeError)
  })

  it('refuses a height outside its range, and NaN', () => {
    expect(() => standardPressurePa(20_000)).toThrow(/altitudeM = 20000/)
    expect(() => standardPressurePa(NaN)).toThrow(RangeError)
  })
})

describe('orifice', () => {
  it.each([
    [1.0, 0.1503],
    [1.6, 0.3847],
    [2.0, 0.6011],
    [3.0, 1.3525],
  ])('a hole of %d mm into 35 kPa passes %d g/s', (d, g) => expect(gramsPerS(d)).toBeCloseTo(g, 4))

  it('10 mm² into 80 kPa, not choked', () => expect(1e3 * orificeMassFlow(10e-6, SEA, 80_000)).toBeCloseTo(1.9946, 4))

  it('critical ratio and flow function as published', () => {
    expect(CRITICAL_RATIO).toBeCloseTo(0.52828, 5)
    expect(flowFunction(0.3)).toBeCloseTo(0.68473, 5)
    expect(flowFunction(1)).toBe(0)
  })

  it('chokes: vacuum and half pressure give the same flow; equal pressures exactly none', () => {
    expect(orificeMassFlow(1e-6, SEA, 0)).toBe(orificeMassFlow(1e-6, SEA, 0.5 * SEA.pressurePa))
    expect(orificeMassFlow(1e-6, SEA, SEA.pressurePa)).toBe(0)
  })

  it.each([
    ['area', () => orificeMassFlow(NaN, SEA, 5e4)],
    ['pressure', () => orificeMassFlow(1e-6, { ...SEA, pressurePa: NaN }, 5e4)],
    ['temperature', () => orificeMassFlow(1e-6, { ...SEA, temperatureK: 0 }, 5e4)],
    ['reverse flow', () => orificeMassFlow(1e-6, SEA, 2e5)],
  ])('refuses a bad %s', (_, f) => expect(f).toThrow(RangeError))

  it('flow never falls while downstream pressure falls, and the area comes back from the flow', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 0.98, noNaN: true }),
        fc.double({ min: 1e-7, max: 1e-4, noNaN: true }),
        (r, a) => {
          const flow = orificeMassFlow(a, SEA, r * SEA.pressurePa)
          const lower = orificeMassFlow(a, SEA, r * 0.97 * SEA.pressurePa)
          return lower >= flow - 1e-15 && Math.abs(effectiveAreaForFlow(flow, SEA, r * SEA.pressurePa) / a - 1) < 1e-9
        },
      ),
    )
  })
})

describe('leak figures', () => {
  it('sharp edge runs from 0.61 at small differences to 0.84 at vacuum', () => {
    expect(sharpEdgeCd(1)).toBeCloseTo(0.61, 2)
    expect(sharpEdgeCd(0)).toBe(0.84)
  })
  it('3.00 mm² measured at 3.5 kPa is quoted as 3.85 mm²', () =>
    expect(quotedAreaMm2(3, 1 - 3.5 / 101.325)).toBeCloseTo(3.85, 2))
  it('hole and area are the same thing', () => {
    expect(holeDiameterMm((0.8 * Math.PI * 2 ** 2) / 4)).toBeCloseTo(2, 12)
    expect(holeDiameterMm(0)).toBe(0)
  })
  it('3 mm² at 3.5 kPa lets 13.72 L/min through', () => {
    const upstream = { pressurePa: 1.204 * 287.05 * 293.15, temperatureK: 293.15 }
    expect(lowPressureVolumeFlow(3e-6, 3500, upstream) * 60_000).toBeCloseTo(13.72, 2)
  })
})
