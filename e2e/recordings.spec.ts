import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { delivered, dropFile, expect, test } from './shop.js'

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
  const dialog = page.getByRole('dialog', { name: 'columns of the recording' })
  await expect(dialog).toContainText('700')
  // what rises from row to row is proposed as the time; one column alone is not enough
  await expect(dialog.getByLabel('Zeit')).toHaveValue('time_s')
  await expect(dialog.getByRole('button', { name: 'read it so' })).toBeDisabled()
  await dialog.getByLabel('Kanal A').selectOption({ label: 'speed' })
  await dialog.getByLabel('Kanal B').selectOption({ label: 'speed' })
  await expect(dialog).toContainText('Two columns are given as speed')
  await dialog.getByLabel('Kanal B').selectOption({ label: 'airflow' })
  await dialog.getByRole('button', { name: 'read it so' }).click()
  await expect(page.getByText('strange.csv: 160 rows, 1 operating points found.')).toBeVisible()
  await delivered(page)
  const file = await shop.get<{
    recordings: { name: string; points: { means: { maf_gs: number } }[]; mapping: object }[]
  }>('/api/visits/visit-warden')
  const kept = file.recordings.find((r) => r.name === 'strange.csv')!
  expect(kept.points[0].means.maf_gs).toBeCloseTo(2.6, 6)
  expect(kept.mapping).toMatchObject({ 'Kanal A': 'rpm', 'Kanal C': 'none' })
  // the same header again: no question
  await dropFile(page, path, 'strange again.csv')
  await expect(page.getByText('strange again.csv: 160 rows')).toBeVisible()
  await expect(dialog).toBeHidden()
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
})
