import { Body, Controller, Get, Headers, Param, Put, Query, StreamableFile } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import { unitsFromText, type ChosenUnits, type ReportRecord } from '@uvula/core'
import { badField } from '../records/problem.js'
import { ReportDto } from './report.dto.js'
import { ReportsService } from './reports.service.js'

@ApiTags('reports')
@Controller('api/reports')
export class ReportsController {
  constructor(private readonly service: ReportsService) {}

  @Put(':id')
  write(
    @Param('id') id: string,
    @Headers('idempotency-key') key: string,
    @Body() dto: ReportDto,
  ): Promise<ReportRecord> {
    return this.service.write(id, key, dto)
  }

  /** @param units - symbols by commas, in which the tables stand: "inHg,lb/min" */
  @Get(':id/pdf')
  async pdf(@Param('id') id: string, @Query('units') units = ''): Promise<StreamableFile> {
    return new StreamableFile(await this.service.pdf(id, chosen(units)), {
      type: 'application/pdf',
      disposition: 'inline; filename="sheet.pdf"',
    })
  }
}

function chosen(units: string): ChosenUnits {
  try {
    return unitsFromText(units)
  } catch (e) {
    throw badField('units', units, (e as Error).message)
  }
}
