import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import {
  cpSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { gzipSync } from 'node:zlib'
import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import Database from 'better-sqlite3'
import { DataSource } from 'typeorm'
import {
  checkBackup,
  copyBeforeMigration,
  databaseOptions,
  lockFolder,
  MIGRATIONS,
  restoreBackup,
  restoreShop,
  schemaProblem,
  writeBackup,
} from '@uvula/server'
import { beyond, dueSince } from './backup.service.js'
import { demo, Harness, reading } from '../harness.fixture.js'

const dir = mkdtempSync(join(tmpdir(), 'uvula-backup-'))
afterAll(() => rmSync(dir, { recursive: true, force: true }))
const at = (name: string): string => join(dir, name)

/** Every row of every table, as SQLite has them. */
function everything(path: string): Record<string, unknown[]> {
  const db = new Database(path, { readonly: true })
  const tables = db.prepare(`SELECT name FROM sqlite_master WHERE type = 'table'`).all() as { name: string }[]
  const rows = Object.fromEntries(
    tables.map(({ name }) => [name, db.prepare(`SELECT * FROM "${name}" ORDER BY 1`).all()]),
  )
  db.close()
  return rows
}

describe('a backup', () => {
  const shop = at('shop.sqlite')
  const backup = at('one.uvula-backup')
  beforeAll(async () => {
    const source = await new DataSource(databaseOptions(shop)).initialize()
    await restoreShop(source, demo)
    // while it is open and written to
    await writeBackup(shop, backup)
    await source.destroy()
  }, 60_000)

  it('is one file with its hash, version and counts, and nothing is left beside it', async () => {
    const head = await checkBackup(backup)
    expect(head).toMatchObject({ format: 'uvula-backup', formatVersion: 1, shop: demo.shop.name })
    expect(head.counts.visits).toBe(demo.visits.length)
    expect(readdirSync(dir).filter((n) => /\.(part|copy)/.test(n))).toEqual([])
  })
  it('restored into an empty folder it is the same shop, record by record', async () => {
    const { keptAside } = await restoreBackup(backup, at('restored.sqlite'))
    expect(keptAside).toBeUndefined()
    expect(everything(at('restored.sqlite'))).toEqual(everything(shop))
  })
  it('what stood in its place is kept aside', async () => {
    writeFileSync(at('old.sqlite'), 'another shop')
    const { keptAside } = await restoreBackup(backup, at('old.sqlite'))
    expect(readFileSync(keptAside!, 'utf8')).toBe('another shop')
    expect(everything(at('old.sqlite')).visits).toHaveLength(demo.visits.length)
  })

  const bytes = (): Buffer => readFileSync(backup)
  const headOf = (): [Record<string, unknown>, Buffer] => {
    const end = bytes().indexOf(10)
    return [JSON.parse(bytes().toString('utf8', 0, end)) as Record<string, unknown>, bytes().subarray(end + 1)]
  }
  const withHead = (change: object): Buffer => {
    const [head, rest] = headOf()
    return Buffer.concat([Buffer.from(`${JSON.stringify({ ...head, ...change })}\n`), rest])
  }
  it.each<[string, () => Buffer, RegExp]>([
    ['cut short', () => bytes().subarray(0, -2000), /cut short or damaged/],
    ['with another byte', () => Buffer.from(bytes()).fill(7, bytes().length - 900, bytes().length - 880), /cut short/],
    ['of the future', () => withHead({ formatVersion: 2 }), /newer Uvula/],
    ['whose head lies', () => withHead({ sha256: 'ab' }), /cut short or damaged/],
    ['that unpacks to more than it says', () => withHead({ bytes: 4096 }), /cut short or damaged/],
    ['that is a photo', () => Buffer.from([0xff, 0xd8, 0xff, 0xe0]), /no backup of Uvula/],
    ['that is empty', () => Buffer.alloc(0), /no backup of Uvula/],
    [
      'of something else',
      () => Buffer.concat([Buffer.from('{"format":"other"}\n'), gzipSync('x')]),
      /no backup of Uvula/,
    ],
  ])('%s is refused with a sentence, and nothing is changed', async (_, content, words) => {
    writeFileSync(at('bad'), content())
    writeFileSync(at('stays.sqlite'), 'as it was')
    await expect(restoreBackup(at('bad'), at('stays.sqlite'))).rejects.toThrow(words)
    expect(readFileSync(at('stays.sqlite'), 'utf8')).toBe('as it was')
    expect(readdirSync(dir).filter((n) => n.startsWith('stays'))).toEqual(['stays.sqlite'])
  })
  it('of a damaged data file is not made', async () => {
    const whole = readFileSync(shop)
    // a page in the middle is another's
    whole.copy(whole, 8 * 4096, 4 * 4096, 6 * 4096)
    writeFileSync(at('broken.sqlite'), whole)
    await expect(writeBackup(at('broken.sqlite'), at('never'))).rejects.toThrow(/damaged|malformed/)
    expect(readdirSync(dir)).not.toContain('never')
  })
})

describe('the file at the start', () => {
  it('one that a newer version wrote is refused and left alone', async () => {
    const path = at('newer.sqlite')
    const source = await new DataSource(databaseOptions(path)).initialize()
    await source.query(`INSERT INTO migrations ("timestamp", "name") VALUES (1900000000000, 'Later1900000000000')`)
    await source.destroy()
    expect(schemaProblem(path)).toMatch(/newer Uvula \(Later1900000000000\)/)
  })
  it('one that is none is said to be so; none at all is fine', () => {
    writeFileSync(at('garbage.sqlite'), 'not a database at all, but long enough to be read as one'.repeat(40))
    expect(schemaProblem(at('garbage.sqlite'))).toMatch(/damaged or no file of a shop/)
    writeFileSync(at('empty.sqlite'), '')
    // a first start that was killed leaves one with nothing in it
    expect(schemaProblem(at('empty.sqlite'))).toBeUndefined()
    expect(schemaProblem(at('nothing.sqlite'))).toBeUndefined()
  })
  it('a folder is one server’s at a time, and free again when that ends', () => {
    const held = lockFolder(dir)
    expect(() => lockFolder(dir)).toThrow(/Another Uvula runs on/)
    held.release()
    lockFolder(dir).release()
  })
})

describe('a shop file of an older version', () => {
  const known: Readonly<Record<string, unknown>> = { spec: '{}', value: '{}', signs: '[]', conditions: '[]' }
  /** A value that a column takes. */
  const valueFor = (name: string, type: string): unknown =>
    known[name] ?? (/int|real|bool/i.test(type) ? 1 : /blob/i.test(type) ? Buffer.from('x') : 'x')

  it.each(MIGRATIONS.map((M, i) => [new M().name, i + 1] as const))(
    'as %s left it is copied, migrated, and keeps every row',
    async (name, steps) => {
      const path = at(`${name}.sqlite`)
      const old = await new DataSource({
        ...databaseOptions(path),
        migrations: MIGRATIONS.slice(0, steps),
      } as never).initialize()
      const tables = (await old.query(
        `SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%' AND name NOT LIKE 'search%' AND name != 'migrations'`,
      )) as { name: string }[]
      await old.query('PRAGMA foreign_keys = OFF')
      for (const t of tables) {
        const columns = (await old.query(`PRAGMA table_info("${t.name}")`)) as {
          name: string
          type: string
          notnull: number
        }[]
        const filled = columns.filter((c) => c.notnull || c.name === 'id')
        await old.query(
          `INSERT INTO "${t.name}" (${filled.map((c) => `"${c.name}"`).join()}) VALUES (${filled.map(() => '?').join()})`,
          filled.map((c) => valueFor(c.name, c.type)),
        )
      }
      await old.destroy()
      const before = everything(path)
      const copy = await copyBeforeMigration(path)
      if (steps < MIGRATIONS.length) expect(everything(copy!)).toEqual(before)
      else expect(copy).toBeUndefined()
      expect(schemaProblem(path)).toBeUndefined()
      await (await new DataSource(databaseOptions(path)).initialize()).destroy()
      const after = everything(path)
      for (const { name: table } of tables)
        expect(after[table]).toEqual(before[table].map((row) => expect.objectContaining(row as object)))
      expect(after.migrations).toHaveLength(MIGRATIONS.length)
    },
    30_000,
  )
})

describe('by itself', () => {
  it('is due once a night, at two; a computer that was off makes it when it is on', () => {
    const day = (d: number, h: number): Date => new Date(2026, 4, d, h)
    expect(dueSince(day(8, 9))).toEqual(day(8, 2))
    expect(dueSince(day(8, 1))).toEqual(day(7, 2))
  })
  it('the newest are kept, and what is not ours is left alone', () => {
    const names = ['uvula-a-20260501-0200.uvula-backup', 'uvula-a-20260502-0200.uvula-backup', 'letters.odt']
    expect(beyond(names, 1)).toEqual(['uvula-a-20260501-0200.uvula-backup'])
    expect(beyond(names, 5)).toEqual([])
  })
})

describe('over the server', () => {
  const server = new Harness()
  const { call, put } = server
  const folder = at('folder')
  beforeAll(() => server.open(), 60_000)
  afterAll(() => server.close())

  it('a folder is chosen, one is made in it, listed and kept', async () => {
    expect((await call('PUT', '/api/shop/backups', { folder: 'here', keep: 3 })).body.detail).toMatch(/whole path/)
    expect((await call('PUT', '/api/shop/backups', { folder, keep: 0 })).status).toBe(400)
    expect((await call('PUT', '/api/shop/backups', { folder, keep: 3 })).status).toBe(200)
    const made = await call('POST', '/api/shop/backups')
    expect(made.status).toBe(200)
    expect(made.body.files).toEqual([expect.objectContaining({ visits: demo.visits.length })])
    expect(readdirSync(folder).filter((n) => n.endsWith('.uvula-backup'))).toHaveLength(1)
  })
  it('the disk of the folder is gone: said so, and nothing is made in its place', async () => {
    renameSync(folder, at('unplugged'))
    const { status, body } = await call('POST', '/api/shop/backups')
    expect([status, body.detail]).toEqual([422, 'The backup folder is not there: is its disk plugged in?'])
    expect(readdirSync(dir)).not.toContain('folder')
    expect((await call('GET', '/api/shop/backups')).body.last).toMatchObject({
      of: 'demo',
      problem: expect.any(String),
    })
    renameSync(at('unplugged'), folder)
  })
  it('one of a newer version is refused before anything restarts', async () => {
    const bytes = readFileSync(at('one.uvula-backup'))
    const end = bytes.indexOf(10)
    const head = JSON.parse(bytes.toString('utf8', 0, end)) as object
    const later = Buffer.concat([
      Buffer.from(`${JSON.stringify({ ...head, schema: 'Later1900000000000' })}\n`),
      bytes.subarray(end + 1),
    ])
    const sent = await fetch(`${server.base}/api/shop/restore`, {
      method: 'POST',
      headers: { 'content-type': 'application/octet-stream' },
      body: later,
    })
    expect([sent.status, ((await sent.json()) as { detail: string }).detail]).toEqual([
      422,
      expect.stringMatching(/newer Uvula/),
    ])
  })
  it('one is taken as a file while others write, and is whole', async () => {
    const writes = Array.from({ length: 20 }, (_, i) => put(`/api/readings/during-${i}`, reading(700 + i)))
    const answer = await fetch(`${server.base}/api/shop/backup`)
    expect(answer.headers.get('content-disposition')).toMatch(/uvula-.*\.uvula-backup/)
    writeFileSync(at('taken'), Buffer.from(await answer.arrayBuffer()))
    await Promise.all(writes)
    expect((await checkBackup(at('taken'))).counts.visits).toBe(demo.visits.length)
  })
  it('what is no backup is refused, and nothing is left of it', async () => {
    const sent = await fetch(`${server.base}/api/shop/restore`, {
      method: 'POST',
      headers: { 'content-type': 'application/octet-stream' },
      body: 'a letter',
    })
    expect([sent.status, ((await sent.json()) as { detail: string }).detail]).toEqual([
      422,
      'This is no backup of Uvula.',
    ])
    expect((await call('POST', '/api/shop/restore-listed', { name: '../own.sqlite' })).status).toBe(404)
    expect(readdirSync(join(server.database, '..')).filter((n) => n.endsWith('.incoming'))).toEqual([])
  })
})

describe('the command', () => {
  const uvula = fileURLToPath(new URL('../../../cli/dist/main.js', import.meta.url))
  const run = (...args: string[]): { status: number | null; out: string; err: string } => {
    const { status, stdout, stderr } = spawnSync(process.execPath, [uvula, ...args], { encoding: 'utf8' })
    return { status, out: stdout, err: stderr }
  }
  it('backs a folder up, checks the file and restores it elsewhere: the same shop', async () => {
    mkdirSync(at('from'))
    await restoreBackup(at('one.uvula-backup'), at('from/own.sqlite'))
    const made = run('backup', '--data', at('from'), '--out', at('by-command'))
    expect(made.status).toBe(0)
    expect(JSON.parse(made.out).counts.visits).toBe(demo.visits.length)
    expect(JSON.parse(run('check-backup', at('by-command')).out).sha256).toBe(JSON.parse(made.out).sha256)
    expect(run('restore', at('by-command'), '--data', at('to')).status).toBe(0)
    expect(everything(at('to/own.sqlite'))).toEqual(everything(at('from/own.sqlite')))
  }, 30_000)
  it.each([
    [['backup', '--data', dir, '--out', at('no')], /holds no shop of its own/],
    [['check-backup', at('garbage.sqlite')], /no backup of Uvula/],
    [['restore'], /FILE is missing/],
  ])('%j says what is wrong', (args, words) => {
    const { status, err } = run(...args)
    expect([status, err]).toEqual([2, expect.stringMatching(words)])
  })
})

describe('a server that starts', () => {
  const main = fileURLToPath(new URL('../../dist/main.js', import.meta.url))
  const started: ChildProcess[] = []
  afterAll(() => {
    for (const child of started) child.kill('SIGKILL')
  })
  /** Starts one; resolves with what it said when it listens or ends. */
  const start = (data: string): Promise<{ said: string; code: number | null }> =>
    new Promise((resolve) => {
      const child = spawn(process.execPath, [main], { env: { ...process.env, UVULA_DATA: data, PORT: '0' } })
      started.push(child)
      let said = ''
      const hear = (chunk: Buffer): void => {
        said += chunk.toString()
        if (/Uvula is at/.test(said)) resolve({ said, code: null })
      }
      child.stdout.on('data', hear)
      child.stderr.on('data', hear)
      child.once('exit', (code) => resolve({ said, code }))
    })

  it.each<[string, (folder: string) => void, RegExp]>([
    ['a file of a newer version', (f) => cpSync(at('newer.sqlite'), join(f, 'own.sqlite')), /written by a newer Uvula/],
    ['a damaged file', (f) => cpSync(at('garbage.sqlite'), join(f, 'own.sqlite')), /damaged or no file of a shop/],
    [
      'a file that was emptied',
      (f) => ['own.made', 'own.sqlite'].forEach((n) => writeFileSync(join(f, n), '')),
      /is not there or empty, though this folder had a shop/,
    ],
    ['a folder that has lost its file', (f) => writeFileSync(join(f, 'own.made'), ''), /is not there or empty, though/],
  ])(
    'on %s says so, ends, and leaves it as it is',
    async (name, lay, words) => {
      const folder = at(name.replaceAll(' ', '-'))
      mkdirSync(folder)
      writeFileSync(join(folder, 'open'), 'own')
      lay(folder)
      const before = readdirSync(folder)
      const { said, code } = await start(folder)
      expect([code, said]).toEqual([1, expect.stringMatching(words)])
      expect(readdirSync(folder).filter((n) => !/^lock|-(wal|shm)$/.test(n))).toEqual(before)
    },
    30_000,
  )
  it('on an own shop whose first start was killed begins it', async () => {
    const folder = at('begun')
    mkdirSync(folder)
    writeFileSync(join(folder, 'open'), 'own')
    writeFileSync(join(folder, 'own.sqlite'), '')
    expect((await start(folder)).said).toMatch(/Uvula is at/)
  }, 30_000)
  it('after a first start that was killed half-way has its demo all the same; and a second server is told', async () => {
    const folder = at('first')
    mkdirSync(folder)
    // what a kill leaves: a file with tables and no shop
    await (await new DataSource(databaseOptions(join(folder, 'demo.sqlite.filling'))).initialize()).destroy()
    expect((await start(folder)).said).toMatch(/Uvula is at/)
    expect(everything(join(folder, 'demo.sqlite')).visits).toHaveLength(demo.visits.length)
    // the owner's alone
    for (const name of readdirSync(folder)) expect([name, statSync(join(folder, name)).mode & 0o077]).toEqual([name, 0])
    const second = await start(folder)
    expect([second.code, second.said]).toEqual([1, expect.stringMatching(/Another Uvula runs on/)])
  }, 60_000)
})
