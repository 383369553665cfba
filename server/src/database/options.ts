import type { DataSourceOptions } from 'typeorm'
import { ENTITIES } from './entities.js'
import { First1700000000001 } from './0001-first.js'
import { Service1700000000002 } from './0002-service.js'
import { Live1700000000003 } from './0003-live.js'
import { Stretches1700000000004 } from './0004-stretches.js'
import { Lookups1700000000005 } from './0005-lookups.js'
import { Remedies1700000000006 } from './0006-remedies.js'
import { Balances1700000000007 } from './0007-balances.js'
import { Opening1700000000008 } from './0008-opening.js'
import { Washes1700000000009 } from './0009-washes.js'
import { Learning1700000000010 } from './0010-learning.js'
import { Search1700000000011 } from './0011-search.js'
import { Finds1700000000012 } from './0012-finds.js'
import { Again1700000000013 } from './0013-again.js'

/** Every step from an empty file to this version's schema, in order. */
export const MIGRATIONS = [
  First1700000000001,
  Service1700000000002,
  Live1700000000003,
  Stretches1700000000004,
  Lookups1700000000005,
  Remedies1700000000006,
  Balances1700000000007,
  Opening1700000000008,
  Washes1700000000009,
  Learning1700000000010,
  Search1700000000011,
  Finds1700000000012,
  Again1700000000013,
] as const

type Pragmas = { pragma: (sql: string) => void }

/** Data file options: write-ahead log, foreign keys, full sync; migrations only, never a synchronised schema. */
export function databaseOptions(path: string): DataSourceOptions {
  return {
    type: 'better-sqlite3',
    database: path,
    entities: ENTITIES,
    migrations: [...MIGRATIONS],
    migrationsRun: true,
    synchronize: false,
    prepareDatabase: (db: Pragmas) => {
      db.pragma('journal_mode = WAL')
      db.pragma('foreign_keys = ON')
      db.pragma('synchronous = FULL')
      db.pragma('busy_timeout = 3000')
    },
  }
}

/** The same file for reading only, beside the one that writes: whoever writes through it is told so by SQLite. */
export function readingOptions(path: string): DataSourceOptions {
  return {
    ...databaseOptions(path),
    migrationsRun: false,
    prepareDatabase: (db: Pragmas) => {
      db.pragma('busy_timeout = 3000')
      db.pragma('query_only = ON')
    },
  } as DataSourceOptions
}
