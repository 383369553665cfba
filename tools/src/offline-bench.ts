// A tablet whose server is away: entries are made for minutes, the page is loaded anew, closed and opened again; then the server
// comes back, is killed once more while it takes them, and everything must be there once.
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium, type BrowserContext, type Page } from '@playwright/test'
import { end, serve, sleep } from './built-server.js'
import { CHROMIUM, ensureChromium } from './chromium.js'
import { freePort } from './free-port.js'

const VISIT = 'visit-vet'
/** The page of the bench keeps what opens it without the server so long after it was opened [ms]. */
const KEPT_AFTER_MS = 15_000
const FIELDS = ['rpm', 'maf_gs', 'stft1_pct', 'ltft1_pct', 'stft2_pct', 'ltft2_pct', 'throttle_pct'] as const
/** Points and the words on their tabs. */
const SLOTS = [
  ['idle', /^warm idle/],
  ['hold-1500', /^1500 held/],
  ['hold-2500', /^2500 held/],
] as const
/** Figures that a field takes. */
const figureOf: Partial<Record<(typeof FIELDS)[number], number>> = { rpm: 700, maf_gs: 3, throttle_pct: 4 }

/** Entries made and still waiting when the server came back; fields that are not as they were given last; versions that their readings have. */
export interface OfflineRun {
  readonly made: number
  readonly waiting: number
  readonly lost: number
  readonly versions: number
}

/** Of a reading what is compared. */
interface Kept {
  readonly round: number
  readonly slot: string
  readonly channel: string
  readonly value: number
  readonly version: number
}

/** @param minutes - that the server is away; @returns entries made, those lost, those written more than once */
export async function offlineRun({ minutes }: { minutes: number }): Promise<OfflineRun> {
  await ensureChromium()
  const [data, profile] = ['uvula-away-', 'uvula-tablet-'].map((name) => mkdtempSync(join(tmpdir(), name)))
  const port = await freePort()
  const url = `http://127.0.0.1:${port}/visit/${VISIT}/measure`
  let server = await serve(data, port)
  let tablet: BrowserContext | undefined
  const open = async (): Promise<Page> => {
    tablet = await chromium.launchPersistentContext(profile, {
      executablePath: CHROMIUM,
      args: ['--no-sandbox'],
      viewport: { width: 1280, height: 800 },
    })
    const page = tablet.pages()[0] ?? (await tablet.newPage())
    await page.goto(url)
    await page.getByTestId('now').waitFor()
    return page
  }
  /** What each field was given last, by its slot and channel. */
  const given = new Map<string, number>()
  let made = 0
  const enter = async (page: Page): Promise<void> => {
    const [slot, words] = SLOTS[made % SLOTS.length]
    const channel = FIELDS[Math.floor(made / SLOTS.length) % FIELDS.length]
    await page.getByRole('radio', { name: words }).click()
    const value = (figureOf[channel] ?? 1) + (made % 90) / 10
    const field = page.locator(`[data-channel=${channel}] input`)
    await field.fill(String(value))
    await field.press('Enter')
    given.set(`${slot} ${channel}`, value)
    made++
  }
  try {
    let page = await open()
    await sleep(KEPT_AFTER_MS)
    await end(server, 'SIGKILL')
    const until = Date.now() + minutes * 60_000
    for (let turn = 0; Date.now() < until; turn++) {
      for (let i = 0; i < 8 && Date.now() < until; i++) {
        await enter(page)
        await sleep(400)
      }
      // loaded anew, or closed and opened again, without the server
      if (turn % 2 === 0) await page.reload()
      else {
        await tablet?.close()
        page = await open()
      }
      await page.getByTestId('now').waitFor()
    }
    const waiting = Number(await page.getByTestId('delivery').getAttribute('data-waiting'))
    server = await serve(data, port)
    await sleep(700)
    await end(server, 'SIGKILL')
    server = await serve(data, port)
    await page.locator('[data-testid=delivery][data-waiting="0"]').waitFor({ timeout: 120_000 })
    const { readings } = (await (await fetch(`http://127.0.0.1:${port}/api/visits/${VISIT}`)).json()) as {
      readings: Kept[]
    }
    const first = readings.filter((r) => r.round === 0)
    const lost = [...given].filter(([key, value]) => {
      const kept = first.find((r) => `${r.slot} ${r.channel}` === key)
      return !kept || Math.abs(kept.value - value) > 0.051
    }).length
    // each entry is one version of its reading: more versions than entries were written twice
    const versions = first.reduce((n, r) => n + r.version, 0)
    return { made, waiting, lost, versions }
  } finally {
    await tablet?.close().catch(() => undefined)
    await end(server, 'SIGKILL')
    for (const dir of [data, profile]) rmSync(dir, { recursive: true, force: true })
  }
}
