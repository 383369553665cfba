import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, expect, it } from '@jest/globals'
import { databaseOptions } from '@uvula/server'
import { DataSource } from 'typeorm'

const dir = mkdtempSync(join(tmpdir(), 'uvula-schema-'))
afterAll(() => rmSync(dir, { recursive: true, force: true }))

it('the schema that migrations make is the one the entities expect', async () => {
  const source = await new DataSource(databaseOptions(join(dir, 'shop.sqlite'))).initialize()
  for (const meta of source.entityMetadatas) {
    const columns: { name: string; notnull: number }[] = await source.query(`PRAGMA table_info("${meta.tableName}")`)
    expect([meta.tableName, columns.map((c) => c.name).sort()]).toEqual([
      meta.tableName,
      meta.columns.map((c) => c.databaseName).sort(),
    ])
    for (const c of meta.columns)
      if (!c.isPrimary)
        expect([c.databaseName, columns.find((x) => x.name === c.databaseName)!.notnull]).toEqual([
          c.databaseName,
          c.isNullable ? 0 : 1,
        ])
  }
  const [{ journal_mode }] = await source.query('PRAGMA journal_mode')
  expect(journal_mode).toBe('wal')
  await source.destroy()
})

it('the bay and a plate are found by their indices', async () => {
  const source = await new DataSource(databaseOptions(join(dir, 'shop.sqlite'))).initialize()
  const plan = async (sql: string): Promise<string> =>
    (await source.query<{ detail: string }[]>(`EXPLAIN QUERY PLAN ${sql}`)).map((r) => r.detail).join('; ')
  expect(
    await plan(`SELECT id FROM visits WHERE state = 'open' AND deleted = 0 ORDER BY openedAt DESC LIMIT 40`),
  ).toMatch(/USING INDEX ix_visits_bay/)
  expect(await plan(`SELECT id FROM vehicles WHERE plate LIKE 'VAL 2%'`)).toMatch(/ix_vehicles_plate_any_case/)
  await source.destroy()
})
