import type { Page } from '@playwright/test'
import { delivered, expect, test, type Shop } from './shop.js'

interface File {
  readonly readings: readonly {
    readonly id: string
    readonly value: number
    readonly by: string
    readonly version: number
  }[]
  readonly counts: readonly { readonly thing: string; readonly putIn: number; readonly takenOut: number }[]
  readonly findings: readonly { readonly note?: string }[]
}
const RPM = 'visit-vet:0:idle:rpm'
const vet = (shop: Shop): Promise<File> => shop.get<File>('/api/visits/visit-vet')
const rpm = async (shop: Shop): Promise<number | undefined> =>
  (await vet(shop)).readings.find((r) => r.id === RPM)?.value

async function typeRpm(page: Page, text: string): Promise<void> {
  await page.locator('[data-channel=rpm] input').fill(text)
  await page.keyboard.press('Enter')
}

/** A colleague's entry, from another tablet. */
const colleague = (shop: Shop, value: number, baseVersion: number): Promise<Response> =>
  fetch(`${shop.url}/api/readings/${encodeURIComponent(RPM)}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json', 'idempotency-key': `colleague-${value}` },
    body: JSON.stringify({
      baseVersion,
      by: 'Runa',
      at: '2026-01-01T10:41:00Z',
      visitId: 'visit-vet',
      round: 0,
      slot: 'idle',
      channel: 'rpm',
      value,
      typed: String(value),
    }),
  })

test('a hose plug is counted in and out, and the gap between is seen', async ({ bay: page, shop }) => {
  await page.goto(`${shop.url}/visit/visit-vet/open-up`)
  const plug = page.locator('[data-count="hose plug"]')
  await page.getByRole('tab', { name: 'counted in' }).click()
  await plug.getByRole('button', { name: 'hose plug in' }).click()
  await plug.getByRole('button', { name: 'hose plug in' }).click()
  await expect(plug).toContainText('0/2')
  await delivered(page)
  await page.goto(`${shop.url}/visit/visit-vet/close-up`)
  await expect(page.getByRole('alert')).toContainText('hose plug: 2 in, 0 out')
  await page.getByRole('tab', { name: 'counted out' }).click()
  await plug.getByRole('button', { name: 'hose plug out' }).click()
  await plug.getByRole('button', { name: 'hose plug out' }).click()
  await expect(page.getByText('Closed: nothing off')).toBeVisible()
  await delivered(page)
  const { counts } = await vet(shop)
  expect(counts.map((c) => c.putIn - c.takenOut).reduce((a, b) => a + b)).toBe(0)
  expect(counts).toHaveLength(4)
})

test('two tablets on one reading: both values are seen, and one is chosen', async ({ bay: page, shop }) => {
  await page.goto(`${shop.url}/visit/visit-vet/arrive`)
  await typeRpm(page, '668')
  await delivered(page)
  // offline it is corrected twice; the colleague corrects it once meanwhile
  await page.route('**/api/readings/**', (r) => r.abort())
  await typeRpm(page, '690')
  await typeRpm(page, '695')
  await expect(page.getByTestId('delivery')).toContainText('2 kept here')
  expect((await colleague(shop, 650, 1)).status).toBe(200)
  await page.unroute('**/api/readings/**')
  // nothing is overwritten: both stand side by side, with who and when
  const stuck = page.locator('[data-channel=rpm]').getByTestId('stuck')
  await expect(stuck).toHaveCount(1, { timeout: 15_000 })
  // at its own field, and not above the bench as well
  await expect(page.getByRole('alert', { name: 'not taken' })).toHaveCount(0)
  await expect(stuck).toContainText('695')
  await expect(stuck).toContainText('650')
  await expect(stuck).toContainText('Runa')
  expect(await rpm(shop)).toBe(650)
  await stuck.getByRole('button', { name: /keep mine: 695/ }).click()
  await delivered(page)
  expect(await rpm(shop)).toBe(695)

  // and the other way round
  await page.route('**/api/readings/**', (r) => r.abort())
  await typeRpm(page, '700')
  expect((await colleague(shop, 640, 4)).status).toBe(200)
  await page.unroute('**/api/readings/**')
  await stuck.getByRole('button', { name: /keep the other: 640/ }).click({ timeout: 15_000 })
  await delivered(page)
  await expect(page.locator('[data-channel=rpm] input')).toHaveValue('640')
})

test('what the server cannot take stays where it was entered, with its text and the reason', async ({
  bay: page,
  shop,
}) => {
  await page.goto(`${shop.url}/visit/visit-vet/arrive`)
  await page.route('**/api/readings/**', (r) =>
    r.fulfill({
      status: 400,
      contentType: 'application/problem+json',
      body: JSON.stringify({
        type: 'uvula:bad-field',
        title: 'Not accepted',
        status: 400,
        detail: 'value: no, not 668',
      }),
    }),
  )
  await typeRpm(page, '668')
  await expect(page.getByRole('alert', { name: 'not taken' })).toContainText('value: no, not 668')
  await expect(page.locator('[data-channel=rpm]')).toContainText('value: no, not 668')
  await page.reload()
  await expect(page.locator('[data-channel=rpm] input')).toHaveValue('668')
  await expect(page.getByTestId('delivery')).toContainText('1 to decide')
  await page.unroute('**/api/readings/**')
  await page.getByRole('alert', { name: 'not taken' }).getByRole('button', { name: 'try again' }).click()
  await delivered(page)
  expect(await rpm(shop)).toBe(668)
})

test('a part of the screen that cannot be loaded says so', async ({ page, shop }) => {
  await page.goto(shop.url)
  await page.getByRole('link', { name: /Vet's estate/ }).waitFor()
  await shop.kill()
  await page.getByRole('link', { name: /Vet's estate/ }).click()
  await expect(page.getByText('could not be loaded')).toBeVisible()
  await shop.start()
  await page.getByRole('button', { name: 'try again' }).click()
  await expect(page.getByTestId('now')).toBeVisible()
})

for (const [width, height] of [
  [640, 400],
  [1280, 420],
  [390, 420],
] as const)
  test(`a bench in a window of ${width} by ${height} can be worked in`, async ({ bay: page, shop }) => {
    await page.setViewportSize({ width, height })
    await page.goto(`${shop.url}/visit/visit-vet/arrive`)
    const input = page.locator('[data-channel=rpm] input')
    await input.scrollIntoViewIfNeeded()
    const bench = (await page.locator('.visit-bench').boundingBox())!
    expect(bench.height).toBeGreaterThan(300)
    await input.fill('668')
    await page.keyboard.press('Enter')
    await delivered(page)
    expect(await rpm(shop)).toBe(668)
  })

test('a tablet three hours ahead: told, and both tablets count the same timer down', async ({
  bay: page,
  shop,
  browser,
}) => {
  const ahead = await browser.newPage()
  await ahead.addInitScript((ms) => {
    const now = Date.now.bind(Date)
    const Plain = Date
    const Skewed = class extends Plain {
      constructor(...a: ConstructorParameters<typeof Date> | []) {
        super(...((a.length ? a : [now() + ms]) as ConstructorParameters<typeof Date>))
      }
      static override now = (): number => now() + ms
    }
    globalThis.Date = Skewed as DateConstructor
    const began = performance.timeOrigin
    Object.defineProperty(performance, 'timeOrigin', { get: () => began + ms })
  }, 3 * 3_600_000)
  const at = `${shop.url}/visit/visit-sawmill/measure`
  await Promise.all([ahead.goto(at), page.goto(at)])
  await expect(ahead.getByTestId('clock')).toHaveText('this clock is 3 h 0 min ahead: corrected')
  await expect(page.getByTestId('clock')).toBeHidden()
  const left = async (p: Page): Promise<number> => Number(await p.locator('[data-timer]').getAttribute('data-left'))
  await expect.poll(async () => Math.abs((await left(page)) - (await left(ahead)))).toBeLessThan(1.5)
  expect(await left(ahead)).toBeGreaterThan(0)
  // what it enters stands in the shop's time
  await typeRpm(ahead, '701')
  await delivered(ahead)
  const { readings } = await shop.get<{ readings: { value: number; at: string }[] }>('/api/visits/visit-sawmill')
  const typed = readings.find((r) => r.value === 701)!
  expect(Math.abs(Date.parse(typed.at) - Date.now())).toBeLessThan(60_000)
  await ahead.close()
})
