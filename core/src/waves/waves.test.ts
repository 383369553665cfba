import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS } from '../engine/index.js'
import { drivenEngine, HEALTHY, PulseLayer, type SimulatedFaults } from '../simulation/index.js'
import { seededRandom } from '../statistics/index.js'
import {
  balanceOf,
  calibrated,
  calibrationOf,
  checkCalibration,
  readWave,
  speedOf,
  writeWav,
  type Wave,
} from './index.js'

const pattern = (id: string) => ({ ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle, name: 'test', altitudeM: 0 })

/** Six seconds of a simulated engine's idle through half a metre of hose. */
function played(
  id: string,
  faults: Partial<SimulatedFaults> = {},
): { vehicle: ReturnType<typeof pattern>; wave: Wave } {
  const vehicle = pattern(id)
  const engine = drivenEngine({ vehicle, faults: { ...HEALTHY, ...faults }, seed: 3 })
  const w = new PulseLayer(engine).record({ seconds: 6, sampleHz: 4000, hoseM: 0.5 })
  const signal = w.pressurePa.map((p) => p / 1000)
  return { vehicle, wave: { sampleHz: w.sampleHz, signal, trigger: Float64Array.from(w.trigger), unit: 'kPa' } }
}
const ok = <T>(r: { ok: true; value: T } | { ok: false; error: { code: string; message: string } }): T => {
  if (!r.ok) throw new Error(r.error.message)
  return r.value
}
const refusal = (r: { ok: boolean; error?: { code: string; message: string } }): string =>
  r.ok ? '' : `${r.error!.code}: ${r.error!.message}`

describe('balance of the cylinders', () => {
  for (const id of ['four-maf', 'four-map', 'six-line', 'v6-maf', 'v8-maf'])
    it(`${id}: a weak cylinder is named, a sound engine is not accused`, () => {
      const sound = ok(balanceOf(played(id)))
      expect(sound.odd).toBeNull()
      for (const c of sound.cylinders) expect(Math.abs(c.pullPct.median - 100)).toBeLessThan(4)
      const weak = ok(balanceOf({ ...played(id, { weakCylinder: 2, weakShare: 0.35 }), hoseM: 0.5 }))
      expect(weak.odd?.cylinder).toBe(2)
      const pulls = [...weak.cylinders].sort((a, b) => a.pullPct.median - b.pullPct.median)
      expect(pulls[0].cylinder).toBe(2)
      expect(pulls[0].pullPct.high).toBeLessThan(100)
    })
  it('a narrow runner draws less and gives nothing back: no name of an ignition fault', () => {
    const b = ok(balanceOf(played('four-maf', { runnerCylinder: 3, runnerLoss: 0.25 })))
    expect(b.odd?.cylinder).toBe(3)
    expect(b.odd?.kind[0].id).toBe('runner')
    expect(b.odd!.kind.reduce((s, k) => s + k.probability, 0)).toBeCloseTo(1, 6)
  })
  it('an ignition fault is not seen in the intake, and that is said', () => {
    const b = ok(balanceOf(played('four-maf', { misfireCylinder: 2, misfireShare: 0.5 })))
    expect(b.odd).toBeNull()
    expect(b.warnings.map((w) => w.code)).toContain('ignition-not-seen')
  })
  it('without a mark something is odd, and how to name it is said', () => {
    const { vehicle, wave } = played('six-line', { weakCylinder: 4, weakShare: 0.5 })
    const b = ok(balanceOf({ vehicle, wave: { ...wave, trigger: undefined } }))
    expect(b.odd).toMatchObject({ cylinder: null })
    expect(b.cylinders.every((c) => c.cylinder === null)).toBe(true)
    expect(b.warnings.find((w) => w.code === 'not-named')?.message).toMatch(/drop one cylinder at a time/)
  })
  it('a mark every turn names a pair a turn apart', () => {
    const { vehicle, wave } = played('four-maf', { weakCylinder: 2, weakShare: 0.5 })
    const at = [...wave.trigger!].flatMap((x, i) => (x > 0 ? [i] : []))
    const trigger = Float64Array.from(wave.trigger!)
    for (let i = 0; i + 1 < at.length; i++) trigger[Math.round((at[i] + at[i + 1]) / 2)] = 1
    const b = ok(balanceOf({ vehicle, wave: { ...wave, trigger } }))
    expect(b.warnings.map((w) => w.code)).toContain('mark-every-turn')
    expect(b.odd?.cylinder).toBeNull()
    expect([...(b.odd?.pair ?? [])].sort()).toEqual([2, 3])
  })
  it('missing and doubled marks are left out and counted', () => {
    const { vehicle, wave } = played('four-maf', { weakCylinder: 2, weakShare: 0.5 })
    const trigger = Float64Array.from(wave.trigger!)
    const at = [...trigger].flatMap((x, i) => (x > 0 ? [i] : []))
    trigger[at[5]] = 0
    trigger[at[9] + 14] = 1
    const b = ok(balanceOf({ vehicle, wave: { ...wave, trigger } }))
    expect(b.odd?.cylinder).toBe(2)
    expect(b.warnings.map((w) => w.code)).toEqual(expect.arrayContaining(['trigger-double', 'trigger-missing']))
  })
  it('a transducer the wrong way round is read as turned over, and said', () => {
    const { vehicle, wave } = played('four-maf', { weakCylinder: 2, weakShare: 0.5 })
    const b = ok(balanceOf({ vehicle, wave: { ...wave, signal: wave.signal.map((x) => 100 - x) } }))
    expect(b.warnings.map((w) => w.code)).toContain('upside-down')
    expect(b.odd?.cylinder).toBe(2)
  })
  it('the wrong cylinder count, too slow a rate, a throttle of its own, a flat line: refused with what would do', () => {
    const { vehicle, wave } = played('four-maf')
    expect(refusal(balanceOf({ vehicle: { ...vehicle, cylinders: 6 }, wave }))).toMatch(
      /^cylinders-do-not-fit.*4 times/,
    )
    const slow = (x: Float64Array): Float64Array => x.filter((_, i) => i % 50 === 0)
    const marks = Float64Array.from({ length: slow(wave.signal).length }, (_, i) =>
      wave.trigger!.subarray(50 * i, 50 * i + 50).some((x) => x > 0) ? 1 : 0,
    )
    const few = { sampleHz: 80, signal: slow(wave.signal), trigger: marks, unit: 'kPa' as const }
    expect(refusal(balanceOf({ vehicle, wave: few }))).toMatch(/^sampled-too-slowly.*at least 1\d\d/)
    expect(refusal(balanceOf(played('four-bodies')))).toMatch(/^one-runner/)
    expect(refusal(balanceOf({ vehicle, wave: { ...wave, signal: new Float64Array(9000) } }))).toMatch(/^flat/)
    expect(refusal(balanceOf({ vehicle: { ...vehicle, cylinders: 1 }, wave }))).toMatch(/^cylinders/)
  })
  it('a signal that is cut off is flagged', () => {
    const { vehicle, wave } = played('four-maf')
    const top = [...wave.signal].sort((a, b) => a - b)[Math.floor(0.8 * wave.signal.length)]
    const b = ok(balanceOf({ vehicle, wave: { ...wave, signal: wave.signal.map((x) => Math.min(x, top)) } }))
    expect(b.warnings[0]).toMatchObject({ code: 'clipped' })
  })
  it('a tailpipe’s odd puff has no name', () => {
    const { vehicle, wave } = played('four-maf', { weakCylinder: 2, weakShare: 0.6 })
    const b = ok(balanceOf({ vehicle, wave, side: 'exhaust' }))
    expect(b.odd?.cylinder ?? null).toBeNull()
    expect(b.cylinders.every((c) => c.cylinder === null)).toBe(true)
  })
})

/** A note: firing harmonics and weaker half orders, noise 10 dB under it. */
function note(cylinders: number, rpm: number, seed: number, hz = 8000): Float64Array {
  const random = seededRandom(seed)
  const sizes = Array.from({ length: 4 * cylinders }, (_, i) => {
    const k = (i + 1) / cylinders
    return Number.isInteger(k) ? 1 / k : 0.1 * random()
  })
  const power = sizes.reduce((s, a) => s + a * a, 0) / 2
  return Float64Array.from({ length: 4 * hz }, (_, i) => {
    const cycle = (rpm / 120 / hz) * i
    const noise = Math.sqrt(1.2 * power) * (random() + random() - 1)
    return sizes.reduce((s, a, k) => s + a * Math.cos(2 * Math.PI * (k + 1) * cycle + k * k), noise * 0.7)
  })
}

describe('speed from a sound', () => {
  it.each([
    [3, 900],
    [4, 700],
    [4, 2480],
    [6, 1500],
    [8, 650],
    [10, 820],
  ])('%i cylinders at %i rpm, within 2 %%, no other octave', (cylinders, rpm) => {
    const s = speedOf(note(cylinders, rpm, rpm), 8000, { cylinders })
    expect(s.rpm).not.toBeNull()
    expect(Math.abs(s.rpm!.median / rpm - 1)).toBeLessThan(0.02)
    expect(s.rpm!.low).toBeLessThanOrEqual(rpm)
    expect(s.rpm!.high).toBeGreaterThanOrEqual(rpm)
    expect(s.track.length).toBeGreaterThan(10)
  })
  it('noise, a tune and half a second are not sure, with the reason', () => {
    const random = seededRandom(5)
    const hiss = Float64Array.from({ length: 32_000 }, () => random() - 0.5)
    expect(speedOf(hiss, 8000, { cylinders: 4 }).rpm).toBeNull()
    const steps = [262, 330, 392, 523, 349, 440, 294, 494]
    const tune = Float64Array.from({ length: 32_000 }, (_, i) => {
      const f = steps[Math.floor(i / 2500) % steps.length]
      return Math.sin((2 * Math.PI * f * i) / 8000) + 0.5 * Math.sin((4 * Math.PI * f * i) / 8000)
    })
    const heard = speedOf(tune, 8000, { cylinders: 4 })
    expect(heard.rpm).toBeNull()
    expect(heard.warnings[0].message.length).toBeGreaterThan(20)
    expect(speedOf(hiss.slice(0, 4000), 8000, { cylinders: 4 }).warnings[0].code).toBe('too-short')
  })
  it('the ripple of a manifold tells it too', () => {
    const { vehicle, wave } = played('four-maf')
    const s = speedOf(wave.signal, wave.sampleHz, { cylinders: 4, idle: vehicle.idleSpecRpm })
    expect(s.rpm!.median).toBeGreaterThan(690)
    expect(s.rpm!.median).toBeLessThan(740)
  })
})

describe('files', () => {
  const bytes = (text: string): Uint8Array => new TextEncoder().encode(text)
  const rows = (n: number, f: (i: number) => string): string => Array.from({ length: n }, (_, i) => f(i)).join('\n')
  it('a WAV file comes back with its calibration', () => {
    const { wave } = played('four-maf')
    const written = writeWav(wave)
    const back = ok(calibrated(ok(readWave(written.bytes)), written.calibration))
    expect(back.sampleHz).toBe(4000)
    expect(back.signal[1234]).toBeCloseTo(wave.signal[1234], 3)
    expect(back.trigger?.reduce((s, x) => s + (x > 0.5 ? 1 : 0), 0)).toBe(wave.trigger!.reduce((s, x) => s + x, 0))
  })
  it('tables: names, units of time, decimal comma and semicolon, no header', () => {
    const a = ok(readWave(bytes('time_ms,trigger,map\n' + rows(300, (i) => `${i},${i % 100 ? 0 : 5},${40 + (i % 7)}`))))
    expect([a.sampleHz, a.trigger![0], a.signal[3]]).toEqual([1000, 5, 43])
    const b = ok(readWave(bytes('t;p\n' + rows(300, (i) => `${(i / 1000).toFixed(3).replace('.', ',')};1,5${i % 10}`))))
    expect(b.sampleHz).toBeCloseTo(1000, 6)
    expect(b.trigger).toBeUndefined()
    expect(ok(readWave(bytes(rows(300, (i) => `${i / 500}\t${i % 9}`)))).sampleHz).toBeCloseTo(500, 6)
  })
  it.each([
    ['time_s,p\n0,1\n0.001,2\n0.002,1\n', 'too-short'],
    ['hello', 'not-a-signal'],
    [rows(300, (i) => `${i / 500},${i % 9 === 5 ? 'x' : 1}`), 'not-a-number'],
    [rows(300, (i) => `${i < 150 ? i : i + 90},${i % 9}`), 'time-not-even'],
    [rows(300, (i) => `${Math.sin(i)},${Math.cos(i)}`), 'no-time'],
    ['RIFF\u0001\u0001\u0001\u0001WAVE and nothing more', 'wav-not-readable'],
  ])('%# is refused with its reason', (text, code) => {
    expect(refusal(readWave(bytes(text)))).toMatch(new RegExp(`^${code}: .{15,}`))
  })
  it('calibration: two points, both pressures of an engine, a mean that an engine has', () => {
    expect(ok(calibrationOf({ raw: 0, kpa: 88 }, { raw: -0.5, kpa: 38 }))).toEqual({ scale: 100, offset: 88 })
    expect(refusal(calibrationOf({ raw: 0, kpa: 88 }, { raw: 0, kpa: 38 }))).toMatch(/same at both/)
    expect(refusal(calibrationOf({ raw: 0, kpa: 88 }, { raw: 1, kpa: 86 }))).toMatch(/5 kPa apart/)
    expect(refusal(checkCalibration({ scale: 'x' }))).toMatch(/"scale","offset"/)
    expect(refusal(calibrated(played('four-maf').wave, { scale: 1, offset: 900 }))).toMatch(/no engine has that/)
  })
})
