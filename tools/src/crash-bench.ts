// Four tablets write at once, send things twice and send spoilt ones, while the server is killed again and again and the
// disk runs full: what was acknowledged must be there afterwards, once.
import { Buffer } from 'node:buffer'
import { execFileSync, type ChildProcess } from 'node:child_process'
import { createHash, randomBytes } from 'node:crypto'
import { closeSync, mkdirSync, mkdtempSync, openSync, rmSync, writeFileSync, writeSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import Database from 'better-sqlite3'
import { end, serve, sleep } from './built-server.js'
import { freePort } from './free-port.js'

const DISK_MB = 24

/** The same numbers for the same seed. */
function seeded(seed: number): () => number {
  let s = seed >>> 0 || 1
  return () => {
    s = (Math.imul(s, 1664525) + 1013904223) >>> 0
    return s / 2 ** 32
  }
}

/** A folder of its own; for the full disk a small file system. @throws when this user may not mount one */
function place(small: boolean): { readonly dir: string; remove(): void } {
  const dir = mkdtempSync(join(tmpdir(), 'uvula-crash-'))
  if (small) execFileSync('mount', ['-t', 'tmpfs', '-o', `size=${DISK_MB}m`, 'tmpfs', dir])
  return {
    dir,
    remove() {
      if (small) execFileSync('umount', ['-l', dir])
      rmSync(dir, { recursive: true, force: true })
    },
  }
}

/** The built server as a process that can be killed. */
class Server {
  /** Done when it answers again. */
  up = Promise.resolve()
  kills = 0
  private child: ChildProcess | undefined
  constructor(
    private readonly data: string,
    private readonly port: number,
  ) {}
  get url(): string {
    return `http://127.0.0.1:${this.port}`
  }
  async start(): Promise<void> {
    this.child = await serve(this.data, this.port)
  }
  async stop(signal: NodeJS.Signals): Promise<void> {
    if (this.child) await end(this.child, signal)
  }
  killAndStart(): Promise<void> {
    this.kills++
    this.up = this.stop('SIGKILL').then(() => this.start())
    return this.up
  }
}

const PNG = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a])
const shaOf = (bytes: Buffer): string => createHash('sha256').update(bytes).digest('hex')

/** What came of the writes. */
interface Counts {
  sent: number
  acknowledged: number
  noRoom: number
  unlike: number
  readonly unexpected: string[]
}

/** What was acknowledged of a record, and what its row must hold. */
interface Acknowledged {
  readonly noun: string
  readonly id: string
  readonly version: number
  readonly expected: Readonly<Record<string, unknown>>
}

/** Answer of the server to one send. */
interface Sent {
  readonly status: number
  readonly answer: { readonly version: number; readonly detail?: string }
}

/** One tablet: makes entries, sends each under a key until it is answered, and keeps what was acknowledged. */
class Writer {
  readonly records = new Map<string, Acknowledged>()
  private readonly random: () => number
  private made = 0
  constructor(
    private readonly server: Server,
    private readonly n: number,
    seed: number,
    private readonly visitId: string,
    private readonly counts: Counts,
  ) {
    this.random = seeded(seed * 97 + n)
  }
  private pick<T>(list: readonly T[]): T {
    return list[Math.floor(this.random() * list.length)]
  }
  /** Sends until an answer comes; a killed server is waited for. Answers that say "no room" are not sent again. */
  private async send(noun: string, id: string, body: object, key: string): Promise<Sent> {
    for (;;) {
      await this.server.up
      try {
        const r = await fetch(`${this.server.url}/api/${noun}/${encodeURIComponent(id)}`, {
          method: 'PUT',
          headers: { 'content-type': 'application/json', 'idempotency-key': key },
          body: JSON.stringify({ by: `tablet ${this.n}`, at: '2026-01-01T09:00:00Z', baseVersion: 0, ...body }),
        })
        const answer = (await r.json()) as Sent['answer']
        if (r.status === 429) await sleep(200)
        else return { status: r.status, answer }
      } catch {
        await sleep(10)
      }
    }
  }
  /** A write that must be taken; what it leaves is remembered once it is acknowledged. */
  async put(
    noun: string,
    id: string,
    body: object,
    expected: Acknowledged['expected'],
    { twice = false } = {},
  ): Promise<void> {
    const key = `${this.n}-${++this.made}`
    const sends = twice
      ? await Promise.all([this.send(noun, id, body, key), this.send(noun, id, body, key)])
      : [await this.send(noun, id, body, key)]
    this.counts.sent += sends.length
    const taken = sends.filter((s) => s.status === 200)
    if (twice && taken.length === 2 && JSON.stringify(taken[0].answer) !== JSON.stringify(taken[1].answer))
      this.counts.unlike++
    for (const s of sends) if (s.status !== 200) this.refuse(s)
    if (!taken.length) return
    this.counts.acknowledged++
    this.records.set(`${noun}/${id}`, { noun, id, version: taken[0].answer.version, expected })
  }
  private refuse({ status, answer }: Sent): void {
    if (status === 503) this.counts.noRoom++
    else this.counts.unexpected.push(`${status} ${answer.detail ?? ''}`)
  }
  async step(): Promise<void> {
    const id = `w${this.n}-${this.made}`
    const visitId = this.visitId
    const what = this.random()
    if (what < 0.4) {
      const value = 600 + Math.floor(this.random() * 300)
      await this.put('readings', id, this.reading(value), { value })
    } else if (what < 0.6) {
      const mine = [...this.records.values()].filter((r) => r.noun === 'readings')
      if (!mine.length) return
      const r = this.pick(mine)
      const value = 600 + Math.floor(this.random() * 300)
      await this.put('readings', r.id, { ...this.reading(value), baseVersion: r.version }, { value })
    } else if (what < 0.75) {
      const bytes = Buffer.concat([PNG, randomBytes(20_000 + Math.floor(this.random() * 60_000))])
      const body = { visitId, station: 'duct', mime: 'image/png', content: bytes.toString('base64') }
      await this.put('photos', id, body, { sha256: shaOf(bytes) }, { twice: this.random() < 0.5 })
    } else if (what < 0.85) {
      // a picture that is none, with a reading beside it: the one fails, the other stays
      const spoilt = { visitId, station: 'duct', mime: 'image/jpeg', content: PNG.toString('base64') }
      const [failed] = await Promise.all([
        this.send('photos', `${id}-bad`, spoilt, `${this.n}-${this.made}-bad`),
        this.put('readings', id, this.reading(700), { value: 700 }),
      ])
      if (failed.status !== 422) this.refuse(failed)
    } else {
      const rows = Array.from({ length: 600 }, (_, i) => `${i / 10},${700 + (i % 7)},2.5,${this.n}.${this.made}`)
      const bytes = Buffer.from(['time_s,rpm,maf_gs,battery_v', ...rows].join('\n'))
      const body = { visitId, round: 0, name: `${id}.csv`, content: bytes.toString('base64') }
      await this.put('recordings', id, body, { sha256: shaOf(bytes) }, { twice: this.random() < 0.3 })
    }
  }
  private reading(value: number): object {
    return { visitId: this.visitId, round: 0, slot: 'idle', channel: 'rpm', value, typed: String(value) }
  }
}

const VEHICLE = {
  name: 'crash car',
  displacementL: 2.4,
  cylinders: 4,
  banks: 1,
  compressionRatio: 10.5,
  metering: 'maf',
  induction: 'natural',
  injection: 'port',
  fuel: 'gasoline',
  throttle: 'electronic',
  throttleBoreMm: 60,
  throttleBodies: 1,
  idleControl: 'electronic-throttle',
  egr: 'none',
  pcv: 'valve',
  idleSpecRpm: { min: 620, max: 740 },
  altitudeM: 1180,
}
const VISIT = {
  vehicleId: 'car',
  openedAt: '2026-01-01T08:00:00Z',
  state: 'open',
  intent: 'complaint',
  complaint: '',
  signs: [],
  conditions: [],
  altitudeM: 1180,
  ambientC: 15,
}

/** Fills the disk to its last byte; gives what makes room again. */
function fill(dir: string): () => void {
  const path = join(dir, 'ballast')
  const ballast = openSync(path, 'w')
  for (const bytes of [Buffer.alloc(1 << 20), Buffer.alloc(4096)])
    try {
      for (;;) writeSync(ballast, bytes)
    } catch (e) {
      if ((e as NodeJS.ErrnoException).code !== 'ENOSPC') throw e
    }
  closeSync(ballast)
  return () => rmSync(path)
}

export interface CrashOptions {
  readonly writers?: number
  readonly kills?: number
  readonly seed?: number
  /** The disk runs full in the middle; the kills come before and after. */
  readonly fullDisk?: boolean
}

/** What was sent, and what the file says of it afterwards. */
export type CrashRun = Readonly<Counts> & Judged & { readonly kills: number }

/** One run. */
export async function crashRun({
  writers = 4,
  kills = 60,
  seed = 1,
  fullDisk = false,
}: CrashOptions): Promise<CrashRun> {
  const at = place(fullDisk)
  const data = join(at.dir, 'data')
  mkdirSync(data)
  writeFileSync(join(data, 'open'), 'own')
  const file = join(data, 'own.sqlite')
  const server = new Server(data, await freePort())
  const counts: Counts = { sent: 0, acknowledged: 0, noRoom: 0, unlike: 0, unexpected: [] }
  try {
    await server.start()
    const tablets = Array.from({ length: writers }, (_, n) => new Writer(server, n, seed, 'visit', counts))
    await tablets[0].put('vehicles', 'car', { plate: 'X', customer: '', spec: VEHICLE }, {})
    await tablets[0].put('visits', 'visit', VISIT, {})
    let going = true
    const hands = tablets.map(async (t) => {
      while (going) await t.step()
    })
    const random = seeded(seed)
    const some = async (n: number): Promise<void> => {
      for (let i = 0; i < n; i++) {
        const before = counts.acknowledged
        await sleep(100 + 700 * random())
        // on a busy machine too there is something to be lost at each kill
        await until(() => counts.acknowledged >= before + 2 * writers, 20_000)
        await server.killAndStart()
      }
    }
    await some(fullDisk ? Math.ceil(kills / 2) : kills)
    if (fullDisk) {
      await sleep(200)
      const makeRoom = fill(at.dir)
      await until(() => counts.noRoom >= 3 * writers, 20_000)
      makeRoom()
      const before = counts.acknowledged
      await until(() => counts.acknowledged >= before + 10 * writers, 30_000)
      await some(Math.floor(kills / 2))
    }
    await sleep(300)
    going = false
    await Promise.all(hands)
    await server.stop('SIGTERM')
    return { ...counts, kills: server.kills, ...judge(file, tablets) }
  } finally {
    await server.stop('SIGKILL')
    at.remove()
  }
}

async function until(done: () => boolean, ms: number): Promise<void> {
  const last = Date.now() + ms
  while (!done() && Date.now() < last) await sleep(20)
}

/** Records that were acknowledged, those that are not as they were, those written twice, and what SQLite says of the file. */
interface Judged {
  readonly records: number
  readonly lost: number
  readonly doubled: number
  readonly integrity: string
  readonly stray: number
}

/** Reads the file itself, not the server's word for it. */
function judge(file: string, tablets: readonly Writer[]): Judged {
  const db = new Database(file)
  const all = tablets.flatMap((t) => [...t.records.values()])
  let lost = 0
  for (const r of all) {
    const row = db.prepare<[string], Record<string, unknown>>(`SELECT * FROM "${r.noun}" WHERE id = ?`).get(r.id)
    const same = row && Number(row.version) >= r.version && Object.entries(r.expected).every(([k, x]) => row[k] === x)
    const blob = r.expected.sha256
    const kept = !blob || db.prepare('SELECT 1 FROM blobs WHERE sha256 = ?').get(blob)
    if (!same || !kept) lost++
  }
  const one = (sql: string): unknown => Object.values(db.prepare<[], object>(sql).get()!)[0]
  // each version of each record came by one key; one version more than keys is something written twice
  const doubled = ['readings', 'photos', 'recordings'].reduce(
    (n, noun) =>
      n +
      Number(
        one(
          `SELECT count(*) FROM "${noun}" t WHERE t.version <> (SELECT count(*) FROM writes w WHERE w.noun = '${noun}' AND w.recordId = t.id)`,
        ),
      ),
    0,
  )
  const integrity = String(one('PRAGMA integrity_check'))
  const stray = (db.pragma('foreign_key_check') as unknown[]).length
  db.close()
  return { records: all.length, lost, doubled, integrity, stray }
}

// the short form, for the tests: `node tools/dist/crash-bench.js '{"kills":4}'`
if (process.argv[1] === fileURLToPath(import.meta.url))
  console.log(JSON.stringify(await crashRun(JSON.parse(process.argv[2] ?? '{}') as CrashOptions)))
