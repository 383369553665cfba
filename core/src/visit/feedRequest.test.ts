import { describe, expect, it } from '@jest/globals'
import { feedRequestOf, measuredForFeed, type FeedChoices } from './index.js'
import type { Vehicle } from '../engine/index.js'
import { ENGINE_PATTERNS } from '../engine/index.js'
import { at, holdOf, idleOf, meta, reading, visitOf } from './remedies.fixture.js'

const NOW = Date.parse(at(5))
const CHOICES: FeedChoices = {
  method: 'metered-port',
  product: { kind: 'combustible', afr: 14.5 },
  doseMl: 30,
  labelMaxMl: 250,
  point: 'plenum',
  speedFrom: 'scan',
  coolantC: 90,
  extraction: true,
  fireCover: true,
  lampFlashing: false,
  heldRunning: true,
}
const pattern = (id: string): Partial<Vehicle> => ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle
const asked = (f: ReturnType<typeof visitOf>, part: Partial<FeedChoices> = {}): string[] => {
  const q = feedRequestOf(f, { ...CHOICES, ...part }, NOW, false)
  return q.ok ? [] : q.refusals.map((r) => r.message)
}

it('what no reading and no tick would change is told alone; of another product all that is missing', () => {
  const f = visitOf({}, pattern('diesel-four'))
  const lacking = { coolantC: undefined, extraction: false }
  expect(asked(f, lacking)).toEqual([expect.stringMatching(/^No combustible goes into a running diesel/)])
  expect(asked(f, { ...lacking, product: { kind: 'water', afr: 14.5 } }).length).toBeGreaterThan(2)
})

it('a particulate filter that a code tells to be full forbids a cleaner, and no water', () => {
  const code = {
    ...meta('v:c', 1),
    visitId: 'v',
    code: 'P2463',
    state: 'stored',
    when: 'before',
    cleared: false,
  } as const
  const f = visitOf({ readings: [...idleOf(0), ...holdOf(0, 1, 11)], codes: [code] })
  expect(asked(f)).toEqual([expect.stringMatching(/^Code P2463 stands/)])
  expect(asked({ ...f, codes: [{ ...code, cleared: true }] })).toEqual([])
  expect(asked(f, { product: { kind: 'water', afr: 14.5 } })).toEqual([])
})

describe('the air that a feed is rated by', () => {
  const f = visitOf({ readings: [...idleOf(0), ...holdOf(0, 1, 11)] })
  it('is that of the held speed, and of no other', () => {
    expect(measuredForFeed(f, NOW)).toMatchObject({ rpm: 2500, airGS: 11, airFrom: 'sensor' })
    expect(asked(f)).toEqual([])
    expect(asked(f, { rpm: 2400 })).toEqual([])
    // 11 g/s of 2500 would feed twice of what 1500 bears
    expect(asked(f, { rpm: 1500 })).toEqual(['The airflow at 1500 rpm is not known: measure it there, or type it.'])
    expect(asked(f, { rpm: 1500, airGS: 6 })).toEqual([])
    // a speed that was heard is held to the same
    expect(asked(f, { rpm: 1500, speedFrom: 'microphone' })).toHaveLength(1)
  })
  it('without an airflow sensor is at least what the engine swallows at its pressure', () => {
    const map = visitOf(
      { readings: [reading(0, 'hold-2500', 'rpm', 2500), reading(0, 'hold-2500', 'map_kpa', 34)] },
      { ...pattern('four-map'), displacementL: 1.4 },
    )
    const { airGS, airFrom } = measuredForFeed(map, NOW)
    expect(airFrom).toBe('pressure')
    // ηv 0.9·0.33^0.39 = 0.59 at 34 kPa: 0.59 · 1.4 L · 34 kPa / (287 · 308 K) · 2500/120 = 6.6 g/s, a sixth off it
    expect(airGS).toBeGreaterThan(4.8)
    expect(airGS).toBeLessThan(6.6)
    expect(asked(map)).toEqual([])
  })
  it('is never more than the engine swallows, whatever its sensor reads', () => {
    const both = (maf: number): ReturnType<typeof measuredForFeed> =>
      measuredForFeed(
        visitOf(
          {
            readings: [
              reading(0, 'hold-2500', 'rpm', 2500),
              reading(0, 'hold-2500', 'map_kpa', 34),
              reading(0, 'hold-2500', 'maf_gs', maf),
            ],
          },
          { ...pattern('four-map'), displacementL: 1.4, metering: 'maf+map' },
        ),
        NOW,
      )
    expect(both(6.6)).toMatchObject({ airGS: 6.6, airFrom: 'sensor' })
    // its word is worth nothing then: as without one, a sixth off 6.6 g/s
    expect(both(12).airFrom).toBe('pressure-against-sensor')
    expect(both(12).airGS).toBeGreaterThan(4.8)
    expect(both(12).airGS).toBeLessThan(6.6)
  })
  it('is asked for where no steady pressure tells it', () => {
    const gauge = [reading(0, 'hold-2500', 'rpm', 2500), reading(0, 'hold-2500', 'gauge_vacuum_kpa', 40)]
    const throttles = visitOf({ readings: gauge }, pattern('four-bodies'))
    expect(measuredForFeed(throttles, NOW).airGS).toBeUndefined()
    expect(measuredForFeed(throttles, NOW).vacuumKpa).toBeUndefined()
    expect(measuredForFeed(visitOf({ readings: gauge }, pattern('carb-one')), NOW).airFrom).toBe('pressure')
  })
})
