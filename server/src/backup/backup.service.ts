import { randomUUID } from 'node:crypto'
import { constants, existsSync } from 'node:fs'
import { access, mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises'
import { isAbsolute, join } from 'node:path'
import { Worker } from 'node:worker_threads'
import { Inject, Injectable, Logger, type OnModuleDestroy, type OnModuleInit } from '@nestjs/common'
import type { BackupHead, BackupListed, BackupMade, Backups } from '@uvula/contract'
import { DATA_PLACE, type DataPlace } from '../database/data-place.js'
import { isPostgres } from '../database/postgres.js'
import { knowsStep } from '../database/schema.js'
import { badField, badFile, notFound } from '../records/problem.js'
import { Restarter } from '../shop/restarter.js'
import { BACKUP_ENDING, BackupProblem, checkBackup, readHead, stampOf } from './backup-file.js'
import type { BackupTold, BackupWork } from './backup.worker.js'

/** What this computer does about backups; it belongs to the computer and not to the shop's file, which may be restored. */
interface Chosen {
  readonly folder: string
  readonly keep: number
  readonly last?: BackupMade
}

/** Backups kept when nobody has said how many. */
const KEEP = 14
/** The hour after which a night's backup is due; a computer that is off then makes it when it is on again. */
const NIGHT_HOUR = 2
const LOOK_EVERY_MS = 10 * 60_000
const FIRST_LOOK_MS = 60_000
const OWN_NAME = /^uvula-.*\.uvula-backup$/

/** The latest moment at which a nightly backup was due. */
export function dueSince(now: Date): Date {
  const due = new Date(now)
  due.setHours(NIGHT_HOUR, 0, 0, 0)
  if (due > now) due.setDate(due.getDate() - 1)
  return due
}

/** Names beyond the newest `keep`; only names that a backup of ours has. */
export const beyond = (names: readonly string[], keep: number): string[] =>
  names
    .filter((n) => OWN_NAME.test(n))
    .sort()
    .reverse()
    .slice(keep)

/** Makes backups: at a touch, each night into a folder of choice, and hands them out. */
@Injectable()
export class BackupService implements OnModuleInit, OnModuleDestroy {
  private readonly log = new Logger('backup')
  private timers: NodeJS.Timeout[] = []
  private running: Promise<BackupHead> | undefined
  private readonly boot = randomUUID()

  constructor(
    @Inject(DATA_PLACE) private readonly place: DataPlace,
    private readonly restarter: Restarter,
  ) {}

  onModuleInit(): void {
    const look = (): void => void this.nightly().catch((e) => this.log.error(e))
    this.timers = [setTimeout(look, FIRST_LOOK_MS), setInterval(look, LOOK_EVERY_MS)]
    for (const t of this.timers) t.unref()
  }

  onModuleDestroy(): void {
    for (const t of this.timers) clearTimeout(t)
  }

  async list(): Promise<Backups> {
    const { folder, keep, last } = await this.chosen()
    const names = folder ? await readdir(folder).catch(() => []) : []
    const files: BackupListed[] = []
    for (const name of names.filter((n) => n.endsWith(BACKUP_ENDING)).sort((a, b) => b.localeCompare(a, 'en'))) {
      const path = join(folder, name)
      const read = await readHead(path).catch(() => undefined)
      if (!read) continue
      const { madeAt, counts } = read.head
      files.push({
        name,
        madeAt,
        visits: counts.visits ?? 0,
        vehicles: counts.vehicles ?? 0,
        bytes: (await stat(path)).size,
      })
    }
    return { boot: this.boot, folder, keep, ownShop: this.hasOwn, ...(last ? { last } : {}), files }
  }

  /** Chooses the folder; an empty one makes none by itself. @throws ProblemException when it cannot be written to */
  async choose(folder: string, keep: number): Promise<Backups> {
    if (folder) {
      if (!isAbsolute(folder)) throw badField('folder', folder, 'accepted is a whole path, as /media/stick/uvula')
      const probe = join(folder, '.uvula-probe')
      try {
        await mkdir(folder, { recursive: true })
        await writeFile(probe, '')
        await rm(probe)
      } catch {
        throw badField('folder', folder, 'it cannot be written to: accepted is a folder on this computer that can')
      }
    }
    await this.remember({ ...(await this.chosen()), folder, keep })
    return this.list()
  }

  /** A backup into the chosen folder, now. @throws ProblemException when no folder is chosen, or it fails */
  async makeNow(): Promise<Backups> {
    const chosen = await this.chosen()
    if (!chosen.folder) throw badField('folder', '', 'choose a folder first, or take the backup as a file')
    const last = await this.into(chosen, this.place.database)
    if (last.problem) throw badFile('backup', last.problem)
    return this.list()
  }

  /** A backup in a file that is to be taken away and then removed. @throws ProblemException when the data file is damaged */
  async toTake(): Promise<{ readonly path: string; readonly name: string; readonly remove: () => Promise<void> }> {
    const path = join(this.place.folder, `${stampOf(new Date())}-${Math.random().toString(36).slice(2)}.taking`)
    const head = await this.write(this.place.database, path).catch((e: Error) => {
      throw badFile('backup', e.message)
    })
    return { path, name: nameOf(head), remove: () => rm(path, { force: true }) }
  }

  /**
   * Checks an uploaded backup whole and has the server start again with it as the shop's own file; what stood there is kept
   * aside. @throws ProblemException when it cannot be restored, with nothing changed
   */
  async restore(upload: string): Promise<BackupHead> {
    let head: BackupHead
    try {
      head = await checkBackup(upload)
      if (!knowsStep(head.schema))
        throw new BackupProblem('This backup is of a newer Uvula: that version or a later one restores it.')
    } catch (e) {
      await rm(upload, { force: true })
      if (e instanceof BackupProblem) throw badFile('backup', e.message)
      throw e
    }
    this.restarter.restartWith('own', upload)
    return head
  }

  /** A backup of the chosen folder by its name. @throws ProblemException when it is not there */
  async listed(name: string): Promise<string> {
    const { folder } = await this.chosen()
    const path = join(folder, name)
    if (!folder || name !== name.replace(/[/\\]/g, '') || !name.endsWith(BACKUP_ENDING) || !existsSync(path))
      throw notFound('This backup')
    return path
  }

  /** A file in the data folder for something that comes in. */
  incoming(): string {
    return join(this.place.folder, `${Date.now()}-${Math.random().toString(36).slice(2)}.incoming`)
  }

  /** The night's backup, where one is due: of the shop's own file, whichever is open. */
  async nightly(now = new Date()): Promise<void> {
    const chosen = await this.chosen()
    if (!chosen.folder || !this.hasOwn) return
    const { last: before } = chosen
    if (before?.of === 'own' && !before.problem && new Date(before.at) >= dueSince(now)) return
    const last = await this.into(chosen, this.place.own)
    if (last.problem) this.log.error(last.problem)
  }

  private async into(chosen: Chosen, database: string): Promise<BackupMade> {
    const made = { at: new Date().toISOString(), of: database === this.place.own ? 'own' : 'demo' } as const
    let last: BackupMade
    try {
      // a folder that is gone is a disk that is not plugged in: it is not made anew on another
      await access(chosen.folder, constants.W_OK)
      const part = join(chosen.folder, `${stampOf(new Date())}.writing`)
      const head = await this.write(database, part)
      const name = nameOf(head)
      await rename(part, join(chosen.folder, name))
      // of this shop only: another's in the same folder are another's
      const mine = (await readdir(chosen.folder)).filter((n) => shopOf(n) === shopOf(name))
      for (const old of beyond(mine, chosen.keep)) await rm(join(chosen.folder, old))
      last = { ...made, name }
    } catch (e) {
      last = { ...made, problem: sentenceOf(e) }
    }
    await this.remember({ ...(await this.chosen()), last })
    return last
  }

  /** One at a time, in a thread of its own: no row of a live engine waits for it. */
  private async write(database: string, out: string): Promise<BackupHead> {
    while (this.running) await this.running.catch(() => undefined)
    const work: BackupWork = { database, out }
    this.running = new Promise<BackupHead>((resolve, reject) => {
      const thread = new Worker(new URL('./backup.worker.js', import.meta.url), { workerData: work })
      thread.once('message', (told: BackupTold) =>
        'head' in told ? resolve(told.head) : reject(Object.assign(new Error(told.failed), { code: told.code })),
      )
      thread.once('error', reject)
      thread.once('exit', () => reject(new Error('The thread that writes the backup ended.')))
    })
    try {
      return await this.running
    } finally {
      this.running = undefined
    }
  }

  private get hasOwn(): boolean {
    return isPostgres(this.place.own) || existsSync(this.place.own)
  }

  private get memory(): string {
    return join(this.place.folder, 'backup.json')
  }

  private async chosen(): Promise<Chosen> {
    try {
      const { folder, keep, last } = JSON.parse(await readFile(this.memory, 'utf8')) as Chosen
      return { folder: String(folder ?? ''), keep: keep >= 1 ? keep : KEEP, ...(last ? { last } : {}) }
    } catch {
      return { folder: '', keep: KEEP }
    }
  }

  private async remember(c: Chosen): Promise<void> {
    await writeFile(`${this.memory}.part`, JSON.stringify(c))
    await rename(`${this.memory}.part`, this.memory)
  }
}

/** Name of a backup: the shop's, and when. */
function nameOf(head: BackupHead): string {
  const shop = head.shop
    .normalize('NFKD')
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-+|-+$/g, '')
    .toLowerCase()
    .slice(0, 40)
  return `uvula-${shop || 'shop'}-${stampOf(new Date(head.madeAt))}${BACKUP_ENDING}`
}

/** A backup's name without its moment. */
const shopOf = (name: string): string => name.replace(/-\d{8}-\d{4}\.uvula-backup$/, '')

/** What went wrong at the folder, in words. */
function sentenceOf(e: unknown): string {
  const code = (e as { code?: string }).code
  const words: Readonly<Record<string, string>> = {
    ENOSPC: 'The disk of the backup folder is full.',
    EROFS: 'The backup folder can only be read.',
    EACCES: 'The backup folder cannot be written to.',
    ENOENT: 'The backup folder is not there: is its disk plugged in?',
  }
  return words[code ?? ''] ?? (e instanceof Error ? e.message : String(e))
}
