import { existsSync, renameSync } from 'node:fs'
import Database from 'better-sqlite3'
import { MIGRATIONS } from './options.js'

/** Names of the steps that lead to this version's schema, in their order. */
const STEPS: readonly string[] = MIGRATIONS.map((M) => new M().name)

/** Whether this version knows a step of the schema. */
export const knowsStep = (name: string): boolean => STEPS.includes(name)

/** Steps that a data file has taken, none where nothing is in it yet; undefined where it is no shop's file. */
function stepsOf(path: string): string[] | undefined {
  let db: Database.Database | undefined
  try {
    db = new Database(path, { readonly: true, fileMustExist: true })
    if (!db.prepare('SELECT 1 FROM sqlite_master').get()) return []
    return (db.prepare('SELECT name FROM migrations ORDER BY id').all() as { name: string }[]).map((m) => m.name)
  } catch {
    return undefined
  } finally {
    db?.close()
  }
}

/** Why this version must not open a data file, in a sentence; undefined where it may, or where there is none. */
export function schemaProblem(path: string): string | undefined {
  if (!existsSync(path)) return undefined
  const steps = stepsOf(path)
  if (!steps)
    return `${path} is damaged or no file of a shop: it is left as it is. Put it aside and restore the last backup (uvula restore).`
  const unknown = steps.find((name) => !STEPS.includes(name))
  return unknown
    ? `${path} was written by a newer Uvula (${unknown}): open it with that version or a later one. Nothing was changed.`
    : undefined
}

/** Whether a data file is not there or holds nothing: a shop that was never begun, or one that was lost. */
export const isBare = (path: string): boolean => !existsSync(path) || stepsOf(path)?.length === 0

/** First step that a data file has still to take; undefined where it is up to date or not there. */
function nextStep(path: string): string | undefined {
  const taken = existsSync(path) ? stepsOf(path) : undefined
  // what a first start left when it was killed holds nothing that could be copied
  return taken?.length ? STEPS.find((name) => !taken.includes(name)) : undefined
}

/** Copies a data file that is about to be migrated, once for each step; tells where to. */
export async function copyBeforeMigration(path: string): Promise<string | undefined> {
  const step = nextStep(path)
  if (!step) return undefined
  const copy = `${path}.before-${step}`
  if (existsSync(copy)) return copy
  const db = new Database(path, { readonly: true, fileMustExist: true })
  try {
    await db.backup(`${copy}.part`)
  } finally {
    db.close()
  }
  renameSync(`${copy}.part`, copy)
  return copy
}
