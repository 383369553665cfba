import { Module } from '@nestjs/common'
import { ReportsController } from './reports.controller.js'
import { ReportsService } from './reports.service.js'

@Module({ controllers: [ReportsController], providers: [ReportsService] })
export class ReportsModule {}
