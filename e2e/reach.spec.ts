import type { Page } from '@playwright/test'
import { delivered, expect, test } from './shop.js'

test.describe('by keyboard alone', () => {
  test('from the bay to a judged look, with Tab and Enter', async ({ bay: page, shop }) => {
    await page.goto(`${shop.url}/visit/visit-vet/arrive`)
    await page.getByTestId('now').waitFor()
    await page.locator('body').press(']')
    await expect(page).toHaveURL(/\/look$/)
    await page.getByRole('radio', { name: 'Snorkel in place and clear: sound' }).focus()
    await page.keyboard.press('Enter')
    await expect(page.getByRole('radio', { name: 'Snorkel in place and clear: sound' })).toHaveAttribute(
      'aria-checked',
      'true',
    )
    await page.locator('[data-station=booster]').focus()
    await page.keyboard.press('Enter')
    await expect(page.locator('[data-bench=booster]')).toBeVisible()
    await page.keyboard.press('Escape')
    await page.locator('body').press('Escape')
    await expect(page.locator('[data-bench=booster]')).toBeHidden()
    await page.locator('body').press('n')
    await expect(page).toHaveURL(/\/arrive$/)
  })
})

test('the first key goes over the head of the page to the work', async ({ bay: page, shop }) => {
  await page.goto(`${shop.url}/visit/visit-vet/arrive`)
  await page.getByTestId('now').waitFor()
  await page.keyboard.press('Tab')
  await expect(page.getByRole('button', { name: 'to the work' })).toBeInViewport()
  await page.keyboard.press('Enter')
  await expect(page.locator('main')).toBeFocused()
  await page.keyboard.press('Tab')
  expect(await page.evaluate(() => document.activeElement?.closest('main') !== null)).toBe(true)
})

/** Presses Tab until what is named has the focus, as somebody without a pointer does. */
async function tabTo(page: Page, name: RegExp): Promise<void> {
  for (let i = 0; i < 150; i++) {
    await page.keyboard.press('Tab')
    const at = await page.evaluate(() => {
      const e = document.activeElement
      // the page itself holds every word
      return !e || e === document.body ? '' : (e.getAttribute('aria-label') ?? e.textContent)
    })
    if (name.test(at)) return
  }
  throw new Error(`Tab does not reach ${String(name)}`)
}

test('by keyboard alone from the bay over arrival to the issued sheet', async ({ bay: page, shop }) => {
  await tabTo(page, /Teacher's hatchback/)
  await page.keyboard.press('Enter')
  await page.getByTestId('now').waitFor()
  await page.goto(`${shop.url}/visit/visit-teacher/arrive`)
  await page.getByTestId('now').waitFor()
  // a sign, and taken back again
  await tabTo(page, /^idle hunts$/)
  await page.keyboard.press('Space')
  await expect(page.getByRole('button', { name: 'idle hunts' })).toHaveAttribute('aria-pressed', 'true')
  await page.keyboard.press('Space')
  // a reading corrected
  await page.locator('[data-channel=rpm] input').focus()
  await page.keyboard.type('702')
  await page.keyboard.press('Enter')
  await delivered(page)
  await page.keyboard.press('Escape')
  // from stage to stage: a look judged with the arrow keys, the views of the trace with theirs
  await page.evaluate(() => (document.activeElement as HTMLElement).blur())
  await page.keyboard.press(']')
  await tabTo(page, /: sound$/)
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowLeft')
  await page.keyboard.press(']')
  await page.keyboard.press(']')
  await tabTo(page, /^which cause$/)
  await page.keyboard.press('ArrowRight')
  await expect(page.getByRole('tab', { name: 'what to test' })).toHaveAttribute('aria-selected', 'true')
  for (const stage of ['open-up', 'clean', 'decarbonize', 'close-up', 'first-start', 'learn', 'prove', 'hand-over']) {
    await page.keyboard.press(']')
    await expect(page.locator('.ruler [aria-current=step]')).toHaveAttribute('href', new RegExp(`${stage}$`))
  }
  await tabTo(page, /^issue the sheet$/)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('article')).toContainText('sheet 1')
})

for (const theme of ['day', 'night'] as const)
  test(`text stands out by ${theme}: 4.5:1 everywhere, 7:1 for figures and sentences by day`, async ({
    page,
    shop,
  }) => {
    await page.addInitScript(
      (t) => localStorage.setItem('uvula-settings', JSON.stringify({ theme: t, technician: 'R' })),
      theme,
    )
    for (const path of [
      '/',
      '/visit/visit-choir/trace',
      '/visit/visit-sawmill/clean',
      '/visit/visit-lift/decarbonize',
      '/visit/visit-warden/learn',
    ]) {
      await page.goto(shop.url + path)
      await page.waitForLoadState('networkidle')
      const weak = await page.evaluate(
        (least) => {
          const rgb = (c: string): number[] => (/rgba?\(([^)]+)\)/.exec(c)?.[1] ?? '0,0,0').split(',').map(Number)
          const luminance = (c: number[]): number => {
            const [r, g, b] = c
              .slice(0, 3)
              .map((v) => (v / 255 <= 0.03928 ? v / 255 / 12.92 : ((v / 255 + 0.055) / 1.055) ** 2.4))
            return 0.2126 * r + 0.7152 * g + 0.0722 * b
          }
          const ground = (e: Element | null): number[] => {
            for (let x = e; x; x = x.parentElement) {
              const c = rgb(getComputedStyle(x).backgroundColor)
              if (c.length < 4 || c[3] > 0.5) return c
            }
            return [255, 255, 255]
          }
          return [...document.querySelectorAll('body *')]
            .filter(
              (e) =>
                !e.closest('svg') &&
                [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent!.trim()) &&
                e.getClientRects().length,
            )
            .filter((e) => !(e as HTMLButtonElement).disabled)
            .map((e) => {
              const [a, b] = [luminance(rgb(getComputedStyle(e).color)), luminance(ground(e))]
              return { text: e.textContent!.slice(0, 40), ratio: (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05) }
            })
            .filter((x) => x.ratio < least)
        },
        theme === 'day' ? 7 : 4.5,
      )
      expect([path, weak]).toEqual([path, []])
    }
  })

test('targets are 48 px on every bench', async ({ bay: page, shop }) => {
  for (const stage of [
    'arrive',
    'look',
    'measure',
    'open-up',
    'clean',
    'decarbonize',
    'close-up',
    'first-start',
    'learn',
    'prove',
    'hand-over',
  ]) {
    await page.goto(`${shop.url}/visit/visit-sawmill/${stage}`)
    await page.getByTestId('now').waitFor()
    const small = await page.evaluate(() =>
      [...document.querySelectorAll<HTMLElement>('.visit-bench button, .rail button, .rail a')]
        .filter((e) => e.getClientRects().length)
        .map((e) => ({
          text: e.textContent || e.getAttribute('aria-label'),
          height: e.getBoundingClientRect().height,
          width: e.getBoundingClientRect().width,
        }))
        .filter((e) => e.height < 47.5 || e.width < 30),
    )
    expect([stage, small]).toEqual([stage, []])
  }
})

test('the sheet prints alone', async ({ bay: page, shop }) => {
  await page.goto(`${shop.url}/visit/visit-lift-spring/hand-over`)
  await page.getByRole('article').waitFor()
  await page.emulateMedia({ media: 'print' })
  await expect(page.getByRole('article')).toBeVisible()
  await expect(page.locator('.rail')).toBeHidden()
  await expect(page.locator('.ruler')).toBeHidden()
  await expect(page.locator('.airline')).toBeHidden()
})

test('a whole visit comes out as one file', async ({ bay: page, shop }) => {
  await page.goto(`${shop.url}/visit/visit-choir/hand-over`)
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'visit as a file' }).click(),
  ])
  expect(download.suggestedFilename()).toMatch(/uvula-visit\.json$/)
  const file = await shop.get<{ format: string; readings: unknown[] }>('/api/visits/visit-choir')
  expect(file.format).toBe('uvula-visit')
  expect(file.readings.length).toBeGreaterThan(10)
})

test('the words follow the metering', async ({ bay: page, shop }) => {
  await page.goto(`${shop.url}/visit/visit-nurse/trace`)
  await expect(page.locator('.bench')).toContainText('No airflow sensor on this engine')
  await page.goto(`${shop.url}/visit/visit-nurse/look`)
  await expect(page.locator('[data-station=airflow-sensor]')).toHaveCount(0)
})

test('a reading is corrected and the old value does not come back', async ({ bay: page, shop }) => {
  await page.goto(`${shop.url}/visit/visit-choir/measure`)
  const rpm = page.locator('[data-channel=rpm] input')
  await rpm.waitFor()
  await rpm.fill('690')
  await page.keyboard.press('Enter')
  await delivered(page)
  await page.reload()
  await expect(rpm).toHaveValue('690')
  await rpm.fill('')
  await page.keyboard.press('Enter')
  await delivered(page)
  await page.reload()
  await expect(rpm).toHaveValue('')
})

test.describe('a window that is low: zoomed to 200 %, and a phone held sideways', () => {
  for (const [width, height] of [
    [640, 400],
    [844, 390],
  ] as const)
    test(`the bench has six tenths of the height, and what is next stands above it, ${width} x ${height}`, async ({
      bay: page,
      shop,
    }) => {
      await page.setViewportSize({ width, height })
      for (const stage of ['arrive', 'measure', 'open-up', 'clean', 'decarbonize', 'learn', 'hand-over']) {
        await page.goto(`${shop.url}/visit/visit-library/${stage}`)
        await expect(page.getByTestId('now')).toBeInViewport({ ratio: 1 })
        const share = await page.evaluate(() => {
          const top = document.querySelector('main')!.getBoundingClientRect().top
          const ruler = document.querySelector('.ruler')!.getBoundingClientRect().top
          return (Math.min(innerHeight, ruler) - top) / innerHeight
        })
        expect([stage, share >= 0.6]).toEqual([stage, true])
      }
    })
})
