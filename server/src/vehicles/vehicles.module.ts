import { Module } from '@nestjs/common'
import { Search } from './search.js'
import { SoundRecords } from './sound-records.js'
import { VehiclesController } from './vehicles.controller.js'
import { VehiclesService } from './vehicles.service.js'

@Module({ controllers: [VehiclesController], providers: [VehiclesService, Search, SoundRecords] })
export class VehiclesModule {}
