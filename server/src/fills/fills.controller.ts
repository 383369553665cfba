import { Body, Controller, Headers, Param, Put } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { FillRecord } from '@uvula/core'
import { FillDto } from './fill.dto.js'
import { FillsService } from './fills.service.js'

@ApiTags('fills')
@Controller('api/fills')
export class FillsController {
  constructor(private readonly service: FillsService) {}

  @Put(':id')
  write(@Param('id') id: string, @Headers('idempotency-key') key: string, @Body() dto: FillDto): Promise<FillRecord> {
    return this.service.write(id, key, dto)
  }
}
