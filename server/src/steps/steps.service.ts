import { Injectable } from '@nestjs/common'
import { checkStep, type StepRecord } from '@uvula/core'
import { RecordWriter } from '../records/record-writer.js'
import type { StepDto } from './step.dto.js'
import { StepEntity } from './step.entity.js'

@Injectable()
export class StepsService {
  constructor(private readonly writer: RecordWriter) {}

  /** What was cleaned with what is a fact: stored, and marked when the product does not belong there. */
  write(id: string, key: string | undefined, dto: StepDto): Promise<StepRecord> {
    const { visitId, station, surface, product, method, passed, afterRound = null } = dto
    const own = { visitId, station, surface, product, method, passed, afterRound }
    const against = checkStep({ ...own, id, version: 0, by: dto.by, at: dto.at })[0]
    const fields = { ...own, againstRule: against?.rule ?? null }
    return this.writer.write({ noun: 'steps', entity: StepEntity, id, key, dto, fields: async () => fields })
  }
}
