import { Injectable } from '@nestjs/common'
import type { CountRecord } from '@uvula/core'
import { RecordWriter } from '../records/record-writer.js'
import type { CountDto } from './count.dto.js'
import { CountEntity } from './count.entity.js'

@Injectable()
export class CountsService {
  constructor(private readonly writer: RecordWriter) {}

  write(id: string, key: string | undefined, dto: CountDto): Promise<CountRecord> {
    const fields = {
      visitId: dto.visitId,
      thing: dto.thing,
      station: dto.station,
      putIn: dto.putIn,
      takenOut: dto.takenOut,
    }
    return this.writer.write({ noun: 'counts', entity: CountEntity, id, key, dto, fields: async () => fields })
  }
}
