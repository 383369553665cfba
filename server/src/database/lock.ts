import Database from 'better-sqlite3'
import { join } from 'node:path'
import { Refusal } from '../refusal.js'

/** A data folder that this process holds alone. */
export interface FolderLock {
  release: () => void
}

/**
 * Takes a data folder for this process. The lock is SQLite's own on a file that holds nothing, so that it goes with the
 * process however that ends. @throws Refusal when another server has the folder; what the disk says otherwise
 */
export function lockFolder(folder: string): FolderLock {
  const db = new Database(join(folder, 'lock.sqlite'), { timeout: 0 })
  try {
    db.exec('BEGIN EXCLUSIVE')
  } catch (e) {
    db.close()
    if ((e as { code?: string }).code === 'SQLITE_BUSY')
      throw new Refusal(`Another Uvula runs on ${folder}: use that one, or stop it first.`, { cause: e })
    throw e
  }
  return { release: () => db.close() }
}
