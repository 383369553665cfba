import { Injectable } from '@nestjs/common'
import { mayTakeOff, type ItemRecord } from '@uvula/core'
import { RecordWriter } from '../records/record-writer.js'
import { VisitFiles } from '../records/visit-files.js'
import type { ItemDto } from './item.dto.js'
import { ItemEntity } from './item.entity.js'

@Injectable()
export class ItemsService {
  constructor(
    private readonly writer: RecordWriter,
    private readonly files: VisitFiles,
  ) {}

  /** What came off is a fact: it is stored, and marked with the STOP that it went against when it did. */
  write(id: string, key: string | undefined, dto: ItemDto): Promise<ItemRecord> {
    const fields = {
      visitId: dto.visitId,
      station: dto.station,
      name: dto.name,
      count: dto.count,
      drive: dto.drive ?? null,
      bag: dto.bag ?? null,
      way: dto.way ?? null,
      arrival: dto.arrival,
      state: dto.state,
      until: dto.until ?? null,
      more: dto.more ?? null,
    }
    return this.writer.write({
      noun: 'items',
      entity: ItemEntity,
      id,
      key,
      dto,
      fields: async (manager, current) => {
        // only coming off is what the STOPs stand before
        if (dto.state !== 'off' || current?.state === 'off')
          return { ...fields, againstRule: current?.againstRule ?? null }
        const gate = mayTakeOff(await this.files.ofWrite(dto.visitId, manager), { ...dto, more: dto.more ?? undefined })
        return { ...fields, againstRule: gate.ok ? null : gate.refusals[0].rule }
      },
    })
  }
}
