import * as wavefile from 'wavefile'
import type { Wave } from './wave.js'

// Node sees this package as one default export, a bundler sees its names
const WaveFile = wavefile.WaveFile ?? (wavefile as unknown as { default: typeof wavefile }).default.WaveFile

/** What full scale of a written WAV file stands for: kPa = offset + scale · sample. */
export interface WrittenScale {
  readonly scale: number
  readonly offset: number
}

/**
 * A wave as a WAV file of 32-bit floats: the signal moved and scaled into ±0.9, the mark as 0 and 0.9 in a second channel.
 * @returns the bytes, and the calibration that brings the samples back
 */
export function writeWav(wave: Wave): { readonly bytes: Uint8Array; readonly calibration: WrittenScale } {
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
