// The live bench under load: a vehicle on a port, the server, the built application in a browser, in real time.
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium } from '@playwright/test'
import { end, serve, sleep } from './built-server.js'
import { CHROMIUM, ensureChromium } from './chromium.js'
import { freePort } from './free-port.js'

/** Taps between which the figures go on; each is timed until the screen has answered. */
const TAP_EVERY_MS = 5000

/** A frame that comes later than this after the one before is felt [ms]. */
const LONG_FRAME_MS = 50

/** What was seen. */
export interface LiveRun {
  readonly longestTap: number
  readonly middleTap: number
  readonly missing: number
  readonly rate: number
  readonly rows: number
  readonly channels: number
  /** Frames drawn, and those that came more than LONG_FRAME_MS after the one before. */
  readonly frames: number
  readonly longFrames: number
}

/**
 * Records for a time through the whole chain and taps meanwhile.
 * @param link - `none` for a fast link, `usual` for one as most are
 * @returns longest and middle tap [ms], samples that are missing between the first and the last number, rows a second, channels, frames
 */
export async function liveRun({ minutes, link }: { minutes: number; link: 'none' | 'usual' }): Promise<LiveRun> {
  await ensureChromium()
  const dir = mkdtempSync(join(tmpdir(), 'uvula-live-'))
  const port = await freePort()
  const url = `http://127.0.0.1:${port}`
  const server = await serve(dir, port)
  const browser = await chromium.launch({
    executablePath: CHROMIUM,
    args: ['--no-sandbox', '--disable-gpu'],
  })
  try {
    const post = (path: string, body: object): Promise<Response> =>
      fetch(`${url}/api/link/${path}`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(body),
      })
    const state = async (): Promise<{ seq: number; channels: unknown[] }> =>
      (await fetch(`${url}/api/link`)).json() as never
    await post('stand-in', { visitId: 'visit-vet', faults: ['unmetered-air'], link })
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    await page.goto(`${url}/visit/visit-vet/live`)
    await page.getByRole('button', { name: 'record', exact: true }).click({ timeout: 30_000 })
    await page.evaluate((long) => {
      const count = { frames: 0, longFrames: 0 }
      Object.assign(window, { frameCount: count })
      let last = performance.now()
      const next = (now: number): void => {
        count.frames++
        if (now - last > long) count.longFrames++
        last = now
        requestAnimationFrame(next)
      }
      requestAnimationFrame(next)
    }, LONG_FRAME_MS)
    const taps: number[] = []
    const until = Date.now() + minutes * 60_000
    const feet = [
      { kind: 'hold', rpm: 2500 },
      { kind: 'idle' },
      { kind: 'load' },
      { kind: 'hold', rpm: 1500 },
      { kind: 'idle' },
    ]
    for (let n = 0; Date.now() < until; n++) {
      if (n % 5 === 0) await post('foot', feet[(n / 5) % feet.length])
      taps.push(
        await page.evaluate(async () => {
          const buttons = [...document.querySelectorAll('.live-side [role=tab]')]
          const button = buttons.find((b) => b.getAttribute('aria-selected') !== 'true')!
          const began = performance.now()
          // a view's name answers to the press
          button.dispatchEvent(new MouseEvent('mousedown', { bubbles: true, button: 0 }))
          while (button.getAttribute('aria-selected') !== 'true') await new Promise((r) => requestAnimationFrame(r))
          return performance.now() - began
        }),
      )
      await sleep(Math.max(0, Math.min(TAP_EVERY_MS, until - Date.now())))
    }
    const drawn = await page.evaluate(
      () => (window as unknown as { frameCount: Pick<LiveRun, 'frames' | 'longFrames'> }).frameCount,
    )
    await post('disconnect', {})
    await sleep(1500)
    const { seq, channels } = await state()
    // what the browser keeps, number by number; leaving the bench keeps the last piece
    await page.getByRole('link', { name: 'back to the visit' }).click()
    await sleep(1500)
    const kept = await page.evaluate(
      () =>
        new Promise<[seq: number, t: number][]>((resolve, reject) => {
          const open = indexedDB.open('uvula')
          open.onerror = () => reject(open.error)
          open.onsuccess = () => {
            const all: IDBRequest<{ seq: number; t: number }[][]> = open.result
              .transaction('live')
              .objectStore('live')
              .getAll()
            all.onsuccess = () => resolve(all.result.flat().map((s): [number, number] => [s.seq, s.t]))
          }
        }),
    )
    const numbers = kept.map(([n]) => n).sort((a, b) => a - b)
    const missing = seq - numbers[0] + 1 - new Set(numbers).size
    const seconds = kept.at(-1)![1] - kept[0][1]
    taps.sort((a, b) => a - b)
    return {
      longestTap: taps.at(-1)!,
      middleTap: taps[Math.floor(taps.length / 2)],
      missing,
      rate: (numbers.length - 1) / seconds,
      rows: numbers.length,
      channels: channels.length,
      ...drawn,
    }
  } finally {
    await browser.close()
    await end(server, 'SIGTERM')
    rmSync(dir, { recursive: true, force: true })
  }
}
