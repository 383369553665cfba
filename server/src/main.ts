import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { dirname, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { DataSource } from 'typeorm'
import { restoreBackup } from './backup/backup-file.js'
import { AccessFile } from './access/access-file.js'
import { askForAccess } from './access/ask.js'
import type { DoorPlace } from './access/network-door.js'
import { createApp } from './create-app.js'
import { lockFolder } from './database/lock.js'
import { databaseOptions } from './database/options.js'
import { isPostgres, openPostgres, shownAddress } from './database/postgres.js'
import { restoreShop, type ShopFile } from './database/restore.js'
import { copyBeforeMigration, isBare, schemaProblem } from './database/schema.js'
import { Refusal } from './refusal.js'
import { Restarter } from './shop/restarter.js'

const root = resolve(dirname(fileURLToPath(import.meta.url)), '../..')
const port = Number(process.env.PORT ?? 4310)
const data = resolve(process.env.UVULA_DATA ?? join(root, 'data'))
const demoFile = join(root, 'demo/dist/demo-shop.json')
/** Where the shop's network would find it; no more than one address is listened at where UVULA_NETWORK_AT names one. */
const door: DoorPlace = {
  port: Number(process.env.UVULA_NETWORK_PORT ?? port + 1),
  at: process.env.UVULA_NETWORK_AT ?? '0.0.0.0',
  plain: process.env.UVULA_PLAIN === '1',
}

/** Where the shop's own records are: a file of the data folder, or the PostgreSQL that DATABASE_URL names. */
const OWN = process.env.DATABASE_URL || join(data, 'own.sqlite')

type Which = 'own' | 'demo'

/** Stands beside the shop's own file from when it was first made: a folder that has lost it is known by that. */
const MADE = join(data, 'own.made')

/** Which data file is open; remembered beside them. */
function remembered(): Which {
  try {
    return readFileSync(join(data, 'open'), 'utf8').trim() === 'own' ? 'own' : 'demo'
  } catch {
    return isPostgres(OWN) || existsSync(OWN) ? 'own' : 'demo'
  }
}

/** The demo's own file is as old as the build: a timer that runs in it began an hour before somebody first sees it. */
function stillRunning(file: ShopFile): ShopFile {
  const startedAt = new Date(Date.now() - 3_600_000).toISOString()
  const visits = file.visits.map((v) => ({
    ...v,
    timers: v.timers?.map((t) => (t.ended ? t : { ...t, startedAt })),
  }))
  return { ...file, visits }
}

/** Makes the demo's data file whole before it gets its name: a start that is killed half-way is begun anew the next time. */
async function fillDemo(path: string): Promise<void> {
  const part = `${path}.filling`
  for (const more of ['', '-wal', '-shm']) rmSync(part + more, { force: true })
  const source = await new DataSource(databaseOptions(part)).initialize()
  await restoreShop(source, stillRunning(JSON.parse(readFileSync(demoFile, 'utf8')) as ShopFile))
  // what is still in the log goes into the file
  await source.query('PRAGMA wal_checkpoint(TRUNCATE)')
  await source.destroy()
  renameSync(part, path)
}

/** @throws Refusal when the file must not be opened; it is left as it is */
async function readyPlace(which: Which, began: boolean): Promise<string> {
  const path = which === 'own' ? OWN : join(data, 'demo.sqlite')
  if (isPostgres(path)) {
    // what keeps it from being opened is said here, in a sentence
    await (await openPostgres(path)).destroy()
    return path
  }
  if (which === 'demo' && !existsSync(path)) await fillDemo(path)
  if (which === 'own' && began && isBare(path) && existsSync(MADE))
    throw new Refusal(
      `${path} is not there or empty, though this folder had a shop of its own: restore a backup (uvula restore), put the file back, or remove ${MADE} to begin anew.`,
    )
  const problem = schemaProblem(path)
  if (problem) throw new Refusal(problem)
  const copy = await copyBeforeMigration(path)
  if (copy) console.log(`The shop's file takes a new form; as it was it is kept in ${copy}`)
  return path
}

/** @param began - the process starts; later a file that is not there is a new shop */
async function serve(which: Which, began: boolean, access: AccessFile): Promise<void> {
  const path = await readyPlace(which, began)
  const app = await createApp({ database: path, own: OWN, folder: data, web: join(root, 'web/dist'), access, door })
  if (path === join(data, 'own.sqlite')) writeFileSync(MADE, '')
  app.get(Restarter).onRestart((next, backup) => {
    void (async () => {
      writeFileSync(join(data, 'open'), next)
      await app.close()
      if (backup) await installed(backup)
      await serve(next, false, access)
    })()
  })
  app.enableShutdownHooks()
  await app.listen(port, '127.0.0.1')
  console.log(`Uvula is at http://127.0.0.1:${port}`)
}

/** Puts a backup in the place of the shop's own file; where that fails after all, what stood there goes on. */
async function installed(backup: string): Promise<void> {
  try {
    const { keptAside } = await restoreBackup(backup, OWN, data)
    if (keptAside) console.log(`The shop as it was is kept in ${keptAside}`)
  } catch (e) {
    console.error(e instanceof Error ? e.message : e)
  } finally {
    rmSync(backup, { force: true })
  }
}

/** What a disk or a port says at the start, in a sentence. */
const WORDS: Readonly<Record<string, string>> = {
  EADDRINUSE: `Port ${port} is taken: stop the other program or set PORT.`,
  ENOSPC: `The disk of ${data} is full: free some space. Nothing was half-written.`,
  SQLITE_FULL: `The disk of ${data} is full: free some space. Nothing was half-written.`,
  EROFS: `${data} can only be read: Uvula keeps its records there. Set UVULA_DATA to a folder that can be written to.`,
  EACCES: `${data} cannot be written to: check its owner, or set UVULA_DATA to another folder.`,
  SQLITE_READONLY: `${data} cannot be written to: check its owner, or set UVULA_DATA to another folder.`,
  SQLITE_CANTOPEN: `${data} cannot be written to: check its owner, or set UVULA_DATA to another folder.`,
  SQLITE_CORRUPT: `The shop's file in ${data} is damaged: put it aside and restore the last backup (uvula restore).`,
  SQLITE_NOTADB: `The shop's file in ${data} is damaged: put it aside and restore the last backup (uvula restore).`,
}

/** What PostgreSQL, or the way to it, says at the start, in a sentence. */
function saidOfPostgres(code: string): string | undefined {
  const at = shownAddress(OWN)
  const words: Readonly<Record<string, string>> = {
    ECONNREFUSED: `${at} does not answer: is PostgreSQL running there, and is DATABASE_URL right?`,
    ENOTFOUND: `${at}: there is no such computer. Check DATABASE_URL.`,
    EAI_AGAIN: `${at}: there is no such computer. Check DATABASE_URL.`,
    ETIMEDOUT: `${at} does not answer: is PostgreSQL running there, and is DATABASE_URL right?`,
    '28P01': `${at} refuses the name or the password: check DATABASE_URL.`,
    '28000': `${at} refuses this user: check DATABASE_URL.`,
    '3D000': `${at} is not there: create the database first (createdb), then start again.`,
    '42501': `${at}: this user may not create tables there. Make it the owner of the database.`,
    '57P03': `${at} is starting or going down: try again in a moment.`,
    '53300': `${at} takes no more connections: Uvula needs five.`,
  }
  return words[code]
}

// what a shop keeps is its owner's to read and nobody else's on this computer
process.umask(0o077)
try {
  mkdirSync(data, { recursive: true, mode: 0o700 })
  const lock = lockFolder(data)
  // held for as long as the process lives: what nobody refers to would be closed
  process.on('exit', () => lock.release())
  const access = new AccessFile(data)
  if (process.env.UVULA_NETWORK === '1') await askForAccess(access)
  await serve(remembered(), true, access)
} catch (e) {
  const { code = '' } = e as { code?: string }
  const said = WORDS[code.replace(/^(SQLITE_[A-Z]+).*/, '$1')]
  console.error(said ?? (isPostgres(OWN) ? saidOfPostgres(code) : undefined) ?? (e instanceof Refusal ? e.message : e))
  process.exit(1)
}
