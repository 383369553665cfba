// A tablet whose server is away: entries are made for minutes, the page is loaded anew, closed and opened again; then the server
// comes back, is killed once more while it takes them, and everything must be there once.
import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium } from '@playwright/test'
import { ensureChromium } from './chromium.mjs'
import { freePort } from './free-port.mjs'
import { root } from './ready.mjs'

const sleep = (ms) => new Promise((r) => setTimeout(r, ms))
const VISIT = 'visit-vet'
/** The page of the bench keeps what opens it without the server so long after it was opened [ms]. */
const KEPT_AFTER_MS = 15_000
const FIELDS = ['rpm', 'maf_gs', 'stft1_pct', 'ltft1_pct', 'stft2_pct', 'ltft2_pct', 'throttle_pct']
const SLOTS = [/^warm idle/, /^1500 held/, /^2500 held/]
/** Figures that a field takes. */
const figureOf = { rpm: 700, maf_gs: 3, throttle_pct: 4 }

/** Starts the built server on a folder. */
async function serve(data, port) {
  const child = spawn(process.execPath, ['server/dist/main.js'], {
    cwd: root,
    env: { ...process.env, PORT: String(port), UVULA_DATA: data },
    stdio: ['ignore', 'ignore', 'inherit'],
  })
  for (let i = 0; i < 600; i++) {
    const up = await fetch(`http://127.0.0.1:${port}/api/shop`).then(
      (r) => r.ok,
      () => false,
    )
    if (up) return child
    await sleep(100)
  }
  throw new Error('the server did not start')
}
const kill = (child) => new Promise((r) => child.once('exit', r).kill('SIGKILL'))

/** @param minutes - that the server is away; @returns entries made, those lost, those written more than once */
export async function offlineRun({ minutes }) {
  await ensureChromium()
  const [data, profile] = ['uvula-away-', 'uvula-tablet-'].map((name) => mkdtempSync(join(tmpdir(), name)))
  const port = await freePort()
  const url = `http://127.0.0.1:${port}/visit/${VISIT}/measure`
  let server = await serve(data, port)
  let tablet
  const open = async () => {
    tablet = await chromium.launchPersistentContext(profile, {
      executablePath: '/usr/bin/chromium',
      args: ['--no-sandbox'],
      viewport: { width: 1280, height: 800 },
    })
    const page = tablet.pages()[0] ?? (await tablet.newPage())
    await page.goto(url)
    await page.getByTestId('now').waitFor()
    return page
  }
  /** What each field was given last, by its slot and channel. */
  const given = new Map()
  let made = 0
  const enter = async (page) => {
    const slot = SLOTS[made % SLOTS.length]
    const channel = FIELDS[Math.floor(made / SLOTS.length) % FIELDS.length]
    await page.getByRole('radio', { name: slot }).click()
    const value = (figureOf[channel] ?? 1) + (made % 90) / 10
    const field = page.locator(`[data-channel=${channel}] input`)
    await field.fill(String(value))
    await field.press('Enter')
    given.set(`${String(slot)} ${channel}`, value)
    made++
  }
  try {
    let page = await open()
    await sleep(KEPT_AFTER_MS)
    await kill(server)
    const until = Date.now() + minutes * 60_000
    for (let turn = 0; Date.now() < until; turn++) {
      for (let i = 0; i < 8 && Date.now() < until; i++) {
        await enter(page)
        await sleep(400)
      }
      // loaded anew, or closed and opened again, without the server
      if (turn % 2 === 0) await page.reload()
      else {
        await tablet.close()
        page = await open()
      }
      await page.getByTestId('now').waitFor()
    }
    const waiting = Number(await page.getByTestId('delivery').getAttribute('data-waiting'))
    server = await serve(data, port)
    await sleep(700)
    await kill(server)
    server = await serve(data, port)
    await page.locator('[data-testid=delivery][data-waiting="0"]').waitFor({ timeout: 120_000 })
    const { readings } = await (await fetch(`http://127.0.0.1:${port}/api/visits/${VISIT}`)).json()
    const slotOf = { [SLOTS[0]]: 'idle', [SLOTS[1]]: 'hold-1500', [SLOTS[2]]: 'hold-2500' }
    let lost = 0
    for (const [key, value] of given) {
      const at = key.lastIndexOf(' ')
      const [slot, channel] = [slotOf[key.slice(0, at)], key.slice(at + 1)]
      const kept = readings.find((r) => r.slot === slot && r.channel === channel && r.round === 0)
      if (Math.abs((kept?.value ?? NaN) - value) > 0.051 || kept === undefined) lost++
    }
    // each entry is one version of its reading: more versions than entries were written twice
    const versions = readings.filter((r) => given.size && r.round === 0).reduce((n, r) => n + r.version, 0)
    return { made, waiting, lost, versions, fields: given.size }
  } finally {
    await tablet?.close().catch(() => undefined)
    server.kill('SIGKILL')
    for (const dir of [data, profile]) rmSync(dir, { recursive: true, force: true })
  }
}
