import { describe, expect, it } from '@jest/globals'
import { REST_ANGLE_RAD, throttleAreaMm2, type Vehicle } from '../engine/index.js'
import type { OperatingPoint } from '../signals/index.js'
import { HEALTHY, readCar } from '../simulation/index.js'
import { basicsOf } from './basics.js'
import { carOf } from './cars.fixture.js'
import { diagnose, evidenceFromRecording, observe, type Diagnosis, type FaultId, type SoundPoints } from './index.js'

const v: Vehicle = carOf('four-maf', 0)
const chance = (d: Diagnosis, fault: FaultId): number => d.ranking.find((r) => r.fault === fault)!.probability

/** Reading of a plate that offers an area, by the law of a clean butterfly and a sensor of 0 to 95 %. */
function readingAt(areaMm2: number): number {
  let [low, high] = [0, 60]
  for (let i = 0; i < 60; i++) {
    const mid = (low + high) / 2
    const open = 0.74 * throttleAreaMm2(v.throttleBoreMm, REST_ANGLE_RAD + (mid * (83 / 95) * Math.PI) / 180)
    if (open < areaMm2) low = mid
    else high = mid
  }
  return low
}

/** Points of a sound engine whose plate stands behind a ring that shades an area [mm²]. */
function drive(ringMm2: number): OperatingPoint[] {
  return (
    [
      ['idle', 700, 2.5],
      ['hold', 1500, 4.9],
      ['hold', 2500, 8.4],
      ['cruise', 2000, 14],
    ] as const
  ).map(([kind, rpm, maf_gs]) => {
    const bare = { kind, rpm, startS: 0, endS: 30, n: 100, sds: { rpm: 4 } }
    const means = { rpm, maf_gs, trim1_pct: 0, iat_c: 30, ect_c: 90 }
    const k = basicsOf({ ...bare, means }, v)
    const needed = (1e6 * k.airKgS) / k.flux - 1.4 * v.displacementL
    return { ...bare, means: { ...means, throttle_pct: 2 + readingAt(needed + ringMm2) } }
  })
}
const weigh = (points: readonly OperatingPoint[], sound?: readonly SoundPoints[]): Diagnosis =>
  diagnose(v, { intent: 'not-stated', points, signs: [], findings: [], sound })

describe('the curve of a plate', () => {
  it('a clean one stands where the law has it, all along', () => {
    // the closed plate is the fifth, and stands with them
    const at = observe(drive(0), v, { closedPct: 2 }).observations.filter((o) => o.group === 'plate')
    expect(at).toHaveLength(5)
    for (const o of at) expect(o.residual).toBeCloseTo(at[0].residual, 1)
  })
  it('a ring makes it steeper, and deposits of that without a closed reading or any other mark', () => {
    const [clean, ringed] = [0, 30].map((mm2) => chance(weigh(drive(mm2)), 'throttle-deposits'))
    expect(clean).toBeLessThan(0.1)
    expect(ringed).toBeGreaterThan(3 * clean)
  })
  it('a plate that no longer throttles tells nothing by its opening', () => {
    const open = drive(0).map((p) => (p.kind === 'cruise' ? { ...p, means: { ...p.means, throttle_pct: 70 } } : p))
    expect(observe(open, v).observations.filter((o) => o.group === 'plate')).toHaveLength(3)
  })
})

describe('cars of one model', () => {
  const read = (seed: number, deposits = 0) => {
    const { recording } = readCar({ vehicle: v, drive: 'shop', seed, faults: { ...HEALTHY, deposits } })
    return evidenceFromRecording(recording, v)
  }
  const kin: SoundPoints[] = [21, 22, 23].map((seed) => ({ of: 'same-model', altitudeM: v.altitudeM, ...read(seed) }))
  it('make plain what one car alone leaves open, the more the more there are', () => {
    const now = read(30, 0.75)
    const p = (sound: readonly SoundPoints[]): number =>
      chance(diagnose(v, { intent: 'not-stated', signs: [], findings: [], ...now, sound }), 'throttle-deposits')
    expect(p(kin)).toBeGreaterThan(p([]))
    expect(p(kin)).toBeGreaterThan(0.9 * p(kin.slice(0, 1)))
  })
  it('speak for a sound one', () => {
    const now = read(31)
    const none = (sound: readonly SoundPoints[]): number =>
      chance(diagnose(v, { intent: 'not-stated', signs: [], findings: [], ...now, sound }), 'none')
    expect(none(kin)).toBeGreaterThan(none([]))
  })
})

describe('what a diagnosis stands on', () => {
  it('is counted, and the reading that is missing most is named', () => {
    const { basis } = weigh(drive(0).slice(0, 1), [{ of: 'same-model', altitudeM: 0, points: drive(0) }])
    expect(basis).toMatchObject({ points: 1, tests: 0, sound: { ownRecords: 0, carsLikeIt: 1 } })
    expect(basis.codes).toBeUndefined()
    expect(basis.place.barometerKpa).toBeCloseTo(101.3, 1)
    // a trim at idle alone may be a leak, a sensor or fuel: another speed parts them
    const leak = drive(0)
      .slice(0, 1)
      .map((p) => ({ ...p, means: { ...p.means, trim1_pct: 18 } }))
    expect(weigh(leak).basis.missing?.id).toBe('hold-2500')
    expect(weigh(leak).basis.missing!.bits).toBeGreaterThan(0.15)
  })
})
