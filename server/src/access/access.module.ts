import { Module, type DynamicModule } from '@nestjs/common'
import { APP_GUARD } from '@nestjs/core'
import { AccessController } from './access.controller.js'
import { ACCESS_FILE, type AccessFile } from './access-file.js'
import { AccessGuard } from './access.guard.js'
import { AccessService } from './access.service.js'
import { DOOR_PLACE, NetworkDoor, type DoorPlace } from './network-door.js'

@Module({})
export class AccessModule {
  static at(file: AccessFile, door: DoorPlace): DynamicModule {
    return {
      module: AccessModule,
      controllers: [AccessController],
      providers: [
        AccessService,
        NetworkDoor,
        { provide: ACCESS_FILE, useValue: file },
        { provide: DOOR_PLACE, useValue: door },
        { provide: APP_GUARD, useClass: AccessGuard },
      ],
    }
  }
}
