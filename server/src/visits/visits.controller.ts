import { Body, Controller, Get, Headers, Param, Put } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { VisitFile, VisitRecord } from '@uvula/core'
import { VisitFiles } from '../records/visit-files.js'
import { VisitDto } from './visit.dto.js'
import { VisitsService } from './visits.service.js'

@ApiTags('visits')
@Controller('api/visits')
export class VisitsController {
  constructor(
    private readonly service: VisitsService,
    private readonly files: VisitFiles,
  ) {}

  /** A whole visit as one file. */
  @Get(':id')
  get(@Param('id') id: string): Promise<VisitFile> {
    return this.files.get(id)
  }

  @Put(':id')
  write(@Param('id') id: string, @Headers('idempotency-key') key: string, @Body() dto: VisitDto): Promise<VisitRecord> {
    return this.service.write(id, key, dto)
  }
}
