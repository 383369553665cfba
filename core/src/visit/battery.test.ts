import { expect, it } from '@jest/globals'
import { batterySaid, type ReadingRecord } from './index.js'
import { reading, visitOf } from './remedies.fixture.js'

const volts = (resting?: number, cranking?: number): ReadingRecord[] => [
  ...(resting === undefined ? [] : [reading(0, 'key-on', 'battery_v', resting)]),
  ...(cranking === undefined ? [] : [reading(0, 'cranking', 'battery_v', cranking)]),
]
it.each([
  [undefined, undefined, undefined, /two figures/],
  [12.7, 10.4, 'sound', /not what keeps/],
  [12.3, undefined, 'low', /not fully charged/],
  [11.9, 10, 'low', /less than half/],
  [12.7, 8.9, 'weak', /battery, cable or starter/],
  [12.1, 8.9, 'weak', /charge it, then crank again/],
] as const)('%s V at rest, %s cranking: %s', (resting, cranking, verdict, words) => {
  const b = batterySaid(visitOf({ readings: volts(resting, cranking) }))
  expect(b.verdict).toBe(verdict)
  expect(b.said).toMatch(words)
})
it('the cold takes some of the cranking voltage', () => {
  const f = visitOf({ readings: volts(12.7, 9.2) })
  expect(batterySaid(f).verdict).toBe('weak')
  expect(batterySaid({ ...f, visit: { ...f.visit, ambientC: -12 } }).verdict).toBe('sound')
})
