import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { delivered, dropFile, expect, pick, test } from './shop.js'

/** A log whose names say nothing, with figures of a warm idle. */
function strangeLog(): string {
  const rows = Array.from({ length: 160 }, (_, i) => `${(i / 4).toFixed(2)};${700 + (i % 3)};2,6;90`)
  return ['Protokoll 7', 'Zeit;Kanal A;Kanal B;Kanal C', ...rows].join('\n')
}

test('a file in an unknown format: its columns are asked once, then known', async ({ bay: page, shop }) => {
  await page.goto(`${shop.url}/visit/visit-warden/measure`)
  const path = join(shop.dir, 'strange.csv')
  writeFileSync(path, strangeLog())
  await dropFile(page, path, 'strange.csv')
  const dialog = page.getByRole('dialog', { name: /What are the columns/ })
  await expect(dialog).toContainText('700')
  // what rises from row to row is proposed as the time; one column alone is not enough
  await expect(dialog.getByRole('combobox', { name: 'Zeit' })).toContainText('time')
  await expect(dialog.getByRole('button', { name: 'read it so' })).toBeDisabled()
  await pick(dialog, 'Kanal A', 'speed')
  await pick(dialog, 'Kanal B', 'speed')
  await expect(dialog).toContainText('Two columns are given as speed')
  await pick(dialog, 'Kanal B', 'airflow')
  await dialog.getByRole('button', { name: 'read it so' }).click()
  await expect(page.getByText('strange.csv: 160 rows, 1 operating point found.')).toBeVisible()
  await delivered(page)
  const file = await shop.get<{
    recordings: { name: string; points: { means: { maf_gs: number } }[]; mapping: object }[]
  }>('/api/visits/visit-warden')
  const kept = file.recordings.find((r) => r.name === 'strange.csv')!
  expect(kept.points[0].means.maf_gs).toBeCloseTo(2.6, 6)
  expect(kept.mapping).toMatchObject({ 'Kanal A': 'rpm', 'Kanal C': 'none' })
  // packed as a phone sends it: the same names, no question
  const packed = join(shop.dir, 'strange.csv.gz')
  writeFileSync(packed, gzipSync(strangeLog()))
  await dropFile(page, packed, 'strange.csv.gz')
  await expect(page.getByText('strange.csv.gz: 160 rows, 1 operating point found.')).toBeVisible()
  // the same header again: no question
  await dropFile(page, path, 'strange again.csv')
  await expect(page.getByText('strange again.csv: 160 rows')).toBeVisible()
  await expect(dialog).toBeHidden()
  // what was said once holds on another tablet of the shop
  await delivered(page)
  await page.evaluate(() => localStorage.removeItem('uvula-mappings'))
  await dropFile(page, path, 'strange on another tablet.csv')
  await expect(page.getByText('strange on another tablet.csv: 160 rows')).toBeVisible()
  await expect(dialog).toBeHidden()
  // one over the other, before and after
  await delivered(page)
  await page.getByRole('link', { name: 'strange again.csv' }).click()
  await pick(page, 'laid under it', 'strange.csv')
  await expect(page.locator('.trace-plot canvas')).toHaveCount(1)
  // on the same stretch its value stands under the cursor's own
  await pick(page, 'how it is laid', 'stretch on stretch')
  await page.locator('.trace-plot').hover()
  await expect(page.locator('[data-channel=rpm]')).toContainText(/under it 70\d/)
  // trim its only stretch from the left, by hand and by key; it stays so when opened again
  await page.getByRole('list', { name: 'stretches that count' }).getByRole('button').click()
  const start = page.getByRole('slider', { name: 'start of this stretch' })
  const box = (await start.boundingBox())!
  const strip = (await page.getByRole('list', { name: 'stretches that count' }).boundingBox())!
  await page.mouse.move(box.x + 4, box.y + 20)
  await page.mouse.down()
  await page.mouse.move(strip.x + strip.width / 2, box.y + 20, { steps: 4 })
  await page.mouse.up()
  await expect(start).toHaveAttribute('aria-valuetext', /^0:(19|20)$/)
  await start.press('ArrowRight')
  await delivered(page)
  await page.reload()
  const side = page.getByRole('complementary', { name: 'figures' })
  await expect(side).toContainText('chosen by hand')
  await page.getByRole('list', { name: 'stretches that count' }).getByRole('button').click()
  await expect(side).toContainText(/0:2[01] to 0:\d\d/)
  const table = page.waitForEvent('download')
  await page.getByRole('list', { name: 'stretches that count' }).getByRole('button').click()
  await page.getByRole('button', { name: 'table as CSV' }).click()
  expect(readFileSync(await (await table).path(), 'utf8')).toMatch(/^kind,start_s/)
  await page.getByRole('button', { name: 'as found again' }).click()
  await expect(side).not.toContainText('chosen by hand')
})

test('a recording at a glance: its stretches, their figures, a closer look, a clean copy', async ({
  bay: page,
  shop,
}) => {
  await page.goto(`${shop.url}/visit/visit-library/measure`)
  await page.getByRole('link', { name: 'library-pass-road.csv' }).click()
  await expect(page.locator('.trace-plot canvas')).toHaveCount(1)
  const stretches = page.getByRole('list', { name: 'stretches that count' }).getByRole('button')
  expect(await stretches.count()).toBeGreaterThan(4)
  await page.getByRole('list', { name: 'stretches that count' }).getByRole('button', { name: '2500' }).click()
  const side = page.getByRole('complementary', { name: 'figures' })
  await expect(side).toContainText('total trim 1')
  await expect(side).toContainText(/25\d\d/)
  await page
    .getByRole('list', { name: 'stretches that are left out' })
    .getByRole('button', { name: 'moving' })
    .first()
    .click()
  await expect(side).toContainText('held for eight seconds')
  // one cursor over all charts; a drag looks closer
  const plot = (await page.locator('.trace-plot').boundingBox())!
  await page.mouse.move(plot.x + plot.width / 2, plot.y + 40)
  await expect(side.locator('.rec-figure')).toHaveText(/^\d+:\d\d$/)
  const width = async (): Promise<number> => (await stretches.first().locator('..').boundingBox())?.width ?? 0
  const before = await width()
  await page.mouse.move(plot.x + 90, plot.y + 40)
  await page.mouse.down()
  await page.mouse.move(plot.x + plot.width / 3, plot.y + 44, { steps: 4 })
  await page.mouse.up()
  await expect.poll(width).toBeGreaterThan(1.5 * before)
  await page.getByRole('button', { name: 'whole', exact: true }).click()
  await expect.poll(width).toBeLessThan(1.1 * before)
  const picture = page.waitForEvent('download')
  await page.getByRole('button', { name: /over 7:54: more/ }).click()
  await page.getByRole('menuitem', { name: 'as a picture' }).click()
  const path = await (await picture).path()
  expect(readFileSync(path).subarray(1, 4).toString()).toBe('PNG')
  const clean = await (await fetch(`${shop.url}/api/recordings/visit-library:rec:0/canonical`)).text()
  expect(clean).toMatch(/^time_s,rpm,/)
})

test('a spoilt file says what is wrong and the visit goes on', async ({ bay: page, shop }) => {
  await page.goto(`${shop.url}/visit/visit-warden/measure`)
  const drop = async (name: string, content: string): Promise<void> => {
    const path = join(shop.dir, name)
    writeFileSync(path, content, 'latin1')
    await dropFile(page, path, name)
  }
  await drop('packed.csv', 'PK\x03\x04rest')
  await expect(page.getByText(/packed.csv: This is a packed file/)).toBeVisible()
  await drop('still.csv', 'time_s,rpm\n1,700\n1,700\n1,700\n')
  await expect(page.getByText(/still.csv: Every row has the same time/)).toBeVisible()
  await drop('blank.csv', 'time_s,rpm\n1,\n2,\n3,\n')
  await expect(page.getByText(/blank.csv: .*every cell of them is blank/)).toBeVisible()
  // a file far too big is refused at once, and the page goes on
  await page.evaluate(() => {
    const part = new Uint8Array(1024 * 1024)
    const transfer = new DataTransfer()
    transfer.items.add(new File(Array<Uint8Array<ArrayBuffer>>(300).fill(part), 'endless.csv'))
    document
      .querySelector('.drop-area')!
      .dispatchEvent(new DragEvent('drop', { dataTransfer: transfer, bubbles: true }))
  })
  await expect(page.getByText(/endless.csv has 300 MB; 96 MB are taken. Export fewer channels/)).toBeVisible()
})
