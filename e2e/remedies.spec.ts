import { delivered, expect, test, type Shop } from './shop.js'

interface Kept {
  readonly readings: readonly { readonly id: string; readonly value: number; readonly round: number }[]
  readonly reports: readonly { readonly sheet: { readonly plain: string; readonly done: readonly string[] } }[]
}

let keys = 0
/** A record sent as another tablet would send it. */
const send = (
  shop: Shop,
  noun: string,
  id: string,
  data: object,
): Promise<{ status: number; body: { detail?: string } }> =>
  fetch(`${shop.url}/api/${noun}/${encodeURIComponent(id)}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json', 'idempotency-key': `remedies-${++keys}` },
    body: JSON.stringify({ by: 'Ebbe', at: new Date().toISOString(), baseVersion: 0, ...data }),
  }).then(async (r) => ({ status: r.status, body: (await r.json()) as { detail?: string } }))

/** A car like the library's that comes in with a complaint. */
async function takenIn(
  shop: Shop,
  id: string,
  { plate, ...came }: { readonly plate: string; readonly complaint: string; readonly signs: readonly string[] },
): Promise<void> {
  const { vehicle } = await shop.get<{ vehicle: { readonly spec: object } }>('/api/visits/visit-library')
  await send(shop, 'vehicles', id, { plate, customer: '', spec: vehicle.spec })
  await send(shop, 'visits', id, {
    vehicleId: id,
    openedAt: new Date().toISOString(),
    state: 'open',
    intent: 'complaint',
    conditions: [],
    altitudeM: 0,
    ambientC: 15,
    ...came,
  })
}

test('film on the sensor: cleaned, dried, measured again, and the sheet says so', async ({ bay: page, shop }) => {
  const visit = `${shop.url}/visit/visit-library`
  await page.goto(`${visit}/look`)
  await page.getByRole('radio', { name: 'Film or debris on the element: failed' }).click()
  await page.goto(`${visit}/trace`)
  await page.getByRole('tab', { name: 'which cause' }).click()
  await expect(page.locator('[data-fault]').first()).toHaveAttribute('data-fault', 'maf-under-reads')

  await page.goto(`${visit}/clean`)
  await page.getByRole('button', { name: /^airflow sensor element/ }).click()
  await page.getByRole('button', { name: 'airflow sensor cleaner on airflow element: may' }).click()
  await page.getByRole('checkbox', { name: 'seen to' }).click()
  await page.getByRole('button', { name: 'begin: off the car' }).click()
  await page.getByRole('button', { name: /^start 15:00/ }).click()
  await page.getByRole('checkbox', { name: 'ends there' }).click()
  await delivered(page)

  // while it dries nothing is started and no sheet goes out
  await page.goto(`${visit}/first-start`)
  await expect(page.getByRole('alert')).toContainText('no start before it is dry')
  await page.goto(`${visit}/hand-over`)
  await expect(page.getByText(/Not measured again since: airflow sensor element cleaned/).first()).toBeVisible()
  await expect(page.getByRole('button', { name: 'issue the sheet' })).toBeDisabled()
  await page.getByRole('button', { name: /^end airflow sensor element drying/ }).click()

  // the baseline is locked; the next readings fill round 1
  await page.goto(`${visit}/arrive`)
  await expect(page.locator('[data-channel=rpm] input')).toHaveAttribute('readonly', '')
  await page.goto(`${visit}/measure`)
  await expect(page.getByText(/^Round 1, after: airflow sensor element cleaned/)).toBeVisible()
  for (const [channel, value] of [
    ['rpm', '715'],
    ['maf_gs', '2.95'],
    ['stft1_pct', '0'],
    ['ltft1_pct', '1'],
    ['throttle_pct', '13.2'],
  ]) {
    await page.locator(`[data-channel=${channel}] input`).fill(value)
    await page.locator(`[data-channel=${channel}] input`).press('Enter')
  }
  await delivered(page)
  await page.goto(`${visit}/hand-over`)
  const sheet = page.getByRole('article', { name: 'sheet' })
  await expect(sheet).toContainText(
    'The airflow sensor of your engine was reading too low. Done: the airflow sensor cleaned.',
  )
  await expect(sheet).toContainText(
    'Airflow sensor element cleaned with airflow sensor cleaner, off the car (25 min, parts 9.00).',
  )
  await expect(sheet).toContainText('labour 25 min')
  await expect(sheet).toContainText('Speed 715 rpm, inside')
  await expect(sheet).not.toContainText('drawing in air')
  await page.getByRole('button', { name: 'issue the sheet' }).click()
  await delivered(page)
  const kept = await shop.get<Kept>('/api/visits/visit-library')
  expect(kept.reports[0].sheet.plain).toMatch(/airflow sensor of your engine was reading too low/)
})

test('a baseline is corrected by its word only; the server holds to it too', async ({ bay: page, shop }) => {
  await send(shop, 'repairs', 'r', {
    visitId: 'visit-library',
    station: 'duct',
    kind: 'refit',
    state: 'done',
    afterRound: 0,
    temporary: false,
    minutes: 5,
    partsPrice: 0,
    conditions: [],
  })
  const rpm = async (): Promise<Kept['readings'][number]> =>
    (await shop.get<Kept>('/api/visits/visit-library')).readings.find((r) => r.id.endsWith(':0:idle:rpm'))!
  const before = await rpm()
  const other = await send(shop, 'readings', before.id, {
    visitId: 'visit-library',
    round: 0,
    slot: 'idle',
    channel: 'rpm',
    value: 900,
    typed: '900',
    baseVersion: 1,
  })
  expect([other.status, other.body.detail]).toEqual([409, expect.stringContaining('Correct it by its word')])
  await page.goto(`${shop.url}/visit/visit-library/arrive`)
  await expect(page.getByRole('note')).toContainText('Read before duct refitted')
  await page.getByRole('button', { name: 'correct one' }).click()
  await page.locator('[data-channel=rpm] input').fill('716')
  await page.locator('[data-channel=rpm] input').press('Enter')
  await delivered(page)
  expect((await rpm()).value).toBe(716)
})

test('a relearn that is the only remedy: the sheet tells the new idle against its band', async ({
  bay: page,
  shop,
}) => {
  // taught from another tablet, every step at its time
  let ms = Date.now() - 120_000
  const tap = (seconds: number): { kind: string; atMs: number } => ({ kind: 'tap', atMs: (ms += 1000 * seconds) })
  const events = [
    { kind: 'begin', atMs: ms },
    tap(3),
    ...[1, 1, 1, 1, 0.5].map(tap),
    tap(7),
    tap(12),
    tap(1.5),
    tap(21),
  ]
  const taught = await send(shop, 'runs', 'visit-warden:run:taught', {
    visitId: 'visit-warden',
    procedure: 'key-pedal-relearn',
    attempt: 2,
    preconditions: ['selector', 'consumers', 'steering', 'warm', 'supply'],
    events,
    afterRound: 0,
  })
  expect(taught.status).toBe(200)
  await page.goto(`${shop.url}/visit/visit-warden/prove`)
  await expect(page.getByText(/^round 1, after: idle taught \(key and pedal\), attempt 2/)).toBeVisible()
  for (const [channel, value] of [
    ['rpm', '700'],
    ['maf_gs', '2.9'],
    ['stft1_pct', '0'],
    ['ltft1_pct', '1'],
  ]) {
    await page.locator(`[data-channel=${channel}] input`).fill(value)
    await page.locator(`[data-channel=${channel}] input`).press('Enter')
  }
  await expect(page.locator('.change', { hasText: 'idle speed' })).toHaveAttribute('data-verdict', 'better')
  await delivered(page)
  await page.goto(`${shop.url}/visit/visit-warden/hand-over`)
  const sheet = page.getByRole('article', { name: 'sheet' })
  await expect(sheet).toContainText('Done: the idle taught again.')
  await expect(sheet).toContainText('It idles at 700 rpm, where it should.')
  await expect(sheet).toContainText(/Speed 700 rpm, inside \d+ to \d+\./)
})

test('a feed waits for the bolts, a start for the soak and for a look for pools', async ({ bay: page, shop }) => {
  await page.goto(`${shop.url}/visit/visit-sawmill/decarbonize`)
  await expect(page.locator('[data-rule=item-off]').first()).toContainText('Off: 4 × bolt')
  const feed = {
    method: 'metered-port',
    product: { kind: 'combustible', afr: 14.5 },
    doseMl: 60,
    labelMaxMl: 250,
    point: 'plenum',
    airGS: 9,
    rpm: 2000,
    speedFrom: 'scan',
    coolantC: 90,
    extraction: true,
    fireCover: true,
    lampFlashing: false,
    heldRunning: true,
    boostKpa: 0,
    feedRunning: false,
  }
  const refused = await send(shop, 'runs', 'feed', {
    visitId: 'visit-sawmill',
    procedure: 'feed',
    attempt: 1,
    preconditions: ['stop-liquid', 'stop-fire', 'stop-gas'],
    events: [{ kind: 'begin', atMs: Date.now() }],
    feed,
  })
  expect([refused.status, refused.body.detail]).toEqual([expect.any(Number), expect.stringContaining('Off: 4 × bolt')])
  expect(refused.status).toBeGreaterThanOrEqual(400)

  await send(shop, 'timers', 'soak', {
    visitId: 'visit-lift',
    label: 'soak',
    kind: 'soak',
    startedAt: new Date().toISOString(),
    seconds: 900,
    ended: false,
  })
  // typed by hand this car has no coolant reading, whatever the hour
  await page.goto(`${shop.url}/visit/visit-lift/decarbonize`)
  await expect(page.locator('[data-rule=coolant-unknown]')).toContainText('has not been read')
  await expect(page.locator('[data-rule=soak-runs]')).toBeVisible()
  await page.goto(`${shop.url}/visit/visit-lift/first-start`)
  await expect(page.getByRole('alert')).toContainText('nothing is cranked in it')
})

test('a plug that was counted in and forgotten stops the closing, and a thing of any name too', async ({
  bay: page,
  shop,
}) => {
  await page.goto(`${shop.url}/visit/visit-warden/open-up`)
  await page.getByRole('tab', { name: 'counted in' }).click()
  await page.getByRole('button', { name: 'hose plug in' }).click()
  await page.getByRole('textbox', { name: 'something else that goes in' }).fill('straw, short')
  await page.getByRole('button', { name: 'count it in' }).click()
  await delivered(page)
  await page.goto(`${shop.url}/visit/visit-warden/close-up`)
  const alert = page.getByRole('alert')
  await expect(alert).toContainText('hose plug: 1 in, 0 out')
  await expect(alert).toContainText('straw, short: 1 in, 0 out')
  await page.getByRole('tab', { name: 'counted out' }).click()
  await page.getByRole('button', { name: 'hose plug out' }).click()
  await page.getByRole('button', { name: 'straw, short out' }).click()
  await expect(page.getByText('Closed: nothing off, nothing loose, everything counted out.')).toBeVisible()
})

test('a car that comes back: its plate opens it, with what was left', async ({ bay: page, shop }) => {
  await page.getByRole('link', { name: 'new car' }).click()
  await page.getByRole('textbox', { name: 'plate', exact: true }).fill('val 12 l')
  await page.getByRole('button', { name: 'take it in' }).click()
  await expect(page.getByRole('alert')).toContainText('VAL 12 L is known')
  await page.getByRole('button', { name: 'take that car in' }).click()
  await expect(page.getByText('left on', { exact: false })).toBeVisible()
  await page.getByRole('textbox', { name: 'in the customer’s words' }).fill('Hisses again since Tuesday')
  await page.getByRole('textbox', { name: 'code' }).fill('P0171')
  await page.getByRole('textbox', { name: 'code' }).press('Enter')
  await delivered(page)
  await page.goto(shop.url)
  await expect(page.locator('.bay-row', { hasText: 'Hisses again since Tuesday' })).toContainText('VAL 12 L')
})

test('an engine that holds no idle: read held, mended, and idling again', async ({ bay: page, shop }) => {
  await takenIn(shop, 'dies', { plate: 'DIE 1', complaint: 'Dies as soon as I let go', signs: ['no-idle'] })
  const visit = `${shop.url}/visit/dies`
  const type = async (values: Readonly<Record<string, string>>): Promise<void> => {
    for (const [channel, value] of Object.entries(values)) {
      await page.locator(`[data-channel=${channel}] input`).fill(value)
      await page.locator(`[data-channel=${channel}] input`).press('Enter')
    }
    await delivered(page)
  }
  await test.step('it is read held, and nothing is asked of its idle', async () => {
    await page.goto(`${visit}/arrive`)
    await expect(page.getByTestId('now')).toContainText('If it holds none, tick that there.')
    await page.getByRole('checkbox', { name: 'it does not hold an idle' }).click()
    await expect(page.getByTestId('now')).toContainText('Read it held at 2500 rpm')
    await type({ rpm: '2500', maf_gs: '5.6', stft1_pct: '20.3', ltft1_pct: '25' })
    await expect(page.getByTestId('now')).toContainText('Walk the pipe')
  })
  await test.step('the sheet says so', async () => {
    await page.goto(`${visit}/hand-over`)
    await expect(page.getByRole('article', { name: 'sheet' })).toContainText(
      'Your engine holds no idle. We found where to look; nothing has been mended yet.',
    )
  })
  await test.step('mended, it is asked for its idle, which is the proof', async () => {
    await send(shop, 'findings', 'dies:smoke', { visitId: 'dies', test: 'smoke', station: 'booster', outcome: 'fail' })
    await send(shop, 'repairs', 'dies:hose', {
      visitId: 'dies',
      station: 'booster',
      kind: 'replace',
      state: 'done',
      afterRound: 0,
      temporary: false,
      minutes: 10,
      partsPrice: 9,
      conditions: [],
    })
    await page.goto(`${visit}/prove`)
    await expect(page.getByTestId('now')).toContainText('Measure the same points again')
    await type({ rpm: '712', maf_gs: '2.9', stft1_pct: '0', ltft1_pct: '1', throttle_pct: '13.1' })
    await expect(page.getByText('It held no idle before, and holds an idle now.')).toBeVisible()
    await expect(page.locator('.verdict')).toContainText('It helped')
    await page.goto(`${visit}/hand-over`)
    await expect(page.getByRole('article', { name: 'sheet' })).toContainText('It holds an idle again, at 712 rpm')
  })
})

test('a part renewed in vain: what it came with is said to be there still, and it is traced on', async ({
  bay: page,
  shop,
}) => {
  await takenIn(shop, 'rough', { plate: 'RGH 1', complaint: 'Shakes at the lights', signs: ['idle-rough'] })
  const read = async (round: number): Promise<void> => {
    const values = { rpm: 715, maf_gs: 2.8, stft1_pct: 0, ltft1_pct: 1, throttle_pct: 13.2, ect_c: 91, iat_c: 24 }
    for (const [channel, value] of Object.entries(values))
      await send(shop, 'readings', `rough:${round}:idle:${channel}`, {
        visitId: 'rough',
        round,
        slot: 'idle',
        channel,
        value,
        typed: String(value),
      })
  }
  await read(0)
  await send(shop, 'repairs', 'rough:plate', {
    visitId: 'rough',
    station: 'purge',
    kind: 'replace',
    state: 'done',
    afterRound: 0,
    temporary: false,
    minutes: 10,
    partsPrice: 40,
    conditions: [],
  })
  await read(1)
  const visit = `${shop.url}/visit/rough`
  const sheet = page.getByRole('article', { name: 'sheet' })
  await page.goto(`${visit}/prove`)
  await expect(page.getByTestId('now')).toContainText('Came with “idle rough”: gone, or still there?')
  await page.getByRole('radio', { name: 'still there' }).click()
  await expect(page.getByTestId('now')).toContainText('Still there: “idle rough”.')
  await delivered(page)
  await page.goto(`${visit}/hand-over`)
  await expect(sheet).toContainText('Still there after the work: “idle rough”.')

  await page.goto(`${visit}/prove`)
  await page.getByRole('radio', { name: 'gone', exact: true }).click()
  await expect(page.getByTestId('now')).toContainText('Print the sheet')
  await delivered(page)
  await page.goto(`${visit}/hand-over`)
  await expect(sheet).toContainText('What you came with, “idle rough”, is gone.')
  await expect(sheet).not.toContainText('Still there')
})
