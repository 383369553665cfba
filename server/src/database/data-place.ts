import { Global, Module, type DynamicModule } from '@nestjs/common'

/** Where a shop's records lie, and which are open. */
export interface DataPlace {
  /** What is open: the path of a data file, or an address of PostgreSQL. */
  readonly database: string
  /** The shop's own, whether it is open or not. */
  readonly own: string
  /** The folder of this computer that holds data files and what is remembered beside them. */
  readonly folder: string
}
export const DATA_PLACE = 'data-place'

/** The place, for everybody. */
@Global()
@Module({})
export class DataPlaceModule {
  static at(place: DataPlace): DynamicModule {
    return {
      module: DataPlaceModule,
      providers: [{ provide: DATA_PLACE, useValue: place }],
      exports: [DATA_PLACE],
    }
  }
}
