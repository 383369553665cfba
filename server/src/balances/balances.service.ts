import { Injectable } from '@nestjs/common'
import { mayTake, type BalanceRecord } from '@uvula/core'
import { RecordWriter } from '../records/record-writer.js'
import { VisitFiles } from '../records/visit-files.js'
import type { BalanceDto } from './balance.dto.js'
import { BalanceEntity } from './balance.entity.js'

@Injectable()
export class BalancesService {
  constructor(
    private readonly writer: RecordWriter,
    private readonly files: VisitFiles,
  ) {}

  /** A balance is a fact: it is stored, and marked with the rule it went against when it did. */
  write(id: string, key: string | undefined, dto: BalanceDto): Promise<BalanceRecord> {
    const { visitId, round, taken } = dto
    return this.writer.write({
      noun: 'balances',
      entity: BalanceEntity,
      id,
      key,
      dto,
      fields: async (manager, current) => {
        // the mark is of the moment it was taken: leaving it out later does not change it
        if (current) return { visitId, round, taken, againstRule: current.againstRule }
        const gate = mayTake(await this.files.ofWrite(visitId, manager), taken, id)
        return { visitId, round, taken, againstRule: gate.ok ? null : gate.refusals[0].rule }
      },
    })
  }
}
