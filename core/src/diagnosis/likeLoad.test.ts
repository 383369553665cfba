import { expect, it } from '@jest/globals'
import { totalTrimPct } from '../signals/index.js'
import { carOf } from './cars.fixture.js'
import { diagnose, mergePoints, pointFromTyped, type TypedPoint } from './index.js'

const at = (kind: TypedPoint['kind'], throttle_pct: number, maf_gs: number, rpm = 2000) =>
  pointFromTyped({ kind, values: { rpm, throttle_pct, maf_gs, stft1_pct: 0, ltft1_pct: 0 } }, totalTrimPct)

it('points of one speed are one under like loads; a car that keeps it by a wide open plate only is at another', () => {
  expect(mergePoints([at('cruise', 18, 8.4), at('cruise', 18.8, 9.3)])).toHaveLength(1)
  expect(mergePoints([at('cruise', 18, 8.4), at('cruise', 65, 16)])).toHaveLength(2)
  expect(mergePoints([at('cruise', 18, 8.4), at('cruise', 65, 8.6)])).toHaveLength(2)
  expect(mergePoints([at('hold', 18, 8.4), at('hold', 19, 11)])).toHaveLength(1)
})

it('a car that its blocked exhaust lets keep its speed with a wide plate only fits that cause', () => {
  const d = diagnose(carOf('four-maf', 0, { displacementL: 1.6 }), {
    intent: 'complaint',
    signs: [],
    findings: [],
    points: [
      at('idle', 12.2, 2.1, 700),
      at('hold', 14.1, 4.2, 1500),
      at('hold', 17.6, 7.8, 2500),
      at('cruise', 18, 8.4, 1900),
      at('cruise', 65, 16, 2050),
      at('pull', 95, 19.3, 2560),
    ],
  })
  expect(d.ranking[0].fault).toBe('exhaust-restriction')
  expect(d.unexplained).toBeLessThan(0.1)
})
