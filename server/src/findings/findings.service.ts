import { Injectable } from '@nestjs/common'
import { findKind, isLookItem, TESTS, type FindingRecord } from '@uvula/core'
import { badField } from '../records/problem.js'
import { RecordWriter } from '../records/record-writer.js'
import type { FindingDto } from './finding.dto.js'
import { FindingEntity } from './finding.entity.js'

@Injectable()
export class FindingsService {
  constructor(private readonly writer: RecordWriter) {}

  async write(id: string, key: string | undefined, dto: FindingDto): Promise<FindingRecord> {
    const { visitId, test, station, outcome } = dto
    if (test === 'look' && dto.item !== undefined && dto.item !== null && !isLookItem(dto.item))
      throw badField('item', dto.item, 'a place of the free look, as booster.1')
    const kinds = TESTS.find((t) => t.id === test)?.kinds
    if (kinds && dto.item !== undefined && dto.item !== null && !findKind(test, dto.item))
      throw badField('item', dto.item, `what this test finds: ${kinds.map((k) => k.id).join(', ')}`)
    const fields = {
      visitId,
      test,
      station,
      outcome,
      item: dto.item ?? null,
      note: dto.note ?? null,
      value: dto.value ?? null,
      unit: dto.unit ?? null,
      figures: dto.figures ?? null,
      afterWork: dto.afterWork ?? null,
    }
    return this.writer.write({ noun: 'findings', entity: FindingEntity, id, key, dto, fields: async () => fields })
  }
}
