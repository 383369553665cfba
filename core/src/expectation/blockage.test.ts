import { describe, expect, it } from '@jest/globals'
import { orificeMassFlow } from '../air/index.js'
import { blockageOf, unthrottledAir } from './index.js'

const engine = { displacementL: 2, rpm: 2500, ambientPa: 101_325, intakeC: 20 }

describe('a narrowed passage by the air that comes through', () => {
  // 2.0 L, 2500 rpm, ηv 0.88, 101.325 kPa, 305.15 K: 0.88·2e-3·101325/(287.05·305.15)·2500/120 = 42.41 g/s
  it('an engine that nothing holds back', () => expect(1e3 * unthrottledAir(engine).kgS).toBeCloseTo(42.41, 1))
  it('takes what it should: nothing is lost', () => {
    const b = blockageOf(engine, unthrottledAir(engine).kgS)
    expect(b.areaMm2).toBeUndefined()
    expect(b.lost.median).toBe(0)
  })
  it('finds the opening that held the air back', () => {
    // through 300 mm² into a manifold at p, swallowing in proportion to p: the fixed point of both laws
    const full = unthrottledAir(engine).kgS
    let p = engine.ambientPa
    for (let i = 0; i < 200; i++) {
      const through = orificeMassFlow(300e-6, { pressurePa: engine.ambientPa, temperatureK: 293.15 }, p)
      p += 0.2 * engine.ambientPa * (through / full - p / engine.ambientPa)
    }
    const b = blockageOf(engine, (full * p) / engine.ambientPa)
    expect(b.areaMm2!.median).toBeCloseTo(300, -1)
    expect(b.areaMm2!.low).toBeLessThan(300)
    expect(b.areaMm2!.high).toBeGreaterThan(300)
    expect(b.lost.median).toBeGreaterThan(0.2)
    expect(b.lost.low).toBeLessThanOrEqual(b.lost.median)
  })
  it('refuses what is none of a running engine', () => {
    expect(() => blockageOf(engine, NaN)).toThrow(RangeError)
    expect(() => blockageOf({ ...engine, rpm: 20 }, 0.02)).toThrow(RangeError)
  })
})
