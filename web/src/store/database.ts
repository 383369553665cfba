import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import type { PersistedQuery } from '@tanstack/react-query-persist-client'
import type { LinkSample, WriteFields, WriteNoun } from '@uvula/contract'

/** One write on its way to the server, with the fields of its noun. */
export interface PendingWrite<N extends WriteNoun = WriteNoun> {
  /** Order of entry; given by the store. */
  readonly seq?: number
  readonly key: string
  readonly noun: N
  readonly id: string
  readonly visitId?: string
  readonly vehicleId?: string
  /** Version that the server held when this was entered, as far as this device knew. */
  readonly baseVersion: number
  /** Key of this device's own earlier write that it was made upon: what it saw is what it names. */
  readonly basedOnKey?: string
  readonly by: string
  readonly at: string
  readonly data: WriteFields<N>
  /** What this device worked out of it meanwhile; shown, not sent. */
  readonly local?: Readonly<Record<string, unknown>>
  /** Size of the file that goes with it [bytes]; the file lies in pieces in a store of its own, so that no tap reads it along. */
  readonly fileBytes?: number
  /** waiting: goes out by itself; refused and conflict wait for a person. */
  readonly state: 'waiting' | 'refused' | 'conflict'
  readonly problem?: string
  /** On a conflict: what the server holds. */
  readonly current?: unknown
}

interface Schema extends DBSchema {
  outbox: { key: number; value: PendingWrite }
  /** Files that wait, by pieceKey. */
  pieces: { key: string; value: Uint8Array<ArrayBuffer> }
  /** Last seen answers (kept.ts). */
  queries: { key: string; value: PersistedQuery }
  /** Live samples that are being recorded, in pieces: they outlive a closed page. */
  live: { key: string; value: readonly LinkSample[] }
}

let opened: Promise<IDBPDatabase<Schema>> | undefined

/** The browser's own storage: the outbox, and the last seen copy of what was read. */
export function database(): Promise<IDBPDatabase<Schema>> {
  opened ??= openDB<Schema>('uvula', 4, {
    upgrade(db, from) {
      if (from < 1) db.createObjectStore('outbox', { keyPath: 'seq', autoIncrement: true })
      if (from < 2) db.createObjectStore('live')
      if (from < 3) {
        // answers were kept by their address before
        if (db.objectStoreNames.contains('cache' as never)) db.deleteObjectStore('cache' as never)
        db.createObjectStore('queries')
      }
      if (from < 4) db.createObjectStore('pieces')
    },
  })
  return opened
}

/** An id that works without a secure context too. */
export function newId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(12))
  return [...bytes].map((b) => b.toString(16).padStart(2, '0')).join('')
}
