import { describe, expect, it } from '@jest/globals'
import { bandOf, type BandPlace, type SoundPoints } from '@uvula/core'
import type { LinkSample } from '@uvula/contract'
import { aVisit } from '../test/visit.fixture.js'
import { figuresOf, newestValues } from './liveReadings.js'

const sample = (seq: number, t: number, values: LinkSample['values']): LinkSample => ({ seq, t, values })
const place: BandPlace = { vehicle: aVisit().vehicle.spec, rpm: 700, warm: true } as unknown as BandPlace
const ids = (...given: Parameters<typeof figuresOf>[1][number][]): string[] =>
  figuresOf({}, given, place).map((f) => f.id)

describe('newest values', () => {
  it('each channel has its own newest value, however the polling mixes them', () => {
    const list = [
      sample(1, 0, { rpm: 700, maf_gs: 2.4 }),
      sample(2, 0.1, { rpm: 710 }),
      sample(3, 0.2, { map_kpa: 33 }),
    ]
    expect(newestValues(list)).toEqual({ rpm: 710, maf_gs: 2.4, map_kpa: 33 })
  })
  it('a value that has not come for five seconds stands no longer', () => {
    const list = [sample(1, 0, { maf_gs: 2.4 }), sample(2, 5.1, { rpm: 700 })]
    expect(newestValues(list)).toEqual({ rpm: 700 })
  })
  it('without samples there are none', () => expect(newestValues([])).toEqual({}))
})

describe('figures of the live bench', () => {
  it('only what this vehicle gives, airflow and pressure first', () => {
    expect(ids('ect_c', 'map_kpa', 'maf_gs')).toEqual(['maf_gs', 'map_kpa', 'ect_c'])
    expect(ids('stft1_pct', 'ltft1_pct')).toEqual(['trim1_pct'])
    expect(ids('stft1_pct', 'ltft1_pct', 'stft2_pct', 'ltft2_pct')).toEqual(['trim1_pct', 'trim2_pct'])
  })
  it('a band is narrowed by sound cars like it, as where figures are typed', () => {
    const idle: BandPlace = { vehicle: aVisit().vehicle.spec, kind: 'idle', rpm: 700, ambientC: 18 }
    const middle = bandOf('maf_gs', idle)!
    const airflow = (middle.low + middle.high) / 2
    const point = { kind: 'idle', rpm: 700, startS: 0, endS: 20, n: 50, means: { maf_gs: airflow }, sds: {} } as const
    const sound: SoundPoints[] = [{ of: 'same-model', points: [point] } as unknown as SoundPoints]
    const band = figuresOf({ maf_gs: 2 }, ['maf_gs'], idle, sound)[0].band!
    expect(band.bySound).toBe(true)
    expect(band.high - band.low).toBeLessThan(middle.high - middle.low)
    expect(figuresOf({ maf_gs: 2 }, ['maf_gs'], idle)[0].band).toEqual(middle)
  })
  it('a total trim needs both parts, and multiplies them', () => {
    const of = (values: Parameters<typeof figuresOf>[0]): number | undefined =>
      figuresOf(values, ['stft1_pct', 'ltft1_pct'], place)[0].value
    expect(of({ stft1_pct: 3 })).toBeUndefined()
    // 1.10 times 1.20
    expect(of({ stft1_pct: 10, ltft1_pct: 20 })).toBeCloseTo(32, 9)
  })
  it('on its strip the long part stands until it is read again', () => {
    const { of } = figuresOf({ stft1_pct: 1, ltft1_pct: 10 }, ['stft1_pct', 'ltft1_pct'], place)[0]
    expect(of({ stft1_pct: 0 })).toBeCloseTo(10, 9)
    expect(of({ ltft1_pct: 20 })).toBeUndefined()
    expect(of({ stft1_pct: 0 })).toBeCloseTo(20, 9)
  })
})
