import { waveError, type Wave, type WaveResult } from './wave.js'

/** Straight line from what a transducer gives to absolute pressure: kPa = offset + scale · raw. */
export interface Calibration {
  /** [kPa per unit of the signal]; below 0 for a transducer that is connected the other way round. */
  readonly scale: number
  /** [kPa]. */
  readonly offset: number
}

/** Pressures that an intake or a tailpipe can have [kPa absolute]. */
const LEAST_KPA = 0
const MOST_KPA = 400

/**
 * Calibration by two known pressures: the barometer with the hose open, and one known vacuum.
 * @returns refused when both give the same signal, or a pressure is none that an engine has
 */
export function calibrationOf(
  open: { readonly raw: number; readonly kpa: number },
  drawn: { readonly raw: number; readonly kpa: number },
): WaveResult<Calibration> {
  for (const [name, p] of [
    ['barometer', open.kpa],
    ['known vacuum', drawn.kpa],
  ] as const)
    if (!(p >= LEAST_KPA && p <= MOST_KPA))
      return waveError('calibration', `${name}: ${p} kPa, accepted: ${LEAST_KPA} to ${MOST_KPA} kPa absolute.`)
  if (!(Math.abs(open.kpa - drawn.kpa) >= 5))
    return waveError('calibration', 'The two pressures lie less than 5 kPa apart: draw a vacuum of 20 kPa or more.')
  const scale = (drawn.kpa - open.kpa) / (drawn.raw - open.raw)
  if (!Number.isFinite(scale))
    return waveError(
      'calibration',
      'The signal is the same at both pressures: the transducer or its hose is not connected.',
    )
  return { ok: true, value: { scale, offset: open.kpa - scale * open.raw } }
}

/** Calibration file: {"scale","offset"} or {"points":[{"raw","kpa"},{"raw","kpa"}]}. */
export function checkCalibration(input: unknown): WaveResult<Calibration> {
  const c = input as { scale?: unknown; offset?: unknown; points?: { raw?: unknown; kpa?: unknown }[] } | null
  const number = (x: unknown): x is number => typeof x === 'number' && Number.isFinite(x)
  if (c && typeof c === 'object') {
    if (number(c.scale) && number(c.offset)) {
      if (c.scale === 0) return waveError('calibration', 'scale is 0, accepted: any number but 0 [kPa per unit].')
      return { ok: true, value: { scale: c.scale, offset: c.offset } }
    }
    if (Array.isArray(c.points) && c.points.length === 2) {
      const [a, b] = c.points
      if (a && b && number(a.raw) && number(a.kpa) && number(b.raw) && number(b.kpa))
        return calibrationOf({ raw: a.raw, kpa: a.kpa }, { raw: b.raw, kpa: b.kpa })
    }
  }
  return waveError(
    'calibration',
    'A calibration is {"scale","offset"} in kPa per unit and kPa, or {"points":[{"raw","kpa"},{"raw","kpa"}]}.',
  )
}

/**
 * A wave in absolute pressure. A mean that no engine's intake or tailpipe has is refused.
 */
export function calibrated(wave: Wave, c: Calibration): WaveResult<Wave> {
  const signal = wave.signal.map((x) => c.offset + c.scale * x)
  const mean = signal.reduce((s, x) => s + x, 0) / signal.length
  if (!(mean > LEAST_KPA && mean < MOST_KPA))
    return waveError(
      'calibration',
      `With this calibration the mean pressure is ${mean.toFixed(1)} kPa: no engine has that. Check the unit, and which of the two points is which.`,
    )
  return { ok: true, value: { ...wave, signal, unit: 'kPa' } }
}
