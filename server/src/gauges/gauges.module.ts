import { Module } from '@nestjs/common'
import { GaugesController } from './gauges.controller.js'
import { GaugesService } from './gauges.service.js'

@Module({ controllers: [GaugesController], providers: [GaugesService] })
export class GaugesModule {}
