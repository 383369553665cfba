import type { Page } from '@playwright/test'
import { baseline, firstStart, issued, says, typeIdle } from './last-third.js'
import { delivered, expect, pick, test, type Shop } from './shop.js'

interface Kept {
  readonly visit: { readonly id: string }
  readonly steps: readonly { readonly surface: string; readonly passed: boolean; readonly againstRule?: string }[]
  readonly runs: readonly { readonly events: readonly { readonly kind: string }[] }[]
}

let keys = 0
/** A record sent as another tablet would send it. */
async function send(shop: Shop, noun: string, id: string, data: object, at = new Date()): Promise<number> {
  const r = await fetch(`${shop.url}/api/${noun}/${encodeURIComponent(id)}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json', 'idempotency-key': `cleaning-${++keys}` },
    body: JSON.stringify({ by: 'Ebbe', at: at.toISOString(), baseVersion: 0, ...data }),
  })
  return r.status
}

const hands = (page: Page) => page.locator('.hands')
const stage = (page: Page, name: string) => page.getByRole('checkbox', { name, exact: true })

/** Conditions of a feed ticked, the coolant typed. */
async function makeReady(page: Page): Promise<void> {
  await page.getByLabel('coolant').fill('90')
  for (const tick of ['extraction on', 'extinguisher at hand', 'cannot stop by itself'])
    await page.getByRole('checkbox', { name: tick }).click()
}

/** Armed, its STOPs ticked, begun. */
async function begin(page: Page): Promise<void> {
  await page.getByRole('button', { name: /arm the feed/ }).click()
  await expect(page.getByRole('checkbox')).toHaveCount(3)
  for (let left = 3; left > 0; left--) {
    await page.getByRole('checkbox').first().click()
    await expect(page.getByRole('checkbox')).toHaveCount(left - 1)
  }
  await page.getByRole('button', { name: 'begin' }).click()
}

/** One step of closing down after the other; none before the one ahead of it. */
async function closeDown(page: Page): Promise<void> {
  const steps = page.getByRole('list', { name: 'close down' }).getByRole('checkbox')
  await expect(steps.nth(1)).toBeDisabled()
  for (let k = 0; k < (await steps.count()); k++) await steps.nth(k).click()
}

test('the library van: the sensor by its own cleaner; the filter soaked, flushed, dried, oiled by weight', async ({
  bay: page,
  shop,
}) => {
  // what is next leads to its bench in one tap, and the surface stands chosen; so does the place of the pipe
  await page.goto(`${shop.url}/visit/visit-library/arrive`)
  await expect(page.getByTestId('now')).toContainText('Clean the airflow sensor, once')
  await page.getByTestId('now').click()
  await expect(page.getByRole('heading', { name: 'airflow sensor element' })).toBeVisible()
  await expect(page.getByRole('button', { name: 'begin: sprayed in place' })).toBeVisible()
  await page.goto(`${shop.url}/visit/visit-library/trace?at=airflow-sensor`)
  await page.getByRole('link', { name: 'clean it' }).click()
  await page.getByRole('button', { name: /^throttle cleaner on a cloth on airflow element: never/ }).click()
  await expect(page.getByRole('alert')).toContainText('Use airflow sensor cleaner')
  await page.getByRole('button', { name: /^compressed air, outward on airflow element: never/ }).click()
  await expect(page.getByRole('alert')).toContainText('a jet tears the element')

  await page.getByRole('button', { name: /^washable filter/ }).click()
  await page.getByRole('button', { name: 'filter cleaner of its own kit on filter washable: may' }).click()
  await page.getByRole('checkbox', { name: 'seen to' }).click()
  await page.getByRole('button', { name: 'begin: off the car' }).click()
  for (const name of ['tap it dry', 'soak', 'flush']) await stage(page, name).click()
  await expect(page.locator('[data-rule=wash-owed]')).toContainText('dry through and 1 more still to do')
  await page.getByRole('textbox', { name: 'dry through, weight' }).fill('412')
  await stage(page, 'dry through').click()
  await page.getByRole('textbox', { name: 'oil, weight' }).fill('470')
  await stage(page, 'oil').click()
  // too much oil is what films the sensor: no end
  await expect(page.locator('[data-rule=filter-oil]')).toContainText('58 g of oil where 25 g belong')
  await expect(stage(page, 'ends there')).toBeDisabled()
  await stage(page, 'oil').click()
  await page.getByRole('textbox', { name: 'oil, weight' }).fill('431')
  await stage(page, 'oil').click()
  await stage(page, 'ends there').click()
  await delivered(page)
  await page.goto(`${shop.url}/visit/visit-library/hand-over`)
  await expect(page.getByRole('article', { name: 'sheet' })).toContainText(
    /Washable filter cleaned with filter cleaner of its own kit, off the car \(.*19 g of oil, of 25 g at most\)/,
  )
})

test('the bakery van: coated bore off the car, then a canister set by pressure and closed down in order', async ({
  bay: page,
  shop,
}) => {
  const visit = `${shop.url}/visit/visit-bakery`
  await page.goto(`${visit}/clean`)
  await page.getByRole('button', { name: /^throttle, coated bore/ }).click()
  await page.getByRole('button', { name: /^steel brush on throttle coated: never/ }).click()
  await expect(page.getByRole('alert')).toContainText('it scrapes the coating off')
  await page.getByRole('button', { name: /^soft brush or lint-free cloth on throttle coated: may/ }).click()
  // a cable throttle is not opened by command
  await expect(page.getByRole('button', { name: /opened by command/ })).toHaveCount(0)
  await page.getByRole('checkbox', { name: 'seen to' }).click()
  await page.getByRole('button', { name: 'begin: off the car' }).click()
  await stage(page, 'wipe').click()
  await stage(page, 'ends there').click()
  await delivered(page)

  await page.goto(`${visit}/decarbonize`)
  await pick(page, 'way', 'pressurised canister, regulator and nozzle')
  await page.getByRole('combobox', { name: 'feed point' }).click()
  await page.getByRole('option', { name: /^duct/ }).click()
  await makeReady(page)
  await expect(page.locator('[data-rule=equipment-unknown]')).toContainText('by its pressure and its nozzle')
  await page.getByLabel('nozzle').fill('5')
  await expect(page.getByText('must be between 0.1 and 1.2 mm')).toBeVisible()
  await page.getByLabel('regulator at most').fill('4')
  await page.getByLabel('nozzle').fill('0.2')
  // no airflow sensor: what it swallows at the least is worked out from its pressure, at the speed it was read at and no other
  await expect(page.getByLabel('airflow there')).toHaveAttribute('placeholder', /by pressure$/)
  await page.getByLabel('speed held').fill('2000')
  await expect(page.locator('[data-rule=airflow-unknown]')).toBeVisible()
  await page.getByLabel('airflow there').fill('12')
  await page.getByLabel('dose wanted').fill('1')
  await expect(page.getByTestId('plan')).toContainText('on the regulator')
  // no start without extraction
  await page.getByRole('checkbox', { name: 'extraction on' }).click()
  await expect(page.locator('[data-rule=extraction]')).toBeVisible()
  await page.getByRole('checkbox', { name: 'extraction on' }).click()
  await begin(page)
  await expect(hands(page)).toHaveAttribute('data-status', 'done', { timeout: 40_000 })
  await expect(page.getByRole('list', { name: 'close down' }).getByRole('listitem')).toHaveText([
    'valve shut',
    'engine off',
    'regulator to zero',
    'air off',
    'bled',
    'removed',
    'soak',
  ])
  await page.getByRole('button', { name: 'back to the bench' }).click()
  await expect(page.getByTestId('now')).toContainText('Close the feed down')
  await page.getByRole('link', { name: 'close it down: valve shut' }).click()
  await closeDown(page)
  await page.getByRole('button', { name: /^start 15:00/ }).click()
  await page.getByRole('button', { name: 'back to the bench' }).click()
  await expect(page.getByTestId('now')).not.toContainText('Close the feed down')
  await delivered(page)

  // nothing is cranked on a pool; then the first start, its idle measured again, and the printed page
  const before = await baseline(shop, 'visit-bakery')
  await page.goto(`${visit}/first-start`)
  await page.getByRole('button', { name: 'end soak' }).click()
  await page.getByRole('button', { name: 'looked: no pool stands' }).click()
  await firstStart(page, visit)
  await page.goto(`${visit}/prove`)
  await typeIdle(page, { ...before, rpm: 800, idle_valve_pct: 32 })
  const [customer, ...technician] = await issued(page, shop, 'visit-bakery')
  says(customer, 'the throttle cleaned and the intake decarbonized')
  says(technician.join(''), '1 of 1 mL at the duct')
})

test('the lift mechanic’s pick-up: both inlets at once, two slips, pools in each, soaked, cleared out', async ({
  bay: page,
  shop,
}) => {
  const visit = `${shop.url}/visit/visit-lift`
  await page.goto(`${visit}/decarbonize`)
  await makeReady(page)
  await pick(page, 'way', 'mist at a raised idle, ahead of the plate')
  await page.getByRole('checkbox', { name: 'both inlets at once' }).click()
  await expect(page.getByTestId('plan')).toContainText('at each of two inlets')
  await expect(page.getByTestId('reach')).toContainText('both inlets at once: nearly even')
  await pick(page, 'speed read by', 'guessed')
  await expect(page.locator('[data-rule=guessed-speed]')).toBeVisible()
  await pick(page, 'speed read by', 'scan tool')
  await page.getByLabel('dose wanted').fill('5')
  await begin(page)
  await expect(hands(page)).toHaveAttribute('data-phase', 'pause', { timeout: 15_000 })
  // shut late, then fed twice: counted as it was, the pause is longer, and it goes on
  await page.getByRole('button', { name: 'shut only now' }).click()
  await page.getByRole('button', { name: 'went in twice' }).click()
  await expect(hands(page)).toContainText('what was fed burns off first')
  // a second tablet shows the speed to hold, and does not lead
  const second = await page.context().newPage()
  await second.goto(`${page.url()}?view=speed`)
  await expect(second.getByTestId('hold-speed')).toContainText('2500')
  await expect(second.getByText('leads the clock on another page.')).toBeVisible()
  await second.close()
  await expect(hands(page)).toHaveAttribute('data-status', 'done', { timeout: 90_000 })
  await expect(hands(page)).toContainText(/All in: (4\.[89]|5\.\d) mL/)
  await expect(hands(page)).toContainText('2 shots were late, long or fed twice')
  await closeDown(page)
  await page.getByRole('button', { name: /^start 10:00/ }).click()
  await page.getByRole('button', { name: 'back to the bench' }).click()
  await delivered(page)
  const { runs } = await shop.get<Kept>('/api/visits/visit-lift')
  expect(
    runs
      .at(-1)!
      .events.map((e) => e.kind)
      .slice(0, 5),
  ).toEqual(['begin', 'open', 'shut', 'shut-late', 'again'])

  await page.goto(`${visit}/first-start`)
  await expect(page.getByRole('alert')).toContainText('the soak has')
  await page.getByRole('button', { name: 'end soak' }).click()
  await expect(page.getByRole('alert')).toContainText('second inlet')
  await page.getByRole('button', { name: 'looked, first inlet: no pool stands' }).click()
  await expect(page.getByRole('button', { name: /clear it out/ })).toBeDisabled()
  await page.getByRole('button', { name: 'looked, second inlet: no pool stands' }).click()
  await page.getByRole('button', { name: /clear it out/ }).click()
  // a lamp that flashes is not driven away: its STOP stands open
  await expect(page.getByRole('button', { name: 'begin' })).toBeDisabled()
  await expect(page.getByRole('checkbox', { name: /STOP: lamp off or steady/ })).toBeVisible()
})

test('the forester’s manifold over two days: stages, times, and an end only when it is rinsed', async ({
  bay: page,
  shop,
}) => {
  const yesterday = new Date(Date.now() - 24 * 3600_000)
  const done = (id: string) => ({ id, at: yesterday.toISOString(), product: 'soot-remover' })
  const step = {
    visitId: 'visit-forester',
    station: 'plenum',
    surface: 'manifold-aluminium',
    product: 'soot-remover',
    method: 'off-the-car',
    passed: false,
    more: { stages: [done('soften'), { id: 'soak', at: yesterday.toISOString() }] },
  }
  expect(await send(shop, 'steps', 'visit-forester:step:wash', step, yesterday)).toBe(200)
  // an end that comes too soon is a fact, and is marked
  const early = { ...step, passed: true }
  expect(await send(shop, 'steps', 'visit-forester:step:early', early)).toBe(200)
  const kept = await shop.get<Kept>('/api/visits/visit-forester')
  expect(kept.steps.find((s) => s.passed)?.againstRule).toBe('wash-owed')
  expect(await send(shop, 'steps', 'visit-forester:step:early', { ...early, baseVersion: 1, deleted: true })).toBe(200)

  await page.goto(`${shop.url}/visit/visit-forester/clean`)
  await expect(page.locator('[data-stage=soften]')).toContainText('with diesel soot remover')
  await expect(stage(page, 'ends there')).toBeDisabled()
  await pick(page, 'scrub with', 'brass brush')
  for (const name of ['scrape', 'scrub', 'rinse']) await stage(page, name).click()
  await page.getByRole('button', { name: /^start 30:00: manifold, aluminium drying/ }).click()
  await stage(page, 'ends there').click()
  await delivered(page)
  await page.goto(`${shop.url}/visit/visit-forester/hand-over`)
  await expect(page.getByRole('article', { name: 'sheet' })).toContainText(
    /Manifold, aluminium cleaned with diesel soot remover, plastic scraper, brass brush, off the car \(soften, soak, scrape, scrub, rinse; over 2 days\)/,
  )
})

test('a turbo with direct injection: nothing is fed ahead of the intercooler; ports one by one with their valves shut', async ({
  bay: page,
  shop,
}) => {
  await page.goto(`${shop.url}/new`)
  await page.locator('[data-pattern=turbo-di]').click()
  await page.getByRole('textbox', { name: 'plate', exact: true }).fill('VAL 12 P')
  await page.getByRole('button', { name: 'take it in' }).click()
  await expect(page.getByTestId('now')).toBeVisible()
  const visit = page.url().replace(/\/arrive.*/, '')
  await delivered(page)
  await page.goto(`${visit}/decarbonize`)
  await pick(page, 'way', 'mist at a raised idle, ahead of the plate')
  await page.getByRole('combobox', { name: 'feed point' }).click()
  await expect(page.getByRole('option', { name: /boost pipe|throttle/ }).first()).toBeVisible()
  await expect(page.getByRole('option', { name: /^duct|intercooler|compressor|filter/ })).toHaveCount(0)
  await page.keyboard.press('Escape')

  await page.goto(`${visit}/clean`)
  await page.getByRole('button', { name: /^intake ports and valves/ }).click()
  await page.getByRole('button', { name: /^soft media.* on intake valves: may/ }).click()
  await page.getByRole('checkbox', { name: 'seen to' }).click()
  await page.getByRole('button', { name: 'begin: in the head, manifold off' }).click()
  const ports = page.getByRole('list', { name: 'ports in firing order' })
  const port = (cylinder: number, what: string) => ports.getByRole('button', { name: `cylinder ${cylinder}: ${what}` })
  await port(1, 'blast or soak').click()
  await expect(page.getByRole('alert')).toContainText('Cylinder 1: valves shut comes first')
  await port(1, 'valves shut').click()
  await port(1, 'blast or soak').click()
  await port(3, 'valves shut').click()
  await expect(page.getByRole('alert')).toContainText('Cylinder 1 is not drawn out yet')
  await port(1, 'draw out').click()
  for (const c of [3, 4, 2])
    for (const what of ['valves shut', 'blast or soak', 'draw out']) await port(c, what).click()
  await stage(page, 'ends there').click()
  await delivered(page)
  await page.goto(`${visit}/hand-over`)
  const sheet = page.getByRole('article', { name: 'sheet' })
  await expect(sheet).toContainText(/4 ports with valves shut, drawn out/)
  await expect(sheet).toContainText(/Not reached: .*chambers/)
})
