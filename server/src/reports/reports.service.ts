import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import {
  mayIssueReport,
  sheetInUnits,
  type ChosenUnits,
  type ReportRecord,
  type Sheet,
  type VisitFile,
} from '@uvula/core'
import { DataSource } from 'typeorm'
import { notFound, refused } from '../records/problem.js'
import { RecordWriter } from '../records/record-writer.js'
import { VisitFiles } from '../records/visit-files.js'
import { ShopService } from '../shop/shop.service.js'
import { VisitEntity } from '../visits/visit.entity.js'
import { Clerk, type Prices } from '../threads/clerk.js'
import type { ReportDto } from './report.dto.js'
import { ReportEntity } from './report.entity.js'
import { sheetFor } from './sheet-for.js'

@Injectable()
export class ReportsService {
  constructor(
    private readonly writer: RecordWriter,
    private readonly files: VisitFiles,
    private readonly shop: ShopService,
    private readonly clerk: Clerk,
    @InjectDataSource() private readonly source: DataSource,
  ) {}

  /** Issues the sheet: a command, so a rule may refuse it. A second one amends the first and leaves it as it was. */
  async write(id: string, key: string | undefined, dto: ReportDto): Promise<ReportRecord> {
    const ahead = await this.ahead(dto)
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
        const prices = pricesOf(await this.shop.get(manager))
        await this.writer.changeToo(manager, 'visits', VisitEntity, dto.visitId, { state: 'handed-over' }, dto)
        return {
          visitId: dto.visitId,
          number: file.reports.length + 1,
          issuedAt: dto.at,
          // what was written since it was made is in no sheet made ahead
          sheet: ahead?.of === textOf(file, prices) ? ahead.sheet : sheetFor(file, prices),
        }
      },
    })
  }

  /** The sheet made beside the server, before the lane: others write meanwhile. None where it will be refused anyway. */
  private async ahead(dto: ReportDto): Promise<{ readonly of: string; readonly sheet: Sheet } | undefined> {
    const [file] = await this.files.many([dto.visitId])
    if (!file || !mayIssueReport(file, Date.parse(dto.at)).ok) return undefined
    const prices = pricesOf(await this.shop.get())
    return { of: textOf(file, prices), sheet: await this.clerk.sheet(file, prices) }
  }

  async pdf(id: string, units: ChosenUnits): Promise<Buffer> {
    const report = await this.source.manager.findOneBy(ReportEntity, { id })
    if (!report) throw notFound('This sheet')
    const { number, issuedAt } = report
    const printed = { number, issuedAt, sheet: sheetInUnits(report.sheet, units) }
    return Buffer.from(await this.clerk.pdf(printed, await this.shop.get()))
  }
}

const pricesOf = ({ labourPerHour, taxPct }: Prices): Prices => ({ labourPerHour, taxPct })

/** All that a sheet is made of. */
const textOf = (file: VisitFile, prices: Prices): string => JSON.stringify([file, prices])
