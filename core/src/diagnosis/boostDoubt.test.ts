import { expect, it } from '@jest/globals'
import { totalTrimPct } from '../signals/index.js'
import { carOf } from './cars.fixture.js'
import { deadSaid, diagnose, pointFromTyped } from './index.js'

const pulled = (id: string, rpm: number, map_kpa: number, keyOn = 88): readonly string[] =>
  deadSaid(
    diagnose(carOf(id, 1180), {
      intent: 'complaint',
      signs: [],
      findings: [],
      points: [
        pointFromTyped({ kind: 'key-on', values: { map_kpa: keyOn } }, totalTrimPct),
        pointFromTyped({ kind: 'pull', values: { rpm, map_kpa, maf_gs: 56 } }, totalTrimPct),
      ],
    }),
  )
it.each([
  ['turbo-di', 4000, 99, /stands at 99 kPa at 4000 rpm, 11 kPa above the air of this place: the turbo hardly blows/],
  ['diesel-four', 3000, 86, /no more than the air of this place/],
] as const)('a %s that hardly blows is told of', (id, rpm, kpa, words) => {
  expect(pulled(id, rpm, kpa)).toEqual([expect.stringMatching(words)])
})
it.each([
  ['one that blows', 'turbo-di', 4000, 135],
  ['one that turns too slowly to blow', 'turbo-di', 1800, 92],
  ['an engine without one', 'four-map', 4000, 86],
] as const)('%s is not', (_, id, rpm, kpa) => {
  expect(pulled(id, rpm, kpa)).toEqual([])
})
it('nothing is told by a pressure sensor that is off itself', () => {
  expect(pulled('turbo-di', 4000, 99, 75).join()).not.toMatch(/hardly blows/)
})
