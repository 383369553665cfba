import { Injectable } from '@nestjs/common'
import { checkStep, type StepRecord } from '@uvula/core'
import { RecordWriter } from '../records/record-writer.js'
import { VisitFiles } from '../records/visit-files.js'
import type { StepDto } from './step.dto.js'
import { StepEntity } from './step.entity.js'

@Injectable()
export class StepsService {
  constructor(
    private readonly writer: RecordWriter,
    private readonly files: VisitFiles,
  ) {}

  /** What was cleaned with what is a fact: stored, and marked when the label or the product forbids it. */
  write(id: string, key: string | undefined, dto: StepDto): Promise<StepRecord> {
    const { visitId, station, surface, product, method, passed, afterRound = null, more = null } = dto
    const own = { visitId, station, surface, product, method, passed, afterRound, more }
    return this.writer.write({
      noun: 'steps',
      entity: StepEntity,
      id,
      key,
      dto,
      fields: async (manager) => {
        const { vehicle } = await this.files.ofWrite(visitId, manager)
        return { ...own, againstRule: checkStep(own, vehicle.spec)[0]?.rule ?? null }
      },
    })
  }
}
