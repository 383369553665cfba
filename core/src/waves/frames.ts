import FFT from 'fft.js'

/** Speed of the crank at a moment. */
export interface SpeedAt {
  /** [s] from the start. */
  readonly t: number
  readonly rpm: number
}

/** Frame and hop [s]. */
export const FRAME_S = 1
const HOP_S = 0.125
/** Highest frequency that is listened to [Hz]. */
export const HIGHEST_HZ = 900
/** Harmonics that are followed before it is asked whose they are. */
const ROW = 5
/** Firing harmonics that are compared with what a pulse has. */
const HARMONICS = 4
/** Spread of a firing harmonic about c/m, and of another order about its share of c [ln of amplitude]; ours. */
const FIRING_SPREAD = 0.6
const OTHER_SPREAD = 1.1
/** Share of the firing pulse that another order usually has [–]. */
const OTHER_SHARE = 0.12
/** How much the firing pulse’s share of all that stands out counts [–]. */
const SHARE_WEIGHT = 2.5
/** A peak that no order explains speaks against a speed, at most by this [ln]. */
const MOST_AGAINST = 2.5
/** Power over the noise from which a frame is said to hold a firing pulse [–]. */
const STANDS_OUT = 5

/** Signal at a lower rate: means of neighbouring samples, so that what is left out does not fold back. */
export function slower(
  signal: Float64Array,
  sampleHz: number,
  wantedHz: number,
): { signal: Float64Array; sampleHz: number } {
  const by = Math.max(1, Math.floor(sampleHz / wantedHz))
  if (by === 1) return { signal, sampleHz }
  const n = Math.floor(signal.length / by)
  const out = new Float64Array(n)
  for (let i = 0, k = 0; i < n; i++) {
    let s = 0
    for (let j = 0; j < by; j++) s += signal[k++]
    out[i] = s / by
  }
  return { signal: out, sampleHz: sampleHz / by }
}

/**
 * Noise by bin: the power that two fifths of the bins about it stay under, times what that is of a mean. Wind and road are
 * louder below: there fewer bins are about.
 */
function noiseOf(power: Float64Array, width: number, lobe: number): Float64Array {
  const n = power.length
  const out = new Float64Array(n)
  let floor = 0
  let next = 0
  for (let i = 0; i < n; i++) {
    if (i >= next) {
      const about = Math.round(Math.min(width, Math.max(5 * lobe, 0.5 * i)))
      const near = power.slice(Math.max(1, i - about), Math.min(n, i + about)).sort()
      floor = 2 * near[Math.floor(0.4 * near.length)] + 1e-30
      next = i + Math.max(1, about >> 3)
    }
    out[i] = floor
  }
  return out
}

/** Peaks that stand out of the noise: bin and ln of how far. */
function peaksOf(power: Float64Array, noise: Float64Array): { bin: number; over: number; power: number }[] {
  const out: { bin: number; over: number; power: number }[] = []
  for (let i = 2; i + 2 < power.length; i++) {
    const p = power[i]
    if (p > 6 * noise[i] && p >= power[i - 1] && p > power[i + 1] && p >= power[i - 2] && p > power[i + 2])
      out.push({ bin: i, over: Math.log(p / noise[i]), power: p })
  }
  return out.sort((a, b) => b.over - a.over).slice(0, 24)
}

/** Power of one stretch of signal, and what may be read from it. */
export class Frame {
  private readonly noise: Float64Array
  private readonly peaks: readonly { bin: number; over: number; power: number }[]

  constructor(
    private readonly power: Float64Array,
    private readonly binHz: number,
    /** Half the width of a steady tone's peak [bins]. */
    private readonly lobe: number,
    /** How far a tone may wander in the frame [–]. */
    private readonly smear: number,
    /** How far about a frequency its noise is looked for, in the frequency's unit. */
    about: number,
  ) {
    this.noise = noiseOf(power, about / binHz, lobe)
    this.peaks = peaksOf(power, this.noise)
  }

  /** Greatest power about a frequency. */
  private near(hz: number): number {
    const c = hz / this.binHz
    const w = Math.max(this.lobe / 2, 0.006 * c)
    let top = 0
    const last = Math.min(this.power.length - 1, Math.ceil(c + w))
    for (let i = Math.max(1, Math.floor(c - w)); i <= last; i++) if (this.power[i] > top) top = this.power[i]
    return top
  }

  private noiseAt(hz: number): number {
    return this.noise[Math.min(this.noise.length - 1, Math.round(hz / this.binHz))]
  }

  /** Whether the firing pulse or its first harmonic stands out of the noise. */
  holds(firingHz: number): boolean {
    return [1, 2].some((m) => this.near(m * firingHz) > STANDS_OUT * this.noiseAt(m * firingHz))
  }

  /**
   * How much a row of harmonics stands out of what lies midway between them: whose it is is not asked yet.
   */
  row(pulseHz: number): number {
    const top = this.power.length * this.binHz
    let sum = 0
    let weights = 0
    for (let m = 1; m <= ROW && m * pulseHz < top; m++) {
      const over = (hz: number): number => Math.min(7, Math.max(0, Math.log(this.near(hz) / (2 * this.noiseAt(hz)))))
      sum += (over(m * pulseHz) - 0.9 * over((m - 0.5) * pulseHz)) / m
      weights += 1 / m
    }
    return weights > 0 ? sum / weights : 0
  }

  /**
   * Log of how well a speed explains the frame: firing harmonics as strong as a pulse's, c/m; other half orders much
   * weaker; no strong peak that is no order. Half the speed lacks its first harmonic, double the speed has a half order as
   * strong as its pulse.
   */
  score(cycleHz: number, cylinders: number): number {
    const top = this.power.length * this.binHz
    const firing = cycleHz * cylinders
    const seen: number[] = []
    const floor: number[] = []
    for (let m = 1; m <= HARMONICS && m * firing < top; m++) {
      seen.push(this.near(m * firing))
      floor.push(this.noiseAt(m * firing))
    }
    if (!seen.length) return -99
    // strength of the pulse: the middle of what its first harmonics say
    let ln = 0
    let weights = 0
    seen.slice(0, 3).forEach((p, i) => {
      ln += Math.log(Math.max(p - floor[i], 0.3 * floor[i]) * (i + 1) ** 2) / (i + 1)
      weights += 1 / (i + 1)
    })
    const c2 = Math.exp(ln / weights)
    let log = 0
    seen.forEach((p, i) => {
      const m = i + 1
      const x = 0.5 * Math.log((p + floor[i]) / (c2 / m ** 2 + 2 * floor[i]))
      log -= 0.5 * (x / FIRING_SPREAD) ** 2
    })
    // most of what stands out is the firing pulse
    const all = this.peaks.reduce((x, p) => x + p.power, 0)
    const mine = seen.reduce((x, p, i) => x + Math.max(0, p - 2 * floor[i]), 0)
    log += SHARE_WEIGHT * Math.log(Math.min(1, mine / (all + 1e-30)) + 0.003)
    const orders = Math.min(2 * cylinders, Math.floor(top / cycleHz))
    let others = 0
    for (let k = 1; k <= orders; k++) {
      if (k % cylinders === 0) continue
      const hz = k * cycleHz
      const noise = this.noiseAt(hz)
      const expected = (OTHER_SHARE / (0.5 + k / cylinders)) ** 2 * c2
      // weaker than usual is no fault of an engine
      const x = 0.5 * Math.log((this.near(hz) + noise) / (expected + 2 * noise))
      if (x > 0) others -= 0.5 * (x / OTHER_SPREAD) ** 2
    }
    // orders of one cause rise together
    log += others / Math.sqrt(cylinders)
    for (const { bin, over } of this.peaks) {
      const k = (bin * this.binHz) / cycleHz
      const off = Math.abs(k - Math.round(k)) * (cycleHz / this.binHz)
      if (Math.round(k) < 1 || off > this.lobe + this.smear * bin) log -= Math.min(MOST_AGAINST, 0.5 * over)
    }
    return log
  }

  /** Whether every second harmonic hardly stands out beside the others: then it may be the pulse of double the speed. */
  everySecond(pulseHz: number): boolean {
    const at = (m: number): number => Math.max(0, this.near(m * pulseHz) - 2 * this.noiseAt(m * pulseHz))
    return at(3) + at(5) < 0.12 * (at(2) + at(4)) && at(1) < at(2)
  }

  /** Speed finer than the grid: the frequency that gathers most amplitude in its harmonics. */
  refine(firingHz: number): number {
    let best = firingHz
    let most = -Infinity
    for (let s = -0.02; s <= 0.02; s += 0.0005) {
      let sum = 0
      for (let m = 1; m <= HARMONICS; m++) {
        const c = (m * firingHz * (1 + s)) / this.binHz
        const i = Math.floor(c)
        if (i + 1 >= this.power.length) break
        const p = this.power[i] + (c - i) * (this.power[i + 1] - this.power[i])
        if (p > 3 * this.noise[i]) sum += Math.sqrt(p)
      }
      if (sum > most) {
        most = sum
        best = firingHz * (1 + s)
      }
    }
    return best
  }
}

/** Power by frequency of overlapping windowed stretches. */
function powersOf(
  signal: Float64Array,
  sampleHz: number,
  length: number,
  hop: number,
  highestHz: number,
  onProgress?: (share: number) => void,
): { powers: Float64Array[]; binHz: number; size: number } {
  const size = 2 ** Math.ceil(Math.log2(3 * length))
  const fft = new FFT(size)
  const out = fft.createComplexArray()
  const input = new Array<number>(size).fill(0)
  const binHz = sampleHz / size
  const bins = Math.min(size / 2, Math.ceil(highestHz / binHz))
  const powers: Float64Array[] = []
  for (let from = 0; from + length <= signal.length; from += hop) {
    let mean = 0
    for (let i = 0; i < length; i++) mean += signal[from + i] / length
    for (let i = 0; i < length; i++)
      input[i] = (signal[from + i] - mean) * (0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / length))
    fft.realTransform(out, input)
    const power = new Float64Array(bins)
    for (let i = 0; i < bins; i++) power[i] = out[2 * i] ** 2 + out[2 * i + 1] ** 2
    powers.push(power)
    onProgress?.((0.8 * from) / signal.length)
  }
  return { powers, binHz, size }
}

/** Frames of a signal in time, and the middle of each [s]. */
export function framesOf(
  signal: Float64Array,
  sampleHz: number,
  onProgress?: (share: number) => void,
): { frames: Frame[]; times: number[] } {
  const length = Math.min(signal.length, Math.round(FRAME_S * sampleHz))
  const hop = Math.max(1, Math.round(HOP_S * sampleHz))
  const { powers, binHz, size } = powersOf(signal, sampleHz, length, hop, HIGHEST_HZ, onProgress)
  return {
    frames: powers.map((p) => new Frame(p, binHz, (2 * size) / length, 0.03, 45)),
    times: powers.map((_, f) => (f * hop + length / 2) / sampleHz),
  }
}

/**
 * Spectrum over orders of what was followed (1 is its pulse): the signal by angle instead of time, so that a wandering
 * speed does not smear it; power averaged over overlapping stretches of about a second.
 */
export function orderSpectrum(
  signal: Float64Array,
  sampleHz: number,
  followed: readonly SpeedAt[],
  cylinders: number,
): Frame {
  const pulseHz = (x: SpeedAt): number => (cylinders * x.rpm) / 120
  const middle = followed.map(pulseHz).sort((a, b) => a - b)[Math.floor(followed.length / 2)]
  const perPulse = Math.max(8, Math.ceil((2 * HIGHEST_HZ) / middle))
  // by angle
  const turned: number[] = []
  let angle = 0
  let next = 0
  for (let i = 1, f = 0; i < signal.length; i++) {
    const t = i / sampleHz
    while (f + 2 < followed.length && followed[f + 1].t < t) f++
    const a = followed[f]
    const b = followed[Math.min(followed.length - 1, f + 1)]
    const share = b.t > a.t ? Math.min(1, Math.max(0, (t - a.t) / (b.t - a.t))) : 0
    const step = (pulseHz(a) + share * (pulseHz(b) - pulseHz(a))) / sampleHz
    while (next <= angle + step) {
      const part = (next - angle) / step
      turned.push(signal[i - 1] + part * (signal[i] - signal[i - 1]))
      next += 1 / perPulse
    }
    angle += step
  }
  const length = Math.min(turned.length, Math.round(1.2 * FRAME_S * middle) * perPulse)
  const { powers, binHz, size } = powersOf(
    Float64Array.from(turned),
    perPulse,
    length,
    Math.max(1, length >> 2),
    perPulse / 2,
  )
  const mean = new Float64Array(powers[0].length)
  for (const p of powers) for (let i = 0; i < mean.length; i++) mean[i] += p[i] / powers.length
  return new Frame(mean, binHz, (2 * size) / length, 0.006, 1.5)
}
