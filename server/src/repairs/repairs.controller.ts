import { Body, Controller, Headers, Param, Put } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { RepairRecord } from '@uvula/core'
import { RepairDto } from './repair.dto.js'
import { RepairsService } from './repairs.service.js'

@ApiTags('repairs')
@Controller('api/repairs')
export class RepairsController {
  constructor(private readonly service: RepairsService) {}

  @Put(':id')
  write(
    @Param('id') id: string,
    @Headers('idempotency-key') key: string,
    @Body() dto: RepairDto,
  ): Promise<RepairRecord> {
    return this.service.write(id, key, dto)
  }
}
