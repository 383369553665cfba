import { Body, Controller, Get, HttpCode, Post } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { GaugesState } from '@uvula/contract'
import { ConnectDto } from '../link/link.dto.js'
import { GaugesStandInDto, OffDto, SpeedDto, TurnDto } from './gauges.dto.js'
import { GaugesService } from './gauges.service.js'

@ApiTags('gauges')
@Controller('api/gauges')
export class GaugesController {
  constructor(private readonly service: GaugesService) {}

  @Get()
  state(): GaugesState {
    return this.service.state
  }

  @Post('connect')
  @HttpCode(202)
  connect(@Body() dto: ConnectDto): Promise<GaugesState> {
    return this.service.connect(dto)
  }

  /** Connects to simulated throttles of a visit's car. */
  @Post('stand-in')
  @HttpCode(202)
  standIn(@Body() dto: GaugesStandInDto): Promise<GaugesState> {
    return this.service.connectStandIn(dto)
  }

  @Post('turn')
  @HttpCode(200)
  turn(@Body() dto: TurnDto): GaugesState {
    return this.service.turn(dto)
  }

  @Post('speed')
  @HttpCode(200)
  speed(@Body() dto: SpeedDto): GaugesState {
    return this.service.speed(dto)
  }

  @Post('off')
  @HttpCode(200)
  off(@Body() _: OffDto): Promise<GaugesState> {
    return this.service.off()
  }
}
