import { rm } from 'node:fs/promises'
import { DataSource, type EntityManager, type EntityMetadata } from 'typeorm'
import { ENTITIES } from './entities.js'
import { databaseOptions } from './options.js'
import { openPostgres, postgresOptions, sourceOf } from './postgres.js'

/** Rows that go over at a time; such with a block of bytes in them by themselves. */
const ROWS = 200

type Row = Readonly<Record<string, unknown>>

const isBytes = (meta: EntityMetadata): boolean => meta.columns.some((c) => c.type === 'blob')

/** Tables in the order in which each finds what it refers to. */
const tables = (source: DataSource): EntityMetadata[] => ENTITIES.map((e) => source.getMetadata(e))

/** A value as the other database takes it: SQLite has numbers for yes and no. */
const bound = (value: unknown, toFile: boolean): unknown =>
  toFile && typeof value === 'boolean' ? Number(value) : value

/** Copies every row of every record, as it stands, history and write log among them. */
async function copyRows(from: EntityManager, to: EntityManager): Promise<void> {
  const toFile = to.connection.options.type !== 'postgres'
  const sign = (k: number): string => (toFile ? '?' : `$${k + 1}`)
  for (const meta of tables(to.connection)) {
    const names = meta.columns.map((c) => `"${c.databaseName}"`)
    const key = `"${meta.primaryColumns[0].databaseName}"`
    const most = isBytes(meta) ? 1 : ROWS
    let after: unknown
    for (;;) {
      const where = after === undefined ? '' : `WHERE ${key} > ${toFile ? '$1' : '?'}`
      const rows: Row[] = await from.query(
        `SELECT ${names.join(', ')} FROM "${meta.tableName}" ${where} ORDER BY ${key} LIMIT ${most}`,
        after === undefined ? [] : [after],
      )
      if (!rows.length) break
      const values = rows.flatMap((r) => meta.columns.map((c) => bound(r[c.databaseName], toFile)))
      const places = rows.map((_, i) => `(${names.map((_n, k) => sign(i * names.length + k)).join(', ')})`)
      await to.query(`INSERT INTO "${meta.tableName}" (${names.join(', ')}) VALUES ${places.join(', ')}`, values)
      after = rows[rows.length - 1][meta.primaryColumns[0].databaseName]
      if (rows.length < most) break
    }
  }
}

/** A shop on PostgreSQL as it stands at one moment, as a data file of its own. @param path - a file that is not there yet */
export async function shopToFile(url: string, path: string): Promise<void> {
  const from = await sourceOf(postgresOptions(url, true)).initialize()
  try {
    const to = await new DataSource(databaseOptions(path)).initialize()
    try {
      await from.transaction('REPEATABLE READ', (reading) => to.transaction((writing) => copyRows(reading, writing)))
      await to.query('PRAGMA wal_checkpoint(TRUNCATE)')
    } finally {
      await to.destroy()
      for (const more of ['-wal', '-shm']) await rm(path + more, { force: true })
    }
  } finally {
    await from.destroy()
  }
}

/**
 * Puts the shop of a data file in the place of what stands on PostgreSQL, all or nothing. The file is brought to this version's
 * schema first. @throws Refusal when a server has the database
 */
export async function fileToShop(path: string, url: string): Promise<void> {
  const from = await new DataSource(databaseOptions(path)).initialize()
  try {
    const to = await openPostgres(url)
    try {
      await to.transaction(async (writing) => {
        const names = tables(to).map((t) => `"${t.tableName}"`)
        await writing.query(`TRUNCATE ${names.join(', ')} RESTART IDENTITY`)
        await copyRows(from.manager, writing)
        await writing.query(
          `SELECT setval(pg_get_serial_sequence('history', 'seq'), (SELECT COALESCE(max("seq"), 0) + 1 FROM "history"), false)`,
        )
      })
      // what it guesses of empty tables would cost every question its index
      await to.query('ANALYZE')
    } finally {
      await to.destroy()
    }
  } finally {
    await from.destroy()
  }
}
