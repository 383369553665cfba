import { Body, Controller, Headers, Param, Put } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { TimerRecord } from '@uvula/core'
import { TimerDto } from './timer.dto.js'
import { TimersService } from './timers.service.js'

@ApiTags('timers')
@Controller('api/timers')
export class TimersController {
  constructor(private readonly service: TimersService) {}

  @Put(':id')
  write(@Param('id') id: string, @Headers('idempotency-key') key: string, @Body() dto: TimerDto): Promise<TimerRecord> {
    return this.service.write(id, key, dto)
  }
}
