import type { Browser, Page } from '@playwright/test'
import { findings } from './findings.js'
import { delivered, expect, test, type Shop } from './shop.js'

const NETWORK = 'tablets on the shop’s network'

/** Opens the shop to its network at its own computer, with Runa as its owner. */
async function openToNetwork(bay: Page): Promise<void> {
  await bay.getByRole('link', { name: 'settings' }).click()
  const network = bay.getByRole('region', { name: NETWORK })
  await network.getByLabel('passphrase that lets tablets in').fill('seven grey herons')
  await network.getByLabel('first owner').fill('Runa')
  await network.getByLabel('PIN of the owner').fill('4711')
  await network.getByRole('button', { name: 'open the shop to its network' }).click()
  await expect(network).toContainText('Open at https://127.0.0.1:')
}

/** Somebody who may sign in from now on. */
async function takeIn(bay: Page, name: string, pin: string): Promise<void> {
  await bay.getByRole('button', { name: 'somebody else' }).click()
  const sheet = bay.getByRole('dialog')
  await sheet.getByLabel('name').fill(name)
  await sheet.getByLabel('PIN').fill(pin)
  await sheet.getByRole('button', { name: 'take in' }).click()
  await expect(bay.getByRole('region', { name: NETWORK })).toContainText(`${name} technician`)
}

async function codeOf(bay: Page): Promise<string> {
  await bay.getByRole('button', { name: 'let a tablet in' }).click()
  const code = (await bay.getByTestId('code').textContent())!
  await bay.getByRole('button', { name: 'done' }).click()
  return code
}

/** A tablet that has installed the shop's certificate: its browser takes it. */
async function tablet(browser: Browser): Promise<Page> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, ignoreHTTPSErrors: true })
  return context.newPage()
}

async function signIn(page: Page, name: string, pin: string): Promise<void> {
  const gate = page.getByRole('dialog', { name: 'Who works on this tablet' })
  await gate.getByRole('radio', { name }).click()
  for (const digit of pin) await gate.getByRole('button', { name: digit, exact: true }).click()
  await gate.getByRole('button', { name: 'sign in' }).click()
  await expect(gate).toBeHidden()
}

const at = (shop: Shop, path: string): string => `https://127.0.0.1:${shop.networkPort}${path}`

test('a tablet is let in by a code, its hands sign in, and every entry says whose it is', async ({
  bay,
  shop,
  browser,
}) => {
  test.setTimeout(120_000)
  await openToNetwork(bay)
  await takeIn(bay, 'Ebbe', '0815')
  const page = await tablet(browser)
  await page.goto(at(shop, `/pair#${(await codeOf(bay)).replace(' ', '')}`))
  const gate = page.getByRole('dialog', { name: 'Let this tablet in' })
  await gate.getByLabel('what this tablet is called').fill('bay two')
  expect(await findings(page)).toEqual([])
  await gate.getByRole('button', { name: 'let this tablet in' }).click()
  await expect(page.getByRole('radio', { name: 'Ebbe' })).toBeVisible()
  expect(await findings(page)).toEqual([])
  await signIn(page, 'Ebbe', '0815')

  // a reading under Ebbe's name, seen at the shop's computer
  await page.goto(at(shop, '/visit/visit-sawmill/measure'))
  await page.getByRole('radio', { name: /2500 held/ }).click()
  await page.locator('[data-channel=rpm] input').fill('2490')
  await page.keyboard.press('Enter')
  await delivered(page)
  interface Seen {
    readonly readings: readonly { channel: string; slot: string; value: number; by: string }[]
  }
  const { readings } = await shop.get<Seen>('/api/visits/visit-sawmill')
  expect(readings.find((r) => r.slot === 'hold-2500' && r.channel === 'rpm')).toMatchObject({ value: 2490, by: 'Ebbe' })

  // the shop's figures, backups and who comes in are an owner's
  await page.goto(at(shop, '/settings'))
  await expect(page.getByText('An owner of the shop changes these.')).toBeVisible()
  await expect(page.getByLabel('labour an hour')).toBeDisabled()
  await expect(page.getByRole('region', { name: 'backups' })).toHaveCount(0)
  await page.getByRole('button', { name: /hand the tablet over/ }).click()
  await signIn(page, 'Runa', '4711')
  await expect(page.getByRole('region', { name: 'backups' })).toBeVisible()
  await expect(page.getByRole('region', { name: NETWORK })).toContainText('bay two')

  // what was lost is forgotten, and out at once
  await bay.reload()
  await bay.getByRole('button', { name: 'forget bay two' }).click()
  await page.goto(at(shop, '/'))
  await expect(page.getByRole('dialog', { name: 'Let this tablet in' })).toBeVisible()
})

test('nobody signed in any more: the bench stays, what is entered waits, and goes once somebody signs in', async ({
  bay,
  shop,
  browser,
}) => {
  test.setTimeout(120_000)
  await openToNetwork(bay)
  const page = await tablet(browser)
  await page.goto(at(shop, '/pair'))
  const gate = page.getByRole('dialog', { name: 'Let this tablet in' })
  await gate.getByLabel('code or passphrase').fill('a wrong one, surely')
  await gate.getByLabel('what this tablet is called').fill('bay two')
  await gate.getByRole('button', { name: 'let this tablet in' }).click()
  await expect(gate).toContainText('neither the code')
  await gate.getByLabel('code or passphrase').fill('seven grey herons')
  await gate.getByRole('button', { name: 'let this tablet in' }).click()
  await signIn(page, 'Runa', '4711')
  await page.goto(at(shop, '/visit/visit-sawmill/measure'))
  await page.getByRole('radio', { name: /1500 held/ }).click()
  const rpm = page.locator('[data-channel=rpm] input')
  await expect(rpm).toBeVisible()

  // another PIN at the shop's computer: Runa's session is over
  const { people } = await shop.get<{ people: readonly { id: string }[] }>('/api/access')
  const changed = await fetch(`${shop.url}/api/access/people/${people[0].id}/pin`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ pin: '2222' }),
  })
  expect(changed.status).toBe(200)
  await rpm.fill('1510')
  await page.keyboard.press('Enter')
  const again = page.getByRole('dialog', { name: 'Who works on this tablet' })
  await expect(again).toBeVisible()
  await again.getByLabel('PIN of Runa').fill('4711')
  await page.keyboard.press('Enter')
  await expect(again).toContainText('not the PIN of Runa')
  await again.getByLabel('PIN of Runa').fill('2222')
  await page.keyboard.press('Enter')
  await expect(again).toBeHidden()
  await expect(rpm).toHaveValue(/1.?510/)
  await delivered(page)
})
