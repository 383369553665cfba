import { describe, expect, it } from '@jest/globals'
import { seededRandom } from '../statistics/index.js'
import { averaged, binsFor, ordersOf, resampled, withoutDrift } from './cycles.js'
import { slower } from './frames.js'
import { oddChance } from './odd.js'
import type { Guess, Pulls } from './pulls.js'
import { envelopeAt, exhaustResponse, passagesAt, responseOf } from './response.js'
import { marksOf } from './trigger.js'
import { waveDoubts } from './wave.js'

describe('marks', () => {
  /** Spikes at samples, on a quiet line. */
  const spikes = (at: readonly number[], height = 5, n = 2000): Float64Array => {
    const x = new Float64Array(n)
    for (const i of at) x[i] = x[i + 1] = height
    return x
  }
  const even = Array.from({ length: 12 }, (_, i) => 100 + 150 * i)
  it('are found at half their height, of either sign', () => {
    for (const height of [5, -5, 0.01]) {
      const m = marksOf(spikes(even, height))
      expect(m?.at).toHaveLength(12)
      expect(m?.at[0]).toBeCloseTo(99.5, 6)
      expect(m?.sound.every(Boolean)).toBe(true)
      expect(m?.warnings).toEqual([])
    }
  })
  it('that ring are one mark; a missing one spoils its two neighbours’ interval alone', () => {
    const m = marksOf(spikes([...even, ...even.map((i) => i + 8)].filter((i) => i !== 550 && i !== 558)))
    expect(m?.at).toHaveLength(11)
    expect(m?.sound.filter((s) => !s)).toHaveLength(1)
    expect(m?.warnings.map((w) => w.code)).toEqual(['trigger-double', 'trigger-missing'])
  })
  it('fewer than four, or a flat line, are none', () => {
    expect(marksOf(spikes([100, 300, 500]))).toBeUndefined()
    expect(marksOf(new Float64Array(500))).toBeUndefined()
  })
})

describe('cycles', () => {
  const turns = (n: number, per: number, f: (share: number) => number): Float64Array =>
    Float64Array.from({ length: n * per }, (_, i) => f(i / per))
  const spans = (n: number, per: number): { from: number; to: number }[] =>
    Array.from({ length: n }, (_, i) => ({ from: i * per, to: (i + 1) * per }))
  it('an order of known size and phase comes back, and no other', () => {
    const x = turns(6, 400, (s) => 3 * Math.cos(2 * Math.PI * 4 * s - 1))
    const { mean, variance } = averaged(ordersOf(x, spans(6, 400), 12))
    // cₖ of a·cos(k·φ − θ) is a/2·e^(−iθ)
    expect(2 * Math.hypot(mean[8], mean[9])).toBeCloseTo(3, 1)
    expect(Math.atan2(mean[9], mean[8])).toBeCloseTo(-1, 1)
    for (const k of [1, 2, 3, 5, 6, 9]) expect(Math.hypot(mean[2 * k], mean[2 * k + 1])).toBeLessThan(0.01)
    expect(variance[4]).toBeLessThan(1e-6)
  })
  it('a mark in the middle halves a cycle whose speed changes', () => {
    // the first half turn takes 300 samples, the second 100
    const x = Float64Array.from({ length: 400 }, (_, i) => (i < 300 ? i / 600 : 0.5 + (i - 300) / 200))
    const bins = binsFor(12)
    const out = resampled(x, { from: 0, half: 300, to: 400 }, bins)
    for (const share of [0.1, 0.3, 0.6, 0.9])
      expect(out[Math.floor(share * bins)]).toBeCloseTo((Math.floor(share * bins) + 0.5) / bins, 1)
  })
  it('drift goes, what repeats stays', () => {
    const pulse = turns(20, 100, (s) => Math.sin(2 * Math.PI * s))
    const flat = withoutDrift(
      pulse.map((x, i) => x + 0.01 * i),
      100,
    )
    for (const i of [525, 1025, 1475]) expect(flat[i]).toBeCloseTo(pulse[i], 1)
  })
  it('a slower rate is a mean of neighbours; one that is slow already is left', () => {
    const x = Float64Array.from({ length: 100 }, (_, i) => i)
    const s = slower(x, 1000, 250)
    expect([s.sampleHz, s.signal.length, s.signal[0]]).toEqual([250, 25, 1.5])
    expect(slower(x, 100, 250).signal).toBe(x)
  })
})

describe('passages', () => {
  it('a plenum behind a choked plate sums what is drawn: orders fall, and lag by a quarter more', () => {
    const open = responseOf({ opens: -8, closes: 222, back: 0, corner: 0.01 }, 8)
    const size = (k: number): number => Math.hypot(open[2 * k], open[2 * k + 1])
    expect(size(1)).toBeGreaterThan(size(2))
    expect(size(2)).toBeGreaterThan(size(4))
    // where one and a half waves fit into a draw it leaves less than beside
    expect(size(5)).toBeLessThan(0.7 * envelopeAt(5))
  })
  it('a resonance lifts its own order', () => {
    const plain = responseOf({ opens: -8, closes: 222, back: 0, corner: 0.2 }, 12)
    const sung = responseOf(
      { opens: -8, closes: 222, back: 0, corner: 0.2, resonance: { order: 7, damping: 0.12 } },
      12,
    )
    const ratio = (k: number): number =>
      Math.hypot(sung[2 * k], sung[2 * k + 1]) / Math.hypot(plain[2 * k], plain[2 * k + 1])
    expect(ratio(7)).toBeGreaterThan(3)
    expect(ratio(1)).toBeCloseTo(1.02, 1)
    expect(ratio(12)).toBeLessThan(1)
  })
  it('many are tried, at resonances of ordinary intakes whatever the speed; a puff is its own kind', () => {
    const orders = (rpm: number): number[] => passagesAt(rpm).flatMap((p) => p.resonance?.order ?? [])
    // 70 Hz at 700 rpm is the twelfth half order of the crank
    expect(Math.min(...orders(700))).toBeCloseTo(12, 6)
    expect(Math.min(...orders(1400))).toBeCloseTo(6, 6)
    expect(Math.hypot(...exhaustResponse(4).slice(0, 2))).toBeCloseTo(1, 6)
  })
})

describe('the odd one', () => {
  const guess: Guess = { delayDeg: 370, scale: 1, logWeight: 0, response: new Float64Array(2) }
  /** Position-orders that one cylinder at a position leaves that lacks so much, with noise. */
  const left = (n: number, j: number, lack: number, sd: number, seed = 1): Pulls => {
    const random = seededRandom(seed)
    const noise = (): number => sd * (random() + random() + random() - 1.5)
    const orders = Array.from({ length: Math.floor(n / 2) }, (_, x) => {
      const turn = (-2 * Math.PI * (x + 1) * j) / n
      return {
        re: -lack * Math.cos(turn) + noise(),
        im: (2 * (x + 1) === n ? 0 : -lack * Math.sin(turn)) + (2 * (x + 1) === n ? 0 : noise()),
        variance: sd ** 2,
        error: 0.1,
      }
    })
    return { share: new Float64Array(n).fill(1), variance: new Float64Array(n).fill(sd ** 2), orders }
  }
  it.each([3, 4, 5, 6, 8, 10])('of %i is found where it is', (n) => {
    for (let j = 0; j < n; j++) {
      const c = oddChance([guess], [left(n, j, 0.2, 0.03)], n)
      expect(c.by.indexOf(Math.max(...c.by))).toBe(j)
      expect(c.any).toBeGreaterThan(0.9)
      expect(c.kinds.reduce((s, k) => s + k.probability, 0)).toBeCloseTo(1, 6)
    }
  })
  it('none is odd where nothing lacks, and noise alone accuses nobody', () => {
    expect(oddChance([guess], [left(6, 0, 0, 0.01)], 6).any).toBeLessThan(0.1)
    const accused = Array.from({ length: 100 }, (_, s) => oddChance([guess], [left(6, 0, 0, 0.05, s + 1)], 6).any)
    expect(accused.filter((x) => x > 0.78).length).toBeLessThanOrEqual(2)
  })
  it('what comes back as the piston rises speaks for a valve, nothing for a runner', () => {
    expect(oddChance([guess], [left(4, 2, 0.3, 0.02)], 4).kinds[0].id).toBe('runner')
  })
})

describe('a signal before anything is worked out', () => {
  it('flat and endless values are refused, one that is cut off is flagged with its end', () => {
    expect(waveDoubts(new Float64Array(300))).toMatchObject({ ok: false, error: { code: 'flat' } })
    expect(waveDoubts(Float64Array.from([1, NaN, 2]))).toMatchObject({ ok: false, error: { code: 'not-a-number' } })
    const wave = Float64Array.from({ length: 1000 }, (_, i) => Math.max(-0.6, Math.sin(i / 20)))
    const cut = waveDoubts(wave)
    expect(cut.ok && cut.value[0].message).toMatch(/lower end/)
    expect(waveDoubts(wave.map((_, i) => Math.sin(i / 20)))).toEqual({ ok: true, value: [] })
  })
})
