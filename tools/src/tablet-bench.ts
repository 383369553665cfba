// A slow tablet: a browser at a quarter of the processor's speed, on a shop with 31 cars in the bay.
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium, type Browser, type Page } from '@playwright/test'
import { end, serve, sleep } from './built-server.js'
import { CHROMIUM, ensureChromium } from './chromium.js'
import { freePort } from './free-port.js'
import { longLog } from './long-log.js'

const SLOWER = 4
const CARS = 31
/** How long a finger stays down [ms]. */
const PRESS_MS = 80
/** Between two taps [ms]: what the last one set going is over. */
const PAUSE_MS = 700
/** A usual mobile link. */
const LINK = { offline: false, latency: 150, downloadThroughput: 1.6e6 / 8, uploadThroughput: 0.75e6 / 8 }
const SCREENS = 5

/** Times from a finger's coming up to the paint of its answer [ms], by the browser's own event timing, in order of size; largest paints of the bay [ms]. */
export interface TabletRun {
  readonly taps: readonly number[]
  readonly screens: readonly number[]
  /** Tasks over 50 ms while a dozen looks are tapped beside a log of 28 MB that waits for its server, at full speed, together [ms]. */
  readonly besideLog: number
}

type Own = Readonly<Record<string, unknown>>
interface Row {
  readonly vehicle: Own
  readonly visit: Own
}

/** A record as a write has it: without what the server adds. */
function fieldsOf(record: Own): Own {
  const { id: _, version: _v, receivedAt: _r, ...own } = record
  return own
}

/** Copies cars of the demo until the bay has so many. */
async function fillBay(url: string): Promise<void> {
  const { rows } = (await (await fetch(`${url}/api/bay`)).json()) as { rows: Row[] }
  const put = async (path: string, body: Own): Promise<void> => {
    const answer = await fetch(`${url}/api/${path}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json', 'idempotency-key': path },
      body: JSON.stringify({ ...body, baseVersion: 0 }),
    })
    if (!answer.ok) throw new Error(`${path}: ${await answer.text()}`)
  }
  for (let i = rows.length; i < CARS; i++) {
    const { vehicle, visit } = rows[i % rows.length]
    const vehicleId = `tablet-${i}`
    await put(`vehicles/${vehicleId}`, { ...fieldsOf(vehicle), plate: `TB ${i}` })
    await put(`visits/${vehicleId}-visit`, { ...fieldsOf(visit), vehicleId })
  }
}

/** @returns times of taps on every look of a visit, one after another */
async function tapLooks(page: Page, url: string): Promise<number[]> {
  await page.addInitScript(() => {
    localStorage.setItem('uvula-settings', JSON.stringify({ technician: 'Runa' }))
    const times: number[] = []
    Object.assign(window, { times })
    new PerformanceObserver((list) => {
      for (const e of list.getEntries()) if (e.name === 'click') times.push(e.duration)
    }).observe({ type: 'event', durationThreshold: 16 } as PerformanceObserverInit)
  })
  await page.goto(`${url}/visit/visit-vet/look`)
  const looks = page.getByRole('radio', { name: /: sound$/ })
  await looks.first().waitFor()
  await sleep(2500)
  const cdp = await page.context().newCDPSession(page)
  await cdp.send('Emulation.setCPUThrottlingRate', { rate: SLOWER })
  for (const look of await looks.all()) {
    await look.click({ delay: PRESS_MS })
    await sleep(PAUSE_MS)
  }
  return page.evaluate(() => (window as unknown as { times: number[] }).times)
}

/** @returns tasks over 50 ms over a dozen taps beside a file that waits [ms] */
async function tapBesideLog(page: Page, url: string): Promise<number> {
  await page.addInitScript(() => localStorage.setItem('uvula-settings', JSON.stringify({ technician: 'Runa' })))
  await page.goto(`${url}/visit/visit-vet/look`)
  const looks = page.getByRole('radio', { name: /: suspect$/ })
  await looks.first().waitFor()
  await page.route('**/api/uploads/**', (r) => r.abort())
  const log = { name: 'long.csv', mimeType: 'text/csv', buffer: longLog() }
  await page.getByTestId('recording-input').setInputFiles(log)
  // read, kept in pieces, and tried in vain
  await page
    .locator('[data-testid=delivery][data-waiting="1"]', { hasText: 'server away' })
    .waitFor({ timeout: 60_000 })
  await sleep(3000)
  await page.evaluate(() => {
    const long: number[] = []
    Object.assign(window, { long })
    new PerformanceObserver((list) => list.getEntries().forEach((e) => long.push(e.duration))).observe({
      type: 'longtask',
    })
  })
  for (const look of (await looks.all()).slice(0, 12)) {
    await look.click({ delay: PRESS_MS })
    await sleep(PAUSE_MS)
  }
  return page.evaluate(() => (window as unknown as { long: number[] }).long.reduce((sum, ms) => sum + ms, 0))
}

/** @returns largest paint of the bay, from an empty cache over the link */
async function openBay(browser: Browser, url: string): Promise<number> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
  const page = await context.newPage()
  const cdp = await context.newCDPSession(page)
  await cdp.send('Network.enable')
  await cdp.send('Network.emulateNetworkConditions', LINK)
  await cdp.send('Emulation.setCPUThrottlingRate', { rate: SLOWER })
  await page.goto(url)
  await page.locator('.bay-row').first().waitFor()
  await sleep(2500)
  const paint = await page.evaluate(
    () =>
      new Promise<number>((resolve) => {
        new PerformanceObserver((list) => resolve(list.getEntries().at(-1)!.startTime)).observe({
          type: 'largest-contentful-paint',
          buffered: true,
        })
      }),
  )
  await context.close()
  return paint
}

/** @throws Error when the server does not start, or does not take a car */
export async function tabletRun(): Promise<TabletRun> {
  await ensureChromium()
  const data = mkdtempSync(join(tmpdir(), 'uvula-slow-'))
  const port = await freePort()
  const url = `http://127.0.0.1:${port}`
  const server = await serve(data, port)
  const browser = await chromium.launch({ executablePath: CHROMIUM, args: ['--no-sandbox'] })
  try {
    await fillBay(url)
    const taps: number[] = []
    for (let turn = 0; turn < 3; turn++) {
      const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
      // the second turn takes back what the first said, the third says it again
      taps.push(...(await tapLooks(await context.newPage(), url)))
      await context.close()
    }
    const beside = await browser.newContext({ viewport: { width: 1280, height: 800 } })
    const besideLog = await tapBesideLog(await beside.newPage(), url)
    await beside.close()
    const screens: number[] = []
    for (let i = 0; i < SCREENS; i++) screens.push(await openBay(browser, url))
    const inOrder = (times: readonly number[]): number[] => [...times].sort((a, b) => a - b)
    return { taps: inOrder(taps), screens: inOrder(screens), besideLog }
  } finally {
    await browser.close()
    await end(server, 'SIGKILL')
    rmSync(data, { recursive: true, force: true })
  }
}
