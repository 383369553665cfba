import { Body, Controller, Headers, Param, Put } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { ReadingRecord } from '@uvula/core'
import { ReadingDto } from './reading.dto.js'
import { ReadingsService } from './readings.service.js'

@ApiTags('readings')
@Controller('api/readings')
export class ReadingsController {
  constructor(private readonly service: ReadingsService) {}

  @Put(':id')
  write(
    @Param('id') id: string,
    @Headers('idempotency-key') key: string,
    @Body() dto: ReadingDto,
  ): Promise<ReadingRecord> {
    return this.service.write(id, key, dto)
  }
}
