import { parentPort, workerData } from 'node:worker_threads'
import type { BackupHead } from '@uvula/contract'
import { writeBackup } from './backup-file.js'

/** What the thread is told. */
export interface BackupWork {
  readonly database: string
  readonly out: string
}

/** What it tells: the head of what it wrote, or why it did not, with the system's code where it has one. */
export type BackupTold = { readonly head: BackupHead } | { readonly failed: string; readonly code?: string }

const { database, out } = workerData as BackupWork
const tell = (told: BackupTold): void => parentPort!.postMessage(told)
writeBackup(database, out).then(
  (head) => tell({ head }),
  (e: Error & { code?: string }) => tell({ failed: e.message, code: e.code }),
)
