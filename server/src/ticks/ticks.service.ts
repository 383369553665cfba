import { Injectable } from '@nestjs/common'
import type { TickRecord } from '@uvula/core'
import { RecordWriter } from '../records/record-writer.js'
import type { TickDto } from './tick.dto.js'
import { TickEntity } from './tick.entity.js'

@Injectable()
export class TicksService {
  constructor(private readonly writer: RecordWriter) {}

  write(id: string, key: string | undefined, dto: TickDto): Promise<TickRecord> {
    const fields = { visitId: dto.visitId, caution: dto.caution }
    return this.writer.write({ noun: 'ticks', entity: TickEntity, id, key, dto, fields: async () => fields })
  }
}
