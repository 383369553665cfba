import { Body, Controller, Get, Headers, Param, Put, Query } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { FindResult, VehicleCard } from '@uvula/contract'
import type { SoundRecord, VehicleRecord } from '@uvula/core'
import { VehicleDto } from './vehicle.dto.js'
import { VehiclesService } from './vehicles.service.js'

@ApiTags('vehicles')
@Controller('api')
export class VehiclesController {
  constructor(private readonly service: VehiclesService) {}

  @Put('vehicles/:id')
  write(
    @Param('id') id: string,
    @Headers('idempotency-key') key: string,
    @Body() dto: VehicleDto,
  ): Promise<VehicleRecord> {
    return this.service.write(id, key, dto)
  }

  @Get('vehicles/:id/card')
  card(@Param('id') id: string): Promise<VehicleCard> {
    return this.service.card(id)
  }

  @Get('vehicles/:id/sound')
  async sound(@Param('id') id: string, @Query('except') except = ''): Promise<{ readonly sound: SoundRecord | null }> {
    return { sound: await this.service.sound(id, String(except)) }
  }

  @Get('find')
  find(@Query('q') q = ''): Promise<FindResult> {
    return this.service.find(String(q).slice(0, 60))
  }
}
