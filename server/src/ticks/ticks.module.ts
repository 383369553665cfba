import { Module } from '@nestjs/common'
import { TicksController } from './ticks.controller.js'
import { TicksService } from './ticks.service.js'

@Module({ controllers: [TicksController], providers: [TicksService] })
export class TicksModule {}
