import type { RecordMeta } from './meta.js'
import type { FillRecord, ProcedureRecord } from './quoteRecords.js'
import type { VehicleRecord, VisitFile, VisitNoun, VisitRecord } from './records.js'

/** Records by the noun they are written under. */
export type RecordOf = { readonly [N in VisitNoun]: VisitFile[N][number] } & {
  readonly vehicles: VehicleRecord
  readonly visits: VisitRecord
  readonly procedures: ProcedureRecord
  readonly fills: FillRecord
}

/** Nouns that a write may name; each is a path under /api. */
export type WriteNoun = keyof RecordOf

/** What the server works out of a write: it stands in the record and is never sent. */
interface WorkedOut {
  readonly recordings: 'sha256' | 'bytes' | 'rows' | 'points' | 'closedThrottlePct' | 'warnings'
  readonly photos: 'sha256'
  readonly reports: 'number' | 'issuedAt' | 'sheet'
}

/** What is sent and stands in no record: a file as it was dropped, base64, or the key under which it came in pieces. */
interface SentOnly {
  readonly recordings: { readonly content?: string; readonly upload?: string; readonly uploadBytes?: number }
  readonly photos: { readonly content?: string }
}

type Of<T, N> = N extends keyof T ? T[N] : never
type SentWith<N> = N extends keyof SentOnly ? SentOnly[N] : unknown
/** A field that may be left out may be emptied too. */
type Emptied<T> = { readonly [K in keyof T]: undefined extends T[K] ? T[K] | null : T[K] }

/** The fields that a record of a noun is written with: what somebody entered, and no more. */
export type WriteFields<N extends WriteNoun> = N extends WriteNoun
  ? Emptied<Omit<RecordOf[N], Exclude<keyof RecordMeta, 'deleted'> | Of<WorkedOut, N>>> & SentWith<N>
  : never
