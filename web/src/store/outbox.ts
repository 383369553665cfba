import { ApiProblem, putJson } from './api.js'
import { database, newId, type PendingWrite } from './database.js'

/** What is on its way, and whether the server answers. */
export interface OutboxState {
  readonly writes: readonly PendingWrite[]
  readonly reachable: boolean
}

type Listener = () => void
type Delivered = (write: PendingWrite, record: unknown) => void

/** Pauses between tries while the server does not answer [ms]. */
const RETRY_MS = [400, 1000, 2000, 4000] as const

/**
 * The one way out: every write is kept in the browser's own storage first, then delivered in order, once. It
 * survives a reload and a dead server. A write that is refused or in conflict stays until a person decides.
 */
class Outbox {
  private state: OutboxState = { writes: [], reachable: true }
  private readonly listeners = new Set<Listener>()
  private readonly deliveredListeners = new Set<Delivered>()
  /** Entered and not in storage yet: shown and counted at once. */
  private unsaved: readonly PendingWrite[] = []
  private running = false
  private tries = 0
  private timer: ReturnType<typeof setTimeout> | undefined

  /** Loads what an earlier page left, and goes on with it. */
  async start(): Promise<void> {
    await this.reload()
    addEventListener('online', () => this.kick())
    addEventListener('visibilitychange', () => this.kick())
    this.kick()
  }

  readonly subscribe = (f: Listener): (() => void) => {
    this.listeners.add(f)
    return () => this.listeners.delete(f)
  }

  readonly snapshot = (): OutboxState => this.state

  onDelivered(f: Delivered): () => void {
    this.deliveredListeners.add(f)
    return () => this.deliveredListeners.delete(f)
  }

  /** Keeps a write and sets off its delivery; resolved once it is in storage. */
  async add(write: Omit<PendingWrite, 'key' | 'seq' | 'state'>): Promise<void> {
    const entry: PendingWrite = { ...write, key: newId(), state: 'waiting' }
    this.unsaved = [...this.unsaved, entry]
    this.set({ ...this.state, writes: [...this.state.writes, entry] })
    const db = await database()
    await db.add('outbox', entry)
    this.unsaved = this.unsaved.filter((w) => w !== entry)
    await this.reload()
    this.kick()
  }

  /** Takes a refused or conflicting write off: what the server holds stands. */
  async drop(seq: number): Promise<void> {
    const db = await database()
    await db.delete('outbox', seq)
    await this.reload()
  }

  /** Sends a conflicting write again, on top of what the server holds now. */
  async insist(write: PendingWrite): Promise<void> {
    const db = await database()
    const version = (write.current as { version?: number } | null)?.version ?? 0
    await db.put('outbox', {
      ...write,
      key: newId(),
      baseVersion: version,
      state: 'waiting',
      problem: undefined,
      current: undefined,
    })
    await this.reload()
    this.kick()
  }

  kick(): void {
    clearTimeout(this.timer)
    void this.run()
  }

  private async reload(): Promise<void> {
    const db = await database()
    const saved = await db.getAll('outbox')
    const keys = new Set(saved.map((w) => w.key))
    this.set({ ...this.state, writes: [...saved, ...this.unsaved.filter((w) => !keys.has(w.key))] })
  }

  private set(next: OutboxState): void {
    this.state = next
    for (const f of this.listeners) f()
  }

  private async run(): Promise<void> {
    if (this.running) return
    this.running = true
    // one tab delivers; where the browser has no locks, the keys still make a repeat harmless
    const locked = async (f: () => Promise<void>): Promise<void> =>
      navigator.locks ? void (await navigator.locks.request('uvula-outbox', f)) : f()
    try {
      await locked(() => this.deliverAll())
    } finally {
      this.running = false
    }
  }

  private async deliverAll(): Promise<void> {
    const db = await database()
    for (;;) {
      const next = (await db.getAll('outbox')).find((w) => w.state === 'waiting')
      if (!next) return
      try {
        const record = await putJson(
          `/api/${next.noun}/${encodeURIComponent(next.id)}`,
          { ...next.data, baseVersion: next.baseVersion, by: next.by, at: next.at },
          next.key,
        )
        for (const f of this.deliveredListeners) f(next, record)
        await db.delete('outbox', next.seq!)
        this.tries = 0
        this.state = { ...this.state, reachable: true }
      } catch (e) {
        if (!(e instanceof ApiProblem) || e.problem.status >= 500 || e.problem.status === 429) {
          this.set({ ...this.state, reachable: false })
          this.timer = setTimeout(() => this.kick(), RETRY_MS[Math.min(this.tries++, RETRY_MS.length - 1)])
          return
        }
        const conflict = e.problem.type === 'uvula:conflict'
        await db.put('outbox', {
          ...next,
          state: conflict ? 'conflict' : 'refused',
          problem: e.problem.detail,
          current: e.problem.current,
        })
      }
      await this.reload()
    }
  }
}

export const outbox = new Outbox()
