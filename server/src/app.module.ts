import { ItemsModule } from './items/items.module.js'
import { BalancesModule } from './balances/balances.module.js'
import { CountsModule } from './counts/counts.module.js'
import { TicksModule } from './ticks/ticks.module.js'
import { TimersModule } from './timers/timers.module.js'
import { CodesModule } from './codes/codes.module.js'
import { StepsModule } from './steps/steps.module.js'
import { FillsModule } from './fills/fills.module.js'
import { ProceduresModule } from './procedures/procedures.module.js'
import { QuotesModule } from './quotes/quotes.module.js'
import { RunsModule } from './runs/runs.module.js'
import { TogetherModule } from './together/together.module.js'
import { Module, type DynamicModule } from '@nestjs/common'
import { APP_GUARD } from '@nestjs/core'
import type { AccessFile } from './access/access-file.js'
import { AccessModule } from './access/access.module.js'
import type { DoorPlace } from './access/network-door.js'
import { ThrottlerGuard, ThrottlerModule } from '@nestjs/throttler'
import { BackupModule } from './backup/backup.module.js'
import { BayModule } from './bay/bay.module.js'
import { DataPlaceModule, type DataPlace } from './database/data-place.js'
import { DatabaseModule } from './database/database.module.js'
import { GaugesModule } from './gauges/gauges.module.js'
import { TransducerModule } from './transducer/transducer.module.js'
import { LinkModule } from './link/link.module.js'
import { FindingsModule } from './findings/findings.module.js'
import { PhotosModule } from './photos/photos.module.js'
import { ReadingsModule } from './readings/readings.module.js'
import { RecordingsModule } from './recordings/recordings.module.js'
import { RecordsModule } from './records/records.module.js'
import { RepairsModule } from './repairs/repairs.module.js'
import { ReportsModule } from './reports/reports.module.js'
import { ShopModule } from './shop/shop.module.js'
import { VehiclesModule } from './vehicles/vehicles.module.js'
import { ThreadsModule } from './threads/threads.module.js'
import { VisitsModule } from './visits/visits.module.js'

@Module({})
export class AppModule {
  static at(place: DataPlace, access: AccessFile, door: DoorPlace): DynamicModule {
    return {
      module: AppModule,
      imports: [
        DataPlaceModule.at(place),
        DatabaseModule.at(place.database),
        // far above what hands can do; it stops a loop gone wild
        ThrottlerModule.forRoot([{ ttl: 10_000, limit: 3000 }]),
        RecordsModule,
        ThreadsModule,
        ShopModule,
        VehiclesModule,
        VisitsModule,
        TogetherModule,
        ReadingsModule,
        FindingsModule,
        RepairsModule,
        RecordingsModule,
        PhotosModule,
        ReportsModule,
        ItemsModule,
        BalancesModule,
        CountsModule,
        TicksModule,
        TimersModule,
        CodesModule,
        StepsModule,
        RunsModule,
        QuotesModule,
        FillsModule,
        ProceduresModule,
        BackupModule,
        AccessModule.at(access, door),
        BayModule,
        GaugesModule,
        TransducerModule,
        LinkModule,
      ],
      providers: [{ provide: APP_GUARD, useClass: ThrottlerGuard }],
    }
  }
}
