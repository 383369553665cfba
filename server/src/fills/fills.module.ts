import { Module } from '@nestjs/common'
import { FillsController } from './fills.controller.js'
import { FillsService } from './fills.service.js'

@Module({ controllers: [FillsController], providers: [FillsService] })
export class FillsModule {}
