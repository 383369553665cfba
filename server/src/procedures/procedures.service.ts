import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { checkOwnProcedure, type ProcedureRecord } from '@uvula/core'
import { DataSource } from 'typeorm'
import { badField } from '../records/problem.js'
import { RecordWriter } from '../records/record-writer.js'
import { toRecord } from '../records/record.entity.js'
import type { ProcedureDto } from './procedure.dto.js'
import { ProcedureEntity } from './procedure.entity.js'

@Injectable()
export class ProceduresService {
  constructor(
    private readonly writer: RecordWriter,
    @InjectDataSource() private readonly source: DataSource,
  ) {}

  async list(): Promise<ProcedureRecord[]> {
    const kept = await this.source.manager.findBy(ProcedureEntity, { deleted: false })
    return kept.map((p) => toRecord<ProcedureRecord>(p))
  }

  /** @throws ProblemException on one whose steps cannot be, with the step */
  write(id: string, key: string | undefined, dto: ProcedureDto): Promise<ProcedureRecord> {
    const checked = checkOwnProcedure(dto.value)
    if (!checked.ok) throw badField('value', dto.value, checked.problems[0].message)
    if (checked.value.id !== id) throw badField('value.id', checked.value.id, `the id it is written under, ${id}`)
    return this.writer.write({
      noun: 'procedures',
      entity: ProcedureEntity,
      id,
      key,
      dto,
      fields: async () => ({ value: checked.value }),
    })
  }
}
