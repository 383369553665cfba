import type { CycleSpan } from './cycles.js'
import type { Speed } from './speed.js'
import type { Wave } from './wave.js'

/**
 * Cycles by the firing pulses alone: the angle is the integral of the speed, corrected by the phase of the firing order
 * against it, smoothed over a cycle. Where a cycle begins in the firing order is not known.
 */
export function spansByPulses(wave: Wave, speed: Speed, n: number): CycleSpan[] {
  const { signal, sampleHz } = wave
  const { track } = speed
  const total = signal.length
  // angle in cycles, by sample
  const angle = new Float64Array(total)
  for (let i = 1, f = 0; i < total; i++) {
    const t = i / sampleHz
    while (f + 2 < track.length && track[f + 1].t < t) f++
    const a = track[f]
    const b = track[Math.min(track.length - 1, f + 1)]
    const share = b.t > a.t ? Math.min(1, Math.max(0, (t - a.t) / (b.t - a.t))) : 0
    angle[i] = angle[i - 1] + (a.rpm + share * (b.rpm - a.rpm)) / 120 / sampleHz
  }
  const mean = signal.reduce((s, x) => s + x, 0) / total
  const window = Math.max(2, Math.round((120 * sampleHz) / speed.rpm!.median))
  // firing order turned to rest, summed over one cycle around each sample
  const re = new Float64Array(total + 1)
  const im = new Float64Array(total + 1)
  for (let i = 0; i < total; i++) {
    const a = 2 * Math.PI * n * angle[i]
    re[i + 1] = re[i] + (signal[i] - mean) * Math.cos(a)
    im[i + 1] = im[i] - (signal[i] - mean) * Math.sin(a)
  }
  let before = 0
  let turns = 0
  const spans: CycleSpan[] = []
  let last: number | undefined
  let next = 1
  for (let i = 0; i < total; i++) {
    const a = Math.max(0, i - (window >> 1))
    const b = Math.min(total, a + window)
    const phase = Math.atan2(im[b] - im[a], re[b] - re[a])
    if (i > 0) turns += phase - before > Math.PI ? -1 : before - phase > Math.PI ? 1 : 0
    before = phase
    const true_ = angle[i] + (phase / (2 * Math.PI) + turns) / n
    if (i === 0) next = Math.ceil(true_)
    if (true_ >= next) {
      if (last !== undefined) spans.push({ from: last, to: i })
      last = i
      next += 1
    }
  }
  return spans
}
