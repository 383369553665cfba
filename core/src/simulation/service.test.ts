import { describe, expect, it } from '@jest/globals'
import { engineWith, hold } from './engines.fixture.js'
import { AT_IDLE, PulseLayer, restart, type SimulatedEngine } from './index.js'

const solvent = (rateGs: number) => ({ rateKgS: rateGs / 1000, afr: 14.5, wetShare: 0.6, densityKgM3: 800 })

describe('cleaner fed to the running engine', () => {
  it('a measured shot enriches, dips the speed a little and leaves smoke', () => {
    const e = engineWith('four-maf')
    e.controls = { ...AT_IDLE, mode: 'speed', targetRpm: 2000 }
    e.advance(20)
    const before = e.rpm
    e.service.feed = solvent(0.15)
    let low = Infinity
    let rich = Infinity
    e.advance(8, () => {
      low = Math.min(low, e.rpm)
      rich = Math.min(rich, e.mixture.lambda[0])
    })
    expect(rich).toBeLessThan(0.97)
    expect(e.running).toBe(true)
    expect(low).toBeLessThan(before)
    expect(e.service.smoke).toBeGreaterThan(0.05)
    expect(e.mixture.stft[0]).toBeLessThan(-0.02)
  })
  it('far too much stalls it, and what lies in the ports stops the starter', () => {
    const e = engineWith('four-maf')
    e.service.feed = solvent(9)
    e.advance(14)
    expect([e.running, e.stalled]).toEqual([false, true])
    expect(e.service.pooledM3).toBeGreaterThan(e.service.clearanceM3)
    e.service.feed = undefined
    expect(restart(e)).toBe(false)
    expect(e.rpm).toBeLessThan(30)
    e.service.drain()
    expect(restart(e)).toBe(true)
  })
  it('takes deposits off, and a soak burns off as smoke at the first start', () => {
    const e = engineWith('four-maf', ['throttle-deposits:severity=0.6', 'valve-deposits:severity=0.5'])
    e.controls = { ...AT_IDLE, mode: 'speed', targetRpm: 1800 }
    e.advance(10)
    e.service.feed = solvent(0.12)
    e.advance(200)
    expect(e.deposits).toBeLessThan(0.6)
    expect(e.service.valvesCleaned).toBeGreaterThan(0)
    // run clear before it is switched off to soak
    e.service.feed = undefined
    e.advance(120)
    e.controls = { ...AT_IDLE, mode: 'off' }
    e.advance(3)
    e.service.soak(0.0015, 14, 800)
    const before = e.service.filmKg
    expect(restart(e)).toBe(true)
    e.advance(30)
    expect(e.service.smoke).toBeGreaterThan(0.02)
    expect(e.service.filmKg).toBeLessThan(before)
  })
})

describe('what is learnt', () => {
  const dirty = (): SimulatedEngine => engineWith('four-valve', ['throttle-deposits:severity=0.85'])
  it('after wiping the plate the learnt opening passes too much: idle is high', () => {
    const e = dirty()
    const before = hold(e, 'idle').rpm
    e.service.wipePlate(1, 0.85)
    expect(hold(e, 'idle').rpm).toBeGreaterThan(before + 40)
  })
  it('a relearn in time brings it back, one that is late does not', () => {
    const steps = [
      { atS: 3, withinS: 0.4 },
      { atS: 13, withinS: 0.4 },
    ]
    const e = dirty()
    e.service.wipePlate(1, 0.85)
    expect(e.service.relearn(e, steps, [3.1, 13.9])).toBe(false)
    const late = hold(e, 'idle').rpm
    expect(e.service.relearn(e, steps, [3.1, 13.2])).toBe(true)
    expect(hold(e, 'idle', {}, 60).rpm).toBeLessThan(late - 30)
  })
  it('battery off wipes trims, idle position, codes and readiness', () => {
    const e = engineWith('four-maf', ['unmetered-air:areaMm2=3'])
    expect(e.monitors.confirmed.size).toBeGreaterThan(0)
    e.service.batteryOff(e)
    expect([e.monitors.confirmed.size, e.monitors.permanent.size, e.monitors.isComplete('catalyst')]).toEqual([
      0,
      0,
      false,
    ])
    expect(e.mixture.ltft[0].every((x) => x === 0)).toBe(true)
  })
})

describe('codes', () => {
  it('pending on the first trip, confirmed on the second; the frame is kept from the first', () => {
    const leaky = engineWith('four-maf', ['unmetered-air:areaMm2=2.5'])
    leaky.monitors.clear()
    leaky.monitors.permanent.clear()
    leaky.advance(60)
    expect([[...leaky.monitors.pending], leaky.monitors.confirmed.size]).toEqual([['P0171'], 0])
    const frame = leaky.monitors.freezeFrame!
    expect(frame.code).toBe('P0171')
    expect(frame.ltft1Pct).toBeGreaterThan(5)
    leaky.controls = { ...AT_IDLE, mode: 'off' }
    leaky.advance(3)
    expect(restart(leaky)).toBe(true)
    leaky.advance(90)
    expect([...leaky.monitors.confirmed]).toEqual(['P0171'])
    leaky.monitors.clear()
    expect([...leaky.monitors.permanent]).toEqual(['P0171'])
    expect(leaky.monitors.lamp).toBe(false)
  })
})

describe('pulse layer', () => {
  const pulls = (faults: readonly string[]): number[] => {
    const e = engineWith('four-maf', faults)
    const w = new PulseLayer(e).record({ seconds: 6, sampleHz: 4000 })
    const tops = [...w.trigger].flatMap((x, i) => (x ? [i] : []))
    const depth = [0, 0, 0, 0]
    for (let c = 2; c + 1 < tops.length; c++)
      for (let q = 0; q < 4; q++) {
        const [from, to] = [0, 1].map((d) => Math.round(tops[c] + ((tops[c + 1] - tops[c]) * (q + d)) / 4))
        const part = w.pressurePa.subarray(from, to)
        depth[q] += part.reduce((a, b) => a + b, 0) / part.length / (tops.length - 3)
      }
    return depth
  }
  const spread = (xs: readonly number[]): number => Math.max(...xs) - Math.min(...xs)
  it('keeps the mean pressure, and one trigger a cycle', () => {
    const e = engineWith('four-maf')
    const w = new PulseLayer(e).record({ seconds: 10, sampleHz: 2000 })
    const mean = w.pressurePa.reduce((a, b) => a + b, 0) / w.pressurePa.length
    expect(Math.abs(mean / e.air.manifoldPa - 1)).toBeLessThan(0.02)
    const cycles = (e.rpm / 120) * 10
    expect(Math.abs(w.trigger.reduce((a, b) => a + b, 0) - cycles)).toBeLessThan(2)
  })
  it('a weak cylinder is an odd pull; a misfire hardly is', () => {
    const [sound, weak, misfire] = [[], ['weak-cylinder:cylinder=3,severity=0.6'], ['ignition-misfire:cylinder=3']].map(
      pulls,
    )
    expect(spread(weak)).toBeGreaterThan(3 * spread(sound))
    expect(spread(misfire)).toBeLessThan(0.5 * spread(weak))
  })
  it('with a throttle a cylinder, the one that passes less pulls deeper; the others stay', () => {
    const level = (faults: readonly string[], cylinder: number): number => {
      const w = new PulseLayer(engineWith('four-bodies', faults)).record({ seconds: 4, sampleHz: 2000, cylinder })
      return w.pressurePa.reduce((a, b) => a + b, 0) / w.pressurePa.length
    }
    const off = ['throttles-unequal:cylinder=2,errorPct=-20']
    expect(level(off, 2)).toBeLessThan(0.9 * level([], 2))
    expect(Math.abs(level(off, 3) / level([], 3) - 1)).toBeLessThan(0.06)
  })
  it('a hose delays: 0.3 m by about 0.9 ms', () => {
    const e = engineWith('four-maf')
    const [near, far] = [0, 0.3].map(
      (hoseM) => new PulseLayer(e).record({ seconds: 3, sampleHz: 10_000, hoseM }).pressurePa,
    )
    const lagOf = (shift: number): number => {
      let s = 0
      const m = e.air.manifoldPa
      for (let i = 2000; i < 24_000; i++) s += (near[i] - m) * (far[i + shift] - m)
      return s
    }
    const best = Array.from({ length: 40 }, (_, k) => k).reduce((a, b) => (lagOf(b) > lagOf(a) ? b : a))
    expect(best).toBeGreaterThanOrEqual(8)
    expect(best).toBeLessThanOrEqual(25)
  })
  it('refuses a standing engine', () => {
    const e = engineWith('four-maf')
    e.controls = { ...AT_IDLE, mode: 'off' }
    e.advance(4)
    expect(() => new PulseLayer(e).record({ seconds: 1, sampleHz: 1000 })).toThrow(/above 50/)
  })
})
