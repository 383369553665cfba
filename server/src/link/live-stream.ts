import type { Response } from 'express'
import type { LinkService } from './link.service.js'

/** Most samples in one event, and how often the state is told at least [ms]. */
const MOST_SAMPLES = 200
const STATE_EVERY_MS = 500
const KEEP_ALIVE_MS = 10_000

/**
 * Sends the link's samples and states to one browser as server-sent events. Nothing is dropped when the browser is slow:
 * writing stops until the socket has drained and goes on with the next number. The id of an event is `session:seq`, so
 * that a browser that comes back is sent what it has missed.
 */
export class LiveStream {
  private session: string
  private seq: number
  private blocked = false
  private stateAt = 0
  private stateSent = ''
  private readonly stop: () => void
  private readonly beat: NodeJS.Timeout
  private over = false

  constructor(
    private readonly service: Pick<LinkService, 'state' | 'current' | 'over' | 'onChange'>,
    private readonly response: Response,
    since: string,
  ) {
    const cut = since.lastIndexOf(':')
    this.session = cut < 0 ? '' : since.slice(0, cut)
    this.seq = cut < 0 ? 0 : Number(since.slice(cut + 1)) || 0
    // no-transform: a compressor would hold the events back
    response.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store, no-transform' }).flushHeaders()
    response.on('drain', () => {
      this.blocked = false
      this.pump()
    })
    response.on('close', () => this.end())
    this.stop = service.onChange(() => this.pump())
    this.beat = setInterval(() => this.blocked || response.write(': \n\n'), KEEP_ALIVE_MS)
    this.pump()
  }

  private end(): void {
    this.over = true
    clearInterval(this.beat)
    this.stop()
  }

  private pump(): void {
    if (this.over) return
    if (this.service.over) return void this.response.end()
    if (this.blocked) return
    const state = this.service.state
    if (state.session !== this.session) {
      this.session = state.session
      this.seq = 0
    }
    const steady = JSON.stringify([state.phase, state.session, state.message, state.trouble, state.channels])
    const now = Date.now()
    if (steady !== this.stateSent || now - this.stateAt > STATE_EVERY_MS) {
      this.stateSent = steady
      this.stateAt = now
      this.write(`event: state\ndata: ${JSON.stringify(state)}\n\n`)
    }
    while (!this.blocked && !this.over) {
      const samples = this.service.current?.ring.after(this.seq, MOST_SAMPLES) ?? []
      if (!samples.length) return
      this.seq = samples.at(-1)!.seq
      this.write(`id: ${this.session}:${this.seq}\nevent: samples\ndata: ${JSON.stringify(samples)}\n\n`)
    }
  }

  private write(text: string): void {
    if (!this.response.write(text)) this.blocked = true
  }
}
