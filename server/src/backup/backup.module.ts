import { Module, type DynamicModule } from '@nestjs/common'
import { BackupController } from './backup.controller.js'
import { BackupService, DATA_PLACE, type DataPlace } from './backup.service.js'

@Module({})
export class BackupModule {
  static at(place: DataPlace): DynamicModule {
    return {
      module: BackupModule,
      controllers: [BackupController],
      providers: [BackupService, { provide: DATA_PLACE, useValue: place }],
    }
  }
}
