import { describe, expect, it } from '@jest/globals'
import { validateSync } from 'class-validator'
import { CodeForm, FeedForm, FeedTypedForm, NewCarForm, PlaceForm, ShopForm } from '@uvula/contract'
import { FEED_EQUIPMENT } from '@uvula/core'

/** Fields at fault, with their words. */
function wrong(form: object, values: object): Record<string, string> {
  const errors = validateSync(Object.assign(form, values))
  return Object.fromEntries(errors.map((e) => [e.property, Object.values(e.constraints ?? {})[0]]))
}

describe('forms', () => {
  it('what is right has nothing wrong', () => {
    expect(wrong(new PlaceForm(), { altitudeM: 1180, ambientC: -5 })).toEqual({})
    expect(wrong(new ShopForm(), { name: 'x', altitudeM: 0, labourPerHour: 0 })).toEqual({})
    expect(wrong(new NewCarForm(), { plate: 'VAL 1', customer: '', name: '', vin: '' })).toEqual({})
    expect(wrong(new CodeForm(), { code: 'P0171' })).toEqual({})
  })
  it.each([
    [new PlaceForm(), { altitudeM: NaN, ambientC: 9 }, 'altitudeM', /between -450 and 5500 m/],
    [new PlaceForm(), { altitudeM: 0, ambientC: 61 }, 'ambientC', /between -40 and 60 °C/],
    [new PlaceForm(), { altitudeM: 0, ambientC: 9, baroKpa: 900 }, 'baroKpa', /45 and 110 kPa/],
    [new NewCarForm(), { plate: '', customer: '', name: '', vin: '' }, 'plate', /must not be empty/],
    [new NewCarForm(), { plate: 'x'.repeat(21), customer: '', name: '', vin: '' }, 'plate', /at most 20/],
    [new ShopForm(), { name: '', altitudeM: 0, labourPerHour: 60 }, 'name', /must not be empty/],
    [new CodeForm(), { code: 'P171' }, 'code', /as in P0171/],
    [new FeedTypedForm(), { doseMl: 60, labelMaxMl: 250, coolantC: 200 }, 'coolantC', /-40 and 150 °C/],
    [
      new FeedForm(),
      { doseMl: 0, labelMaxMl: 250, rpm: 2500, airGS: 19, coolantC: 90, boostKpa: 0 },
      'doseMl',
      /1 and 2000 mL/,
    ],
  ])('%# names its field and what is accepted', (form, values, field, words) => {
    const found = wrong(form, values)
    expect(Object.keys(found)).toEqual([field])
    expect(found[field]).toMatch(words)
  })
  it.each(['pressureBar', 'nozzleMm', 'massG', 'overS'] as const)(
    'a feed’s %s is bounded as the plan bounds it',
    (key) => {
      const { min, max } = FEED_EQUIPMENT[key]
      const typed = (x: number): Record<string, string> =>
        wrong(new FeedTypedForm(), { doseMl: 9, labelMaxMl: 9, [key]: x })
      expect([typed(min), typed(max)]).toEqual([{}, {}])
      expect([Object.keys(typed(0.99 * min)), Object.keys(typed(1.01 * max))]).toEqual([[key], [key]])
    },
  )
})
