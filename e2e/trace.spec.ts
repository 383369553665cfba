import type { Page } from '@playwright/test'
import { delivered, dropFile, expect, test } from './shop.js'

const lead = (page: Page) => page.locator('[data-fault]').first()
const open = async (
  page: Page,
  url: string,
  view: 'which cause' | 'what to test' | 'where, and mend it',
): Promise<void> => {
  await page.goto(url)
  await page.getByRole('tab', { name: view }).click()
}

test('three numbers typed, then one test: another cause leads', async ({ bay: page, shop }) => {
  await page.goto(`${shop.url}/visit/visit-vet/measure`)
  await page.locator('[data-channel=rpm] input').fill('690')
  await page.locator('[data-channel=maf_gs] input').fill('2.95')
  await page.locator('[data-channel=ltft1_pct] input').fill('17')
  await page.locator('[data-channel=ltft1_pct] input').press('Enter')
  await delivered(page)
  await open(page, `${shop.url}/visit/visit-vet/trace`, 'which cause')
  await expect(page.locator('.trace-cause')).toContainText('Only one operating point')
  await expect(lead(page)).toHaveAttribute('data-fault', 'unmetered-air-duct')
  // what each answer would make of it stands beside the test
  await page.getByRole('tab', { name: 'what to test' }).click()
  await expect(page.locator('.fork').first()).toContainText('finds it')
  await expect(page.locator('.fork-verdict')).toHaveText('Worth a test first.')
  // the duct is flexed, and nothing moves
  await page.locator('[data-station=duct]').click()
  const flex = page.locator('[data-test=flex-duct]')
  await expect(flex.getByRole('button', { name: 'found it' })).toBeDisabled()
  await flex.getByRole('checkbox', { name: 'seen to' }).click()
  await flex.getByRole('button', { name: 'nothing' }).click()
  await page.getByRole('button', { name: 'back to the bench' }).click()
  await page.getByRole('tab', { name: 'which cause' }).click()
  await expect(lead(page)).not.toHaveAttribute('data-fault', 'unmetered-air-duct')
  await expect(lead(page).locator('.hang [data-side=for]').filter({ hasText: 'flex the duct' })).toBeVisible()
})

test('that codes were read and none stands is written down at arrival', async ({ bay: page, shop }) => {
  const none = page.getByRole('button', { name: 'read: none' })
  await page.goto(`${shop.url}/visit/visit-vet/arrive`)
  await none.click()
  await delivered(page)
  await page.reload()
  await expect(none).toHaveAttribute('aria-pressed', 'true')
  // what is next leads to where they are written down, two screens down on a phone
  await page.setViewportSize({ width: 390, height: 844 })
  await page.goto(`${shop.url}/visit/visit-vet/arrive#codes`)
  await expect(page.getByRole('heading', { name: 'codes that it came with' })).toBeInViewport()
  await page.setViewportSize({ width: 1280, height: 800 })
  // one that came with a code says so itself
  await page.goto(`${shop.url}/visit/visit-quarry/arrive`)
  await expect(page.getByRole('radiogroup', { name: 'how it came' })).toBeVisible()
  await expect(none).toHaveCount(0)
})

test('equipment that is not at hand: its tests are not proposed', async ({ bay: page, shop }) => {
  const smoke = page.locator('.fork-bench [data-test=smoke]')
  await open(page, `${shop.url}/visit/visit-choir/trace`, 'what to test')
  await expect(smoke).toBeVisible()
  await page.goto(`${shop.url}/settings`)
  await page.getByRole('group', { name: 'equipment at hand' }).getByRole('checkbox', { name: 'smoke machine' }).click()
  await open(page, `${shop.url}/visit/visit-choir/trace`, 'what to test')
  await expect(page.locator('.fork-bench')).toBeVisible()
  await expect(smoke).toHaveCount(0)
})

test('the bakery van: driven wide is deposits, and the idle valve is swept before anything is bought', async ({
  bay: page,
  shop,
}) => {
  await page.goto(`${shop.url}/visit/visit-bakery/measure`)
  const file = await shop.recording('visit-bakery', 'throttle-deposits:severity=0.88', 'bakery.csv')
  await dropFile(page, file, 'bakery.csv')
  await expect(page.getByTestId('said')).toContainText('operating points found')
  await delivered(page)
  await open(page, `${shop.url}/visit/visit-bakery/trace`, 'which cause')
  await expect(lead(page)).toHaveAttribute('data-fault', 'throttle-deposits')
  await expect(page.locator('.size-sentence')).toContainText('of the idle opening')
  await page.getByRole('tab', { name: 'what to test' }).click()
  await expect(
    page.locator('[data-test=throttle-look], [data-test=idle-valve-sweep], [data-test=oil-cap]').first(),
  ).toBeVisible()
})

test('what leads lies beyond the air path: tested, mended and told there, and no runner has failed', async ({
  bay: page,
  shop,
}) => {
  const dropped = async (stage: string, faults: string, name: string): Promise<void> => {
    await page.goto(`${shop.url}/visit/visit-vet/${stage}`)
    await dropFile(page, await shop.recording('visit-vet', faults, name), name)
    // once something is done it is asked which side of it the recording is of
    if (!faults) await page.getByRole('button', { name: /^after: / }).click()
    await expect(page.getByTestId('said')).toContainText('operating points found')
    await delivered(page)
  }
  await dropped('measure', 'oxygen-sensors-crossed', 'crossed.csv')
  await open(page, `${shop.url}/visit/visit-vet/trace`, 'which cause')
  await expect(lead(page)).toHaveAttribute('data-fault', 'oxygen-sensors-crossed')
  await expect(page.locator('.size-sentence')).toContainText('corrected by the other’s sensor')
  await page.getByRole('tab', { name: 'where, and mend it' }).click()
  await expect(page.locator('.trace-place')).toContainText('nothing to look for along the pipe')
  await page.getByRole('tab', { name: 'what to test' }).click()
  await page.getByRole('button', { name: 'tests beyond the air path' }).click()
  const plugs = page.locator('[data-test=oxygen-sensor-plugs]')
  await plugs.getByRole('checkbox', { name: 'seen to' }).click()
  await plugs.getByRole('button', { name: 'found it' }).click()
  await expect(page.getByTestId('now')).toContainText('Mend what the test found')
  await page.getByRole('button', { name: /^Put right/ }).click()
  await page.getByLabel(/as the customer reads it/).fill('the two oxygen sensors plugged in rightly')
  await page.getByRole('button', { name: 'done', exact: true }).click()
  await delivered(page)
  await dropped('measure', '', 'after.csv')
  await page.goto(`${shop.url}/visit/visit-vet/hand-over`)
  const sheet = page.locator('main')
  await expect(sheet).toContainText('The two oxygen sensors of your engine were plugged into each other’s place.')
  await expect(sheet).toContainText(
    'Done: the two oxygen sensors plugged in rightly. The readings are better than before.',
  )
  await expect(sheet).not.toContainText('unners, bank 1')
})

test('what shows in a full pull only is proved by one: the idle alone is not enough', async ({ bay: page, shop }) => {
  const type = async (slot: string, figures: Readonly<Record<string, string>>): Promise<void> => {
    await page.getByRole('radio', { name: slot }).click()
    for (const [channel, text] of Object.entries(figures)) {
      const field = page.locator(`[data-channel=${channel}] input`)
      await field.fill(text)
      await field.press('Enter')
    }
    await delivered(page)
  }
  const trims = Object.fromEntries(['stft1_pct', 'ltft1_pct', 'stft2_pct', 'ltft2_pct'].map((id) => [id, '1']))
  await page.goto(`${shop.url}/visit/visit-vet/measure`)
  await type('warm idle', { rpm: '690', maf_gs: '2.9', ...trims })
  await page.getByRole('radio', { name: 'full pull' }).click()
  await expect(page.getByText('nobody taps while driving')).toBeVisible()
  await expect(page.locator('[data-channel=rpm] input')).toHaveCount(0)
  await page.getByRole('checkbox', { name: 'seen to' }).click()
  await type('full pull', { rpm: '4000', maf_gs: '58', gauge_vacuum_kpa: '14' })
  await page.goto(`${shop.url}/visit/visit-vet/trace?at=filter`)
  const look = page.locator('[data-test=filter-look]')
  await look.getByRole('button', { name: 'found it' }).click()
  await page.getByRole('button', { name: /^New element/ }).click()
  await page.getByRole('button', { name: 'done', exact: true }).click()
  await delivered(page)
  await page.goto(`${shop.url}/visit/visit-vet/prove`)
  await type('warm idle', { rpm: '690', maf_gs: '2.9', ...trims })
  await expect(page.getByTestId('now')).toContainText('Still to be read: the full pull.')
  await type('full pull', { rpm: '4050', maf_gs: '84', gauge_vacuum_kpa: '3' })
  await expect(page.getByTestId('now')).not.toContainText('Still to be read')
  await expect(page.locator('main')).toContainText(
    /Vacuum, full pull: [\d.]+ ± [\d.]+ kPa lower than before|Airflow, full pull: [\d.]+ ± [\d.]+ % higher/,
  )
})

test('cars of the demo shop: each has its cause, its size and its next test', async ({ bay: page, shop }) => {
  await test.step('the mobile library: the sensor reads low, sure enough to act', async () => {
    await open(page, `${shop.url}/visit/visit-library/trace`, 'which cause')
    await expect(lead(page)).toHaveAttribute('data-fault', 'maf-under-reads')
    await expect(lead(page).locator('.hang')).toContainText('trim grows')
    await expect(page.locator('.size-sentence')).toContainText(
      /reads about \d+ \(\d+ to \d+\) % low at idle and \d+ \(\d+ to \d+\) % low at high flow/,
    )
    await page.getByRole('tab', { name: 'what to test' }).click()
    await expect(page.locator('.fork-verdict')).toHaveText('Sure enough to act.')
  })
  await test.step('the choir’s minibus: more air than was found, and where it may still come in', async () => {
    await open(page, `${shop.url}/visit/visit-choir/trace`, 'which cause')
    await expect(lead(page)).toHaveAttribute('data-fault', 'unmetered-air')
    await expect(page.locator('.size-line')).toContainText('mm² effective at idle')
    await page.getByRole('tab', { name: 'where, and mend it' }).click()
    await expect(page.locator('.account')).toBeVisible()
    await expect(page.locator('.sites')).not.toContainText('bank 2')
  })
  await test.step('the nurse’s small car: metered by pressure, the words follow', async () => {
    await open(page, `${shop.url}/visit/visit-nurse/trace`, 'where, and mend it')
    await expect(page.locator('.trace-place')).toContainText('No airflow sensor on this engine')
    await page.getByRole('tab', { name: 'which cause' }).click()
    expect(['unmetered-air', 'pcv-stuck-open']).toContain(await lead(page).getAttribute('data-fault'))
    await page.getByRole('tab', { name: 'what to test' }).click()
    await expect(page.locator('.fork-bench')).not.toContainText('Airflow sensor')
  })
  await test.step('the quarry loader’s pick-up: inert gas at idle, the hand pump next', async () => {
    await open(page, `${shop.url}/visit/visit-quarry/trace`, 'which cause')
    await expect(lead(page)).toHaveAttribute('data-fault', 'egr-open-at-idle')
    await expect(page.locator('.size-sentence')).toContainText('Exhaust gas leaks into the manifold')
    await page.getByRole('tab', { name: 'what to test' }).click()
    await expect(page.locator('.fork-bench')).toContainText(/Gauge at idle|Hand pump on the EGR valve/)
  })
  await test.step('the teacher’s hatchback: nothing wrong, and nothing is pushed', async () => {
    await open(page, `${shop.url}/visit/visit-teacher/trace`, 'which cause')
    await expect(lead(page)).toHaveAttribute('data-fault', 'none')
    await expect(page.locator('.size-sentence')).toContainText('what a sound 1.8 L engine does')
  })
})

test('cars like it narrow a band and move a verdict', async ({ bay: page, shop }) => {
  const at = '2026-03-01T09:00:00.000Z'
  const { vehicle } = await shop.get<{ vehicle: { spec: object } }>('/api/visits/visit-library')
  const spec = { ...vehicle.spec, displacementL: 2.3 }
  const put = async (path: string, data: object, baseVersion = 0): Promise<void> => {
    const answer = await fetch(`${shop.url}/api/${path}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json', 'idempotency-key': `${path} ${baseVersion}` },
      body: JSON.stringify({ by: 'R', at, baseVersion, ...data }),
    })
    expect(answer.status).toBe(200)
  }
  const car = async (id: string, airflow: number, trim: number): Promise<void> => {
    await put(`vehicles/${id}`, { plate: `KIN ${id}`, customer: 'made up', spec })
    const visit = {
      vehicleId: id,
      openedAt: at,
      state: 'open',
      altitudeM: 1180,
      ambientC: 20,
      intent: 'not-stated',
      complaint: '',
      signs: [],
      conditions: [],
    }
    await put(`visits/of-${id}`, visit)
    // a leak takes the same from the airflow at any speed, and fades from the trim
    for (const [slot, rpm, more, trimmed] of [
      ['idle', 700, 0, trim],
      ['hold-2500', 2500, 6.85, 0.3 * trim],
    ] as const)
      for (const [channel, value] of Object.entries({
        rpm,
        maf_gs: airflow + more,
        stft1_pct: 0,
        ltft1_pct: trimmed,
      }))
        await put(`readings/of-${id}:0:${slot}:${channel}`, {
          visitId: `of-${id}`,
          round: 0,
          slot,
          channel,
          value,
          typed: String(value),
        })
    await put(`visits/of-${id}`, { ...visit, state: id === 'mine' ? 'open' : 'handed-over' }, 1)
  }
  // ten percent of trim at idle, and as much air as it ever drew: what comes in unseen would take its place
  await car('mine', 2.9, 10)
  const leading = async (standing: string): Promise<string> => {
    await open(page, `${shop.url}/visit/of-mine/trace`, 'which cause')
    await expect(page.locator('[data-part=basis]')).toContainText(standing)
    return lead(page).innerText()
  }
  const width = async (): Promise<number> => {
    const label = await page.locator('[data-channel=maf_gs] .scale').getAttribute('aria-label')
    const [low, high] = /band ([\d.]+) to ([\d.]+)/.exec(label!)!.slice(1).map(Number)
    return high - low
  }
  expect(await leading('readings at 2 points')).toContain('Air let in behind the throttle')
  await page.goto(`${shop.url}/visit/of-mine/measure`)
  const wide = await width()
  for (const [i, airflow] of [2.75, 2.8, 2.7].entries()) await car(`kin-${i}`, airflow, 0)
  await page.reload()
  await expect(page.locator('[data-channel=maf_gs]')).toContainText('from 3 cars like it')
  expect(await width()).toBeLessThan(0.6 * wide)
  expect(await leading('3 sound cars like it')).toContain('Exhaust leaks ahead of the oxygen sensor')
})
