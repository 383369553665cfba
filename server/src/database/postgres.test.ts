import { spawn } from 'node:child_process'
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { gunzipSync } from 'node:zlib'
import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import Database from 'better-sqlite3'
import { openPostgres, readHead, restoreBackup, restoreShop, writeBackup } from '@uvula/server'
import { DataSource } from 'typeorm'
import { ON_POSTGRES } from '../vehicles/search-ways.js'
import { WriteLane } from './write-lane.js'
import { demo, freePorts, Harness, newDatabase, reading } from '../harness.fixture.js'

const dir = mkdtempSync(join(tmpdir(), 'uvula-postgres-test-'))
afterAll(() => rmSync(dir, { recursive: true, force: true }))
const at = (name: string): string => join(dir, name)

const server = new Harness()
beforeAll(() => server.open(), 60_000)
afterAll(() => server.close())

const ask = async <T>(url: string, sql: string): Promise<T[]> => {
  const source = await new DataSource({ type: 'postgres', url }).initialize()
  try {
    return await source.query<T[]>(sql)
  } finally {
    await source.destroy()
  }
}

/** Ends the connection that holds a database for its server. */
const BREAK = `SELECT pg_terminate_backend(pid) FROM pg_locks
  WHERE locktype = 'advisory' AND database = (SELECT oid FROM pg_database WHERE datname = current_database())`

/** Every row of every table of the records in a backup. */
async function everything(backup: string): Promise<Record<string, unknown[]>> {
  const { from } = await readHead(backup)
  writeFileSync(at('looked-into'), gunzipSync(readFileSync(backup).subarray(from)))
  const db = new Database(at('looked-into'), { readonly: true })
  const names = Object.keys((await readHead(backup)).head.counts)
  const rows = names.map((n) => [n, db.prepare(`SELECT * FROM "${n}" ORDER BY 1`).all()] as const)
  db.close()
  return Object.fromEntries(rows)
}

it('the tables are those that the entities expect', async () => {
  const source = await openPostgres(await newDatabase())
  for (const meta of source.entityMetadatas) {
    const columns = await source.query<{ column_name: string; is_nullable: string }[]>(
      `SELECT column_name, is_nullable FROM information_schema.columns WHERE table_name = '${meta.tableName}' AND is_generated = 'NEVER'`,
    )
    expect([meta.tableName, columns.map((c) => `${c.column_name} ${c.is_nullable}`).sort()]).toEqual([
      meta.tableName,
      meta.columns.map((c) => `${c.databaseName} ${c.isNullable ? 'YES' : 'NO'}`).sort(),
    ])
  }
  await source.destroy()
})

describe('a database has one server', () => {
  it('a second one is refused in a sentence', async () => {
    await expect(openPostgres(server.database)).rejects.toThrow('Another Uvula runs on this database')
  })
  it('a connection that breaks is made anew and takes the database again', async () => {
    await ask(server.database, BREAK)
    const answers: number[] = []
    for (let i = 0; i < 20 && answers.at(-1) !== 200; i++) {
      answers.push((await server.put('/api/readings/after-break', reading(790))).status)
      await new Promise((r) => setTimeout(r, 100))
    }
    expect(answers.at(-1)).toBe(200)
    await expect(openPostgres(server.database)).rejects.toThrow('Another Uvula')
  })
  it('one that lost it to another writes no more, and says so', async () => {
    const url = await newDatabase()
    const lane = await WriteLane.open(url)
    await ask(url, BREAK)
    const other = await openPostgres(url)
    await expect(lane.run((m) => m.query('SELECT 1'))).rejects.toThrow('Another Uvula')
    await other.destroy()
    expect(await lane.run((m) => m.query('SELECT 1 AS one'))).toEqual([{ one: 1 }])
    await lane.onApplicationShutdown()
  })
  it('the connections that only read cannot write', async () => {
    const rows = await ask<{ n: number }>(
      server.database,
      `SELECT count(*)::int AS n FROM pg_stat_activity WHERE application_name = 'uvula' AND datname = current_database()`,
    )
    expect(rows[0].n).toBeGreaterThanOrEqual(2)
  })
})

it('a car is found by part of its name through an index', async () => {
  const { sql, values } = ON_POSTGRES.byPart('van')
  const plan = await ask(
    `${server.database}?options=-c%20enable_seqscan%3Doff`,
    `EXPLAIN ${sql.replace('$1', `'${values[0]}'`)}`,
  )
  expect(JSON.stringify(plan)).toContain('ix_vehicles_any_part')
})

it('a sign that PostgreSQL does not keep is refused as the entry’s, not as a failure of the server', async () => {
  const r = await server.put('/api/readings/nul', reading(800, { typed: '8\u000000' }))
  expect(r.status).toBe(422)
  expect(r.body.detail).toMatch(/other signs/)
})

describe('a backup', () => {
  it('of a file goes to PostgreSQL and back again, row by row the same', async () => {
    const [first, second] = [at('first.uvula-backup'), at('second.uvula-backup')]
    const made = await writeBackup(server.database, first)
    expect(made.counts.visits).toBe(demo.visits.length)
    expect(made.counts.blobs).toBeGreaterThan(0)
    mkdirSync(at('folder'))
    const url = await newDatabase()
    expect(await restoreBackup(first, url, at('folder'))).toMatchObject({ head: { counts: made.counts } })
    expect(readdirSync(at('folder'))).toEqual([])
    expect((await writeBackup(url, second)).counts).toEqual(made.counts)
    expect(await everything(second)).toEqual(await everything(first))
    // what stands is kept aside, and what is numbered goes on behind the last
    const again = await restoreBackup(first, url, at('folder'))
    expect(await everything(again.keptAside!)).toEqual(await everything(first))
    const [{ next, last }] = await ask<{ next: number; last: number }>(
      url,
      `SELECT nextval(pg_get_serial_sequence('history', 'seq'))::int AS next, (SELECT COALESCE(max("seq"), 0) FROM "history") AS last`,
    )
    expect(next).toBe(last + 1)
  }, 60_000)
  it('is not restored into a database that a server has', async () => {
    await expect(restoreBackup(at('first.uvula-backup'), server.database, at('folder'))).rejects.toThrow(
      'Another Uvula',
    )
  })
})

describe('the server', () => {
  const main = fileURLToPath(new URL('../../dist/main.js', import.meta.url))
  const start = async (url: string): Promise<{ code: number | null; said: string; base: string; end: () => void }> => {
    const port = await freePorts(2)
    const child = spawn(process.execPath, [main], {
      env: { ...process.env, PORT: String(port), UVULA_DATA: at(`data-${port}`), DATABASE_URL: url },
    })
    let said = ''
    const code = await new Promise<number | null>((resolve) => {
      const hear = (part: Buffer): void => {
        said += String(part)
        if (said.includes('Uvula is at')) resolve(null)
      }
      child.stdout.on('data', hear)
      child.stderr.on('data', hear)
      child.once('close', resolve)
    })
    return { code, said, base: `http://127.0.0.1:${port}`, end: () => child.kill() }
  }

  it('keeps the shop on the database that DATABASE_URL names', async () => {
    const url = await newDatabase()
    const filled = await openPostgres(url)
    await restoreShop(filled, demo)
    await filled.destroy()
    const s = await start(url)
    const bay = (await (await fetch(`${s.base}/api/bay`)).json()) as { rows: unknown[] }
    expect(bay.rows.length).toBeGreaterThan(5)
    expect(readdirSync(at(`data-${new URL(s.base).port}`)).filter((n) => n.startsWith('own'))).toEqual([])
    s.end()
  }, 60_000)

  it.each([
    ['a database that is not there', (u: URL) => (u.pathname = 'none'), /none at 127.0.0.1:\d+ is not there: create/],
    ['nobody at the port', (u: URL) => (u.port = '20002'), /does not answer: is PostgreSQL running/],
  ])('says in a sentence: %s', async (_what, change, words) => {
    const url = new URL(process.env.UVULA_TEST_POSTGRES!)
    url.password = 'sesame'
    change(url)
    const { code, said } = await start(url.href)
    expect(code).toBe(1)
    expect(said).toMatch(words)
    expect(said).not.toContain('sesame')
  })

  it('leaves a newer database as it is', async () => {
    const url = await newDatabase()
    await (await openPostgres(url)).destroy()
    await ask(url, `INSERT INTO migrations ("timestamp", "name") VALUES (1900000000000, 'Later1900000000000')`)
    expect((await start(url)).said).toMatch(/written by a newer Uvula \(Later1900000000000\)/)
  })
})
