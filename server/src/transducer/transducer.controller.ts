import { Body, Controller, Get, Header, HttpCode, Post, Query } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { TransducerState } from '@uvula/contract'
import { ConnectDto } from '../link/link.dto.js'
import { badField } from '../records/problem.js'
import { HoseDto, TransducerStandInDto } from './transducer.dto.js'
import { TransducerService } from './transducer.service.js'

@ApiTags('transducer')
@Controller('api/transducer')
export class TransducerController {
  constructor(private readonly service: TransducerService) {}

  @Get()
  state(): TransducerState {
    return this.service.state
  }

  /** The last seconds as CSV. */
  @Get('capture')
  @Header('content-type', 'text/csv')
  capture(@Query('seconds') text: string): string {
    const seconds = Number(text)
    if (!(seconds >= 1 && seconds <= 30)) throw badField('seconds', text, '1 to 30')
    return this.service.capture(seconds)
  }

  @Post('connect')
  @HttpCode(202)
  connect(@Body() dto: ConnectDto): Promise<TransducerState> {
    return this.service.connect(dto)
  }

  /** Connects to a simulated engine of a visit's kind. */
  @Post('stand-in')
  @HttpCode(202)
  standIn(@Body() dto: TransducerStandInDto): Promise<TransducerState> {
    return this.service.connectStandIn(dto)
  }

  @Post('hose')
  @HttpCode(200)
  hose(@Body() dto: HoseDto): TransducerState {
    return this.service.hose(dto)
  }

  @Post('off')
  @HttpCode(200)
  off(): Promise<TransducerState> {
    return this.service.off()
  }
}
