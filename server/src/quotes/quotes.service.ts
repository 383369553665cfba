import { Injectable } from '@nestjs/common'
import { agreedProblem, type QuoteRecord } from '@uvula/core'
import { badField } from '../records/problem.js'
import { RecordWriter } from '../records/record-writer.js'
import { VisitFiles } from '../records/visit-files.js'
import type { QuoteDto } from './quote.dto.js'
import { QuoteEntity } from './quote.entity.js'

@Injectable()
export class QuotesService {
  constructor(
    private readonly writer: RecordWriter,
    private readonly files: VisitFiles,
  ) {}

  /** @throws ProblemException when its agreement is none of its own lines */
  write(id: string, key: string | undefined, dto: QuoteDto): Promise<QuoteRecord> {
    const { visitId, lines, labourPerHour, taxPct, agreed = null } = dto
    const wrong = agreedProblem(agreed, lines)
    if (wrong) throw badField('agreed', agreed, wrong)
    return this.writer.write({
      noun: 'quotes',
      entity: QuoteEntity,
      id,
      key,
      dto,
      fields: async (manager) => {
        await this.files.ofWrite(visitId, manager)
        return { visitId, lines, labourPerHour, taxPct, agreed }
      },
    })
  }
}
