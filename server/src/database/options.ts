import type { DataSourceOptions } from 'typeorm'
import { ENTITIES } from './entities.js'
import { First1700000000001 } from './0001-first.js'
import { Service1700000000002 } from './0002-service.js'
import { Live1700000000003 } from './0003-live.js'
import { Stretches1700000000004 } from './0004-stretches.js'

/** Data file options: write-ahead log, foreign keys, full sync; migrations only, never a synchronised schema. */
export function databaseOptions(path: string): DataSourceOptions {
  return {
    type: 'better-sqlite3',
    database: path,
    entities: ENTITIES,
    migrations: [First1700000000001, Service1700000000002, Live1700000000003, Stretches1700000000004],
    migrationsRun: true,
    synchronize: false,
    prepareDatabase: (db: { pragma: (sql: string) => void }) => {
      db.pragma('journal_mode = WAL')
      db.pragma('foreign_keys = ON')
      db.pragma('synchronous = FULL')
      db.pragma('busy_timeout = 3000')
    },
  }
}
