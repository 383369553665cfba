import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import { carriedOver, checkFeedRequest, filmSeconds, type EarlierFeed } from './index.js'

const vehicle = (id: string): Vehicle => ({
  ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle,
  name: 'x',
  altitudeM: 0,
})
const raw = {
  method: 'metered-port',
  product: { kind: 'combustible', afr: 14.5 },
  doseMl: 30,
  labelMaxMl: 100,
  point: 'plenum',
  airGS: 14,
  rpm: 2500,
  speedFrom: 'scan',
  coolantC: 90,
  extraction: true,
  fireCover: true,
  lampFlashing: false,
  heldRunning: true,
}
const wrong = (part: object, id = 'four-maf'): string[] => {
  const c = checkFeedRequest({ ...raw, ...part }, vehicle(id))
  return c.ok ? [] : c.problems.map((p) => p.field)
}

describe('a request from a file', () => {
  it('is taken as it is, what is left out as it must be', () => {
    const c = checkFeedRequest(raw, vehicle('four-maf'))
    expect(c.ok && c.value).toMatchObject({ ...raw, boostKpa: 0, feedRunning: false })
  })
  it.each([
    ['method', { method: 'cloth-in-place' }],
    ['point', { point: 'boot' }],
    ['doseMl', { doseMl: '30' }],
    ['coolantC', { coolantC: NaN }],
    ['lampFlashing', { lampFlashing: undefined }],
    ['product.afr', { product: { kind: 'combustible', afr: 0 } }],
    ['equipment.nozzleMm', { equipment: { nozzleMm: -1 } }],
    ['trims', { trims: { total: 0, totalMin: -0.2, short: 0 } }],
    ['colour', { colour: 'red' }],
  ])('%s is named where it is wrong, missing or not known', (field, part) => expect(wrong(part)).toContain(field))
  it('a turbo engine is asked for its charge pressure; what is no object for everything', () => {
    expect(wrong({}, 'turbo-di')).toEqual(['boostKpa'])
    expect(wrong({ boostKpa: -20 }, 'turbo-di')).toEqual([])
    expect(checkFeedRequest('no', vehicle('four-maf'))).toMatchObject({ ok: false })
  })
})

describe('what earlier attempts leave', () => {
  const now = Date.UTC(2026, 2, 1, 10)
  const feed = (part: Partial<EarlierFeed> = {}): EarlierFeed => ({
    endMs: now - 60_000,
    fedMl: 30,
    filmMl: 2,
    coolantC: 90,
    stood: false,
    looked: false,
    ...part,
  })
  it('a running engine evaporates the film, one that stands does not, a look takes it away', () => {
    expect(carriedOver([feed()], now).filmStartMl).toBeCloseTo(2 * Math.exp(-60 / filmSeconds(90)), 9)
    expect(carriedOver([feed({ stood: true })], now).filmStartMl).toBe(2)
    expect(carriedOver([feed({ stood: true, looked: true })], now)).toEqual({ alreadyMl: 30, filmStartMl: 0 })
  })
  it('film that nobody knows is all that went in', () =>
    expect(carriedOver([feed({ filmMl: undefined, stood: true })], now).filmStartMl).toBe(30))
  it('a day’s feeds count together; yesterday’s do not, and none from the future', () => {
    const day = 24 * 3600_000
    const rows = [
      feed(),
      feed({ endMs: now - day + 1000 }),
      feed({ endMs: now - day - 1000 }),
      feed({ endMs: now + 1 }),
    ]
    expect(carriedOver(rows, now).alreadyMl).toBe(60)
    expect(carriedOver([], now)).toEqual({ alreadyMl: 0, filmStartMl: 0 })
  })
})
