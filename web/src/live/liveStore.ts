import { useSyncExternalStore } from 'react'
import type { LinkSample, LinkState } from '@uvula/contract'
import { database } from '../store/database.js'

/** A recording that goes on: which samples belong to it. */
export interface LiveRecording {
  readonly visitId: string
  readonly session: string
  /** First sample's number. */
  readonly fromSeq: number
  /** The simulated car was at the other end. */
  readonly simulated: boolean
  /** Round of the visit that it belongs to. */
  readonly round: number
  /** Moments marked, in the session's time [s]. */
  readonly marks: readonly number[]
}

/** What the live screen shows; a new object whenever something of it changed. */
export interface LiveView {
  /** Undefined before the server has spoken. */
  readonly state: LinkState | undefined
  /** False while the server itself is out of reach; undefined before it has been tried. */
  readonly reached: boolean | undefined
  readonly samples: readonly LinkSample[]
  /** Sample numbers that never came. */
  readonly dropped: number
  readonly recording: LiveRecording | undefined
  /** Rows of the recording so far. */
  readonly rows: readonly LinkSample[]
}

const KEY = 'uvula-live-recording'
/** Figures change at most this often [ms]: faster is not read, and costs the taps. */
const SHOW_MS = 200
/** Samples in a kept piece. */
const PIECE = 50

/**
 * Live data as they come over the server's stream. What is being recorded is kept in the browser's own storage in pieces,
 * so that neither a closed page nor a server that ends takes it away.
 */
class LiveStore {
  private samples: LinkSample[] = []
  private session = ''
  private state: LinkState | undefined
  private reached: boolean | undefined
  private dropped = 0
  private recording = restored()
  private rows: LinkSample[] = []
  private keptUpTo = 0
  private source: EventSource | undefined
  private users = 0
  private view: LiveView = this.make()
  private readonly listeners = new Set<() => void>()
  private due: ReturnType<typeof setTimeout> | undefined

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    if (++this.users === 1) void this.open()
    return () => {
      this.listeners.delete(listener)
      if (--this.users === 0) this.close()
    }
  }

  readonly snapshot = (): LiveView => this.view

  begin(visitId: string, round: number): void {
    const fromSeq = (this.samples.at(-1)?.seq ?? 0) + 1
    this.rows = []
    this.keptUpTo = 0
    const simulated = this.state?.standIn === true
    this.remember({ visitId, session: this.session, fromSeq, simulated, round, marks: [] })
  }

  mark(): void {
    const t = this.samples.at(-1)?.t
    if (this.recording && t !== undefined) this.remember({ ...this.recording, marks: [...this.recording.marks, t] })
  }

  /** Ends the recording and forgets its pieces; the caller has taken its rows. */
  async end(): Promise<void> {
    const ended = this.recording
    this.rows = []
    this.remember(undefined)
    if (!ended) return
    const db = await database()
    await db.delete('live', IDBKeyRange.bound(pieceKey(ended, 0), pieceKey(ended, 1e9)))
  }

  private async open(): Promise<void> {
    const r = this.recording
    if (r && !this.rows.length) {
      const db = await database()
      const pieces = await db.getAll('live', IDBKeyRange.bound(pieceKey(r, 0), pieceKey(r, 1e9)))
      this.rows = pieces.flat()
      this.keptUpTo = this.rows.length
      if (!this.samples.length) {
        this.session = r.session
        this.samples = [...this.rows]
      }
      this.show()
    }
    if (this.users === 0 || this.source) return
    const last = this.samples.at(-1)?.seq ?? 0
    const source = new EventSource(`/api/link/stream?since=${encodeURIComponent(`${this.session}:${last}`)}`)
    this.source = source
    source.addEventListener('state', (e) => this.hearState(JSON.parse(e.data as string) as LinkState))
    source.addEventListener('samples', (e) => this.hearSamples(JSON.parse(e.data as string) as LinkSample[]))
    source.addEventListener('open', () => {
      this.reached = true
      this.show()
    })
    source.addEventListener('error', () => {
      this.reached = false
      this.show()
      // a server that refused outright is not tried again by the browser
      if (source.readyState === EventSource.CLOSED) {
        this.source = undefined
        setTimeout(() => void this.open(), 2000)
      }
    })
  }

  private close(): void {
    this.keep(true)
    this.source?.close()
    this.source = undefined
  }

  private hearState(state: LinkState): void {
    this.reached = true
    // another session begins anew; one that is gone leaves what was seen
    if (state.session !== '' && state.session !== this.session) {
      this.session = state.session
      this.samples = []
      this.dropped = 0
    }
    this.state = state
    this.show()
  }

  private hearSamples(list: readonly LinkSample[]): void {
    const recording = this.recording?.session === this.session ? this.recording : undefined
    for (const s of list) {
      const last = this.samples.at(-1)?.seq
      if (last !== undefined && s.seq <= last) continue
      if (last !== undefined) this.dropped += s.seq - last - 1
      this.samples.push(s)
      if (recording && s.seq >= recording.fromSeq) this.rows.push(s)
    }
    this.keep(false)
    this.due ??= setTimeout(() => this.show(), SHOW_MS)
  }

  /** Puts whole pieces, or at the end what is left of one, into the browser's storage. */
  private keep(all: boolean): void {
    const r = this.recording
    if (!r) return
    while (this.rows.length - this.keptUpTo >= (all ? 1 : PIECE)) {
      const at = this.keptUpTo - (this.keptUpTo % PIECE)
      const piece = this.rows.slice(at, at + PIECE)
      this.keptUpTo = at + piece.length
      void database().then((db) => db.put('live', piece, pieceKey(r, at)))
    }
  }

  private remember(recording: LiveRecording | undefined): void {
    this.recording = recording
    try {
      if (recording) localStorage.setItem(KEY, JSON.stringify(recording))
      else localStorage.removeItem(KEY)
    } catch {
      // a browser that keeps nothing still records until it is closed
    }
    this.show()
  }

  private make(): LiveView {
    const { state, reached, samples, dropped, recording, rows } = this
    return { state, reached, samples, dropped, recording, rows }
  }

  private show(): void {
    clearTimeout(this.due)
    this.due = undefined
    this.view = this.make()
    for (const f of this.listeners) f()
  }
}

const pieceKey = (r: LiveRecording, at: number): string =>
  `${r.session}:${String(r.fromSeq).padStart(10, '0')}:${String(at).padStart(10, '0')}`

function restored(): LiveRecording | undefined {
  try {
    return (JSON.parse(localStorage.getItem(KEY) ?? 'null') as LiveRecording | undefined) ?? undefined
  } catch {
    return undefined
  }
}

export const liveStore = new LiveStore()

export const useLive = (): LiveView => useSyncExternalStore(liveStore.subscribe, liveStore.snapshot)
