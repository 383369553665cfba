import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from './shop.js'

const nameOf = async (url: string): Promise<string | undefined> =>
  fetch(`${url}/api/shop`)
    .then((r) => r.json() as Promise<{ name: string }>)
    .then(
      (s) => s.name,
      () => undefined,
    )

test('a backup is taken as a file and restored: the shop is what it was, and what it became is kept aside', async ({
  bay: page,
  shop,
}) => {
  await page.goto(`${shop.url}/settings`)
  const before = await nameOf(shop.url)
  const taken = page.waitForEvent('download')
  await page.getByRole('link', { name: 'take one as a file' }).click()
  const download = await taken
  expect(download.suggestedFilename()).toMatch(/^uvula-pass-workshop-\d{8}-\d{4}\.uvula-backup$/)
  const file = join(shop.dir, 'taken.uvula-backup')
  await download.saveAs(file)
  // something is written after it
  const name = page.getByRole('textbox', { name: 'name', exact: true })
  await name.fill('Another shop')
  await name.blur()
  await expect.poll(() => nameOf(shop.url)).toBe('Another shop')
  // a file that is none changes nothing
  const damaged = join(shop.dir, 'damaged.uvula-backup')
  writeFileSync(damaged, readFileSync(file).subarray(0, -500))
  await page.getByLabel('backup to restore').setInputFiles(damaged)
  await page.getByRole('button', { name: 'restore it' }).click()
  await expect(page.getByRole('alert')).toContainText('cut short or damaged')
  expect(await nameOf(shop.url)).toBe('Another shop')
  // the whole one does
  await page.getByLabel('backup to restore').setInputFiles(file)
  await page.getByRole('button', { name: 'restore it' }).click()
  await page.waitForURL(`${shop.url}/`)
  expect(await nameOf(shop.url)).toBe(before)
  await expect(page.getByText('Mobile library').first()).toBeVisible()
})

test('each night into a folder: chosen, refused where it cannot be written, made now, listed', async ({
  bay: page,
  shop,
}) => {
  await page.goto(`${shop.url}/settings`)
  const section = page.getByRole('region', { name: 'backups' })
  await expect(section).toContainText('None is made by itself')
  const folder = section.getByRole('textbox', { name: /each night into this folder/ })
  await folder.fill('somewhere')
  await folder.blur()
  await expect(section.getByRole('alert')).toContainText('whole path')
  await folder.fill(join(shop.dir, 'stick'))
  await folder.blur()
  await expect(section).toContainText('The demo is not backed up by itself')
  await section.getByRole('button', { name: 'make one in the folder now' }).click()
  await expect(section.getByRole('button', { name: 'restore', exact: true })).toHaveCount(1)
  await expect(section).toContainText(/\d+ visits, \d+ cars/)
  expect(readdirSync(join(shop.dir, 'stick'))).toEqual([expect.stringMatching(/\.uvula-backup$/)])
})
