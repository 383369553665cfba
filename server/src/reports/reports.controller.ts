import { Body, Controller, Get, Headers, Param, Put, StreamableFile } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { ReportRecord } from '@uvula/core'
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

  @Get(':id/pdf')
  async pdf(@Param('id') id: string): Promise<StreamableFile> {
    return new StreamableFile(await this.service.pdf(id), {
      type: 'application/pdf',
      disposition: 'inline; filename="sheet.pdf"',
    })
  }
}
