import { Body, Controller, Headers, Param, Put } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { TickRecord } from '@uvula/core'
import { TickDto } from './tick.dto.js'
import { TicksService } from './ticks.service.js'

@ApiTags('ticks')
@Controller('api/ticks')
export class TicksController {
  constructor(private readonly service: TicksService) {}

  @Put(':id')
  write(@Param('id') id: string, @Headers('idempotency-key') key: string, @Body() dto: TickDto): Promise<TickRecord> {
    return this.service.write(id, key, dto)
  }
}
