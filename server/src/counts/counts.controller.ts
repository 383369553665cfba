import { Body, Controller, Headers, Param, Put } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { CountRecord } from '@uvula/core'
import { CountDto } from './count.dto.js'
import { CountsService } from './counts.service.js'

@ApiTags('counts')
@Controller('api/counts')
export class CountsController {
  constructor(private readonly service: CountsService) {}

  @Put(':id')
  write(@Param('id') id: string, @Headers('idempotency-key') key: string, @Body() dto: CountDto): Promise<CountRecord> {
    return this.service.write(id, key, dto)
  }
}
