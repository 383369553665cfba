import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import { HEALTHY, simulateRecording, type SimulatedFaults } from '../simulation/index.js'
import { totalTrimPct } from '../signals/index.js'
import { diagnose, evidenceFromRecording, isGrave, pointFromTyped, type Diagnosis, type Evidence } from './index.js'

const car = (id: string, altitudeM: number): Vehicle => ({
  ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle,
  name: id,
  altitudeM,
})
/** A car that was driven at one height and is judged at another. */
function judged(
  id: string,
  drivenM: number,
  enteredM: number,
  faults: Partial<SimulatedFaults> = {},
  more: Partial<Evidence> = {},
): Diagnosis {
  const r = simulateRecording({
    vehicle: car(id, drivenM),
    faults: { ...HEALTHY, ...faults },
    drive: 'road',
    seed: 7,
  })
  const v = car(id, enteredM)
  return diagnose(v, { intent: 'complaint', signs: [], findings: [], ...evidenceFromRecording(r, v), ...more })
}
const doubt = (d: Diagnosis) => d.warnings.find((w) => w.code === 'height-doubtful')

describe('a height that was never put right', () => {
  it.each([
    ['four-maf', 0, 1180],
    ['four-map', 1180, 0],
    ['turbo-di', 0, 1180],
    ['turbo-di', 1180, 0],
  ])('is told, and no sensor is accused: %s driven at %d m, entered at %d m', (id, driven, entered) => {
    const d = judged(id, driven, entered)
    expect(d.ranking[0].fault).toBe('none')
    expect(d.unexplained).toBeLessThan(0.1)
    const w = doubt(d)!
    expect(isGrave(w)).toBe(true)
    expect(w.act).toBe('Put the height of this place right')
    expect(w.message).toContain(`at the ${entered} m that are entered; at about`)
    // nothing of it is the customer's
    expect(w.said).toBeUndefined()
    const about = Number(/at about (-?\d+) m/.exec(w.message)![1])
    expect(Math.abs(about - driven)).toBeLessThan(100)
  })
  it('is not said within the weather, nor where the pressure of the place is known', () => {
    expect(doubt(judged('four-maf', 300, 0))).toBeUndefined()
    expect(doubt(judged('four-map', 1180, 0, {}, { trustedPressure: true }))).toBeUndefined()
  })
  it('a sound record of a day when it was not put right either is taken at its own', () => {
    const r = simulateRecording({ vehicle: car('turbo-di', 1180), faults: HEALTHY, drive: 'road', seed: 9 })
    const then = evidenceFromRecording(r, car('turbo-di', 0))
    const d = judged('turbo-di', 1180, 0, {}, { sound: [{ of: 'same-car', altitudeM: 0, ...then }] })
    expect(d.ranking[0].fault).toBe('none')
    expect(d.unexplained).toBeLessThan(0.1)
  })
  it('a sensor that is off is not taken for one: the trims of what it meters, or the charge sensor, speak against it', () => {
    const off = { mapOffsetPa: 8000 }
    const map = judged('four-map', 0, 0, off)
    expect(map.ranking[0].fault).toBe('map-sensor-offset')
    expect(doubt(map)?.act ?? 'Check the height of this place').toBe('Check the height of this place')
    const turbo = judged('turbo-di', 0, 0, off)
    expect(turbo.ranking[0].fault).toBe('map-sensor-offset')
    expect(doubt(turbo)).toBeUndefined()
  })
  /** A six with both sensors, at a height that is entered as 1180 m. */
  const six = (kinds: readonly ('key-on' | 'idle')[], mapAtIdle: number): Diagnosis => {
    const v: Vehicle = { ...car('v6-maf', 1180), metering: 'maf+map' }
    const trims = { stft1_pct: 0, ltft1_pct: 1, stft2_pct: 0, ltft2_pct: 1 }
    const values = { 'key-on': { map_kpa: 100 }, idle: { rpm: 680, maf_gs: 3.3, map_kpa: mapAtIdle, ...trims } }
    const points = kinds.map((kind) => pointFromTyped({ kind, values: values[kind] }, totalTrimPct))
    return diagnose(v, { intent: 'complaint', signs: [], findings: [], points })
  }
  it('beside an airflow the pressure of the idle tells: right there, the sensor is; as much too high, the height may be right', () => {
    const right = six(['key-on', 'idle'], 33)
    expect(right.ranking[0].fault).toBe('none')
    expect(doubt(right)!.act).toBe('Put the height of this place right')
    const high = six(['key-on', 'idle'], 45)
    expect(high.ranking[0].fault).toBe('map-sensor-offset')
    expect(doubt(high)!.act).toBe('Check the height of this place')
  })
  it('by the pressure with the engine standing alone both are named', () => {
    expect(doubt(six(['key-on'], 33))).toMatchObject({
      act: 'Check the height of this place',
      said: 'The pressure sensor with the engine standing reads 100 kPa, where 88 belongs at the height that was entered.',
      message: expect.stringMatching(/the height is wrong, and about 1\d0 m would fit, or the sensor is off/),
    })
  })
})
