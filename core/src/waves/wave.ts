/** A signal against time: one pressure channel, and the mark of cylinder 1 where it was taken. */
export interface Wave {
  /** Samples a second [Hz]. */
  readonly sampleHz: number
  /** In `unit`; intake or exhaust pressure, or sound. */
  readonly signal: Float64Array
  /** Mark of cylinder 1, in any unit: it rises, or spikes, once a cycle or once a turn. */
  readonly trigger?: Float64Array
  /** `raw` is what the file holds, of unknown scale; pressures are absolute [kPa] once calibrated. */
  readonly unit: 'raw' | 'kPa'
}

/** Something that was seen in a signal and limits what may be said of it. */
export interface WaveWarning {
  readonly code: string
  readonly message: string
}

/** Why a signal cannot be used: a code for machines, a sentence that says what would do. */
export interface WaveError {
  readonly code: string
  readonly message: string
}

export type WaveResult<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly error: WaveError }

export const waveError = (code: string, message: string): { readonly ok: false; readonly error: WaveError } => ({
  ok: false,
  error: { code, message },
})

/** Longest signal that is taken in [samples]: two minutes at 50 kHz. */
export const MOST_SAMPLES = 6_000_000

/** From this share of samples at one end of the scale a signal is cut off there [–]. */
const CLIPPED_SHARE = 0.004

/** What a signal is doubted for before anything is worked out from it. */
export function waveDoubts(signal: Float64Array): WaveResult<readonly WaveWarning[]> {
  let low = Infinity
  let high = -Infinity
  for (const x of signal) {
    if (!Number.isFinite(x)) return waveError('not-a-number', 'The signal holds values that are no numbers.')
    if (x < low) low = x
    if (x > high) high = x
  }
  if (!(high > low)) return waveError('flat', 'The signal does not move at all: is the transducer connected?')
  let atLow = 0
  let atHigh = 0
  const edge = 1e-6 * (high - low)
  for (const x of signal) {
    if (x - low <= edge) atLow++
    if (high - x <= edge) atHigh++
  }
  const share = Math.max(atLow, atHigh) / signal.length
  if (share < CLIPPED_SHARE) return { ok: true, value: [] }
  return {
    ok: true,
    value: [
      {
        code: 'clipped',
        message: `The signal is cut off at its ${atHigh > atLow ? 'upper' : 'lower'} end in ${(100 * share).toFixed(1)} % of the samples: a range that is too small. Pulls are understated; record again with a wider range.`,
      },
    ],
  }
}
