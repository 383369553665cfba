import { Module } from '@nestjs/common'
import { SoundRecords } from './sound-records.js'
import { VehiclesController } from './vehicles.controller.js'
import { VehiclesService } from './vehicles.service.js'

@Module({ controllers: [VehiclesController], providers: [VehiclesService, SoundRecords] })
export class VehiclesModule {}
