import type { Page } from '@playwright/test'
import { delivered, dropFile, expect, test } from './shop.js'

/** Types figures into the readings with one hand on the keys: no pointer after the first focus. */
async function type(page: Page, figures: readonly string[]): Promise<void> {
  for (const f of figures) {
    await page.keyboard.type(f)
    await page.keyboard.press('Enter')
  }
}

const stage = (page: Page, name: string): Promise<void> =>
  page.getByRole('navigation', { name: 'stages' }).getByRole('link', { name }).click()

interface File {
  readonly visit: { readonly state: string }
  readonly readings: readonly { readonly id: string; readonly value: number }[]
  readonly repairs: readonly { readonly kind: string; readonly recheckOn: string }[]
  readonly recordings: readonly { readonly sha256: string }[]
}

test('the vet’s estate, from arrival to the printed page', async ({ bay: page, shop }) => {
  // arrive: back to the job in hand is one tap
  await page.getByRole('link', { name: /Vet's estate/ }).click()
  await expect(page.getByTestId('now')).toContainText('Read the warm idle')
  await page.getByRole('button', { name: 'hiss' }).click()
  await expect(page.getByRole('button', { name: 'hiss' })).toHaveAttribute('aria-pressed', 'true')

  // six readings of the baseline, then the power goes
  await page.locator('[data-channel=rpm] input').focus()
  await type(page, ['668', '2,38', '1.6', '16.4'])
  await delivered(page)
  await shop.kill()
  await type(page, ['0.8', '17.2%', '1.9', '18.5 inHg', '14.1'])
  await expect(page.getByTestId('delivery')).toContainText('server away')
  await expect(page.locator('[data-channel=stft2_pct] input')).toHaveValue('0.8')
  await shop.start()
  await delivered(page)
  const kept = await shop.get<File>('/api/visits/visit-vet')
  expect(kept.readings.map((r) => r.value).sort((a, b) => a - b)).toEqual(
    [0.8, 1.6, 1.9, 2.38, 14.1, 16.4, 17.2, 18.5 * 3.386389, 668].sort((a, b) => a - b),
  )
  expect(new Set(kept.readings.map((r) => r.id)).size).toBe(kept.readings.length)

  // look: one tap a judgement; the duct is off its clip
  await stage(page, 'Look')
  for (const text of ['Snorkel in place and clear', 'Box seated, all clips shut'])
    await page.getByRole('radio', { name: `${text}: sound` }).click()
  await page.getByRole('radio', { name: 'On its stubs, both clamps there and tight: failed' }).click()
  await page.getByLabel('what was seen').fill('Off one stub, its clamp missing on arrival')
  await page.keyboard.press('Enter')
  await expect(page.locator('[data-station=duct][data-state=failed]')).toBeVisible()

  // a recording, dropped on the way, is read with no further question
  await stage(page, 'Measure')
  await dropFile(
    page,
    await shop.recording('visit-vet', 'unmetered-air-duct:areaMm2=340', 'vet-idle.csv'),
    'vet-idle.csv',
  )
  await expect(page.getByTestId('said')).toContainText('operating points found')
  await expect(page.locator('.recording')).toContainText('vet-idle.csv')
  await delivered(page)
  await page.getByRole('radio', { name: 'idle, A/C on' }).click()
  await page.locator('[data-channel=rpm] input').focus()
  await type(page, ['715', '3.4', '1.6', '15.6', '0.8', '16.4'])

  // trace: the duct, by the readings and the look
  await stage(page, 'Trace')
  await page.getByRole('tab', { name: 'which cause' }).click()
  const lead = page.locator('[data-fault]').first()
  await expect(lead).toHaveAttribute('data-fault', 'unmetered-air-duct')
  await expect(lead.locator('.hang')).toContainText('duct')
  await page.getByRole('tab', { name: 'where, and mend it' }).click()
  await expect(page.locator('.account')).toBeVisible()

  // wrap or new: the wrap is refused until it is dry, clean and stretched
  await page.getByRole('button', { name: /Wrap with self-bonding tape/ }).click()
  await expect(page.getByRole('button', { name: 'done' })).toBeDisabled()
  await expect(page.locator('.mend')).toContainText('A wrap holds only dry')
  for (const tick of ['dry', 'clean of oil', 'tape stretched and half overlapped'])
    await page.locator('.decide').getByRole('checkbox', { name: tick }).click()
  await page.getByRole('button', { name: 'done' }).click()
  await expect(page.getByTestId('now')).toContainText('Measure the same points again')

  // no sheet before the proof
  await stage(page, 'Hand over')
  await expect(page.getByRole('button', { name: 'issue the sheet' })).toBeDisabled()
  await expect(page.locator('.wrong')).toContainText('Not measured again since: duct wrapped')

  // prove: the same points, loads on
  await page.getByTestId('now').click()
  await page.locator('[data-channel=rpm] input').focus()
  await type(page, ['680', '2.79', '0', '1.6', '0', '0.8', '2.3', '18.4 inHg', '14.1'])
  await page.getByRole('radio', { name: 'idle, A/C on' }).click()
  await page.locator('[data-channel=rpm] input').focus()
  await type(page, ['724', '3.92', '0', '1.6', '0', '1.6'])
  await expect(page.locator('.change[data-verdict=better]').first()).toBeVisible()
  await expect(page.locator('.verdict')).toContainText('It helped')
  // figures alone need not tell: what the customer came with does
  await expect(page.getByTestId('now')).toContainText('Came with “idle hunts” and “hiss”: gone, or still there?')
  for (const sign of ['idle hunts', 'hiss'])
    await page.getByRole('listitem').filter({ hasText: sign }).getByRole('radio', { name: 'gone', exact: true }).click()
  await expect(page.getByTestId('now')).toContainText('Print the sheet')

  // hand over
  await page.getByTestId('now').click()
  await expect(page.getByRole('article')).toContainText(
    'Air was getting in between the airflow sensor and the throttle. Done: the duct wrapped.',
  )
  await expect(page.getByRole('article')).toContainText('What you came with, “idle hunts” and “hiss”, is gone.')
  await page.getByRole('button', { name: 'issue the sheet' }).click()
  await expect(page.getByRole('article')).toContainText('sheet 1')
  const pdf = page.getByRole('link', { name: 'PDF' })
  await expect(pdf).toBeVisible()
  const printed = await page.request.get(shop.url + (await pdf.getAttribute('href'))!)
  expect(printed.headers()['content-type']).toContain('application/pdf')
  await delivered(page)
  const done = await shop.get<File>('/api/visits/visit-vet')
  expect(done.visit.state).toBe('handed-over')
  expect(done.repairs[0]).toMatchObject({ kind: 'wrap' })
  expect(done.recordings).toHaveLength(1)

  // the temporary repair stands on the car
  await page.getByRole('link', { name: "Vet's estate" }).click()
  await expect(page.locator('.due')).toContainText('wrap, for now only')
})
