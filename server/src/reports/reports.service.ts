import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import {
  diagnoseVisit,
  lastRound,
  mayIssueReport,
  sheetInUnits,
  sheetOf,
  type ChosenUnits,
  type ReportRecord,
} from '@uvula/core'
import { DataSource } from 'typeorm'
import { notFound, refused } from '../records/problem.js'
import { RecordWriter } from '../records/record-writer.js'
import { VisitFiles } from '../records/visit-files.js'
import { ShopService } from '../shop/shop.service.js'
import { VisitEntity } from '../visits/visit.entity.js'
import { sheetPdf } from './pdf.js'
import type { ReportDto } from './report.dto.js'
import { ReportEntity } from './report.entity.js'

@Injectable()
export class ReportsService {
  constructor(
    private readonly writer: RecordWriter,
    private readonly files: VisitFiles,
    private readonly shop: ShopService,
    @InjectDataSource() private readonly source: DataSource,
  ) {}

  /** Issues the sheet: a command, so a rule may refuse it. A second one amends the first and leaves it as it was. */
  write(id: string, key: string | undefined, dto: ReportDto): Promise<ReportRecord> {
    return this.writer.write({
      noun: 'reports',
      entity: ReportEntity,
      id,
      key,
      dto,
      fields: async (manager, current) => {
        if (current)
          throw refused('issued-sheets-stay', 'An issued sheet is not edited: issue another, it amends this one.')
        const file = await this.files.ofWrite(dto.visitId, manager)
        const gate = mayIssueReport(file, Date.parse(dto.at))
        if (!gate.ok) throw refused(gate.refusals[0].rule, gate.refusals.map((r) => r.message).join(' '))
        const { labourPerHour, taxPct } = await this.shop.get(manager)
        await this.writer.changeToo(manager, 'visits', VisitEntity, dto.visitId, { state: 'handed-over' }, dto)
        return {
          visitId: dto.visitId,
          number: file.reports.length + 1,
          issuedAt: dto.at,
          sheet: sheetOf(file, diagnoseVisit(file, 0), labourPerHour, diagnoseVisit(file, lastRound(file)), taxPct),
        }
      },
    })
  }

  async pdf(id: string, units: ChosenUnits): Promise<Buffer> {
    const report = await this.source.manager.findOneBy(ReportEntity, { id })
    if (!report) throw notFound('This sheet')
    return sheetPdf({ ...report, sheet: sheetInUnits(report.sheet, units) }, await this.shop.get())
  }
}
