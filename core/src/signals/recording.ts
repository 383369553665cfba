import type { ChannelId } from './channels.js'

/** A recording: columns of equal length; a missing value is NaN, `fuel_status` is 1 closed, 0 open. */
export interface Recording {
  readonly rows: number
  readonly columns: Readonly<Partial<Record<ChannelId, Float64Array>>>
  /** What a reader should know: columns not understood, values dropped. */
  readonly warnings: readonly RecordingWarning[]
}

export interface RecordingWarning {
  readonly code:
    | 'unknown-column'
    | 'twice'
    | 'unit-by-value'
    | 'values-dropped'
    | 'truncated'
    | 'header-again'
    | 'time-backwards'
    | 'time-restarts'
    | 'newest-first'
    | 'header-changes'
    | 'packed'
    | 'in-rounds'
    | 'time-by-interval'
    | 'decimal-commas'
  readonly message: string
}

/** Why a file is no recording. */
export interface RecordingError {
  readonly code:
    | 'empty'
    | 'packed'
    | 'not-text'
    | 'no-header'
    | 'too-many-columns'
    | 'no-time'
    | 'not-sure'
    | 'no-usable-channel'
    | 'no-rows'
    | 'all-blank'
    | 'time-stands'
  readonly message: string
}

export type RecordingResult =
  { readonly ok: true; readonly recording: Recording } | { readonly ok: false; readonly error: RecordingError }
