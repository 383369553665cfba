import { Body, Controller, Headers, Param, Put } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { RunRecord } from '@uvula/core'
import { RunDto } from './run.dto.js'
import { RunsService } from './runs.service.js'

@ApiTags('runs')
@Controller('api/runs')
export class RunsController {
  constructor(private readonly service: RunsService) {}

  @Put(':id')
  write(@Param('id') id: string, @Headers('idempotency-key') key: string, @Body() dto: RunDto): Promise<RunRecord> {
    return this.service.write(id, key, dto)
  }
}
