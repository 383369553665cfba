import type { Calibration } from './calibration.js'
import { WaveFile } from './waveFile.js'
import type { Wave } from './wave.js'

/**
 * A wave as a WAV file of 32-bit floats: the signal moved and scaled into ±0.9, the mark as 0 and 0.9 in a second channel.
 * @returns the bytes, and the calibration that brings the samples back
 */
export function writeWav(wave: Wave): { readonly bytes: Uint8Array; readonly calibration: Calibration } {
  let low = Infinity
  let high = -Infinity
  for (const x of wave.signal) {
    if (x < low) low = x
    if (x > high) high = x
  }
  const offset = (low + high) / 2
  const scale = (high - low) / 1.8 || 1
  const top = wave.trigger?.reduce((a, x) => Math.max(a, x), 0) || 1
  const signal = wave.signal.map((x) => (x - offset) / scale)
  const wav = new WaveFile()
  wav.fromScratch(
    wave.trigger ? 2 : 1,
    Math.round(wave.sampleHz),
    '32f',
    (wave.trigger ? [signal, wave.trigger.map((x) => (0.9 * x) / top)] : signal) as unknown as Float64Array,
  )
  return { bytes: wav.toBuffer(), calibration: { scale, offset } }
}
