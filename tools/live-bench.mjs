// The live bench under load: a vehicle on a port, the server, the built application in a browser, in real time.
/* global document, requestAnimationFrame, indexedDB */
import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { freePort } from './free-port.mjs'
import { root } from './ready.mjs'

const sleep = (ms) => new Promise((r) => setTimeout(r, ms))
import { ensureChromium } from './chromium.mjs'

/** Taps between which the figures go on; each is timed until the screen has answered. */
const TAP_EVERY_MS = 5000

/**
 * Records for a time through the whole chain and taps meanwhile.
 * @param link - `none` for a fast link, `usual` for one as most are
 * @returns longest and middle tap [ms], samples that are missing between the first and the last number, rows a second, channels
 */
export async function liveRun({ minutes, link }) {
  await ensureChromium()
  const { chromium } = await import('@playwright/test')
  const dir = mkdtempSync(join(tmpdir(), 'uvula-live-'))
  const port = await freePort()
  const url = `http://127.0.0.1:${port}`
  const server = spawn(process.execPath, ['server/dist/main.js'], {
    cwd: root,
    env: { ...process.env, PORT: String(port), UVULA_DATA: dir },
    stdio: ['ignore', 'ignore', 'inherit'],
  })
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
  })
  try {
    for (let i = 0; i < 300; i++) {
      const up = await fetch(`${url}/api/shop`).then(
        (r) => r.ok,
        () => false,
      )
      if (up) break
      await sleep(100)
    }
    const post = (path, body) =>
      fetch(`${url}/api/link/${path}`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(body),
      })
    const state = async () => (await fetch(`${url}/api/link`)).json()
    await post('stand-in', { visitId: 'visit-vet', faults: ['unmetered-air'], link })
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    await page.goto(`${url}/visit/visit-vet/live`)
    await page.getByRole('button', { name: 'record', exact: true }).click({ timeout: 30_000 })
    const taps = []
    const end = Date.now() + minutes * 60_000
    const feet = [
      { kind: 'hold', rpm: 2500 },
      { kind: 'idle' },
      { kind: 'load' },
      { kind: 'hold', rpm: 1500 },
      { kind: 'idle' },
    ]
    for (let n = 0; Date.now() < end; n++) {
      if (n % 5 === 0) await post('foot', feet[(n / 5) % feet.length])
      taps.push(
        await page.evaluate(async () => {
          const buttons = [...document.querySelectorAll('.live-side [role=tab]')]
          const button = buttons.find((b) => b.getAttribute('aria-selected') !== 'true')
          const began = performance.now()
          // a view's name answers to the press
          button.dispatchEvent(new globalThis.MouseEvent('mousedown', { bubbles: true, button: 0 }))
          while (button.getAttribute('aria-selected') !== 'true') await new Promise((r) => requestAnimationFrame(r))
          return performance.now() - began
        }),
      )
      await sleep(Math.max(0, Math.min(TAP_EVERY_MS, end - Date.now())))
    }
    await post('disconnect', {})
    await sleep(1500)
    const { seq, channels } = await state()
    // what the browser keeps, number by number; leaving the bench keeps the last piece
    await page.getByRole('link', { name: 'back to the visit' }).click()
    await sleep(1500)
    const kept = await page.evaluate(
      () =>
        new Promise((resolve, reject) => {
          const open = indexedDB.open('uvula')
          open.onerror = () => reject(open.error)
          open.onsuccess = () => {
            const all = open.result.transaction('live').objectStore('live').getAll()
            all.onsuccess = () => resolve(all.result.flat().map((s) => [s.seq, s.t]))
          }
        }),
    )
    const numbers = kept.map(([n]) => n).sort((a, b) => a - b)
    const missing = seq - numbers[0] + 1 - new Set(numbers).size
    const seconds = kept.at(-1)[1] - kept[0][1]
    taps.sort((a, b) => a - b)
    return {
      longestTap: taps.at(-1),
      middleTap: taps[Math.floor(taps.length / 2)],
      missing,
      rate: (numbers.length - 1) / seconds,
      rows: numbers.length,
      channels: channels.length,
    }
  } finally {
    await browser.close()
    server.kill()
    rmSync(dir, { recursive: true, force: true })
  }
}
