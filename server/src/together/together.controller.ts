import { Body, Controller, Get, HttpCode, Param, Post, Query, Res } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { Response } from 'express'
import { HandDto } from './hand.dto.js'
import { TogetherService } from './together.service.js'

@ApiTags('visits')
@Controller('api/visits')
export class TogetherController {
  constructor(private readonly service: TogetherService) {}

  /** Who else is on this visit, and every write to it, as server-sent events. */
  @Get(':id/together')
  join(@Param('id') id: string, @Query() hand: HandDto, @Res() response: Response): void {
    this.service.join(id, { device: hand.device, by: hand.by, stage: hand.stage }, response)
  }

  @Post(':id/together')
  @HttpCode(204)
  move(@Param('id') id: string, @Body() hand: HandDto): void {
    this.service.move(id, { device: hand.device, by: hand.by, stage: hand.stage })
  }
}
