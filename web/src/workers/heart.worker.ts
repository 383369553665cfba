import { expose } from 'comlink'
import {
  columnsToAsk,
  diagnoseVisit,
  evidenceFromRecording,
  readRecording,
  type ColumnGuess,
  type Diagnosis,
  type Mapping,
  type OperatingPoint,
  type Recording,
  type RecordingError,
  type Vehicle,
  type VisitFile,
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

/** Long work, away from the screen. Failures cross as values. */
const heart = {
  diagnose(file: VisitFile, round: number): Diagnosis {
    return diagnoseVisit(file, round)
  },
  /** What live rows hold so far. */
  watch(recording: Recording, vehicle: Vehicle): ReturnType<typeof evidenceFromRecording> {
    return evidenceFromRecording(recording, vehicle)
  },
  read(bytes: Uint8Array, vehicle: Vehicle, mapping?: Mapping): ReadResult {
    const result = readRecording(bytes, { mapping })
    if (!result.ok) return { ...result, columns: ASKABLE.has(result.error.code) ? columnsToAsk(bytes) : [] }
    return {
      ok: true,
      rows: result.recording.rows,
      warnings: result.recording.warnings.map((w) => w.message),
      ...evidenceFromRecording(result.recording, vehicle),
    }
  },
}

export type Heart = typeof heart
expose(heart)
