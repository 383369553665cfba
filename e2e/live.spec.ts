import { connect } from 'node:net'
import { delivered, expect, test } from './shop.js'

interface VisitRecordings {
  readonly recordings: readonly {
    readonly name: string
    readonly rows: number
    readonly points: readonly { readonly kind: string; readonly rpm: number }[]
  }[]
  readonly codes: readonly { readonly code: string; readonly cleared: boolean }[]
}

test('a leaking car: led through the points, the diagnosis moves, the link is lost and comes back, all is kept', async ({
  bay: page,
  shop,
}) => {
  test.setTimeout(150_000)
  await page.goto(`${shop.url}/visit/visit-vet/measure`)
  const had = (await shop.get<VisitRecordings>('/api/visits/visit-vet')).recordings.length
  await page.getByRole('link', { name: 'live data' }).click()
  await page.getByRole('radio', { name: 'Air let in behind the throttle' }).click()
  await page.getByRole('button', { name: 'stand it up and connect' }).click()
  await expect(page.locator('.link-word')).toContainText('rows a second', { timeout: 10_000 })
  await expect(page.locator('[data-figure="maf_gs"] .figure-value')).toHaveText(/\d/)

  await page.getByRole('button', { name: 'record', exact: true }).click()
  const target = page.getByRole('region', { name: 'point to hold' })
  await expect(target).toHaveAttribute('data-slot', 'idle')
  const got = (slot: string): ReturnType<typeof page.locator> => page.locator(`.led button[data-slot="${slot}"]`)
  await expect(got('idle')).toHaveAttribute('data-got', 'true', { timeout: 25_000 })
  const lead = page.locator('.so-far [data-fault]').first()
  const share = async (): Promise<number> => Number((await lead.locator('.fig').innerText()).replace(/[^\d]/g, ''))
  const afterIdle = [await lead.getAttribute('data-fault'), await share()]

  // led on: too slow for it, then on it, then got
  await page.getByRole('radio', { name: '2500', exact: true }).click()
  await expect(target).toHaveAttribute('data-slot', 'hold-2500', { timeout: 10_000 })
  await page.keyboard.press('m')
  await expect(page.getByRole('button', { name: 'mark 1' })).toBeVisible()
  await expect(got('hold-2500')).toHaveAttribute('data-got', 'true', { timeout: 30_000 })
  await expect(lead).toHaveAttribute('data-fault', 'unmetered-air')
  await expect.poll(async () => [await lead.getAttribute('data-fault'), await share()]).not.toEqual(afterIdle)
  // the points come one after another, and each moves it
  await expect.poll(share, { timeout: 20_000 }).toBeGreaterThan(70)

  await page.locator('.live-side').getByRole('tab', { name: 'codes', exact: true }).click()
  await page.getByRole('radio', { name: 'idle', exact: true }).click()
  await page.getByRole('button', { name: 'read codes' }).click()
  await expect(page.locator('[data-code="P0171"]')).toContainText('bank 1 lean')
  await expect(page.locator('.frame')).toContainText('long trim 1')
  await page.getByRole('button', { name: 'clear', exact: true }).click()
  await expect(page.getByText(/An inspection then needs completed drive cycles/)).toBeVisible()
  await page.waitForTimeout(2000)
  await page.getByRole('button', { name: 'clear them' }).click()
  await expect(page.locator('[data-code="P0171"]')).toHaveAttribute('data-state', 'permanent')
  await expect(page.getByText(/Not ready: .*catalyst/)).toBeVisible()

  await page.getByRole('radio', { name: 'pull the plug' }).click()
  await expect(page.locator('.link-word')).toContainText('link lost')
  await expect(page.locator('.figures')).toHaveAttribute('data-fresh', 'false')
  await expect(page.getByText(/what was recorded is here/)).toBeVisible()
  const rows = async (): Promise<number> => Number(await page.locator('.record').getAttribute('data-rows'))
  const atLoss = await rows()
  await page.getByRole('radio', { name: 'sound link' }).click()
  await expect(page.locator('.link-word')).toContainText('rows a second', { timeout: 20_000 })
  await expect.poll(rows).toBeGreaterThan(atLoss + 5)
  expect(await page.locator('.link-word').innerText()).not.toContain('dropped')

  await page.getByRole('button', { name: 'keep it' }).click()
  await delivered(page)
  const file = await shop.get<VisitRecordings>('/api/visits/visit-vet')
  expect(file.recordings.length).toBe(had + 1)
  const kept = file.recordings.at(-1)!
  expect(kept.name).toMatch(/^simulated /)
  expect(kept.rows).toBeGreaterThan(atLoss)
  expect(kept.points.map((p) => p.kind)).toEqual(expect.arrayContaining(['idle', 'hold']))
  expect(file.codes.filter((c) => c.cleared).map((c) => c.code)).toEqual(expect.arrayContaining(['P0171', 'P0174']))
})

test('a closed page and a dead server take nothing of a recording away', async ({ bay: page, shop }) => {
  test.setTimeout(90_000)
  await page.goto(`${shop.url}/visit/visit-vet/live`)
  await page.getByRole('button', { name: 'stand it up and connect' }).click()
  await page.getByRole('button', { name: 'record', exact: true }).click({ timeout: 15_000 })
  const rows = async (): Promise<number> => Number(await page.locator('.record').getAttribute('data-rows'))
  await expect.poll(rows, { timeout: 15_000 }).toBeGreaterThan(60)
  const before = await rows()
  await page.reload()
  await expect.poll(rows, { timeout: 15_000 }).toBeGreaterThan(before)
  await shop.kill()
  await expect(page.locator('.link-word')).toContainText('server out of reach')
  const atDeath = await rows()
  expect(atDeath).toBeGreaterThan(before)
  await shop.start()
  // the link went with the server; what was recorded is still to be kept
  await expect(page.locator('.link-word')).not.toContainText('out of reach', { timeout: 20_000 })
  expect(await rows()).toBe(atDeath)
  await page.getByRole('button', { name: 'keep it' }).click()
  await delivered(page)
  const { recordings } = await shop.get<VisitRecordings>('/api/visits/visit-vet')
  expect(recordings.at(-1)!.rows).toBe(atDeath)
})

test('a car at an address: nothing is recorded before the STOP cautions are ticked, a second tool is turned away', async ({
  bay: page,
  shop,
}) => {
  const car = await shop.vehicle('visit-vet')
  await page.goto(`${shop.url}/visit/visit-vet/live`)
  await page.getByLabel('address and port').fill(`127.0.0.1:${car.port}`)
  await page.getByRole('button', { name: 'connect', exact: true }).click()
  await expect(page.locator('.link-word')).toContainText('rows a second', { timeout: 15_000 })
  const record = page.getByRole('button', { name: 'record', exact: true })
  await expect(record).toBeDisabled()
  await expect(page.locator('.record')).toContainText('Exhaust gas kills')
  await page.locator('.record').getByRole('checkbox', { name: 'seen to' }).first().click()
  await expect(record).toBeDisabled()
  await page.locator('.record').getByRole('checkbox', { name: 'seen to' }).click()
  await record.click()
  await expect.poll(async () => Number(await page.locator('.record').getAttribute('data-rows'))).toBeGreaterThan(5)
  // one tool at a time: the second is hung up on, the first goes on
  const second = connect(car.port, '127.0.0.1')
  await new Promise((r) => second.once('close', r))
  await expect(page.locator('.link-word')).toContainText('rows a second')
  // the car goes: what was recorded is named as live, and kept
  car.stop()
  await expect(page.locator('.link-word')).toContainText('link lost')
  await page.getByRole('button', { name: 'keep it' }).click()
  await delivered(page)
  const { recordings } = await shop.get<VisitRecordings>('/api/visits/visit-vet')
  expect(recordings.at(-1)!.name).toMatch(/^live /)
})

test('nobody at the address, and no address: said in words', async ({ bay: page, shop }) => {
  await page.goto(`${shop.url}/visit/visit-vet/live`)
  const address = page.getByLabel('address and port')
  await address.fill('somewhere')
  await page.getByRole('button', { name: 'connect', exact: true }).click()
  await expect(page.getByRole('alert')).toContainText('no address')
  await address.fill('127.0.0.1:9')
  await page.getByRole('button', { name: 'connect', exact: true }).click()
  await expect(page.locator('.link-word')).toContainText(
    'no link yet, trying again. No vehicle answers at 127.0.0.1:9',
    { timeout: 10_000 },
  )
  await page.getByRole('button', { name: 'disconnect' }).click()
  await expect(address).toBeVisible()
})
