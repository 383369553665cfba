import { Injectable, type OnModuleDestroy } from '@nestjs/common'
import type { Response } from 'express'
import type { Hand } from '@uvula/contract'
import { Changes, type ChangeTold } from '../records/changes.js'

/** A line to a browser through which nothing goes is taken for dead by what stands between [ms]. */
const KEEP_ALIVE_MS = 10_000
/** Pages on one visit, and on all of them, at most; more is a loop gone wild. */
const HANDS_MOST = 40
const LINES_MOST = 400

interface Open {
  readonly visitId: string
  readonly response: Response
  hand: Hand
}

/**
 * Who works on a visit with whom: each open page holds a line here, is told who else does, and is told of every write to its
 * visit at once. A page that goes is gone with its line; nothing is stored.
 */
@Injectable()
export class TogetherService implements OnModuleDestroy {
  private readonly lines = new Set<Open>()
  private readonly stop: () => void
  private readonly beat = setInterval(() => this.send(() => true, ': \n\n'), KEEP_ALIVE_MS)

  constructor(changes: Changes) {
    this.stop = changes.onChange((c) => this.changed(c))
  }

  /** Without this a server that is asked to end would wait for every tablet. */
  onModuleDestroy(): void {
    this.stop()
    clearInterval(this.beat)
    for (const line of this.lines) line.response.end()
  }

  join(visitId: string, hand: Hand, response: Response): void {
    // no-transform: a compressor would hold the events back
    response.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store, no-transform' }).flushHeaders()
    const all = [...this.lines]
    const mine = all.filter((l) => l.visitId === visitId)
    // the oldest makes room
    if (mine.length >= HANDS_MOST) mine[0].response.end()
    else if (all.length >= LINES_MOST) all[0].response.end()
    const line: Open = { visitId, hand, response }
    this.lines.add(line)
    response.on('close', () => {
      this.lines.delete(line)
      this.tellHands(visitId)
    })
    this.tellHands(visitId)
  }

  /** A page went to another stage. */
  move(visitId: string, hand: Hand): void {
    for (const line of this.lines) if (line.visitId === visitId && line.hand.device === hand.device) line.hand = hand
    this.tellHands(visitId)
  }

  private tellHands(visitId: string): void {
    const hands = new Map([...this.lines].filter((l) => l.visitId === visitId).map((l) => [l.hand.device, l.hand]))
    this.send((l) => l.visitId === visitId, `event: hands\ndata: ${JSON.stringify([...hands.values()])}\n\n`)
  }

  private changed({ visitId, noun, key }: ChangeTold): void {
    const text = `event: change\ndata: ${JSON.stringify({ noun, key })}\n\n`
    this.send((l) => l.visitId === visitId, text)
  }

  private send(to: (l: Open) => boolean, text: string): void {
    for (const line of this.lines) if (to(line)) line.response.write(text)
  }
}
