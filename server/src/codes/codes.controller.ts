import { Body, Controller, Headers, Param, Put } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { CodeRecord } from '@uvula/core'
import { CodeDto } from './code.dto.js'
import { CodesService } from './codes.service.js'

@ApiTags('codes')
@Controller('api/codes')
export class CodesController {
  constructor(private readonly service: CodesService) {}

  @Put(':id')
  write(@Param('id') id: string, @Headers('idempotency-key') key: string, @Body() dto: CodeDto): Promise<CodeRecord> {
    return this.service.write(id, key, dto)
  }
}
