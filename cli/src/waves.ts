import { balanceOf, calibrated, checkCalibration, readWave, speedOf, type Wave, type WaveResult } from '@uvula/core'
import { CommandError, eachCase, readBytes, readJson, readVehicle, type BatchLine } from './files.js'

function kept<T>(path: string, result: WaveResult<T>): T {
  if (!result.ok) throw new CommandError(result.error.code, `${path}: ${result.error.message}`)
  return result.value
}

/** A waveform file, in pressure where a calibration is given. @throws CommandError */
export function readWaveFile(path: string, triggerChannel?: number, calibration?: string): Wave {
  const wave = kept(path, readWave(readBytes(path), { triggerChannel }))
  if (calibration === undefined) return wave
  return kept(path, calibrated(wave, kept(calibration, checkCalibration(readJson(calibration)))))
}

/** What `uvula balance` is asked. */
export interface BalanceFiles {
  readonly vehicle: string
  readonly wave: string
  readonly calibration?: string
  readonly triggerChannel?: number
  readonly side?: 'intake' | 'exhaust'
  readonly hoseM?: number
}

const round = (x: number, digits: number): number => Number(x.toFixed(digits))
const rounded = (i: { median: number; low: number; high: number }, digits: number): object => ({
  median: round(i.median, digits),
  low: round(i.low, digits),
  high: round(i.high, digits),
})

/** Balance of one waveform in the open format. @throws CommandError */
export function balanceFiles(q: BalanceFiles): object {
  const raw = readJson(q.vehicle) as { firingOrder?: unknown }
  const vehicle = readVehicle(q.vehicle)
  const order = raw.firingOrder
  if (order !== undefined && !isOrder(order, vehicle.cylinders))
    throw new CommandError(
      'vehicle-not-valid',
      `${q.vehicle}: firingOrder is ${JSON.stringify(order)}, accepted: each of the cylinders 1 to ${vehicle.cylinders} once, cylinder 1 first.`,
    )
  const wave = readWaveFile(q.wave, q.triggerChannel, q.calibration)
  const b = kept(
    q.wave,
    balanceOf({
      vehicle: { ...vehicle, ...(order === undefined ? {} : { firingOrder: order as number[] }) },
      wave,
      side: q.side,
      hoseM: q.hoseM,
    }),
  )
  return {
    rpm: rounded(b.rpm, 1),
    cycles: b.cycles,
    cylinders: b.cylinders.map((c) => ({
      cylinder: c.cylinder,
      position: c.position,
      pullPct: rounded(c.pullPct, 1),
    })),
    odd: b.odd && {
      ...b.odd,
      probability: round(b.odd.probability, 4),
      kind: b.odd.kind.map((k) => ({ ...k, probability: round(k.probability, 3) })),
    },
    orders: b.orders.map((o) => ({ ...o, size: Number(o.size.toPrecision(4)) })),
    warnings: b.warnings,
  }
}

const isOrder = (x: unknown, n: number): boolean =>
  Array.isArray(x) &&
  x.length === n &&
  x[0] === 1 &&
  new Set(x).size === n &&
  x.every((c) => Number.isInteger(c) && c >= 1 && c <= n)

/** Every case of a folder, one result a line. */
export const balanceBatch = (
  dir: string,
  options: Pick<BalanceFiles, 'triggerChannel' | 'side' | 'hoseM'>,
): Generator<BatchLine> =>
  eachCase(dir, ['vehicle.json', ['wave.wav', 'wave.csv']], (c) =>
    balanceFiles({
      ...options,
      vehicle: c.path('vehicle.json'),
      wave: c.maybe('wave.wav', 'wave.csv')!,
      calibration: c.maybe('calibration.json'),
    }),
  )

/** Speed of the crank in a waveform or a sound. @throws CommandError */
export function speedFile(path: string, cylinders: number, idle?: { min: number; max: number }): object {
  const wave = readWaveFile(path)
  const speed = speedOf(wave.signal, wave.sampleHz, { cylinders, idle })
  return { rpm: speed.rpm, track: speed.track, warnings: speed.warnings }
}
