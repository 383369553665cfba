import { randomBytes } from 'node:crypto'
import { mkdtempSync, readFileSync, rmSync, statSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createApp, databaseOptions, openPostgres, restoreShop, type AppPaths, type ShopFile } from '@uvula/server'
import { DataSource } from 'typeorm'

/** An answer of the server, loosely: tests say what they expect of it. */
export interface Answer {
  readonly status: number
  readonly body: Record<string, unknown> & {
    readonly detail?: string
    readonly field?: string
    readonly current?: { readonly value?: number }
  }
}

/** The demo shop as the build made it. */
export const demo = JSON.parse(
  readFileSync(new URL('../../demo/dist/demo-shop.json', import.meta.url), 'utf8'),
) as ShopFile

const isFree = (port: number): Promise<boolean> =>
  new Promise((resolve) => {
    const trial = createServer()
    trial.once('error', () => resolve(false))
    trial.listen(port, '127.0.0.1', () => trial.close(() => resolve(true)))
  })

/** The first of so many free ports in a row, below those that the system lends to connections. */
export async function freePorts(count: number): Promise<number> {
  for (;;) {
    const first = 20_000 + Math.floor(Math.random() * 12_000)
    const free = await Promise.all(Array.from({ length: count }, (_, i) => isFree(first + i)))
    if (free.every(Boolean)) return first
  }
}

/** A PostgreSQL whose user may create databases, where the tests are to run on one. */
export const POSTGRES = process.env.UVULA_TEST_POSTGRES

/** A new database there. @returns its address */
export async function newDatabase(): Promise<string> {
  const name = `shop_${randomBytes(6).toString('hex')}`
  const admin = await new DataSource({ type: 'postgres', url: POSTGRES }).initialize()
  await admin.query(`CREATE DATABASE "${name}"`)
  await admin.destroy()
  return Object.assign(new URL(POSTGRES!), { pathname: name }).href
}

/** The built server on a real port and a real file, or a real PostgreSQL, with the demo shop in it. */
export class Harness {
  readonly dir = mkdtempSync(join(tmpdir(), 'uvula-'))
  database = join(this.dir, 'shop.sqlite')
  private app: Awaited<ReturnType<typeof createApp>> | undefined
  private keys = 0
  base = ''

  constructor(private readonly door?: AppPaths['door']) {}

  async open(): Promise<void> {
    if (POSTGRES) this.database = await newDatabase()
    const source = POSTGRES
      ? await openPostgres(this.database)
      : await new DataSource(databaseOptions(this.database)).initialize()
    await restoreShop(source, demo)
    await source.destroy()
    await this.listen()
  }

  private async listen(): Promise<void> {
    this.app = await createApp({ database: this.database, folder: this.dir, door: this.door })
    await this.app.listen(0, '127.0.0.1')
    this.base = await this.app.getUrl()
  }

  async restart(): Promise<void> {
    await this.app?.close()
    await this.listen()
  }

  async close(): Promise<void> {
    await this.app?.close()
    rmSync(this.dir, { recursive: true, force: true })
  }

  /** Rows of the database itself, beside the server. */
  async rows<T>(sql: string): Promise<T[]> {
    const source = await new DataSource(
      POSTGRES ? { type: 'postgres', url: this.database } : { ...databaseOptions(this.database), migrationsRun: false },
    ).initialize()
    const rows = (await source.query(sql)) as T[]
    await source.destroy()
    return rows
  }

  /** How large the database is [bytes]. */
  async size(): Promise<number> {
    if (!POSTGRES) return statSync(this.database).size
    const [{ n }] = await this.rows<{ n: number }>('SELECT CAST(pg_database_size(current_database()) AS integer) AS n')
    return n
  }

  readonly call = async (
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<Answer> => {
    const response = await fetch(this.base + path, {
      method,
      headers: { 'content-type': 'application/json', 'idempotency-key': `k${++this.keys}`, ...headers },
      body: body === undefined ? undefined : JSON.stringify(body),
    })
    return { status: response.status, body: (await response.json()) as Answer['body'] }
  }

  readonly put = (
    path: string,
    data: object,
    more: { readonly baseVersion?: number; readonly basedOnKey?: string; readonly key?: string } = {},
  ): Promise<Answer> => {
    const { key, ...version } = more
    return this.call(
      'PUT',
      path,
      { baseVersion: 0, by: 'R', at: '2026-01-01T09:00:00Z', ...data, ...version },
      key ? { 'idempotency-key': key } : {},
    )
  }
}

/** An idle speed of the vet's car. */
export const reading = (value: number, part: object = {}): object => ({
  visitId: 'visit-vet',
  round: 0,
  slot: 'idle',
  channel: 'rpm',
  value,
  typed: String(value),
  ...part,
})

/** A picture of one pixel. */
export const PNG = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=='
