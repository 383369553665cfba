import { expose } from 'comlink'
import {
  balanceOf,
  calibrated,
  columnsToAsk,
  diagnoseVisit,
  EQUIPMENT,
  evidenceFromRecording,
  readRecording,
  readWave,
  fileDoubts,
  recordingOfRows,
  speedOf,
  type Balance,
  type Beyond,
  type Calibration,
  type ColumnGuess,
  type Diagnosis,
  type Mapping,
  type OperatingPoint,
  type LiveRow,
  type RecordingError,
  type Speed,
  type Vehicle,
  type VisitFile,
  type WaveResult,
} from '@uvula/core'

/** What was read from a dropped file; plain data only. */
export type ReadResult =
  | {
      readonly ok: true
      readonly rows: number
      readonly points: readonly OperatingPoint[]
      readonly closedThrottlePct?: number
      readonly warnings: readonly string[]
    }
  | {
      readonly ok: false
      readonly error: RecordingError
      /** Columns that a person can be asked about; empty when asking would not help. */
      readonly columns: readonly ColumnGuess[]
    }

/** Failures that a word about the columns can mend. */
const ASKABLE: ReadonlySet<RecordingError['code']> = new Set(['no-header', 'no-time', 'not-sure', 'no-usable-channel'])

/** Rows of the live recording that is watched. */
const watched: LiveRow[] = []

/** Long work, away from the screen. Failures cross as values. */
const heart = {
  /** @param missing - equipment that is not at hand */
  diagnose(file: VisitFile, round: number, beyond: Beyond, missing: readonly string[]): Diagnosis {
    const start = performance.now()
    const equipment = EQUIPMENT.filter((x) => !missing.includes(x))
    const diagnosis = diagnoseVisit(file, round, { ...beyond, equipment })
    performance.measure('diagnosis', { start })
    return diagnosis
  },
  /**
   * What live rows hold so far. Only the new ones come each time: after half an hour all of them would cost the screen more
   * than a tap may.
   * @param from - how many rows of this recording came before; 0 begins anew
   */
  watch(rows: readonly LiveRow[], from: number, vehicle: Vehicle): ReturnType<typeof evidenceFromRecording> {
    watched.length = from
    watched.push(...rows)
    return evidenceFromRecording(recordingOfRows(watched), vehicle)
  },
  /** Speed of the crank in a sound. */
  speed(signal: Float64Array, sampleHz: number, vehicle: Vehicle): Speed {
    return speedOf(signal, sampleHz, { cylinders: vehicle.cylinders, idle: vehicle.idleSpecRpm })
  },
  /** Speed of the crank in the bytes of a sound or a waveform. */
  speedOfFile(bytes: Uint8Array, vehicle: Vehicle): WaveResult<Speed> {
    const wave = readWave(bytes)
    return wave.ok ? { ok: true, value: this.speed(wave.value.signal, wave.value.sampleHz, vehicle) } : wave
  },
  /** Cylinders against each other from the bytes of a waveform. */
  balance(
    bytes: Uint8Array,
    vehicle: Vehicle,
    side: 'intake' | 'exhaust',
    calibration: Calibration | undefined,
    tell?: (share: number) => void,
  ): WaveResult<Balance> {
    const read = readWave(bytes)
    const wave = read.ok && calibration ? calibrated(read.value, calibration) : read
    if (!wave.ok) return wave
    tell?.(0.3)
    return balanceOf({ vehicle, wave: wave.value, side, onProgress: (share) => tell?.(0.3 + 0.7 * share) })
  },
  /** @param tell - called now and then with the share that is read, 0..1 */
  read(bytes: Uint8Array, vehicle: Vehicle, mapping: Mapping | undefined, tell?: (share: number) => void): ReadResult {
    const result = readRecording(bytes, { mapping, tell })
    if (!result.ok) return { ...result, columns: ASKABLE.has(result.error.code) ? columnsToAsk(bytes) : [] }
    return {
      ok: true,
      rows: result.recording.rows,
      warnings: [...result.recording.warnings, ...fileDoubts(result.recording, vehicle)].map((w) => w.message),
      ...evidenceFromRecording(result.recording, vehicle),
    }
  },
}

export type Heart = typeof heart
expose(heart)
