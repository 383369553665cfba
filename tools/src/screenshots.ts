// npm run screenshots: one current picture of each main view, from the demo, into docs/screenshots.
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium, type Browser, type Page } from '@playwright/test'
import { root } from '../ready.mjs'
import { end, serve } from './built-server.js'
import { CHROMIUM, ensureChromium } from './chromium.js'

const PORT = 4319
const WIDE = { width: 1280, height: 800 }
const PHONE = { width: 390, height: 844 }

const VIEWS: readonly (readonly [name: string, path: string, viewport: typeof WIDE, theme: 'day' | 'night'])[] = [
  ['bay', '/', WIDE, 'day'],
  ['arrive', '/visit/visit-bakery/arrive', WIDE, 'day'],
  ['measure', '/visit/visit-library/measure', WIDE, 'day'],
  ['gauge', '/visit/visit-teacher/measure', WIDE, 'day'],
  ['recording', '/visit/visit-library/recording/visit-library:rec:0', WIDE, 'day'],
  ['trace-cause', '/visit/visit-library/trace', WIDE, 'day'],
  ['trace-place', '/visit/visit-choir/trace', WIDE, 'day'],
  ['station', '/visit/visit-choir/trace?at=booster', WIDE, 'night'],
  ['open-up', '/visit/visit-sawmill/open-up', WIDE, 'day'],
  ['clean', '/visit/visit-sawmill/clean', WIDE, 'day'],
  ['decarbonize', '/visit/visit-lift/decarbonize', WIDE, 'day'],
  ['new-car', '/new', WIDE, 'day'],
  ['prove', '/visit/visit-choir/prove', WIDE, 'day'],
  ['procedures', '/procedures', WIDE, 'day'],
  ['hand-over', '/visit/visit-choir/hand-over', WIDE, 'day'],
  ['look-phone', '/visit/visit-bakery/look', PHONE, 'day'],
]

/** What is pressed before a picture is taken. */
const PRESSED: Readonly<Record<string, readonly string[]>> = {
  decarbonize: ['extraction on', 'extinguisher at hand', 'cannot stop by itself'],
  gauge: ['vacuum gauge'],
  procedures: ['Teach the idle: key and pedal'],
}

/** What is typed before a picture is taken, by the label of its field. */
const TYPED: Readonly<Record<string, readonly (readonly [label: string, text: string])[]>> = {
  decarbonize: [['coolant', '90']],
  gauge: [['gauge vacuum', '57.5']],
}

/** Presses buttons by their words, the next unpressed one each time; without waiting for frames that a page in the back never paints. */
async function press(page: Page, words: readonly string[]): Promise<void> {
  for (const word of words) {
    await page.evaluate((w) => {
      const found = [...document.querySelectorAll('button')].find(
        (b) => b.textContent?.trim() === w && b.getAttribute('aria-checked') !== 'true',
      )
      // what a fresh reading tells is not asked for
      if (!found && w === 'seen to') return
      if (!found) throw new Error(`no button says "${w}"`)
      // names of views answer to the press, everything else to the click
      found.dispatchEvent(new MouseEvent('mousedown', { bubbles: true, button: 0 }))
      found.click()
    }, word)
    await page.waitForTimeout(150)
  }
}

/** A timed step while it runs. */
async function handsBusy(browser: Browser): Promise<void> {
  const page = await (await browser.newContext({ viewport: WIDE })).newPage()
  await page.goto(`http://127.0.0.1:${PORT}/visit/visit-warden/learn`)
  await page.getByText('arm attempt').waitFor()
  await press(page, ['seen to', 'seen to', 'seen to', 'seen to', 'seen to', 'arm attempt 2'])
  await page.getByText('begin').waitFor()
  await press(page, ['begin'])
  await page.waitForTimeout(1700)
  await page.screenshot({ path: join(root, 'docs/screenshots/hands-busy.png') })
  console.log('hands-busy')
}

/** The live bench of the vet's estate with its leak, two points got and the third being held. */
async function live(browser: Browser): Promise<void> {
  const at = `http://127.0.0.1:${PORT}`
  const post = (path: string, body: object): Promise<Response> =>
    fetch(`${at}/api/link/${path}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    })
  await post('stand-in', { visitId: 'visit-vet', faults: ['unmetered-air:areaMm2=2.5'], link: 'none' })
  const context = await browser.newContext({ viewport: WIDE })
  const page = await context.newPage()
  await page.goto(`${at}/visit/visit-vet/live`)
  await page.getByRole('button', { name: 'record', exact: true }).click()
  await page.locator('.led [data-slot="idle"][data-got="true"]').waitFor({ timeout: 60_000 })
  for (const [slot, rpm] of [
    ['hold-2500', 2500],
    ['hold-1500', 1500],
  ] as const) {
    await post('foot', { kind: 'hold', rpm })
    if (slot === 'hold-2500')
      await page.locator(`.led [data-slot="${slot}"][data-got="true"]`).waitFor({ timeout: 60_000 })
    else await page.waitForTimeout(8000)
  }
  await page.screenshot({ path: join(root, 'docs/screenshots/live.png') })
  await page.evaluate(() => localStorage.setItem('uvula-settings', JSON.stringify({ theme: 'night' })))
  await page.setViewportSize(PHONE)
  await page.reload()
  await page.waitForTimeout(5000)
  await page.screenshot({ path: join(root, 'docs/screenshots/live-phone.png') })
  await post('disconnect', {})
  console.log('live')
}

await ensureChromium()
const data = mkdtempSync(join(tmpdir(), 'uvula-shots-'))
const server = await serve(data, PORT)
try {
  const browser = await chromium.launch({
    executablePath: CHROMIUM,
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  })
  for (const [name, path, viewport, theme] of VIEWS) {
    const page = await (await browser.newContext({ viewport })).newPage()
    await page.addInitScript(
      (t) => localStorage.setItem('uvula-settings', JSON.stringify({ theme: t, technician: 'Runa' })),
      theme,
    )
    await page.goto(`http://127.0.0.1:${PORT}${path}`)
    await page.waitForLoadState('networkidle')
    await page.waitForTimeout(900)
    // a worker that is still at it
    await page.waitForFunction(() => !document.querySelector('.progress'))
    await press(page, PRESSED[name] ?? [])
    for (const [label, text] of TYPED[name] ?? []) {
      await page.getByLabel(label, { exact: true }).fill(text)
      await page.getByLabel(label, { exact: true }).blur()
    }
    if (PRESSED[name]) await page.waitForTimeout(400)
    await page.screenshot({ path: join(root, `docs/screenshots/${name}.png`) })
    await page.context().close()
    console.log(name)
  }
  await handsBusy(browser)
  await live(browser)
  await browser.close()
} finally {
  await end(server, 'SIGTERM')
  rmSync(data, { recursive: true, force: true })
}
