import { Body, Controller, Headers, Param, Put } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { StepRecord } from '@uvula/core'
import { StepDto } from './step.dto.js'
import { StepsService } from './steps.service.js'

@ApiTags('steps')
@Controller('api/steps')
export class StepsController {
  constructor(private readonly service: StepsService) {}

  @Put(':id')
  write(@Param('id') id: string, @Headers('idempotency-key') key: string, @Body() dto: StepDto): Promise<StepRecord> {
    return this.service.write(id, key, dto)
  }
}
