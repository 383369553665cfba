import { Global, Module, type DynamicModule } from '@nestjs/common'
import { TypeOrmModule } from '@nestjs/typeorm'
import { readingOptions } from './options.js'
import { WriteLane } from './write-lane.js'

/** The lane that writes, for everybody. */
@Global()
@Module({})
class WritingModule {
  static at(path: string): DynamicModule {
    return {
      module: WritingModule,
      providers: [{ provide: WriteLane, useFactory: () => WriteLane.open(path) }],
      exports: [WriteLane],
    }
  }
}

/** The data file: one connection that writes (the lane), and beside it the injected one, which only reads. */
@Module({})
export class DatabaseModule {
  static at(path: string): DynamicModule {
    const writing = WritingModule.at(path)
    return {
      module: DatabaseModule,
      imports: [
        writing,
        TypeOrmModule.forRootAsync({
          imports: [writing],
          // the lane has made and migrated the file by then
          inject: [WriteLane],
          useFactory: () => ({ ...readingOptions(path), retryAttempts: 0 }),
        }),
      ],
    }
  }
}
