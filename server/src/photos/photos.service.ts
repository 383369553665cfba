import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import type { PhotoRecord } from '@uvula/core'
import { DataSource } from 'typeorm'
import { Blobs } from '../records/blobs.js'
import { badFile, notFound } from '../records/problem.js'
import { RecordWriter } from '../records/record-writer.js'
import type { PhotoDto } from './photo.dto.js'
import { PhotoEntity } from './photo.entity.js'

/** First bytes of the pictures that are taken. */
const MAGIC: Readonly<Record<string, (b: Buffer) => boolean>> = {
  'image/jpeg': (b) => b[0] === 0xff && b[1] === 0xd8,
  'image/png': (b) => b.subarray(1, 4).toString('latin1') === 'PNG',
  'image/webp': (b) => b.subarray(8, 12).toString('latin1') === 'WEBP',
}

@Injectable()
export class PhotosService {
  constructor(
    private readonly writer: RecordWriter,
    private readonly blobs: Blobs,
    @InjectDataSource() private readonly source: DataSource,
  ) {}

  async write(id: string, key: string | undefined, dto: PhotoDto): Promise<PhotoRecord> {
    if (dto.deleted && dto.content === undefined)
      return this.writer.write({
        noun: 'photos',
        entity: PhotoEntity,
        id,
        key,
        dto,
        fields: async (_, current) => (current ? {} : Promise.reject(notFound('This photo'))),
      })
    const bytes = this.blobs.decode(dto.content)
    if (!MAGIC[dto.mime]?.(bytes)) throw badFile('not-a-picture', `This is not the ${dto.mime} picture it says it is.`)
    const blob = await this.blobs.pack(bytes, dto.mime)
    return this.writer.write({
      noun: 'photos',
      entity: PhotoEntity,
      id,
      key,
      dto,
      fields: async (manager) => ({
        visitId: dto.visitId,
        station: dto.station,
        mime: dto.mime,
        sha256: await this.blobs.put(manager, blob),
      }),
    })
  }

  async picture(id: string): Promise<{ bytes: Buffer; mime: string }> {
    const photo = await this.source.manager.findOneBy(PhotoEntity, { id })
    if (!photo) throw notFound('This photo')
    return this.blobs.get(photo.sha256)
  }
}
