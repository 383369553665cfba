import { Module } from '@nestjs/common'
import { RepairsController } from './repairs.controller.js'
import { RepairsService } from './repairs.service.js'

@Module({ controllers: [RepairsController], providers: [RepairsService] })
export class RepairsModule {}
