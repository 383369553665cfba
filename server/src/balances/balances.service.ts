import { Injectable } from '@nestjs/common'
import type { BalanceRecord } from '@uvula/core'
import { RecordWriter } from '../records/record-writer.js'
import type { BalanceDto } from './balance.dto.js'
import { BalanceEntity } from './balance.entity.js'

@Injectable()
export class BalancesService {
  constructor(private readonly writer: RecordWriter) {}

  write(id: string, key: string | undefined, dto: BalanceDto): Promise<BalanceRecord> {
    const { visitId, round, taken } = dto
    const fields = { visitId, round, taken }
    return this.writer.write({ noun: 'balances', entity: BalanceEntity, id, key, dto, fields: async () => fields })
  }
}
