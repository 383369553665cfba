import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Page } from '@playwright/test'
import { delivered, dropFile, expect, test } from './shop.js'

/** A long file goes in pieces of so much [bytes]. */
const UPLOAD_PIECE = 512 * 1024

/** Until the application can be opened without its server. */
const keptHere = (page: Page): Promise<unknown> =>
  page.evaluate(async () => {
    const { active } = await navigator.serviceWorker.ready
    for (let i = 0; i < 300 && active?.state !== 'activated'; i++) await new Promise((r) => setTimeout(r, 100))
    return active?.state
  })

test.describe('the server is switched off', () => {
  test.setTimeout(120_000)

  test('the application opens from the tablet, visits on hand are read and written, and all of it arrives once', async ({
    bay: page,
    shop,
  }) => {
    await page.goto(`${shop.url}/visit/visit-vet/arrive`)
    await expect(page.getByTestId('now')).toBeVisible()
    expect(await keptHere(page)).toBe('activated')
    await shop.kill()

    await page.reload()
    const rpm = page.locator('[data-channel=rpm] input')
    await rpm.fill('702')
    await rpm.press('Enter')
    await expect(page.getByTestId('delivery')).toContainText('server away, 1 kept here')
    // its number stands after the next reload, and on another stage opened by its address
    await page.reload()
    await expect(rpm).toHaveValue('702')
    await page.goto(`${shop.url}/visit/visit-vet/look`)
    await page.getByRole('radio', { name: 'Hose on both ends: sound' }).click()
    await expect(page.getByTestId('delivery')).toContainText('server away, 2 kept here')
    // the bay as it was seen last
    await page.goto(shop.url)
    await expect(page.getByRole('link', { name: /Vet's estate/ })).toBeVisible()

    await shop.start()
    await delivered(page)
    const file = await shop.get<{ readings: { value: number; version: number }[]; findings: { item?: string }[] }>(
      '/api/visits/visit-vet',
    )
    expect(file.readings.map((r) => [r.value, r.version])).toEqual([[702, 1]])
    expect(file.findings).toHaveLength(1)
  })

  test('screens that were never opened stand too: settings, a run, live data, a new car that is worked on', async ({
    bay: page,
    shop,
  }) => {
    await page.goto(`${shop.url}/visit/visit-vet/learn`)
    await expect(page.getByTestId('now')).toBeVisible()
    expect(await keptHere(page)).toBe('activated')
    await shop.kill()

    await page.goto(`${shop.url}/settings`)
    await expect(page.getByRole('textbox', { name: 'who works here' })).toBeVisible()
    await page.goto(`${shop.url}/visit/visit-vet/live`)
    await expect(page.getByRole('heading').first()).toBeVisible()
    await page.goto(`${shop.url}/new`)
    await page.getByRole('textbox', { name: 'plate', exact: true }).fill('val 999')
    await page.getByLabel('what people call it').fill('Beekeeper’s wagon')
    await page.keyboard.press('Enter')
    await expect(page.getByTestId('now')).toContainText('Tap what the customer feels')
    const address = page.url()
    await page.reload()
    await expect(page.getByTestId('now')).toContainText('Tap what the customer feels')
    await shop.start()
    await delivered(page)
    await page.goto(address)
    await expect(page.getByTestId('now')).toContainText('Tap what the customer feels')
    expect(await shop.get<{ vehicle: { plate: string } }>(`/api/visits/${address.split('/')[4]}`)).toMatchObject({
      vehicle: { plate: 'VAL 999' },
    })
  })

  test('a long recording goes on where it stopped: no piece is sent twice, and a tap beside it is on hand at once', async ({
    bay: page,
    shop,
  }) => {
    await page.goto(`${shop.url}/visit/visit-vet/measure`)
    await expect(page.getByTestId('now')).toBeVisible()
    expect(await keptHere(page)).toBe('activated')
    const rows = Array.from({ length: 200_000 }, (_, i) => `${(i / 10).toFixed(1)},${780 + (i % 5)},2.9,90`)
    const text = ['time_s,rpm,maf_gs,coolant_c', ...rows].join('\n')
    const path = join(shop.dir, 'long.csv')
    writeFileSync(path, text)
    // the server goes as the fourth piece is on its way
    const sent: number[] = []
    await page.route('**/api/uploads/**', async (route) => {
      const at = new URL(route.request().url()).searchParams.get('at')
      if (at !== null) {
        if (sent.length === 3) {
          sent.push(-1)
          await shop.kill()
        } else sent.push(Number(at))
      }
      await route.continue().catch(() => undefined)
    })
    await dropFile(page, path, 'long.csv')
    await expect(page.getByTestId('delivery')).toContainText('server away, 1 kept here', { timeout: 30_000 })
    await page.reload()
    const rpm = page.locator('[data-channel=rpm] input')
    await rpm.fill('702')
    await rpm.press('Enter')
    await expect(page.getByTestId('delivery')).toContainText('server away, 2 kept here')
    await shop.start()
    await delivered(page)
    const pieces = sent.filter((at) => at >= 0)
    expect(pieces).toEqual(Array.from({ length: Math.ceil(text.length / UPLOAD_PIECE) }, (_, k) => k * UPLOAD_PIECE))
    const { recordings, readings } = await shop.get<{
      recordings: { name: string; rows: number; bytes: number }[]
      readings: { value: number }[]
    }>('/api/visits/visit-vet')
    expect(recordings).toMatchObject([{ name: 'long.csv', rows: 200_000, bytes: text.length }])
    expect(readings).toMatchObject([{ value: 702 }])
  })
})
