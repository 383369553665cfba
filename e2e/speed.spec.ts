import { gzipSync } from 'node:zlib'
import type { Page } from '@playwright/test'
import { measured } from './calm.js'
import { expect, test } from './shop.js'

// rounds that wait for a machine of their own
test.setTimeout(300_000)

const middleOf = (times: readonly number[]): number => [...times].sort((a, b) => a - b)[times.length >> 1]

test('first screen: painted within a second, under 250 kB of script, from an empty cache', async ({
  shop,
  browser,
}) => {
  let script = 0
  const once = async (): Promise<number> => {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
    const page = await context.newPage()
    const scripts: Promise<Buffer>[] = []
    page.on('response', (r) => {
      if (r.url().endsWith('.js')) scripts.push(r.body())
    })
    await page.goto(shop.url)
    await page.locator('.bay-row').first().waitFor()
    // a paint is told of a while after it was made
    await page.waitForTimeout(700)
    const paint = await page.evaluate(
      () =>
        new Promise<number>((resolve) => {
          new PerformanceObserver((list) => resolve(list.getEntries().at(-1)!.startTime)).observe({
            type: 'largest-contentful-paint',
            buffered: true,
          })
        }),
    )
    // what comes after is not of the first screen, and the page closes under it
    page.removeAllListeners('response')
    script = (await Promise.all(scripts)).reduce((sum, b) => sum + gzipSync(b).length, 0)
    await context.close()
    return paint
  }
  const medianOfFive = async (): Promise<number> => {
    const paints: number[] = []
    for (let i = 0; i < 5; i++) paints.push(await once())
    return middleOf(paints)
  }
  const paint = await measured(medianOfFive, (ms) => ms < 1000)
  console.log(`largest paint, median of five: ${paint.toFixed(0)} ms; script ${(script / 1024).toFixed(0)} kB`)
  expect(paint).toBeLessThan(1000)
  expect(script).toBeLessThan(250 * 1024)
})

test('a tap answers within 100 ms', async ({ bay: page, shop }) => {
  await page.goto(`${shop.url}/visit/visit-vet/look`)
  const times: number[] = []
  for (const n of [
    'Dust past the seal',
    'Oil-soft or collapsed',
    'Hose on both ends',
    'Cracks, caps on unused nipples',
    'Gasket streaks, vacuum hose on',
  ]) {
    const name = `${n}: sound`
    await page.getByRole('radio', { name }).waitFor()
    times.push(
      await page.evaluate(async (label) => {
        const shown = (): HTMLElement => document.querySelector<HTMLElement>(`[aria-label="${label}"]`)!
        const tapped = shown()
        const began = performance.now()
        tapped.click()
        // what is on the screen counts: the button may have been drawn anew meanwhile
        while (shown().getAttribute('aria-checked') !== 'true') {
          await new Promise((r) => requestAnimationFrame(r))
          if (performance.now() - began > 10_000)
            throw new Error(
              `${label}: not answered in ten seconds; the button tapped is still shown: ${tapped.isConnected}`,
            )
        }
        return performance.now() - began
      }, name),
    )
  }
  times.sort((a, b) => a - b)
  console.log(`tap to answer: ${times.map((t) => t.toFixed(0)).join(', ')} ms`)
  expect(times[2]).toBeLessThan(100)
})

test('a number typed is diagnosed anew within 50 ms in the worker, and answered within 100', async ({
  bay: page,
  shop,
}) => {
  await page.goto(`${shop.url}/visit/visit-vet/measure`)
  const durations = (): number[] => performance.getEntriesByName('diagnosis').map((e) => e.duration)
  /** From the typed number until its diagnosis is there to be shown. */
  const took = (): Promise<number[]> => page.evaluate(durations)
  /** What the worker takes of it. */
  const worked = (): Promise<number[]> =>
    page
      .workers()
      .find((w) => w.url().includes('heart.worker'))!
      .evaluate(durations)
  await page.locator('[data-channel=rpm] input').fill('690')
  await page.locator('[data-channel=maf_gs] input').fill('2.2')
  const trim = page.locator('[data-channel=ltft1_pct] input')
  // each number is new: one that was weighed before is not weighed again
  let typed = 0
  const round = async (numbers: number): Promise<Record<'worker' | 'middle' | 'most', number>> => {
    const from = (await took()).length
    const fromWorked = (await worked()).length
    for (let i = 0; i < numbers; i++) {
      const before = (await took()).length
      await trim.fill((5 + 0.1 * typed++).toFixed(1))
      await trim.press('Enter')
      await expect.poll(async () => (await took()).length).toBeGreaterThan(before)
    }
    const times = (await took()).slice(from).sort((a, b) => a - b)
    return {
      worker: middleOf((await worked()).slice(fromWorked)),
      middle: middleOf(times),
      most: times[Math.floor(0.95 * (times.length - 1))],
    }
  }
  // the first ones start the worker and compile it
  await expect.poll(() => page.workers().some((w) => w.url().includes('heart.worker'))).toBe(true)
  await round(6)
  const best = await measured(
    () => round(20),
    (r) => r.worker < 50 && r.middle < 100 && r.most < 120,
  )
  console.log(
    `diagnosis after a typed number: middle ${best.worker.toFixed(0)} ms in the worker, ` +
      `${best.middle.toFixed(0)} ms until it is there, 95 % within ${best.most.toFixed(0)} ms`,
  )
  expect(best.worker).toBeLessThan(50)
  expect(best.middle).toBeLessThan(100)
  expect(best.most).toBeLessThan(120)
})

test('no page of a visit is wider than a phone, and no text is under 16 px', async ({ bay: page, shop }) => {
  for (const stage of ['arrive', 'look', 'measure', 'trace', 'prove', 'hand-over']) {
    await page.setViewportSize({ width: 390, height: 844 })
    await page.goto(`${shop.url}/visit/visit-choir/${stage}`)
    await page.getByTestId('now').waitFor()
    expect([stage, await page.evaluate(() => document.documentElement.scrollWidth)]).toEqual([stage, 390])
    await page.setViewportSize({ width: 1280, height: 800 })
    const small = await page.evaluate(() =>
      [...document.querySelectorAll('body *')]
        .filter(
          (e) => [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent!.trim()) && e.getClientRects().length,
        )
        .filter((e) => !e.closest('svg') && parseFloat(getComputedStyle(e).fontSize) < 16)
        .map((e) => e.textContent),
    )
    expect([stage, small]).toEqual([stage, []])
  }
})

test('live data at ten rows a second: a tap answers within 100 ms, no row is dropped', async ({ bay: page, shop }) => {
  await page.goto(`${shop.url}/visit/visit-vet/live`)
  await page.getByRole('button', { name: 'stand it up and connect' }).click()
  await page.getByRole('button', { name: 'record', exact: true }).click({ timeout: 20_000 })
  await page.waitForTimeout(4000)
  const times: number[] = []
  for (let n = 0; n < 6; n++) {
    times.push(
      await page.evaluate(async () => {
        const buttons = [...document.querySelectorAll<HTMLElement>('.live-side [role=tab]')]
        const button = buttons.find((b) => b.getAttribute('aria-selected') !== 'true')!
        const began = performance.now()
        button.dispatchEvent(new MouseEvent('mousedown', { bubbles: true, button: 0 }))
        while (button.getAttribute('aria-selected') !== 'true') await new Promise((r) => requestAnimationFrame(r))
        return performance.now() - began
      }),
    )
    await page.waitForTimeout(400)
  }
  times.sort((a, b) => a - b)
  console.log(
    `tap to answer with live data, middle of six: ${times[3].toFixed(0)} ms, longest ${times[5].toFixed(0)} ms`,
  )
  expect(times[3]).toBeLessThan(100)
  await expect(page.locator('.link-word')).toContainText('rows a second')
  await expect(page.locator('.link-word')).not.toContainText('dropped')
})

/** From a tap on a link until what it leads to stands in the page [ms]. */
async function opened(page: Page, link: string, shows: string): Promise<number> {
  return page.evaluate(
    async ([from, to]) => {
      const began = performance.now()
      document.querySelector<HTMLElement>(from)!.click()
      while (!document.querySelector(to)) await new Promise((r) => requestAnimationFrame(r))
      return performance.now() - began
    },
    [link, shows],
  )
}

test('the sheet is computed and shown within 300 ms', async ({ bay: page, shop }) => {
  const round = async (): Promise<number> => {
    const times: number[] = []
    for (let i = 0; i < 5; i++) {
      await page.goto(`${shop.url}/visit/visit-library/prove`)
      await page.locator('a[href$="/hand-over"]').first().waitFor()
      // nobody hands over within three seconds of opening a visit
      await page.waitForTimeout(3000)
      times.push(await opened(page, 'a[href$="/hand-over"]', 'article[aria-label=sheet]'))
    }
    console.log(`sheet shown: ${times.map((t) => t.toFixed(0)).join(', ')} ms`)
    return middleOf(times)
  }
  expect(await measured(round, (ms) => ms < 300)).toBeLessThan(300)
})

test('the history of forty visits is drawn within 200 ms', async ({ bay: page, shop }) => {
  const { vehicle } = await shop.get<{ vehicle: { id: string } }>('/api/visits/visit-teacher')
  const put = async (noun: string, id: string, data: object): Promise<void> => {
    const answer = await fetch(`${shop.url}/api/${noun}/${encodeURIComponent(id)}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json', 'idempotency-key': `forty ${id}` },
      body: JSON.stringify({ by: 'Ebbe', at: new Date().toISOString(), baseVersion: 0, ...data }),
    })
    expect([answer.status, await answer.text()]).toEqual([200, expect.any(String)])
  }
  for (let i = 0; i < 39; i++) {
    const id = `visit-past-${i}`
    await put('visits', id, {
      vehicleId: vehicle.id,
      openedAt: new Date(Date.UTC(2020, i, 3)).toISOString(),
      state: 'handed-over',
      intent: 'check-up',
      complaint: 'yearly look',
      signs: [],
      conditions: [],
      odometerKm: 1000 * i,
      altitudeM: 1180,
      ambientC: 9,
    })
    for (const [channel, value] of Object.entries({
      rpm: 710,
      maf_gs: 2.1,
      stft1_pct: 1,
      ltft1_pct: i / 10,
      throttle_pct: 2,
    }))
      await put('readings', `${id}:0:idle:${channel}`, {
        visitId: id,
        round: 0,
        slot: 'idle',
        channel,
        value,
        typed: String(value),
      })
  }
  await page.goto(`${shop.url}/visit/visit-teacher/arrive`)
  // by then the other screens have come
  await page.waitForTimeout(6000)
  const round = async (): Promise<number> => {
    const times: number[] = []
    for (let i = 0; i < 6; i++) {
      await page.locator('a[href^="/car/"]').first().waitFor()
      times.push(await opened(page, 'a[href^="/car/"]', 'section[aria-label="what drifts"] canvas'))
      expect(await page.locator('a[href*="/visit/visit-past-"]').count()).toBe(39)
      await page.goBack()
    }
    const [first, ...later] = times
    console.log(
      `history of forty visits: first ${first.toFixed(0)}, later ${later.map((t) => t.toFixed(0)).join(', ')} ms`,
    )
    return middleOf(later)
  }
  expect(await measured(round, (ms) => ms < 200)).toBeLessThan(200)
})
