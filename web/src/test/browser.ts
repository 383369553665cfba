import 'fake-indexeddb/auto'
import { cleanup, configure } from '@testing-library/react'
import { afterEach, beforeEach } from '@jest/globals'
import { TextDecoder, TextEncoder } from 'node:util'
import { deserialize, serialize } from 'node:v8'

// what is waited for comes at once on an idle machine; a busy one takes its time
configure({ asyncUtilTimeout: 10_000 })

/** What a page has and jsdom lacks: sizes that change, pictures of time, a match of media. */
class NoResize {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
}
/** No car is connected, unless a test plays one. */
class NoEvents extends EventTarget {
  close(): void {}
}
Object.assign(globalThis, {
  EventSource: NoEvents,
  TextDecoder,
  TextEncoder,
  ResizeObserver: NoResize,
  matchMedia: () => ({ matches: false, addEventListener: () => undefined, removeEventListener: () => undefined }),
  structuredClone: globalThis.structuredClone ?? ((x: unknown) => deserialize(serialize(x)) as unknown),
})
performance.measure ??= (() => undefined) as never
Object.assign(Element.prototype, {
  scrollIntoView: () => undefined,
  hasPointerCapture: () => false,
  setPointerCapture: () => undefined,
  releasePointerCapture: () => undefined,
})

/** One answer of the server that the tests play. */
export interface Played {
  readonly status: number
  readonly body: unknown
}
/** What was asked of it. */
export interface Asked {
  readonly path: string
  readonly method: string
  readonly key: string | undefined
  readonly body: Record<string, unknown>
}

/** A server of the test's own: answers each request, or is out of reach. */
export class PlayedServer {
  readonly asked: Asked[] = []
  /** Sizes of the pieces of files that came, by their key. */
  readonly pieces = new Map<string, number[]>()
  answer: (a: Asked) => Played | 'away' | Promise<Played> = () => ({ status: 200, body: {} })

  constructor() {
    globalThis.fetch = (async (path: string, init?: RequestInit) => {
      const headers = (init?.headers ?? {}) as Record<string, string>
      const asked: Asked = {
        path,
        method: init?.method ?? 'GET',
        key: headers['idempotency-key'],
        body: typeof init?.body === 'string' ? (JSON.parse(init.body) as Record<string, unknown>) : {},
      }
      const [, file] = /^\/api\/uploads\/([^?]+)/.exec(path) ?? []
      if (!file) this.asked.push(asked)
      let played = await this.answer(asked)
      if (played === 'away') throw new TypeError('no network')
      if (file && played.status < 400) played = { status: 200, body: { bytes: this.arrive(file, init?.body) } }
      return {
        ok: played.status < 400,
        status: played.status,
        headers: { get: () => null },
        json: () => Promise.resolve(played.body),
        text: () => Promise.resolve(String(played.body)),
      } as unknown as Response
    }) as typeof fetch
  }

  /** A piece of a file, or the question how much of it is here. @returns how much is here */
  private arrive(file: string, body: BodyInit | null | undefined): number {
    const came = this.pieces.get(file) ?? []
    if (body) came.push((body as Uint8Array<ArrayBuffer>).length)
    this.pieces.set(file, came)
    return came.reduce((sum, n) => sum + n, 0)
  }

  /** Writes that it took or refused, oldest first. */
  get writes(): Asked[] {
    return this.asked.filter((a) => a.method === 'PUT')
  }
}

beforeEach(() => localStorage.clear())
afterEach(() => cleanup())
