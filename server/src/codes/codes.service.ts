import { Injectable } from '@nestjs/common'
import type { CodeRecord } from '@uvula/core'
import { RecordWriter } from '../records/record-writer.js'
import type { CodeDto } from './code.dto.js'
import { CodeEntity } from './code.entity.js'

@Injectable()
export class CodesService {
  constructor(private readonly writer: RecordWriter) {}

  write(id: string, key: string | undefined, dto: CodeDto): Promise<CodeRecord> {
    const { visitId, code, state, when, cleared, frame } = dto
    const fields = { visitId, code, state, when, cleared, frame: frame ?? null }
    return this.writer.write({ noun: 'codes', entity: CodeEntity, id, key, dto, fields: async () => fields })
  }
}
