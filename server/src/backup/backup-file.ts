import { createHash } from 'node:crypto'
import { createReadStream, createWriteStream, existsSync } from 'node:fs'
import { open, rename, rm, stat } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import { Transform } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { createGunzip, createGzip } from 'node:zlib'
import Database from 'better-sqlite3'
import type { BackupHead } from '@uvula/contract'
import { fileToShop, shopToFile } from '../database/copy-shop.js'
import { isPostgres, openPostgres } from '../database/postgres.js'
import { schemaProblem } from '../database/schema.js'

/** Ending of a backup's name. */
export const BACKUP_ENDING = '.uvula-backup'
/** A head is one line, and no longer. */
const HEAD_MOST = 64 * 1024
/** Pages copied at a time, so that whoever writes waits for no longer than that takes. */
const PAGES = 2000

/** Why a file is no backup that can be restored, in a sentence for people. */
export class BackupProblem extends Error {}

const CUT = 'It is cut short or damaged: what is in it is not what its head says. Take another backup.'

/** Streams a file through a hash and a count, no further than `most` bytes. */
function counted(most = Infinity): {
  readonly through: Transform
  readonly told: () => { bytes: number; sha256: string }
} {
  const hash = createHash('sha256')
  let bytes = 0
  const through = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      bytes += chunk.length
      hash.update(chunk)
      // a packed file may unpack to anything
      done(bytes > most ? new BackupProblem(CUT) : null, chunk)
    },
  })
  return { through, told: () => ({ bytes, sha256: hash.digest('hex') }) }
}

/** Tables of records and how many stand in each; the schema's own and what SQLite searches by are left out. */
function tablesOf(db: Database.Database): Record<string, number> {
  const names = db
    .prepare(
      `SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%' AND name NOT LIKE 'search%' AND name != 'migrations'`,
    )
    .all() as { name: string }[]
  const count = ({ name }: { name: string }): [string, number] => [
    name,
    (db.prepare(`SELECT count(*) AS n FROM "${name}"`).get() as { n: number }).n,
  ]
  return Object.fromEntries(names.sort((a, b) => a.name.localeCompare(b.name, 'en')).map(count))
}

/** @throws BackupProblem when SQLite finds the file damaged */
function checkWhole(db: Database.Database): void {
  const said = db.pragma('integrity_check', { simple: true })
  if (said !== 'ok') throw new BackupProblem('The shop’s file is damaged inside: a backup of it would be too.')
}

/**
 * Writes a backup of a shop while it is in use, whether it is kept in a file or on PostgreSQL, in the same form: a copy of one moment, checked, packed behind a head that tells its
 * hash and counts, read back and only then given its name. An earlier file of that name is replaced last of all.
 *
 * @throws BackupProblem when the data file is damaged; what the disk says otherwise, and nothing is left behind then
 */
export async function writeBackup(database: string, out: string, now = new Date()): Promise<BackupHead> {
  const [copy, part] = [`${out}.copy`, `${out}.part`]
  try {
    await copyOf(database, copy)
    const db = new Database(copy)
    let about: Pick<BackupHead, 'shop' | 'schema' | 'counts'>
    try {
      db.pragma('journal_mode = DELETE')
      checkWhole(db)
      const schema = db.prepare('SELECT name FROM migrations ORDER BY id DESC LIMIT 1').get() as { name: string }
      const shop = db.prepare('SELECT value FROM shop').get() as { value: string } | undefined
      about = {
        schema: schema.name,
        shop: shop ? (JSON.parse(shop.value) as { name: string }).name : '',
        counts: tablesOf(db),
      }
    } finally {
      db.close()
    }
    const hashed = counted()
    await pipeline(createReadStream(copy), hashed.through, async (chunks) => {
      for await (const _ of chunks);
    })
    const head: BackupHead = {
      format: 'uvula-backup',
      formatVersion: 1,
      madeAt: now.toISOString(),
      ...about,
      ...hashed.told(),
    }
    const file = createWriteStream(part)
    file.write(`${JSON.stringify(head)}\n`)
    await pipeline(createReadStream(copy), createGzip(), file)
    await synced(part)
    await checkBackup(part)
    await rename(part, out)
    return head
  } finally {
    for (const left of [copy, `${copy}-journal`, part]) await rm(left, { force: true })
  }
}

/** A data file of its own that holds a shop as it stands at one moment. */
async function copyOf(database: string, copy: string): Promise<void> {
  if (isPostgres(database)) {
    await rm(copy, { force: true })
    return shopToFile(database, copy)
  }
  const source = new Database(database, { readonly: true, fileMustExist: true })
  try {
    await source.backup(copy, { progress: () => PAGES })
  } finally {
    source.close()
  }
}

async function synced(path: string): Promise<void> {
  const file = await open(path, 'r+')
  await file.sync()
  await file.close()
}

/** Head of a backup, and where the packed file begins. @throws BackupProblem when it is none that this version reads */
export async function readHead(path: string): Promise<{ readonly head: BackupHead; readonly from: number }> {
  const file = await open(path, 'r').catch(() => {
    throw new BackupProblem(`${path} cannot be read.`)
  })
  const bytes = Buffer.alloc(HEAD_MOST)
  const { bytesRead } = await file.read(bytes, 0, HEAD_MOST, 0).finally(() => file.close())
  const end = bytes.subarray(0, bytesRead).indexOf(10)
  let head: BackupHead
  try {
    head = JSON.parse(bytes.toString('utf8', 0, Math.max(0, end))) as BackupHead
  } catch {
    throw new BackupProblem('This is no backup of Uvula.')
  }
  if (head?.format !== 'uvula-backup') throw new BackupProblem('This is no backup of Uvula.')
  if (
    head.formatVersion !== 1 ||
    !(head.bytes > 0) ||
    typeof head.sha256 !== 'string' ||
    typeof head.schema !== 'string'
  )
    throw new BackupProblem('This backup was written by a newer Uvula: that version or a later one restores it.')
  return { head, from: end + 1 }
}

/** Unpacks a backup through its hash. @throws BackupProblem when it is not what its head says */
async function unpacked(path: string, sink: (chunks: AsyncIterable<Buffer>) => Promise<void>): Promise<BackupHead> {
  const { head, from } = await readHead(path)
  const hashed = counted(head.bytes)
  try {
    await pipeline(createReadStream(path, { start: from }), createGunzip(), hashed.through, sink)
  } catch (e) {
    throw e instanceof BackupProblem || !isPacking(e) ? e : new BackupProblem(CUT)
  }
  const { bytes, sha256 } = hashed.told()
  if (bytes !== head.bytes || sha256 !== head.sha256) throw new BackupProblem(CUT)
  return head
}

const isPacking = (e: unknown): boolean => String((e as { code?: string }).code ?? '').startsWith('Z_')

/** Reads a whole backup against its own head. @throws BackupProblem */
export const checkBackup = (path: string): Promise<BackupHead> =>
  unpacked(path, async (chunks) => {
    for await (const _ of chunks);
  })

/** A restored file, and what it took the place of. */
export interface Restored {
  readonly head: BackupHead
  /** Where the shop's file that stood there is kept; left out where there was none. */
  readonly keptAside?: string
}

/**
 * Unpacks a backup into a data file beside where it is to stand, and looks whether it is whole, its counts are those of the head,
 * and this version can read it. @throws BackupProblem when it is not
 */
async function unpackedTo(part: string, backup: string): Promise<BackupHead> {
  const head = await unpacked(backup, async (chunks) => {
    const file = await open(part, 'w')
    try {
      for await (const chunk of chunks) await file.write(chunk)
      await file.sync()
    } finally {
      await file.close()
    }
  })
  const problem = schemaProblem(part)
  if (problem) throw new BackupProblem(problem)
  const db = new Database(part, { readonly: true })
  try {
    checkWhole(db)
    if (JSON.stringify(tablesOf(db)) !== JSON.stringify(head.counts)) throw new BackupProblem(CUT)
  } finally {
    db.close()
  }
  return head
}

/**
 * Puts a backup in the place of a shop, which nobody may have open: a data file, or what stands on PostgreSQL. What stood there is
 * kept aside, a file under another name, the other as a backup in `folder`; nothing is changed before the backup was found whole.
 *
 * @throws BackupProblem when it cannot be restored; nothing is changed then
 */
export async function restoreBackup(
  backup: string,
  target: string,
  folder = dirname(target),
  now = new Date(),
): Promise<Restored> {
  const own = join(folder, 'own.sqlite')
  const part = `${isPostgres(target) ? own : target}.restoring`
  try {
    const head = await unpackedTo(part, backup)
    const aside = `.before-restore-${stampOf(now)}`
    if (isPostgres(target)) {
      // one that was never begun gets its tables first, and nothing of it is worth keeping
      await (await openPostgres(target)).destroy()
      const keptAside = `${own}${aside}${BACKUP_ENDING}`
      const { counts } = await writeBackup(target, keptAside, now)
      const stood = Object.values(counts).some((n) => n > 0)
      if (!stood) await rm(keptAside)
      await fileToShop(part, target)
      return { head, ...(stood ? { keptAside } : {}) }
    }
    const keptAside = existsSync(target) ? `${target}${aside}` : undefined
    if (keptAside)
      for (const more of ['-wal', '-shm', ''])
        if (await exists(target + more)) await rename(target + more, keptAside + more)
    await rename(part, target)
    return { head, ...(keptAside ? { keptAside } : {}) }
  } finally {
    for (const left of [part, `${part}-journal`, `${part}-wal`, `${part}-shm`]) await rm(left, { force: true })
  }
}

const exists = (path: string): Promise<boolean> =>
  stat(path).then(
    () => true,
    () => false,
  )

/** Date and time as part of a name. */
export const stampOf = (at: Date): string => at.toISOString().slice(0, 16).replace(/[-:]/g, '').replace('T', '-')
