import { describe, expect, it } from '@jest/globals'
import { bandOf } from '../expectation/index.js'
import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import type { SoundPoints } from '../diagnosis/index.js'
import { isAlike, soundBand } from './index.js'

const vehicle: Vehicle = {
  ...ENGINE_PATTERNS.find((p) => p.id === 'four-maf')!.vehicle,
  name: 'Tarn 2.0',
  altitudeM: 300,
}
const place = { vehicle, kind: 'idle' as const, rpm: 700, ambientC: 20 }
const record = (of: SoundPoints['of'], maf: number, rpm = 700): SoundPoints => ({
  of,
  altitudeM: 300,
  points: [{ kind: 'idle', rpm, startS: 0, endS: 0, n: 1, means: { rpm, maf_gs: maf }, sds: {} }],
})

describe('a band from sound cars', () => {
  const wide = bandOf('maf_gs', place)!
  it('is narrower than that of any engine of its size, and the narrower the more cars there are', () => {
    const of = (n: number) => {
      const b = soundBand(
        'maf_gs',
        place,
        Array.from({ length: n }, () => record('same-model', 2.5)),
        wide,
      )!
      return b.high / b.low
    }
    expect(of(1)).toBeLessThan(wide.high / wide.low)
    expect(of(4)).toBeLessThan(of(1))
    // 1.96 standard deviations of 5.5 % to either side, and a share for the mean of four
    expect(of(4)).toBeCloseTo(Math.exp(2 * 1.96 * 0.055 * Math.sqrt(1.25)), 6)
  })
  it('says from how many, and this car’s own record goes before all others', () => {
    const kin = [record('same-model', 2.5), record('same-model', 2.6)]
    expect(soundBand('maf_gs', place, kin, wide)!.from).toBe('from 2 cars like it')
    const own = soundBand('maf_gs', place, [...kin, record('same-car', 2.2)], wide)!
    expect(own.from).toBe('this car when it was sound')
    expect(own.low).toBeLessThan(2.2)
    expect(own.high).toBeLessThan(2.5)
  })
  it('air goes with speed, and a record at another speed says nothing', () => {
    const at = (rpm: number) => soundBand('maf_gs', { ...place, rpm }, [record('same-model', 2.5)], undefined)
    const [a, b] = [at(700)!, at(735)!]
    expect(b.low / a.low).toBeCloseTo(1.05, 6)
    expect(at(900)).toBeUndefined()
    expect(soundBand('map_kpa', place, [record('same-model', 2.5)], undefined)).toBeUndefined()
  })
})

describe('cars of one kind', () => {
  const named = (name: string, more: Partial<Vehicle> = {}): Vehicle => ({ ...vehicle, name, ...more })
  const read: Partial<Vehicle> = { confirmed: ['displacementL', 'cylinders'] }
  it('have one name, whatever the year and the way it is written, or figures that somebody read off both', () => {
    expect(isAlike(named('tarn  2.0 (2014)'), vehicle)).toBe(true)
    expect(isAlike(named('another'), vehicle)).toBe(false)
    expect(isAlike(named('another', read), named('Tarn 2.0', read))).toBe(true)
    // left as the pattern has them, equal figures say nothing
    expect(isAlike(named('another', read), vehicle)).toBe(false)
  })
  it('have one engine and throttle, at whatever height they stand', () => {
    expect(isAlike(named('Tarn 2.0', { throttleBoreMm: 54 }), vehicle)).toBe(false)
    expect(isAlike(named('Tarn 2.0', { metering: 'map' }), vehicle)).toBe(false)
    expect(isAlike(named('Tarn 2.0', { altitudeM: 1200 }), vehicle)).toBe(true)
  })
})
