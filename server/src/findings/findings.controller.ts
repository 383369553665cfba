import { Body, Controller, Headers, Param, Put } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { FindingRecord } from '@uvula/core'
import { FindingDto } from './finding.dto.js'
import { FindingsService } from './findings.service.js'

@ApiTags('findings')
@Controller('api/findings')
export class FindingsController {
  constructor(private readonly service: FindingsService) {}

  @Put(':id')
  write(
    @Param('id') id: string,
    @Headers('idempotency-key') key: string,
    @Body() dto: FindingDto,
  ): Promise<FindingRecord> {
    return this.service.write(id, key, dto)
  }
}
