import { Injectable } from '@nestjs/common'
import type { ItemRecord } from '@uvula/core'
import { RecordWriter } from '../records/record-writer.js'
import type { ItemDto } from './item.dto.js'
import { ItemEntity } from './item.entity.js'

@Injectable()
export class ItemsService {
  constructor(private readonly writer: RecordWriter) {}

  write(id: string, key: string | undefined, dto: ItemDto): Promise<ItemRecord> {
    const fields = {
      visitId: dto.visitId,
      station: dto.station,
      name: dto.name,
      count: dto.count,
      drive: dto.drive ?? null,
      bag: dto.bag ?? null,
      way: dto.way ?? null,
      arrival: dto.arrival,
      state: dto.state,
      until: dto.until ?? null,
    }
    return this.writer.write({ noun: 'items', entity: ItemEntity, id, key, dto, fields: async () => fields })
  }
}
