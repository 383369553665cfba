// What another request waits while the server has heavy work: a file is read, a sheet printed, a backup taken, a table written.
import { once } from 'node:events'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Worker } from 'node:worker_threads'
import { UPLOAD_PIECE } from '@uvula/contract'
import { end, serve, sleep } from './built-server.js'
import { freePort } from './free-port.js'
import { longLog } from './long-log.js'

const VISIT = 'visit-vet'

/** The longest that a small request waited beside each kind of work, and how long that took [ms]. */
export type BesideRun = Readonly<Record<string, { readonly longest: number; readonly work: number }>>

/** @throws Error with the server's words when it refuses any of the work */
export async function besideRun(): Promise<BesideRun> {
  const data = mkdtempSync(join(tmpdir(), 'uvula-beside-'))
  const port = await freePort()
  const url = `http://127.0.0.1:${port}/api`
  const server = await serve(data, port)
  const ask = async (method: string, path: string, body?: object | Buffer, key?: string): Promise<Buffer> => {
    const raw = Buffer.isBuffer(body)
    const answer = await fetch(`${url}/${path}`, {
      method,
      headers: {
        'content-type': raw ? 'application/octet-stream' : 'application/json',
        ...(key ? { 'idempotency-key': key } : {}),
      },
      body: body && (raw ? new Uint8Array(body) : JSON.stringify(body)),
    })
    const got = Buffer.from(await answer.arrayBuffer())
    if (!answer.ok) throw new Error(`${path}: ${answer.status} ${got.toString().slice(0, 200)}`)
    return got
  }
  const small = new Worker(new URL('./small-request.js', import.meta.url), { workerData: { url: `${url}/shop` } })
  /** The longest wait since it was asked last [ms]. */
  const longestWait = async (): Promise<number> => {
    small.postMessage('how long')
    const [ms] = (await once(small, 'message')) as [number]
    return ms
  }
  const out: Record<string, { longest: number; work: number }> = {}
  const beside = async (kind: string, work: () => Promise<unknown>): Promise<void> => {
    await sleep(500)
    await longestWait()
    const began = performance.now()
    await work()
    const took = performance.now() - began
    // one that was asked last is still waiting
    await sleep(300)
    out[kind] = { longest: await longestWait(), work: took }
  }
  try {
    // what a server that has just begun does once is no part of it
    await sleep(2000)
    const who = { baseVersion: 0, by: 'Runa', at: new Date().toISOString(), visitId: VISIT }
    const log = longLog()
    await beside('a file in pieces', async () => {
      for (let at = 0; at < log.length; at += UPLOAD_PIECE)
        await ask('PUT', `uploads/beside-log?at=${at}`, log.subarray(at, at + UPLOAD_PIECE))
    })
    const recording = { ...who, round: 0, name: 'long.csv', upload: 'beside-log', uploadBytes: log.length }
    await beside('that file read and kept', () => ask('PUT', 'recordings/beside', recording, 'beside'))
    await beside('its table', () => ask('GET', 'recordings/beside/canonical'))
    await beside('a closer look at all of it', () => ask('GET', 'recordings/beside/trace?channels=rpm,map_kpa'))
    await beside('a sheet kept', () => ask('PUT', 'reports/beside', who, 'sheet'))
    await beside('the sheet printed', () => ask('GET', 'reports/beside/pdf'))
    await beside('a backup', () => ask('GET', 'shop/backup'))
    return out
  } finally {
    await small.terminate()
    await end(server, 'SIGKILL')
    rmSync(data, { recursive: true, force: true })
  }
}
