import { Injectable } from '@nestjs/common'
import { channelProblem, type ReadingRecord } from '@uvula/core'
import { badField } from '../records/problem.js'
import { RecordWriter } from '../records/record-writer.js'
import type { ReadingDto } from './reading.dto.js'
import { ReadingEntity } from './reading.entity.js'

@Injectable()
export class ReadingsService {
  constructor(private readonly writer: RecordWriter) {}

  write(id: string, key: string | undefined, dto: ReadingDto): Promise<ReadingRecord> {
    const problem = channelProblem(dto.channel, dto.value)
    if (problem) throw badField('value', dto.value, problem)
    const { visitId, round, slot, channel, value, typed } = dto
    return this.writer.write({
      noun: 'readings',
      entity: ReadingEntity,
      id,
      key,
      dto,
      fields: async () => ({ visitId, round, slot, channel, value, typed }),
    })
  }
}
