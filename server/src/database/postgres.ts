import { DataSource, type DataSourceOptions } from 'typeorm'
import { Refusal } from '../refusal.js'
import { ENTITIES } from './entities.js'
import { Group1700000000101 } from './postgres-0001-first.js'
import { Finds1700000000102 } from './postgres-0002-finds.js'
import { Again1700000000103 } from './postgres-0003-again.js'

/** Every step from an empty database to this version's schema on PostgreSQL, in order. */
const STEPS = [Group1700000000101, Finds1700000000102, Again1700000000103] as const

/** Connections that read beside the one that writes. */
const READERS = 4
/** A database that does not answer for so long is not there [ms]. */
const ANSWERS_MS = 8000

/** Whether a shop is kept on PostgreSQL, by the address, and not in a file, by its path. */
export const isPostgres = (database: string): boolean => /^postgres(ql)?:\/\//.test(database)

/** An address as it may be shown: where and what, never the password. */
export function shownAddress(url: string): string {
  try {
    const { hostname, port, pathname } = new URL(url)
    return `${decodeURIComponent(pathname.slice(1)) || 'the database'} at ${hostname}${port && `:${port}`}`
  } catch {
    return 'the address in DATABASE_URL'
  }
}

/** @param reads - several connections on which PostgreSQL itself refuses to write; without it the one that writes */
export const postgresOptions = (url: string, reads: boolean): DataSourceOptions => ({
  type: 'postgres',
  url,
  entities: ENTITIES,
  migrations: [...STEPS],
  migrationsRun: false,
  synchronize: false,
  applicationName: 'uvula',
  connectTimeoutMS: ANSWERS_MS,
  poolSize: reads ? READERS : 1,
  extra: reads ? { options: '-c default_transaction_read_only=on' } : {},
  // a connection that breaks while nobody uses it is replaced by the next who asks
  poolErrorHandler: () => undefined,
})

/** A source whose entities name a column of bytes as SQLite does; the step that makes the tables names it as PostgreSQL does. */
export function sourceOf(options: DataSourceOptions): DataSource {
  const source = new DataSource(options)
  if (options.type === 'postgres') source.driver.supportedDataTypes.push('blob')
  return source
}

/** Asks for the shop's lock, which goes with the connection that holds it; asked again it stands already. */
const LOCK = `SELECT pg_try_advisory_lock(hashtext('uvula ' || current_schema())) AS "mine"`

/**
 * Takes the database for this connection, or sees that it holds it: what a server keeps of visits in its memory is true only while
 * nobody else writes. @throws Refusal when another server has it
 */
export async function requireAlone(source: { query: (sql: string) => Promise<unknown> }): Promise<void> {
  const [{ mine }] = (await source.query(LOCK)) as { mine: boolean }[]
  if (!mine) throw new Refusal('Another Uvula runs on this database: use that one, or stop it first.')
}

/** Takes the database, then brings it to this version's schema. @throws Refusal when it must not be opened */
export async function openPostgres(url: string): Promise<DataSource> {
  const source = await sourceOf(postgresOptions(url, false)).initialize()
  try {
    await requireAlone(source)
    const taken = await stepsOf(source)
    const known = STEPS.map((Step) => new Step().name as string)
    const unknown = taken.find((name) => !known.includes(name))
    if (unknown)
      throw new Refusal(
        `${shownAddress(url)} was written by a newer Uvula (${unknown}): open it with that version or a later one. Nothing was changed.`,
      )
    await source.runMigrations()
    return source
  } catch (e) {
    await source.destroy()
    throw e
  }
}

async function stepsOf(source: DataSource): Promise<string[]> {
  const [{ there }] = await source.query<{ there: boolean }[]>(
    `SELECT to_regclass('migrations') IS NOT NULL AS "there"`,
  )
  if (!there) return []
  return (await source.query<{ name: string }[]>('SELECT "name" FROM "migrations" ORDER BY "id"')).map((m) => m.name)
}
