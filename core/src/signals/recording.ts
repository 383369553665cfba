import type { ChannelId } from './channels.js'

/** A recording: columns of equal length; a missing value is NaN, `fuel_status` is 1 closed, 0 open. */
export interface Recording {
  readonly rows: number
  readonly columns: Readonly<Partial<Record<ChannelId, Float64Array>>>
  /** What a reader should know: columns not understood, values dropped. */
  readonly warnings: readonly RecordingWarning[]
}

export interface RecordingWarning {
  readonly code: 'unknown-column' | 'values-dropped' | 'truncated'
  readonly message: string
}

/** Why a file is no recording. */
export interface RecordingError {
  readonly code: 'empty' | 'not-text' | 'no-header' | 'no-time' | 'no-usable-channel' | 'no-rows'
  readonly message: string
}

export type RecordingResult =
  { readonly ok: true; readonly recording: Recording } | { readonly ok: false; readonly error: RecordingError }
