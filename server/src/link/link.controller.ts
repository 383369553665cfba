import { Body, Controller, Get, Headers, HttpCode, Post, Query, Res } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { CodesRead, LinkState } from '@uvula/contract'
import type { Response } from 'express'
import { ClearDto, ConnectDto, FootDto, NothingDto, StandInDto, TroubleDto } from './link.dto.js'
import { LinkService } from './link.service.js'
import { LiveStream } from './live-stream.js'

@ApiTags('link')
@Controller('api/link')
export class LinkController {
  constructor(private readonly service: LinkService) {}

  @Get()
  state(): LinkState {
    return this.service.state
  }

  /** Samples and states as server-sent events; `since` or Last-Event-ID names the last that was seen. */
  @Get('stream')
  stream(@Res() response: Response, @Query('since') since = '', @Headers('last-event-id') last = ''): void {
    new LiveStream(this.service, response, last || String(since))
  }

  @Post('connect')
  @HttpCode(202)
  connect(@Body() dto: ConnectDto): Promise<LinkState> {
    return this.service.connect(dto)
  }

  /** Connects to the simulated car of a visit. */
  @Post('stand-in')
  @HttpCode(202)
  standIn(@Body() dto: StandInDto): Promise<LinkState> {
    return this.service.connectStandIn(dto)
  }

  @Post('disconnect')
  @HttpCode(200)
  disconnect(@Body() _: NothingDto): Promise<LinkState> {
    return this.service.disconnect()
  }

  @Post('foot')
  @HttpCode(200)
  foot(@Body() dto: FootDto): { readonly rpm: number } {
    return this.service.foot(dto)
  }

  @Post('trouble')
  @HttpCode(200)
  trouble(@Body() dto: TroubleDto): Promise<LinkState> {
    return this.service.trouble(dto.link)
  }

  @Post('codes')
  @HttpCode(200)
  codes(@Body() _: NothingDto): Promise<CodesRead> {
    return this.service.readCodes()
  }

  @Post('codes/clear')
  @HttpCode(200)
  clear(@Body() dto: ClearDto): Promise<CodesRead> {
    return this.service.clearCodes(dto.understood)
  }
}
