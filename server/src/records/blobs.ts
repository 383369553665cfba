import { createHash } from 'node:crypto'
import { promisify } from 'node:util'
import { gunzip, gzip } from 'node:zlib'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource, type EntityManager } from 'typeorm'
import { MAX_FILE_BYTES } from '@uvula/contract'
import { BlobEntity } from './history.entity.js'
import { badFile, notFound } from './problem.js'

const zip = promisify(gzip)
const unzip = promisify(gunzip)

/** Files kept byte for byte, compressed, one copy per content. */
@Injectable()
export class Blobs {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  /** Decodes base64 strictly. @throws ProblemException when it is not, is empty, or is too large */
  decode(base64: string | undefined): Buffer {
    if (base64 === undefined) throw badFile('not-a-file', 'The file itself is missing: drop it again.')
    const bytes = Buffer.from(base64, 'base64')
    if (bytes.length === 0 || 4 * Math.ceil(bytes.length / 3) !== base64.length)
      throw badFile('not-a-file', 'The file arrived empty or damaged: drop it again.')
    if (bytes.length > MAX_FILE_BYTES)
      throw badFile(
        'too-large',
        `The file has ${(bytes.length / 1048576).toFixed(0)} MB; ${MAX_FILE_BYTES / 1048576} MB are taken.`,
      )
    return bytes
  }

  /** Hashes and compresses off the event loop, before any transaction: the lane never waits for it. */
  async pack(bytes: Buffer, mime: string): Promise<BlobEntity> {
    const sha256 = createHash('sha256').update(bytes).digest('hex')
    return { sha256, mime, bytes: bytes.length, content: await zip(bytes) }
  }

  /** Stores what was packed, unless the same content is there already; gives its hash. */
  async put(manager: EntityManager, blob: BlobEntity): Promise<string> {
    if (!(await manager.existsBy(BlobEntity, { sha256: blob.sha256 }))) await manager.insert(BlobEntity, blob)
    return blob.sha256
  }

  /** The original bytes. @throws ProblemException when the hash is unknown */
  async get(sha256: string): Promise<{ readonly bytes: Buffer; readonly mime: string }> {
    const blob = await this.source.manager.findOneBy(BlobEntity, { sha256 })
    if (!blob) throw notFound('This file')
    return { bytes: await unzip(blob.content), mime: blob.mime }
  }
}
