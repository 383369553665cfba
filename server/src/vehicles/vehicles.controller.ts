import { Body, Controller, Get, Header, Headers, Param, Put, Query } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { FindResult, SoundAnswer, VehicleCard } from '@uvula/contract'
import type { VehicleRecord } from '@uvula/core'
import { SoundRecords } from './sound-records.js'
import { VehicleDto } from './vehicle.dto.js'
import { VehiclesService } from './vehicles.service.js'

@ApiTags('vehicles')
@Controller('api')
export class VehiclesController {
  constructor(
    private readonly service: VehiclesService,
    private readonly records: SoundRecords,
  ) {}

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

  /** What is due on it, as iCalendar. */
  @Get('vehicles/:id/calendar.ics')
  @Header('Content-Type', 'text/calendar; charset=utf-8')
  @Header('Content-Disposition', 'attachment; filename="due.ics"')
  calendar(@Param('id') id: string): Promise<string> {
    return this.service.calendar(id)
  }

  /** The shop's visits as a table. */
  @Get('visits.csv')
  @Header('Content-Type', 'text/csv; charset=utf-8')
  @Header('Content-Disposition', 'attachment; filename="visits.csv"')
  table(): Promise<string> {
    return this.service.table()
  }

  /** Sound records of this car and of cars of its model, from every visit but the one at hand. */
  @Get('vehicles/:id/sound')
  async sound(@Param('id') id: string, @Query('except') except = ''): Promise<SoundAnswer> {
    return { sound: await this.records.of(id, String(except)) }
  }

  @Get('find')
  find(@Query('q') q = ''): Promise<FindResult> {
    return this.service.find(String(q).slice(0, 60))
  }
}
