import { describe, expect, it } from '@jest/globals'
import { totalTrimPct } from '../signals/index.js'
import { carOf } from './cars.fixture.js'
import { diagnose, pointFromTyped, type Diagnosis, type TypedPoint } from './index.js'

const at = (kind: TypedPoint['kind'], values: TypedPoint['values']) => pointFromTyped({ kind, values }, totalTrimPct)
const trims = { stft1_pct: 0, ltft1_pct: 1.6 }
/** A sound two-litre four by its air, with what is said of its pull beside. */
const withPull = (pull: TypedPoint['values'], car = carOf('four-maf', 0, { wideband: true })): Diagnosis =>
  diagnose(car, {
    intent: 'complaint',
    signs: [],
    findings: [],
    points: [
      at('idle', { rpm: 710, maf_gs: 2.6, throttle_pct: 12.6, ...trims }),
      at('hold', { rpm: 2500, maf_gs: 9.1, throttle_pct: 17.4, ...trims }),
      at('pull', { rpm: 4000, maf_gs: 66, ...pull }),
    ],
  })
const fuel = (d: Diagnosis): number => d.ranking.find((r) => r.fault === 'fuel-delivery-low')!.probability

describe('the mixture of a pull', () => {
  it('tells a pump that is enough at idle and too weak for a pull, which trims cannot', () => {
    const blind = withPull(trims)
    const seen = withPull({ ...trims, lambda1: 1.02, lambda_cmd: 0.87 })
    expect(blind.ranking[0].fault).toBe('none')
    expect(fuel(seen)).toBeGreaterThan(0.8)
    const { sentence, fuelErrorPctAtHighFlow: high } = seen.ranking[0]
    expect(sentence).toMatch(/^Fuel enough at idle, and about .* too little at full flow: fuel, and not air\.$/)
    // what is short there is λ over the commanded one, with what the frozen trims add already
    const short = 100 * (1 / ((1.02 / 0.87) * 1.016) - 1)
    expect(high!.low).toBeLessThan(short)
    expect(high!.high).toBeGreaterThan(short - 4)
    expect(seen.reasons['fuel-delivery-low']!.map((r) => r.text)).toContain('pull gets 16 % less fuel than commanded')
  })
  it('as commanded it speaks for a sound engine', () => {
    const d = withPull({ ...trims, lambda1: 0.86, lambda_cmd: 0.87 })
    expect(d.ranking[0].fault).toBe('none')
    expect(fuel(d)).toBeLessThanOrEqual(fuel(withPull(trims)))
  })
  it('a tool that repeats 1.00, or the commanded figure, makes no fault', () => {
    for (const lambda1 of [1, 0.998, 0.87])
      expect(withPull({ ...trims, lambda1, lambda_cmd: 0.87 }).ranking[0].fault).toBe('none')
    expect(withPull({ ...trims, lambda1: 1 }).ranking[0].fault).toBe('none')
  })
  it('without the commanded figure a rich pull says nothing, a lean one does', () => {
    expect(fuel(withPull({ ...trims, lambda1: 0.84 }))).toBeCloseTo(fuel(withPull({ ...trims, lambda1: 0.92 })), 1)
    expect(fuel(withPull({ ...trims, lambda1: 1.12 }))).toBeGreaterThan(0.6)
  })
  it('without the trims of the pull it says the same, less surely', () => {
    const bare = withPull({ lambda1: 1.06, lambda_cmd: 0.87 })
    expect(bare.ranking[0].fault).toBe('fuel-delivery-low')
    expect(fuel(bare)).toBeLessThan(fuel(withPull({ ...trims, lambda1: 1.06, lambda_cmd: 0.87 })))
  })
  it('a sensor that reads low feeds too little in the pull as everywhere: it stays the sensor', () => {
    const d = diagnose(carOf('four-maf', 0, { wideband: true }), {
      intent: 'complaint',
      signs: [],
      findings: [],
      points: [
        at('idle', { rpm: 710, maf_gs: 2.25, stft1_pct: 2, ltft1_pct: 12.5 }),
        at('hold', { rpm: 2500, maf_gs: 7.8, stft1_pct: 1, ltft1_pct: 14 }),
        at('pull', { rpm: 4000, maf_gs: 56, stft1_pct: 0, ltft1_pct: 14, lambda1: 0.88, lambda_cmd: 0.87 }),
      ],
    })
    // air from a split duct is the same to every reading
    expect(['maf-under-reads', 'unmetered-air-duct']).toContain(d.ranking[0].fault)
    expect(fuel(d)).toBeLessThan(0.15)
  })
})

it('is asked for where the engine can tell it and the fuel is in doubt', () => {
  const lean = { stft1_pct: 2, ltft1_pct: 5.5 }
  const of = (wideband: boolean): string | undefined =>
    diagnose(carOf('four-maf', 0, { wideband }), {
      intent: 'complaint',
      signs: ['flat'],
      findings: [],
      points: [
        at('idle', { rpm: 710, maf_gs: 2.6, throttle_pct: 12.6, ...lean }),
        at('hold', { rpm: 2500, maf_gs: 9.1, throttle_pct: 17.4, ...lean }),
        at('idle-load', { rpm: 710, maf_gs: 3.2, throttle_pct: 13, ...lean }),
        at('pull', { rpm: 4000, maf_gs: 66 }),
      ],
    }).basis.missing?.id
  expect([of(true), of(false)]).toEqual(['mixture', undefined])
})
