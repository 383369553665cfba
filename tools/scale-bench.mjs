// A shop of many visits, made of the demo's again and again, and one client that asks it for everything in turn.
import { Buffer } from 'node:buffer'
import { spawn } from 'node:child_process'
import { copyFileSync, mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { Agent, request } from 'node:http'
import { createRequire } from 'node:module'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { freePort } from './free-port.mjs'
import { startPostgres } from './postgres.mjs'
import { root } from './ready.mjs'

const Database = createRequire(join(root, 'server/package.json'))('better-sqlite3')
const sleep = (ms) => new Promise((r) => setTimeout(r, ms))
const at = (xs, share) => [...xs].sort((a, b) => a - b)[Math.min(xs.length - 1, Math.floor(share * xs.length))]

/** What in a record names itself or another. */
const IDS = ['id', 'visitId', 'vehicleId', 'recordId']
/** Ten years for a hundred thousand visits, fourteen a copy of the demo. A number reaches SQLite as text, not as 3.0. */
const HOURS_APART = 12
/** Copies whose writes are still remembered: half a year of them. */
const REMEMBERED = Math.floor((183 * 24) / HOURS_APART)
const REQUESTS = 2000
const WARM = 300

/** `copies` more of every car and visit in a file, handed over, each longer ago; of recordings, which are heavy, one a copy. */
function multiply(path, copies, say) {
  const db = new Database(path)
  for (const p of ['synchronous = OFF', 'journal_mode = OFF', 'cache_size = -400000', 'foreign_keys = OFF'])
    db.pragma(p)
  const tables = db
    .prepare("SELECT name FROM sqlite_master WHERE type = 'table' AND sql LIKE '%againstRule%'")
    .all()
    .map((t) => t.name)
  const columns = (t) =>
    db
      .prepare(`PRAGMA table_info("${t}")`)
      .all()
      .map((c) => c.name)
  const one = db.prepare('SELECT id FROM recordings LIMIT 1').get().id
  const ago = `'-' || (@k * ${HOURS_APART}) || ' hours'`
  const copied = (t) => (c) => {
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
  const count = (t) => db.prepare(`SELECT count(*) n FROM "${t}"`).get().n
  const made = { visits: count('visits'), readings: count('readings'), writes: count('writes') }
  db.close()
  return made
}

/** One client: a question and its answer, over a connection that stays. */
function client(port) {
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
          let bytes = 0
          r.on('data', (x) => (bytes += x.length))
          r.on('end', () => resolve({ ms: performance.now() - began, status: r.statusCode, bytes }))
        },
      )
      q.on('error', reject)
      q.end(text)
    })
}

/** The same numbers for the same seed. */
function seeded(seed) {
  let s = seed
  return () => (s = (Math.imul(s, 1664525) + 1013904223) >>> 0) / 2 ** 32
}

/** What a shop asks all day, in the shares it asks it. */
function questions(copies, open) {
  const random = seeded(7)
  const some = (list) => list[Math.floor(random() * list.length)]
  const k = () => 1 + Math.floor(random() * copies)
  const old = () => `${some(open).visit}~${k()}`
  const plate = () => `${some(open).plate} ${k()}`
  let n = 0
  return [
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
  ].flatMap(([share, kind, make]) => Array.from({ length: share }, () => ({ kind, make })))
}

/**
 * @param visits - how many the shop has
 * @param onPostgres - keep it there and not in a file
 * @returns times by kind and for all [ms]
 */
export async function scaleRun(visits, say, onPostgres = false) {
  const postgres = onPostgres ? await startPostgres() : undefined
  if (onPostgres && !postgres) throw new Error('no PostgreSQL is installed here')
  try {
    return await runOn(postgres?.url, visits, say)
  } finally {
    postgres?.end()
  }
}

async function runOn(postgres, visits, say) {
  const data = mkdtempSync(join(tmpdir(), 'uvula-scale-'))
  const port = await freePort()
  let env = { ...process.env, PORT: String(port), UVULA_DATA: data }
  const start = async () => {
    const child = spawn(process.execPath, ['server/dist/main.js'], {
      cwd: root,
      env,
      stdio: ['ignore', 'ignore', 'inherit'],
    })
    for (let i = 0; i < 600; i++) {
      if (
        await fetch(`http://127.0.0.1:${port}/api/shop`).then(
          (r) => r.ok,
          () => false,
        )
      )
        return child
      await sleep(100)
    }
    throw new Error('the server did not start')
  }
  const end = (child) => new Promise((r) => child.once('exit', r).kill('SIGTERM'))
  try {
    // the demo as the server makes it, then many times over as the shop's own
    const first = await start()
    const rows = (await (await fetch(`http://127.0.0.1:${port}/api/bay`)).json()).rows
    const open = rows.map((f) => ({
      visit: f.visit.id,
      vehicle: f.vehicle.id,
      plate: f.vehicle.plate,
      name: f.vehicle.spec.name,
    }))
    await end(first)
    const own = join(data, 'own.sqlite')
    copyFileSync(join(data, 'demo.sqlite'), own)
    const db = new Database(own)
    const each = db.prepare('SELECT count(*) n FROM visits').get().n
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
      env = { ...env, DATABASE_URL: postgres }
    }
    const server = await start()
    const ask = client(port)
    const list = questions(copies, open)
    const random = seeded(11)
    const times = new Map()
    const all = []
    for (let i = 0; i < WARM + REQUESTS; i++) {
      const { kind, make } = list[Math.floor(random() * list.length)]
      const { ms, status } = await ask(...make())
      if (status !== 200) throw new Error(`${kind}: ${status}`)
      if (i < WARM) continue
      all.push(ms)
      times.set(kind, [...(times.get(kind) ?? []), ms])
    }
    await end(server)
    return {
      made,
      gigabytes: statSync(own).size / 1e9,
      p50: at(all, 0.5),
      p99: at(all, 0.99),
      kinds: Object.fromEntries(
        [...times].map(([k, xs]) => [k, [at(xs, 0.5), at(xs, 0.99)].map((x) => Number(x.toFixed(1)))]),
      ),
    }
  } finally {
    rmSync(data, { recursive: true, force: true })
  }
}
