import { createHash } from 'node:crypto'
import { gzipSync } from 'node:zlib'
import { readRecording, VISIT_NOUNS, type RecordMeta, type RecordingRecord, type VisitFile } from '@uvula/core'
import type { Shop } from '@uvula/contract'
import type { DataSource, EntityTarget } from 'typeorm'
import { LISTS } from './entities.js'
import { packColumns } from '../recordings/columns.js'
import { RecordingEntity } from '../recordings/recording.entity.js'
import { BlobEntity } from '../records/history.entity.js'
import { ShopEntity } from '../shop/shop.entity.js'
import { VehicleEntity } from '../vehicles/vehicle.entity.js'
import { VisitEntity } from '../visits/visit.entity.js'

/** A whole shop as one file. */
export interface ShopFile {
  readonly format: 'uvula-shop'
  readonly formatVersion: 1
  readonly shop: Shop
  readonly visits: readonly VisitFile[]
  readonly blobs: readonly { readonly mime: string; readonly base64: string }[]
}

/** Fills an empty data file from a shop file, all or nothing. @throws Error when the file is not one */
export async function restoreShop(source: DataSource, file: ShopFile): Promise<void> {
  if (file.format !== 'uvula-shop' || file.formatVersion !== 1)
    throw new Error('This is not a shop file that this version reads.')
  const receivedAt = new Date().toISOString()
  const contents = new Map(file.blobs.map((b) => [hashOf(b.base64), Buffer.from(b.base64, 'base64')] as const))
  const read = await Promise.all(file.visits.flatMap((v) => v.recordings).map((r) => columnsOf(r, contents)))
  const columns = new Map(read)
  await source.transaction(async (m) => {
    for (const b of file.blobs) {
      const sha256 = hashOf(b.base64)
      const bytes = contents.get(sha256)!
      await m.save(BlobEntity, { sha256, mime: b.mime, bytes: bytes.length, content: gzipSync(bytes) })
    }
    const put = (target: EntityTarget<object>, records: readonly RecordMeta[]): Promise<unknown> =>
      m.save(
        target,
        records.map((r) => m.create(target, { deleted: false, ...r, receivedAt: r.receivedAt ?? receivedAt })),
      )
    await m.save(ShopEntity, { id: 1, value: file.shop })
    for (const v of file.visits) {
      await put(VehicleEntity, [v.vehicle])
      await put(VisitEntity, [v.visit])
      for (const noun of VISIT_NOUNS) if (noun !== 'recordings') await put(LISTS[noun], v[noun] ?? [])
      await put(
        RecordingEntity,
        v.recordings.map((r) => ({ ...r, columns: columns.get(r.id) })),
      )
    }
  })
}

const hashOf = (base64: string): string => createHash('sha256').update(Buffer.from(base64, 'base64')).digest('hex')

/** @throws Error naming the recording that cannot be read */
async function columnsOf(r: RecordingRecord, contents: ReadonlyMap<string, Buffer>): Promise<[string, Buffer]> {
  const read = readRecording(contents.get(r.sha256) ?? new Uint8Array(0), { mapping: r.mapping ?? undefined })
  if (!read.ok) throw new Error(`The recording ${r.name} in the shop file cannot be read: ${read.error.message}`)
  return [r.id, await packColumns(read.recording)]
}
