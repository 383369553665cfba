import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, expect, it } from '@jest/globals'
import { WriteLane } from '../database/write-lane.js'
import { Remembered, REMEMBERED_DAYS } from './remembered.js'

const dir = mkdtempSync(join(tmpdir(), 'uvula-writes-'))
afterAll(() => rmSync(dir, { recursive: true, force: true }))

it('answers of writes go after twice a season, in pieces, and no younger one with them', async () => {
  const lane = await WriteLane.open(join(dir, 'shop.sqlite'))
  const now = new Date('2026-11-01T12:00:00Z')
  const daysAgo = (d: number): string => new Date(now.getTime() - d * 86_400_000).toISOString()
  await lane.run(async (m) => {
    for (let i = 0; i < 1203; i++)
      await m.query(`INSERT INTO "writes" VALUES (?, 'readings', 'r', '{}', ?)`, [
        `old${i}`,
        daysAgo(REMEMBERED_DAYS + 1),
      ])
    await m.query(`INSERT INTO "writes" VALUES ('young', 'readings', 'r', '{}', ?)`, [daysAgo(REMEMBERED_DAYS - 1)])
  })
  const remembered = new Remembered(lane)
  expect(await remembered.forget(now)).toBe(1203)
  expect(await lane.run((m) => m.query(`SELECT "key" FROM "writes"`))).toEqual([{ key: 'young' }])
  await lane.onApplicationShutdown()
})
