import { Global, Module, type DynamicModule } from '@nestjs/common'
import { TypeOrmModule } from '@nestjs/typeorm'
import { readingOptions } from './options.js'
import { isPostgres, postgresOptions, sourceOf } from './postgres.js'
import { WriteLane } from './write-lane.js'

/** The lane that writes, for everybody. */
@Global()
@Module({})
class WritingModule {
  static at(database: string): DynamicModule {
    return {
      module: WritingModule,
      providers: [{ provide: WriteLane, useFactory: () => WriteLane.open(database) }],
      exports: [WriteLane],
    }
  }
}

/** A shop's database: one connection that writes (the lane), and beside it the injected one, which only reads. */
@Module({})
export class DatabaseModule {
  static at(database: string): DynamicModule {
    const writing = WritingModule.at(database)
    return {
      module: DatabaseModule,
      imports: [
        writing,
        TypeOrmModule.forRootAsync({
          imports: [writing],
          // the lane has made and migrated it by then
          inject: [WriteLane],
          useFactory: () => ({
            ...(isPostgres(database) ? postgresOptions(database, true) : readingOptions(database)),
            retryAttempts: 0,
          }),
          dataSourceFactory: (options) => sourceOf(options!).initialize(),
        }),
      ],
    }
  }
}
