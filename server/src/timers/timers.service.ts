import { Injectable } from '@nestjs/common'
import type { TimerRecord } from '@uvula/core'
import { RecordWriter } from '../records/record-writer.js'
import type { TimerDto } from './timer.dto.js'
import { TimerEntity } from './timer.entity.js'

@Injectable()
export class TimersService {
  constructor(private readonly writer: RecordWriter) {}

  write(id: string, key: string | undefined, dto: TimerDto): Promise<TimerRecord> {
    const fields = {
      visitId: dto.visitId,
      label: dto.label,
      kind: dto.kind,
      startedAt: dto.startedAt,
      seconds: dto.seconds,
      ended: dto.ended,
    }
    return this.writer.write({ noun: 'timers', entity: TimerEntity, id, key, dto, fields: async () => fields })
  }
}
