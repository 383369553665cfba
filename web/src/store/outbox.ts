import type { WriteNoun } from '@uvula/contract'
import { onLetIn } from './access.js'
import { ApiProblem, putJson } from './api.js'
import { database, newId, type PendingWrite } from './database.js'
import { dropPieces, dropStrayPieces, keepPieces, sendPieces } from './pieces.js'

/** What is on its way, and whether the server answers. */
export interface OutboxState {
  readonly writes: readonly PendingWrite[]
  readonly reachable: boolean
  /** A file that is going out: whose it is, and how much of it the server has. */
  readonly sending?: { readonly key: string; readonly bytes: number }
}

type Listener = () => void
type Delivered = (write: PendingWrite, record: unknown) => void

/** Pauses between tries while the server does not answer [ms]. */
const RETRY_MS = [400, 1000, 2000, 4000] as const

/** Where a page that goes leaves what is not in storage yet. */
const LEFT_BEHIND = 'uvula-left-behind'

/** Nouns whose writes are commands: refused, they did not happen. Everything else is a fact that somebody entered. */
const COMMANDS: readonly WriteNoun[] = ['reports', 'runs']

/** Whether a write is a command that was refused: nothing stands upon it. */
export const isRefusedCommand = (w: PendingWrite): boolean => w.state === 'refused' && COMMANDS.includes(w.noun)

/** The oldest that may go: what was made upon a write that waits for a person waits behind it. */
export function nextToSend(writes: readonly PendingWrite[]): PendingWrite | undefined {
  const held = new Set<string>()
  for (const w of writes) {
    if (w.state === 'waiting' && !(w.basedOnKey && held.has(w.basedOnKey))) return w
    held.add(w.key)
  }
  return undefined
}

/** A write and what was made upon it, in order. */
function withFollowers(writes: readonly PendingWrite[], first: PendingWrite): PendingWrite[] {
  const keys = new Set([first.key])
  return writes.filter((w) => {
    if (!keys.has(w.key) && !(w.basedOnKey && keys.has(w.basedOnKey))) return false
    keys.add(w.key)
    return true
  })
}

/** The newest of what was made upon a write: what its device holds now. */
export const newestUpon = (writes: readonly PendingWrite[], w: PendingWrite): PendingWrite =>
  withFollowers(writes, w).at(-1) ?? w

/** What a write of this device stands upon: its own last one of that record where one is still here. */
export function baseOf(
  writes: readonly PendingWrite[],
  noun: WriteNoun,
  id: string,
  seenVersion: number,
): Pick<PendingWrite, 'baseVersion' | 'basedOnKey'> {
  const own = writes.filter((w) => w.noun === noun && w.id === id && !isRefusedCommand(w)).at(-1)
  return own ? { baseVersion: own.baseVersion, basedOnKey: own.key } : { baseVersion: seenVersion }
}

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
  /** Keys of what this page has sent. */
  private readonly sent = new Set<string>()
  private readonly made = new Map<string, number>()
  private running = false
  private tries = 0
  private timer: ReturnType<typeof setTimeout> | undefined

  /** Loads what an earlier page left, and goes on with it. */
  async start(): Promise<void> {
    await this.takeLeftBehind()
    await this.reload()
    await dropStrayPieces()
    addEventListener('online', () => this.kick())
    addEventListener('visibilitychange', () => this.kick())
    addEventListener('pagehide', () => this.leaveBehind())
    onLetIn(() => this.kick())
    this.kick()
  }

  /** A page that goes while a write is on its way into storage, which cannot be waited for: it is left where it can be put at once. */
  private leaveBehind(): void {
    // one with a file needs its pieces, which cannot be put anywhere in time
    const left = this.unsaved.filter((w) => w.fileBytes === undefined)
    if (left.length) localStorage.setItem(LEFT_BEHIND, JSON.stringify(left))
  }

  /** Takes over what a page left behind. A write that reached storage after all keeps its key: sent twice, it happens once. */
  private async takeLeftBehind(): Promise<void> {
    const left = localStorage.getItem(LEFT_BEHIND)
    if (left === null) return
    const db = await database()
    const saved = new Set((await db.getAll('outbox')).map((w) => w.key))
    for (const w of JSON.parse(left) as readonly PendingWrite[]) if (!saved.has(w.key)) await db.add('outbox', w)
    localStorage.removeItem(LEFT_BEHIND)
  }

  readonly subscribe = (f: Listener): (() => void) => {
    this.listeners.add(f)
    return () => this.listeners.delete(f)
  }

  /** The version that this page's own last write made of a record. */
  readonly versionHere = (noun: WriteNoun, id: string): number | undefined => this.made.get(`${noun} ${id}`)

  /** Whether a write with this key went out from here. */
  readonly sentHere = (key: string): boolean => this.sent.has(key)

  readonly snapshot = (): OutboxState => this.state

  onDelivered(f: Delivered): () => void {
    this.deliveredListeners.add(f)
    return () => this.deliveredListeners.delete(f)
  }

  /** Keeps a write, and the file that goes with it, and sets off its delivery; resolved once it is in storage. */
  async add<N extends WriteNoun>(
    write: Omit<PendingWrite<N>, 'key' | 'seq' | 'state' | 'fileBytes'>,
    file?: Uint8Array,
  ): Promise<void> {
    const entry: PendingWrite = {
      ...write,
      key: newId(),
      state: 'waiting',
      ...(file ? { fileBytes: file.length } : {}),
    }
    this.unsaved = [...this.unsaved, entry]
    this.set({ ...this.state, writes: [...this.state.writes, entry] })
    const db = await database()
    let seq: number | undefined
    const keep = async (): Promise<void> => {
      seq = await db.add('outbox', entry)
    }
    await (file ? keepPieces(entry.key, file, keep) : keep())
    this.unsaved = this.unsaved.filter((w) => w !== entry)
    // that it is in storage shows of a file alone: a tap is drawn once
    if (file) this.set({ ...this.state, writes: this.state.writes.map((w) => (w === entry ? { ...w, seq } : w)) })
    else Object.assign(entry, { seq })
    this.kick()
  }

  /** Takes a refused or conflicting write off, and what was made upon it: what the server holds stands. */
  async drop(write: PendingWrite): Promise<void> {
    const db = await database()
    const behind = withFollowers(await db.getAll('outbox'), write)
    const tx = db.transaction('outbox', 'readwrite')
    await Promise.all([...behind.map((w) => tx.store.delete(w.seq!)), tx.done])
    for (const w of behind) if (w.fileBytes !== undefined) await dropPieces(w.key)
    // what stands there is shown at once, not at the next look
    if (write.current) for (const f of this.deliveredListeners) f(write, write.current)
    await this.reload()
    this.kick()
  }

  /**
   * Sends a refused or conflicting write again: a conflicting one on top of what the server holds now. Its key was never
   * taken and stays, so that what was made upon it still names it.
   */
  async insist(write: PendingWrite): Promise<void> {
    const db = await database()
    const { problem: _, current, basedOnKey, ...rest } = write
    const upon =
      write.state === 'conflict'
        ? { baseVersion: (current as { version?: number } | null)?.version ?? 0 }
        : basedOnKey !== undefined
          ? { basedOnKey }
          : {}
    await db.put('outbox', { ...rest, ...upon, state: 'waiting' })
    await this.reload()
    this.kick()
  }

  kick(): void {
    clearTimeout(this.timer)
    void this.run()
  }

  /** What is in storage, another page's entries too; an entry that stands as it stood is the same object. */
  private async reload(): Promise<void> {
    const db = await database()
    const saved = await db.getAll('outbox')
    const keys = new Set(saved.map((w) => w.key))
    const held = new Map(this.state.writes.map((w) => [w.key, w]))
    const writes = saved.map((w) => {
      const old = held.get(w.key)
      return old && old.seq === w.seq && old.state === w.state && w.state === 'waiting' ? old : w
    })
    this.set({ ...this.state, writes: [...writes, ...this.unsaved.filter((w) => !keys.has(w.key))] })
  }

  /** Tells of a state that differs from the last; a list of the same entries is the same list. */
  private set(next: OutboxState): void {
    const { writes, reachable, sending } = this.state
    const same = next.writes.length === writes.length && next.writes.every((w, i) => w === writes[i])
    if (same && next.reachable === reachable && next.sending === sending) return
    this.state = same ? { ...next, writes } : next
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
      const next = nextToSend(await db.getAll('outbox'))
      if (!next) return
      this.sent.add(next.key)
      const { fileBytes } = next
      try {
        if (fileBytes !== undefined)
          await sendPieces(next, (bytes) => this.set({ ...this.state, sending: { key: next.key, bytes } }))
        const record = await putJson(
          `/api/${next.noun}/${encodeURIComponent(next.id)}`,
          {
            ...next.data,
            ...(fileBytes === undefined ? {} : { upload: next.key, uploadBytes: fileBytes }),
            baseVersion: next.baseVersion,
            ...(next.basedOnKey === undefined ? {} : { basedOnKey: next.basedOnKey }),
            by: next.by,
            at: next.at,
          },
          next.key,
        )
        this.made.set(`${next.noun} ${next.id}`, (record as { version?: number }).version ?? 0)
        for (const f of this.deliveredListeners) f(next, record)
        // with what the server made of it: one that stays in storage a moment longer is harmless, its key is taken
        this.set({ ...this.state, writes: this.state.writes.filter((w) => w.key !== next.key), reachable: true })
        await db.delete('outbox', next.seq!)
        if (fileBytes !== undefined) await dropPieces(next.key)
        this.tries = 0
      } catch (e) {
        // nobody is signed in: nothing is refused and nothing is lost; the next one to sign in sets it going
        if (e instanceof ApiProblem && e.problem.status === 401) return
        if (!(e instanceof ApiProblem) || e.problem.status >= 500 || e.problem.status === 429) {
          this.set({ ...this.state, reachable: false })
          this.timer = setTimeout(() => this.kick(), RETRY_MS[Math.min(this.tries++, RETRY_MS.length - 1)])
          return
        }
        const conflict = e.problem.type === 'uvula:conflict'
        // it answers, if not as wished
        this.tries = 0
        this.set({ ...this.state, reachable: true })
        await db.put('outbox', {
          ...next,
          state: conflict ? 'conflict' : 'refused',
          problem: e.problem.detail,
          current: e.problem.current,
        })
      } finally {
        if (fileBytes !== undefined) this.set({ ...this.state, sending: undefined })
      }
      await this.reload()
    }
  }
}

export const outbox = new Outbox()
