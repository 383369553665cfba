import type { Page } from '@playwright/test'
import { delivered, expect, pick, test, type Shop } from './shop.js'

interface File {
  readonly runs: readonly {
    readonly attempt: number
    readonly procedure: string
    readonly events: readonly { readonly kind: string; readonly atMs: number }[]
  }[]
  readonly timers: readonly { readonly startedAt: string; readonly seconds: number }[]
}

/** Taps the space bar so many seconds after the step began. */
async function spaceAfter(page: Page, seconds: number): Promise<void> {
  await page.waitForTimeout(seconds * 1000)
  await page.keyboard.press('Space')
}

/** An attempt at teaching the idle, as the server keeps it. */
const attempt = async (shop: Shop, n: number): Promise<File['runs'][number]> =>
  (await shop.get<File>('/api/visits/visit-warden')).runs.find((r) => r.attempt === n)!

/**
 * Taps the space bar so many seconds after the last event that the server holds: the page's own delays do not add up.
 * @param taps - sent one behind the other, without a word from the page between them that a busy computer would keep back
 */
async function spaceAfterLast(
  page: Page,
  shop: Shop,
  n: number,
  events: number,
  seconds: number,
  taps = 1,
): Promise<void> {
  await expect.poll(async () => (await attempt(shop, n)).events.length).toBe(events)
  const last = (await attempt(shop, n)).events.at(-1)!.atMs
  await page.waitForTimeout(Math.max(0, last + seconds * 1000 - Date.now() - 30))
  const { keyboard } = page
  await Promise.all(Array.from({ length: taps }, () => [keyboard.down('Space'), keyboard.up('Space')]).flat())
}

/** Ticks the preconditions, arms the next attempt and begins it. */
async function begin(page: Page, n: number): Promise<void> {
  for (const c of ['selector', 'consumers', 'wheels', 'supply'])
    await page.getByRole('checkbox', { name: new RegExp(`^${c}.*seen to`) }).click()
  // in the quarter of an hour after the demo's own reading it is measured and needs no tick
  const coolant = page.getByRole('checkbox', { name: /^coolant.*seen to/ })
  if (await coolant.count()) await coolant.click()
  await page.getByRole('button', { name: `arm attempt ${n}` }).click()
  await page.getByRole('button', { name: 'begin' }).click()
  await expect(page.locator('.hands')).toHaveAttribute('data-step', '0')
}

const stage = (page: Page, name: string): Promise<void> =>
  page.getByRole('navigation', { name: 'stages' }).getByRole('link', { name }).click()

test('idle too high after a cleaning: late by half a second, then taught', async ({ bay: page, shop }) => {
  await page.goto(`${shop.url}/visit/visit-warden/learn`)
  await page.getByRole('tab', { name: 'settle and decide' }).click()
  // why it is high, in a sentence, with the area below zero
  await expect(page.locator('.deposits')).toContainText('The controller had learnt to open past the deposits')
  await expect(page.locator('.deposits')).toContainText('−')
  await page.getByRole('tab', { name: 'teach' }).click()
  // the first attempt came half a second late
  await expect(page.locator('[data-attempt="1"]')).toHaveAttribute('data-status', 'failed')
  await expect(page.locator('[data-attempt="1"]')).toContainText('0.5 s too late')
  // it does not arm until its preconditions are ticked
  await expect(page.getByRole('button', { name: 'arm attempt 2' })).toBeDisabled()
  // late by half a second: said in tenths, and nothing was learnt
  await begin(page, 2)
  await spaceAfterLast(page, shop, 2, 1, 3.53)
  await expect(page.locator('.hands')).toHaveAttribute('data-status', 'failed')
  // as late as the keys were by their own time, however late a busy machine pressed the second
  await expect.poll(async () => (await attempt(shop, 2)).events.length).toBe(2)
  const [begun, tapped] = (await attempt(shop, 2)).events.map((e) => e.atMs)
  const late = (tapped - begun) / 1000 - 3
  expect(late).toBeGreaterThan(0.4)
  await expect(page.locator('.hands')).toContainText(`came ${late.toFixed(1)} s too late`)
  await page.getByRole('button', { name: 'back to the bench' }).click()
  // the next one goes through
  await begin(page, 3)
  await spaceAfterLast(page, shop, 3, 1, 3)
  await expect(page.locator('.hands')).toHaveAttribute('data-step', '1')
  for (let i = 0; i < 5; i++) await spaceAfter(page, 0.5)
  await expect(page.locator('.hands')).toHaveAttribute('data-step', '2')
  // a closed tab in the middle: the same step goes on
  await expect.poll(async () => (await attempt(shop, 3)).events.length).toBe(7)
  await page.reload()
  await expect(page.locator('.hands')).toHaveAttribute('data-step', '2')
  await spaceAfterLast(page, shop, 3, 7, 7)
  await expect(page.locator('.hands')).toHaveAttribute('data-step', '3')
  await spaceAfter(page, 1.2)
  await spaceAfter(page, 1.2)
  await expect(page.locator('.hands')).toHaveAttribute('data-step', '5')
  await spaceAfter(page, 20.2)
  await expect(page.locator('.hands')).toHaveAttribute('data-status', 'passed')
  await page.getByRole('button', { name: 'back to the bench' }).click()
  await expect(page.locator('[data-attempt="2"]')).toHaveAttribute('data-status', 'failed')
  await expect(page.locator('[data-attempt="3"]')).toHaveAttribute('data-status', 'passed')
  // codes read, ours told from a finding, cleared
  await stage(page, 'First start')
  await page.getByRole('textbox', { name: 'code' }).fill('P0507')
  await page.keyboard.press('Enter')
  await page.getByRole('textbox', { name: 'code' }).fill('P0420')
  await page.keyboard.press('Enter')
  await expect(page.locator('[data-code=P0420]')).toContainText('not ours')
  await page.locator('[data-code=P0507]').last().getByRole('checkbox', { name: 'clear' }).click()
  await expect(page.getByText('Clearing wipes freeze-frame')).toBeVisible()
})

test('a wet glove’s second tap is one tap, and the time is the key’s own', async ({ bay: page, shop }) => {
  await page.goto(`${shop.url}/visit/visit-warden/learn`)
  await begin(page, 2)
  await page.evaluate(() =>
    addEventListener(
      'keydown',
      (e) => ((window as unknown as { own: number[] }).own ??= []).push(performance.timeOrigin + e.timeStamp),
      true,
    ),
  )
  await spaceAfterLast(page, shop, 2, 1, 3, 2)
  await expect(page.locator('.hands')).toHaveAttribute('data-step', '1')
  await expect(page.locator('.hands-figure')).toContainText('0 of 5')
  await expect.poll(async () => (await attempt(shop, 2)).events.length).toBe(3)
  const own = await page.evaluate(() => (window as unknown as { own: number[] }).own)
  const kept = (await attempt(shop, 2)).events.filter((e) => e.kind === 'tap').map((e) => e.atMs)
  expect(kept).toEqual(own)
})

test('a metered feed from plan to restart, with a stall that locks the starter', async ({ bay: page, shop }) => {
  await page.goto(`${shop.url}/visit/visit-lift/decarbonize`)
  // refused until it is safe, each with its reason
  for (const rule of ['extraction', 'fire-cover', 'held-running'])
    await expect(page.locator(`[data-rule=${rule}]`)).toBeVisible()
  // nobody has read the coolant: it is asked for, not filled in
  await expect(page.locator('[data-rule=coolant-unknown]')).toBeVisible()
  await page.getByLabel('coolant').fill('90')
  for (const tick of ['extraction on', 'extinguisher at hand', 'cannot stop by itself'])
    await page.getByRole('checkbox', { name: tick }).click()
  await expect(page.getByTestId('plan')).toContainText('mL/s')
  await pick(page, 'speed read by', 'guessed')
  await expect(page.locator('[data-rule=guessed-speed]')).toContainText('The speed is guessed')
  // by ear only what was heard counts
  await pick(page, 'speed read by', 'pressure ripple')
  await expect(page.locator('[data-rule=speed-unknown]')).toBeVisible()
  await page.getByLabel('speed held').fill('2500')
  // points of this engine, the most even first; nothing ahead of the airflow sensor among them
  await page.getByRole('combobox', { name: 'feed point' }).click()
  await expect(page.getByRole('option', { name: /filter|airflow/ })).toHaveCount(0)
  await page.getByRole('option', { name: /plenum/ }).click()
  await page.getByLabel('dose wanted').fill('400')
  await expect(page.locator('[data-rule=label]')).toContainText('the label wins')
  await page.getByLabel('dose wanted').fill('6')
  await page.getByRole('button', { name: /arm the feed/ }).click()
  // three STOP ticks, then it begins
  for (const t of ['hydraulic lock', 'extinguisher', 'extraction'])
    await page.getByRole('checkbox', { name: new RegExp(`STOP: .*${t}`) }).click()
  await page.getByRole('button', { name: 'begin' }).click()
  // the clock leads: counted in, open, shut, and nobody has tapped
  for (const phase of ['count-in', 'shot', 'pause'])
    await expect(page.locator('.hands')).toHaveAttribute('data-phase', phase)
  await page.getByRole('button', { name: 'it stalled' }).click()
  await expect(page.locator('.hands')).toContainText('do not crank')
  // closed down one step after the other
  const steps = page.getByRole('list', { name: 'close down' }).getByRole('checkbox')
  await expect(steps.nth(1)).toBeDisabled()
  for (let k = 0; k < (await steps.count()); k++) await steps.nth(k).click()
  await page.getByRole('button', { name: 'back to the bench' }).click()
  await expect(page.getByTestId('now')).toContainText('Do not crank')
  await delivered(page)
  // nothing begins while it is locked
  await page
    .getByRole('button', { name: /arm the feed/ })
    .or(page.locator('[data-rule]').first())
    .first()
    .waitFor()
  await stage(page, 'First start')
  await expect(page.locator('.caution.stop')).toContainText('do not crank')
  await page.getByRole('button', { name: 'plugs out, turned by hand' }).click()
  await expect(page.getByRole('alert')).toContainText('look for liquid standing')
  await page.getByRole('button', { name: 'looked: no pool stands' }).click()
  await expect(page.getByText('May be started: nothing is open.')).toBeVisible()
  await delivered(page)
})

test('close-up refuses with a cloth uncounted and says where it is', async ({ bay: page, shop }) => {
  await page.goto(`${shop.url}/visit/visit-sawmill/close-up`)
  const refusal = page.locator('.wrong').first()
  await expect(refusal).toContainText('cloth: 2 in, 1 out, at the throttle')
  await expect(refusal).toContainText('Off: 4 × bolt at the throttle, bag A')
  await expect(refusal).toContainText('Loose on purpose: 1 × clamp at the duct, until first start')
  // the way back: the deeper joint first, its gasket before its bolts
  const back = page.getByRole('list', { name: 'the way back' }).getByRole('listitem')
  await expect(back).toHaveText([/gasket/, /bolt/, /clamp/])
  for (let left = 3; left > 0; left--) {
    await back.first().getByRole('button', { name: 'back on' }).click()
    await expect(back).toHaveCount(left - 1)
  }
  await expect(refusal).toContainText('The gasket at the throttle: new, used again or doubtful?')
  await page.getByRole('radio', { name: 'new', exact: true }).click()
  await page.getByRole('checkbox', { name: /faces at the throttle seen/ }).click()
  await expect(refusal).toContainText('cloth: 2 in, 1 out')
  await page.getByRole('tab', { name: 'counted out' }).click()
  await page.getByRole('button', { name: 'cloth out' }).click()
  await expect(page.getByText('Closed: nothing off, nothing loose, everything counted out.')).toBeVisible()
})

test('the wrong cleaner on the element is refused with the reason and what fits', async ({ bay: page, shop }) => {
  await page.goto(`${shop.url}/visit/visit-library/clean`)
  await page.getByRole('button', { name: /^airflow sensor element/ }).click()
  await page.getByRole('button', { name: /throttle cleaner on a cloth on airflow element: never/ }).click()
  await expect(page.getByRole('alert')).toContainText('it leaves a film on the element')
  await page.getByRole('button', { name: /airflow sensor cleaner on airflow element: may/ }).click()
  const cleaned = page.getByRole('button', { name: 'begin: off the car' })
  await expect(cleaned).toBeDisabled()
  await page.getByRole('checkbox', { name: 'seen to' }).click()
  await cleaned.click()
  // one tap starts the drying timer
  await page.getByRole('button', { name: /start 15:00/ }).click()
  await expect(page.locator('.rail .timer')).toContainText('drying')
  await delivered(page)
})

test('a timer is right to a tenth after a reload and a server restart', async ({ bay: page, shop }) => {
  await page.goto(`${shop.url}/visit/visit-sawmill/arrive`)
  const check = async (): Promise<void> => {
    const { timers } = await shop.get<File>('/api/visits/visit-sawmill')
    // a frame that came late is no timer that is wrong: the middle of five
    const off = await page.evaluate(
      ([start, seconds]) =>
        new Promise<number[]>((resolve) => {
          const el = document.querySelector('[data-timer]')!
          let seen = el.getAttribute('data-left')
          const off: number[] = []
          const watch = new MutationObserver(() => {
            if (el.getAttribute('data-left') === seen) return
            seen = el.getAttribute('data-left')
            off.push(Math.abs(Number(seen) - (seconds - (Date.now() - start) / 1000)))
            if (off.length < 5) return
            watch.disconnect()
            resolve(off)
          })
          watch.observe(el, { attributes: true })
        }),
      [Date.parse(timers[0].startedAt), timers[0].seconds] as const,
    )
    expect(off.sort((a, b) => a - b)[2]).toBeLessThan(0.1)
  }
  await page.locator('[data-timer]').waitFor()
  await check()
  await page.reload()
  await page.locator('[data-timer]').waitFor()
  await shop.kill()
  await shop.start()
  await check()
})

test('nothing comes off before its STOP caution is seen to; what comes off is written down', async ({
  bay: page,
  shop,
}) => {
  await page.goto(`${shop.url}/visit/visit-bakery/open-up`)
  const bolts = page.getByRole('button', { name: '4 × bolt off' })
  await expect(bolts).toBeDisabled()
  for (let left = 2; left > 0; left--) {
    await expect(page.getByRole('checkbox', { name: 'seen to' })).toHaveCount(left)
    await page.getByRole('checkbox', { name: 'seen to' }).first().click()
  }
  await bolts.click()
  await expect(page.locator('.fastener.off')).toHaveCount(4)
  // one by itself, and the ring stays as it is
  const third = page.getByRole('button', { name: /^bolt 3: / })
  const hole = third.locator('.fastener-face')
  const place = await hole.boundingBox()
  await third.click()
  await expect(page.locator('.fastener.off')).toHaveCount(3)
  expect((await hole.boundingBox())!.x).toBeCloseTo(place!.x, 0)
  await page.getByRole('radio', { name: 'stripped' }).click()
  await third.click()
  await third.click()
  await expect(page.locator('.fastener.off')).toHaveCount(4)
  await page.getByLabel('bolt: bag, which way').fill('bag B, short one on top')
  await page.keyboard.press('Tab')
  await page.getByRole('button', { name: 'one missing on arrival' }).click()
  await page.getByRole('tab', { name: 'counted in' }).click()
  await page.getByRole('button', { name: 'cloth in' }).click()
  await expect(page.locator('.rail')).toContainText('Off: 4 × bolt at the throttle')
  await expect(page.locator('.rail')).toContainText('cloth: 1 in, 0 out')
  await page.getByRole('button', { name: /open the air line/ }).click()
  await expect(page.locator('.airline .gap')).toHaveCount(1)
  await delivered(page)
  await page.reload()
  await expect(page.locator('[data-part=bolt]')).toContainText('bag B, short one on top')
  await expect(page.locator('.fastener.missing')).toHaveCount(1)
})
