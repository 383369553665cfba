// uvula backup, check-backup, restore: a data folder from the command line, by the same code as the server's.
import { existsSync, mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import type { BackupHead } from '@uvula/contract'
import { isPostgres } from '../database/postgres.js'
import { lockFolder } from '../database/lock.js'
import { BackupProblem, checkBackup, restoreBackup, writeBackup } from './backup-file.js'

const USAGE = `uvula backup --data DIR --out FILE
uvula check-backup FILE
uvula restore FILE --data DIR

With DATABASE_URL set, backup and restore are of the shop on that PostgreSQL; DIR keeps what was replaced.`

/** What a backup holds, as one object. */
const told = (
  file: string,
  { madeAt, shop, schema, counts, bytes, sha256 }: BackupHead,
  more: object = {},
): object => ({
  file,
  madeAt,
  shop,
  schema,
  counts,
  bytes,
  sha256,
  ...more,
})

function need(value: string | undefined, what: string): string {
  if (value === undefined) throw new BackupProblem(`${what} is missing.\n\n${USAGE}`)
  return value
}

/** Where the shop is that a folder is of. */
const ownOf = (data: string): string => process.env.DATABASE_URL || join(data, 'own.sqlite')

/** A backup of a folder's own shop, while a server may be running on it. */
async function backup(args: string[]): Promise<object> {
  const { values } = parseArgs({ args, options: { data: { type: 'string' }, out: { type: 'string' } } })
  const [data, out] = [need(values.data, '--data'), need(values.out, '--out')]
  const database = ownOf(data)
  if (!isPostgres(database) && !existsSync(database))
    throw new BackupProblem(`${data} holds no shop of its own (own.sqlite): nothing to back up.`)
  return told(out, await writeBackup(database, out))
}

/** Reads a backup whole, against its hash. */
async function check(args: string[]): Promise<object> {
  const file = need(parseArgs({ args, allowPositionals: true, options: {} }).positionals[0], 'FILE')
  return told(file, await checkBackup(file))
}

/** A backup as a folder's own shop; a server must not be running on it. */
async function restore(args: string[]): Promise<object> {
  const { values, positionals } = parseArgs({ args, allowPositionals: true, options: { data: { type: 'string' } } })
  const [file, data] = [need(positionals[0], 'FILE'), need(values.data, '--data')]
  mkdirSync(data, { recursive: true, mode: 0o700 })
  const lock = lockFolder(data)
  try {
    const { head, keptAside } = await restoreBackup(file, ownOf(data), data)
    return told(file, head, keptAside ? { keptAside } : {})
  } finally {
    lock.release()
  }
}

const COMMANDS: Readonly<Record<string, (args: string[]) => Promise<object>>> = {
  backup,
  'check-backup': check,
  restore,
}

try {
  const [command, ...args] = process.argv.slice(2)
  process.stdout.write(`${JSON.stringify(await COMMANDS[command](args))}\n`)
} catch (e) {
  process.stderr.write(`${e instanceof Error ? e.message : String(e)}\n`)
  process.exitCode = 2
}
