import { Worker } from 'node:worker_threads'
import { Injectable, type OnModuleDestroy } from '@nestjs/common'
import type { FaultId, SoundOf, SoundRecord, VisitFile } from '@uvula/core'
import type { Answers, Asked, Question, Told } from './protocol.js'

interface Waiting {
  readonly resolve: (answer: never) => void
  readonly reject: (e: Error) => void
}

/** Diagnoses stored visits in a thread of its own: a tenth of a second each, which no live row may wait for. */
@Injectable()
export class Weigher implements OnModuleDestroy {
  private thread: Worker | undefined
  private readonly waiting = new Map<number, Waiting>()
  private asked = 0

  confirmed(visit: VisitFile): Promise<FaultId | null> {
    return this.ask({ kind: 'confirmed', visit })
  }

  sound(visits: readonly VisitFile[], of: SoundOf): Promise<SoundRecord | null> {
    return this.ask({ kind: 'sound', visits, of })
  }

  private ask<Q extends Question>(question: Q): Promise<Answers[Q['kind']]> {
    const thread = (this.thread ??= this.start())
    const id = ++this.asked
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { resolve, reject })
      thread.postMessage({ id, question } satisfies Asked)
    })
  }

  private start(): Worker {
    const thread = new Worker(new URL('./weigher.worker.js', import.meta.url))
    thread.unref()
    thread.on('message', (told: Told) => {
      const waiting = this.waiting.get(told.id)
      this.waiting.delete(told.id)
      if ('failed' in told) waiting?.reject(new Error(told.failed))
      else waiting?.resolve(told.answer as never)
    })
    thread.on('error', (e) => this.giveUp(thread, e))
    thread.on('exit', () => this.giveUp(thread, new Error('The weighing thread ended.')))
    return thread
  }

  /** Whoever waits is told; the next question starts another thread. */
  private giveUp(thread: Worker, e: Error): void {
    if (this.thread !== thread) return
    this.thread = undefined
    for (const w of this.waiting.values()) w.reject(e)
    this.waiting.clear()
  }

  async onModuleDestroy(): Promise<void> {
    await this.thread?.terminate()
  }
}
