import { Injectable } from '@nestjs/common'
import { channelProblem, type ChannelId, type CodeRecord } from '@uvula/core'
import { badField } from '../records/problem.js'
import { RecordWriter } from '../records/record-writer.js'
import type { CodeDto } from './code.dto.js'
import { CodeEntity } from './code.entity.js'

@Injectable()
export class CodesService {
  constructor(private readonly writer: RecordWriter) {}

  /** @throws ProblemException when a value of the freeze-frame is no reading */
  async write(id: string, key: string | undefined, dto: CodeDto): Promise<CodeRecord> {
    for (const [channel, value] of Object.entries(dto.frame ?? {})) {
      const wrong = channelProblem(channel as ChannelId, Number(value))
      if (wrong) throw badField('frame', value, wrong)
    }
    const { visitId, code, state, when, cleared, frame } = dto
    const fields = { visitId, code, state, when, cleared, frame: frame ?? null }
    return this.writer.write({ noun: 'codes', entity: CodeEntity, id, key, dto, fields: async () => fields })
  }
}
