import { Body, Controller, Headers, Param, Put } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { BalanceRecord } from '@uvula/core'
import { BalanceDto } from './balance.dto.js'
import { BalancesService } from './balances.service.js'

@ApiTags('balances')
@Controller('api/balances')
export class BalancesController {
  constructor(private readonly service: BalancesService) {}

  @Put(':id')
  write(
    @Param('id') id: string,
    @Headers('idempotency-key') key: string,
    @Body() dto: BalanceDto,
  ): Promise<BalanceRecord> {
    return this.service.write(id, key, dto)
  }
}
