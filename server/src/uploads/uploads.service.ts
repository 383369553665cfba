import { createHash } from 'node:crypto'
import { appendFile, mkdir, readdir, readFile, rm, stat } from 'node:fs/promises'
import { join } from 'node:path'
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common'
import { MAX_FILE_BYTES, UPLOAD_PIECE, type UploadState } from '@uvula/contract'
import { DATA_PLACE, type DataPlace } from '../database/data-place.js'
import { badField, badFile } from '../records/problem.js'

/** A file that nobody went on with for so long is given up [ms]. */
const GIVEN_UP_MS = 7 * 24 * 3_600_000
/** All that waits to become whole, at most [bytes]. */
const WAITING_MOST = 40 * MAX_FILE_BYTES

/**
 * Large files that come in pieces and go on where they stopped. They lie in a folder beside the data files, under the hash of their
 * key, until the record that names the key is written; no piece of them is held in memory.
 */
@Injectable()
export class UploadsService implements OnModuleInit {
  private readonly folder: string
  /** The last piece of each key: pieces of one file go one after another. */
  private readonly last = new Map<string, Promise<unknown>>()

  constructor(@Inject(DATA_PLACE) place: DataPlace) {
    this.folder = join(place.folder, 'uploads')
  }

  async onModuleInit(): Promise<void> {
    await this.giveUp()
  }

  /** How much of it is here. */
  async state(key: string): Promise<UploadState> {
    return { bytes: await sizeOf(this.pathOf(key)) }
  }

  /**
   * Adds a piece where it belongs; one that is here already changes nothing. @returns how much is here then
   * @throws ProblemException when it is no piece, or the file grows too large
   */
  add(key: string, at: number, piece: unknown): Promise<UploadState> {
    if (!Buffer.isBuffer(piece) || piece.length === 0 || piece.length > UPLOAD_PIECE)
      throw badFile('not-a-piece', `A piece is 1 to ${UPLOAD_PIECE} bytes, as application/octet-stream.`)
    if (!(Number.isInteger(at) && at >= 0)) throw badField('at', at, 'the byte at which the piece begins, 0 or more')
    if (at + piece.length > MAX_FILE_BYTES)
      throw badFile('too-large', `The file has more than ${MAX_FILE_BYTES / 1048576} MB, which is what is taken.`)
    const path = this.pathOf(key)
    const turn = (this.last.get(path) ?? Promise.resolve()).then(() => this.append(path, at, piece))
    const quiet: Promise<unknown> = turn
      .catch(() => undefined)
      .then(() => this.last.get(path) === quiet && this.last.delete(path))
    this.last.set(path, quiet)
    return turn
  }

  private async append(path: string, at: number, piece: Buffer): Promise<UploadState> {
    const bytes = await sizeOf(path)
    if (at !== bytes) return { bytes }
    if (bytes === 0) {
      await mkdir(this.folder, { recursive: true, mode: 0o700 })
      await this.giveUp()
      if ((await this.waiting()) + piece.length > WAITING_MOST)
        throw badFile('too-many', 'Too many files are half here: finish those first, or wait until they are given up.')
    }
    await appendFile(path, piece)
    return { bytes: bytes + piece.length }
  }

  /** A file that is here, as it was sent; undefined where nothing of it is. */
  async whole(key: string): Promise<Buffer | undefined> {
    return readFile(this.pathOf(key)).catch((e: NodeJS.ErrnoException) => {
      if (e.code === 'ENOENT') return undefined
      throw e
    })
  }

  /** Its record stands: the file itself is not needed here any more. */
  async done(key: string): Promise<void> {
    await rm(this.pathOf(key), { force: true })
  }

  private pathOf(key: string): string {
    if (!key || key.length > 100) throw badField('key', key, 'the key of the write that it is for, 1 to 100 characters')
    return join(this.folder, `${createHash('sha256').update(key).digest('hex')}.part`)
  }

  private async waiting(): Promise<number> {
    const sizes = await Promise.all((await this.names()).map((n) => sizeOf(join(this.folder, n))))
    return sizes.reduce((s, x) => s + x, 0)
  }

  private async giveUp(): Promise<void> {
    for (const name of await this.names()) {
      const path = join(this.folder, name)
      const { mtimeMs } = await stat(path).catch(() => ({ mtimeMs: Infinity }))
      if (Date.now() - mtimeMs > GIVEN_UP_MS) await rm(path, { force: true })
    }
  }

  private names(): Promise<string[]> {
    return readdir(this.folder).catch(() => [])
  }
}

const sizeOf = (path: string): Promise<number> =>
  stat(path).then(
    (s) => s.size,
    () => 0,
  )
