import { expect, it } from '@jest/globals'
import { lookItemsOf } from '../engine/index.js'
import { batterySaid, diagnoseVisit, nowAct, sheetOf, type ReadingRecord } from './index.js'
import { foundAt, idleOf, reading, visitOf } from './remedies.fixture.js'

const volts = (resting?: number, cranking?: number): ReadingRecord[] => [
  ...(resting === undefined ? [] : [reading(0, 'key-on', 'battery_v', resting)]),
  ...(cranking === undefined ? [] : [reading(0, 'cranking', 'battery_v', cranking)]),
]
const lookedAtAll = () =>
  lookItemsOf(visitOf().vehicle.spec).map((x) => ({ ...foundAt(x.id, ''), outcome: 'pass' as const }))
it.each([
  [undefined, undefined, undefined, /two figures/],
  [12.7, 10.4, 'sound', /not what keeps/],
  [12.7, undefined, undefined, /charged\. Whether it holds/],
  [12.3, undefined, 'low', /not fully charged/],
  [11.9, 10, 'low', /less than half/],
  [12.7, 8.9, 'weak', /battery, cable or starter/],
  [12.1, 8.9, 'weak', /charge it, then crank again/],
] as const)('%s V at rest, %s cranking: %s', (resting, cranking, verdict, words) => {
  const b = batterySaid(visitOf({ readings: volts(resting, cranking) }))
  expect(b.verdict).toBe(verdict)
  expect(b.said).toMatch(words)
})
it.each([
  [12.1, undefined, undefined],
  [11.4, undefined, 'Battery: 11.4 V at rest, less than half charged.'],
  [12.7, 8.9, 'Battery: 8.9 V while it cranks, where 9.6 are needed.'],
] as const)('%s V at rest, %s cranking: on the sheet, and before every cause', (resting, cranking, found) => {
  const f = visitOf({ findings: lookedAtAll(), readings: [...idleOf(0), ...volts(resting, cranking)] })
  const d = diagnoseVisit(f, 0)
  expect(sheetOf(f, d, 80, d).found.filter((x) => x.startsWith('Battery'))).toEqual(found ? [found] : [])
  expect(nowAct(f, d).id === 'supply').toBe(found !== undefined)
})
it('the cold takes some of the cranking voltage', () => {
  const f = visitOf({ readings: volts(12.7, 9.2) })
  expect(batterySaid(f).verdict).toBe('weak')
  expect(batterySaid({ ...f, visit: { ...f.visit, ambientC: -12 } }).verdict).toBe('sound')
})
it.each([
  [11.8, /^Supply 11\.8 V, where 13\.4 to 14\.8 belongs\. The engine runs on its battery: /],
  [16.2, /It is overcharged: /],
])('a supply of %s V at idle comes before every cause', (v, why) => {
  const looked = lookedAtAll()
  const idle = idleOf(0).filter((r) => r.channel !== 'battery_v')
  const f = visitOf({ findings: looked, readings: [...idle, reading(0, 'idle', 'battery_v', v)] })
  expect(nowAct(f, diagnoseVisit(f, 0))).toMatchObject({ id: 'supply', why: expect.stringMatching(why) })
  const smart = visitOf({ findings: looked, readings: [...idle, reading(0, 'idle', 'battery_v', 12.8)] })
  expect(nowAct(smart, diagnoseVisit(smart, 0)).id).not.toBe('supply')
})
