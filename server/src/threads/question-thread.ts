import { parentPort, Worker, type TransferListItem } from 'node:worker_threads'

/** What a thread is asked, by kind, and what it answers. */
export type Kinds<K> = { readonly [kind in keyof K]: { readonly asks: unknown; readonly answers: unknown } }

interface Asked {
  readonly id: number
  readonly kind: string
  readonly asks: unknown
}
type Told = { readonly id: number } & ({ readonly answer: unknown } | { readonly failed: string })

interface Waiting {
  readonly resolve: (answer: never) => void
  readonly reject: (e: Error) => void
}

/** A thread that answers questions one after another; begun with the first, begun anew when it has died. */
export class QuestionThread<K extends Kinds<K>> {
  private thread: Worker | undefined
  private readonly waiting = new Map<number, Waiting>()
  private asked = 0

  /** @param script - a module that calls `answerEach` */
  constructor(private readonly script: URL) {}

  /** @param given - memory that goes over to the thread and is no longer here @throws Error with what went wrong there */
  ask<T extends keyof K & string>(
    kind: T,
    asks: K[T]['asks'],
    given: readonly TransferListItem[] = [],
  ): Promise<K[T]['answers']> {
    const thread = (this.thread ??= this.start())
    const id = ++this.asked
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { resolve, reject })
      thread.postMessage({ id, kind, asks } satisfies Asked, given)
    })
  }

  async end(): Promise<void> {
    await this.thread?.terminate()
  }

  private start(): Worker {
    const thread = new Worker(this.script)
    thread.unref()
    thread.on('message', (told: Told) => {
      const waiting = this.waiting.get(told.id)
      this.waiting.delete(told.id)
      if ('failed' in told) waiting?.reject(new Error(told.failed))
      else waiting?.resolve(told.answer as never)
    })
    thread.on('error', (e) => this.giveUp(thread, e))
    thread.on('exit', () => this.giveUp(thread, new Error('The thread that worked on it ended.')))
    return thread
  }

  /** Whoever waits is told; the next question starts another thread. */
  private giveUp(thread: Worker, e: Error): void {
    if (this.thread !== thread) return
    this.thread = undefined
    for (const w of this.waiting.values()) w.reject(e)
    this.waiting.clear()
  }
}

/** How a thread answers each kind of question. */
export type Answering<K extends Kinds<K>> = {
  readonly [kind in keyof K]: (asks: K[kind]['asks']) => K[kind]['answers'] | Promise<K[kind]['answers']>
}

/** In the thread itself: answers what comes; what goes wrong goes back as a sentence. */
export function answerEach<K extends Kinds<K>>(answering: Answering<K>): void {
  parentPort!.on('message', ({ id, kind, asks }: Asked) => {
    void (async (): Promise<Told> => {
      try {
        return { id, answer: await answering[kind as keyof K](asks as never) }
      } catch (e) {
        return { id, failed: e instanceof Error ? e.message : String(e) }
      }
    })().then((told) => parentPort!.postMessage(told))
  })
}
