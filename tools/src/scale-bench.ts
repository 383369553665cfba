// A shop of many visits, made of the demo's again and again, and one client that asks it for everything in turn.
import { Buffer } from 'node:buffer'
import type { ChildProcess } from 'node:child_process'
import { copyFileSync, mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { Agent, request } from 'node:http'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { end, serve } from './built-server.js'
import { freePort } from './free-port.js'
import { startPostgres } from './postgres.js'

const at = (xs: readonly number[], share: number): number =>
  [...xs].sort((a, b) => a - b)[Math.min(xs.length - 1, Math.floor(share * xs.length))]

/** What in a record names itself or another. */
const IDS = ['id', 'visitId', 'vehicleId', 'recordId']
/** Ten years for a hundred thousand visits, fourteen a copy of the demo. A number reaches SQLite as text, not as 3.0. */
const HOURS_APART = 12
/** Copies whose writes are still remembered: half a year of them. */
const REMEMBERED = Math.floor((183 * 24) / HOURS_APART)
const REQUESTS = 2000
const WARM = 300

/** Tells how far it is. */
type Say = (words: string) => void

/** Rows of a shop that was made. */
interface Made {
  readonly visits: number
  readonly readings: number
  readonly writes: number
}

/** `copies` more of every car and visit in a file, handed over, each longer ago; of recordings, which are heavy, one a copy. */
function multiply(path: string, copies: number, say: Say): Made {
  const db = new Database(path)
  for (const p of ['synchronous = OFF', 'journal_mode = OFF', 'cache_size = -400000', 'foreign_keys = OFF'])
    db.pragma(p)
  const tables = db
    .prepare<[], { name: string }>("SELECT name FROM sqlite_master WHERE type = 'table' AND sql LIKE '%againstRule%'")
    .all()
    .map((t) => t.name)
  const columns = (t: string): string[] =>
    db
      .prepare<[], { name: string }>(`PRAGMA table_info("${t}")`)
      .all()
      .map((c) => c.name)
  const one = db.prepare<[], { id: string }>('SELECT id FROM recordings LIMIT 1').get()!.id
  const ago = `'-' || (@k * ${HOURS_APART}) || ' hours'`
  const copied = (t: string) => (c: string) => {
    if (IDS.includes(c)) return `"${c}" || '~' || @k`
    if (c === 'plate') return `"${c}" || ' ' || @k`
    if (t === 'visits' && c === 'state') return `'handed-over'`
    if (c === 'openedAt') return `strftime('%Y-%m-%dT%H:%M:%SZ', "${c}", ${ago})`
    return `"${c}"`
  }
  // the demo's own rows apart: found without looking through the copies
  for (const t of tables) {
    const only = t === 'recordings' ? `WHERE "id" = '${one}'` : ''
    db.exec(`CREATE TEMP TABLE "${t}_first" AS SELECT * FROM main."${t}" ${only}`)
  }
  const copy = tables.map((t) => {
    const names = columns(t)
    return db.prepare(
      `INSERT INTO main."${t}" (${names.map((c) => `"${c}"`).join(', ')}) SELECT ${names.map(copied(t)).join(', ')} FROM "${t}_first"`,
    )
  })
  const remember = tables.map((t) => {
    const light = columns(t).filter((c) => c !== 'columns')
    const answer = light.map((c) => `'${c}', "${c}"`).join(', ')
    return db.prepare(
      `INSERT INTO "writes" ("key", "noun", "recordId", "answer", "receivedAt")
       SELECT '${t} ' || "id" || '~' || @k, '${t}', "id" || '~' || @k, json_object(${answer}), strftime('%Y-%m-%dT%H:%M:%SZ', 'now', ${ago})
       FROM "${t}_first"`,
    )
  })
  db.exec('BEGIN')
  for (let k = 1; k <= copies; k++) {
    for (const s of copy) s.run({ k: String(k) })
    if (k <= REMEMBERED) for (const s of remember) s.run({ k: String(k) })
    if (k % 500 === 0) say(`${k} of ${copies} copies of the demo`)
  }
  db.exec('COMMIT')
  db.pragma('journal_mode = WAL')
  const count = (t: string): number => db.prepare<[], { n: number }>(`SELECT count(*) n FROM "${t}"`).get()!.n
  const made = { visits: count('visits'), readings: count('readings'), writes: count('writes') }
  db.close()
  return made
}

type Question = readonly [method: string, path: string, body?: object]
type Client = (...q: Question) => Promise<{ readonly ms: number; readonly status: number | undefined }>

/** One client: a question and its answer, over a connection that stays. */
function client(port: number): Client {
  const agent = new Agent({ keepAlive: true, maxSockets: 1 })
  return (method, path, body) =>
    new Promise((resolve, reject) => {
      const text = body && JSON.stringify(body)
      const began = performance.now()
      const q = request(
        {
          agent,
          host: '127.0.0.1',
          port,
          method,
          path,
          headers: {
            'accept-encoding': 'gzip',
            ...(text
              ? {
                  'content-type': 'application/json',
                  'content-length': Buffer.byteLength(text),
                  'idempotency-key': `s${Math.random()}`,
                }
              : {}),
          },
        },
        (r) => {
          r.resume()
          r.on('end', () => resolve({ ms: performance.now() - began, status: r.statusCode }))
        },
      )
      q.on('error', reject)
      q.end(text)
    })
}

/** The same numbers for the same seed. */
function seeded(seed: number): () => number {
  let s = seed
  return () => (s = (Math.imul(s, 1664525) + 1013904223) >>> 0) / 2 ** 32
}

/** A car of the demo with its visit. */
interface Car {
  readonly visit: string
  readonly vehicle: string
  readonly plate: string
  readonly name: string
}

/** What a shop asks all day, in the shares it asks it. */
function questions(copies: number, open: readonly Car[]): { readonly kind: string; make(): Question }[] {
  const random = seeded(7)
  const some = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]
  const k = (): number => 1 + Math.floor(random() * copies)
  const old = (): string => `${some(open).visit}~${k()}`
  const plate = (): string => `${some(open).plate} ${k()}`
  let n = 0
  const asked: readonly (readonly [share: number, kind: string, make: () => Question])[] = [
    [24, 'a visit', () => ['GET', `/api/visits/${encodeURIComponent(random() < 0.5 ? some(open).visit : old())}`]],
    [14, 'the bay', () => ['GET', '/api/bay']],
    [12, 'a plate', () => ['GET', `/api/find?q=${encodeURIComponent(plate().slice(0, 4 + Math.floor(random() * 6)))}`]],
    [
      6,
      'an end of a plate',
      () => ['GET', `/api/find?q=${encodeURIComponent(plate().split(' ').slice(-2).join(' '))}`],
    ],
    [8, 'a name', () => ['GET', `/api/find?q=${encodeURIComponent(some(open).name.slice(0, 5))}`]],
    [4, 'a name that nobody has', () => ['GET', `/api/find?q=zeppelin`]],
    [8, 'a card', () => ['GET', `/api/vehicles/${encodeURIComponent(`${some(open).vehicle}~${k()}`)}/card`]],
    [4, 'the shop', () => ['GET', '/api/shop']],
    [
      20,
      'a reading',
      () => {
        const { visit } = some(open)
        return [
          'PUT',
          `/api/readings/${encodeURIComponent(`${visit}:s${++n}`)}`,
          {
            baseVersion: 0,
            by: 'R',
            at: new Date().toISOString(),
            visitId: visit,
            round: 0,
            slot: 'cruise',
            channel: 'rpm',
            value: 1800,
            typed: '1800',
          },
        ]
      },
    ],
  ]
  return asked.flatMap(([share, kind, make]) => Array.from({ length: share }, () => ({ kind, make })))
}

/** Times [ms]: of all, and of each kind its middle and what 99 % stay under. */
export interface ScaleRun {
  readonly made: Made
  readonly gigabytes: number
  readonly p99: number
  readonly kinds: Readonly<Record<string, readonly [middle: number, most: number]>>
}

/**
 * @param visits - how many the shop has
 * @param onPostgres - keep it there and not in a file
 * @returns times by kind and for all [ms]
 */
export async function scaleRun(visits: number, say: Say, onPostgres = false): Promise<ScaleRun> {
  const postgres = onPostgres ? await startPostgres() : undefined
  if (onPostgres && !postgres) throw new Error('no PostgreSQL is installed here')
  try {
    return await runOn(postgres?.url, visits, say)
  } finally {
    postgres?.end()
  }
}

/** What of the bay's answer is asked about. */
interface Bay {
  readonly rows: readonly {
    readonly visit: { readonly id: string }
    readonly vehicle: { readonly id: string; readonly plate: string; readonly spec: { readonly name: string } }
  }[]
}

async function runOn(postgres: string | undefined, visits: number, say: Say): Promise<ScaleRun> {
  const data = mkdtempSync(join(tmpdir(), 'uvula-scale-'))
  const port = await freePort()
  let env: NodeJS.ProcessEnv = {}
  const start = (): Promise<ChildProcess> => serve(data, port, env)
  try {
    // the demo as the server makes it, then many times over as the shop's own
    const first = await start()
    const { rows } = (await (await fetch(`http://127.0.0.1:${port}/api/bay`)).json()) as Bay
    const open = rows.map((f) => ({
      visit: f.visit.id,
      vehicle: f.vehicle.id,
      plate: f.vehicle.plate,
      name: f.vehicle.spec.name,
    }))
    await end(first, 'SIGTERM')
    const own = join(data, 'own.sqlite')
    copyFileSync(join(data, 'demo.sqlite'), own)
    const db = new Database(own)
    const each = db.prepare<[], { n: number }>('SELECT count(*) n FROM visits').get()!.n
    db.close()
    const copies = Math.max(1, Math.round(visits / each) - 1)
    const began = performance.now()
    const made = multiply(own, copies, say)
    say(
      `${made.visits} visits, ${(statSync(own).size / 1e9).toFixed(2)} GB, made in ${((performance.now() - began) / 1000).toFixed(0)} s`,
    )
    writeFileSync(join(data, 'open'), 'own')
    if (postgres) {
      const { fileToShop } = await import('@uvula/server')
      const moving = performance.now()
      await fileToShop(own, postgres)
      say(`moved to PostgreSQL in ${((performance.now() - moving) / 1000).toFixed(0)} s`)
      env = { DATABASE_URL: postgres }
    }
    const server = await start()
    const ask = client(port)
    const list = questions(copies, open)
    const random = seeded(11)
    const times = new Map<string, number[]>()
    const all: number[] = []
    for (let i = 0; i < WARM + REQUESTS; i++) {
      const { kind, make } = list[Math.floor(random() * list.length)]
      const { ms, status } = await ask(...make())
      if (status !== 200) throw new Error(`${kind}: ${status}`)
      if (i < WARM) continue
      all.push(ms)
      times.set(kind, [...(times.get(kind) ?? []), ms])
    }
    await end(server, 'SIGTERM')
    return {
      made,
      gigabytes: statSync(own).size / 1e9,
      p99: at(all, 0.99),
      kinds: Object.fromEntries(
        [...times].map(([k, xs]): [string, [number, number]] => [k, [at(xs, 0.5), at(xs, 0.99)]]),
      ),
    }
  } finally {
    rmSync(data, { recursive: true, force: true })
  }
}
