import { findings, outOfReach, type Finding } from './findings.js'
import { expect, test } from './shop.js'

/** Every screen, with a car that fills it. */
const SCREENS = [
  '/',
  '/new',
  '/settings',
  '/car/car-lift',
  '/visit/visit-bakery/arrive',
  '/visit/visit-bakery/look',
  '/visit/visit-library/measure',
  '/visit/visit-quarry/measure?view=trims',
  '/visit/visit-hill/measure?view=gauge',
  '/visit/visit-teacher/measure?view=cylinders',
  '/visit/visit-hill/measure?view=throttles',
  '/visit/visit-hill/measure?view=pump',
  '/visit/visit-library/trace',
  '/visit/visit-choir/trace?at=booster',
  '/visit/visit-sawmill/open-up',
  '/visit/visit-sawmill/clean',
  '/visit/visit-lift/decarbonize',
  '/visit/visit-sawmill/close-up',
  '/visit/visit-lift/first-start',
  '/visit/visit-warden/learn',
  '/visit/visit-choir/prove',
  '/visit/visit-lift-spring/hand-over',
  '/procedures/new-1',
  '/car/car-lift',
  '/visit/visit-vet/live',
  '/visit/visit-library/recording/visit-library:rec:0',
] as const

for (const [width, height] of [
  [1280, 800],
  [390, 844],
] as const)
  test(`every screen by the accessibility rules, for gloves and by the content policy, day and night, ${width} px`, async ({
    bay: page,
    shop,
  }) => {
    test.setTimeout(180_000)
    await page.setViewportSize({ width, height })
    const found: Record<string, Finding[]> = {}
    const reach: Record<string, string[]> = {}
    for (const path of SCREENS) {
      await page.goto(shop.url + path)
      await page.waitForLoadState('networkidle')
      await expect(page.getByText(/^Fetching/)).toHaveCount(0)
      const wrong = await findings(page)
      const far = await outOfReach(page)
      if (far.length) reach[path] = far
      await page.evaluate(() => (document.documentElement.dataset.theme = 'night'))
      const night = await findings(page, ['color-contrast'])
      if (wrong.length + night.length) found[path] = [...wrong, ...night]
    }
    expect(found).toEqual({})
    expect(reach).toEqual({})
  })
