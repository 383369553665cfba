import { Injectable } from '@nestjs/common'
import { checkRepair, type RepairRecord } from '@uvula/core'
import { RecordWriter } from '../records/record-writer.js'
import { VisitFiles } from '../records/visit-files.js'
import type { RepairDto } from './repair.dto.js'
import { RepairEntity } from './repair.entity.js'

@Injectable()
export class RepairsService {
  constructor(
    private readonly writer: RecordWriter,
    private readonly files: VisitFiles,
  ) {}

  /** A repair is a fact: it is stored, and marked with the rule it went against when it did. */
  write(id: string, key: string | undefined, dto: RepairDto): Promise<RepairRecord> {
    const { baseVersion: _, deleted: __, by: ___, at: ____, ...own } = dto
    return this.writer.write({
      noun: 'repairs',
      entity: RepairEntity,
      id,
      key,
      dto,
      fields: async (manager) => {
        const file = await this.files.ofWrite(dto.visitId, manager)
        const against =
          dto.state === 'done' ? checkRepair(file, { ...own, id, version: 0, by: dto.by, at: dto.at }) : []
        return {
          ...own,
          recheckOn: dto.recheckOn ?? null,
          note: dto.note ?? null,
          againstRule: against[0]?.rule ?? null,
        }
      },
    })
  }
}
