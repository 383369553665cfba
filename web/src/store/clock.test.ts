/** @jest-environment jsdom */
import { afterEach, beforeEach, describe, expect, it, jest } from '@jest/globals'
import '../test/browser.js'
import { saySkew } from '../words/format.js'

const NOON = Date.parse('2026-01-01T12:00:00Z')
const says = (ms: number): Pick<Headers, 'get'> => ({ get: (name) => (name === 'uvula-now' ? String(ms) : null) })
/** A page just opened: nothing heard yet. */
const fresh = async (): Promise<typeof import('./clock.js')> => {
  jest.resetModules()
  return import('./clock.js')
}

beforeEach(() => {
  localStorage.clear()
  jest.useFakeTimers({ now: NOON })
})
afterEach(() => void jest.useRealTimers())

describe('the shop’s clock', () => {
  it('one three hours ahead is put right by the middle of an answer, also after a reload without the server', async () => {
    const clock = await fresh()
    jest.setSystemTime(NOON + 400)
    clock.hearClock(says(NOON + 200 - 3 * 3_600_000), NOON)
    expect(clock.shopIso()).toBe('2026-01-01T09:00:00.400Z')
    expect(clock.shopTimeOf(10)).toBe(performance.timeOrigin + 10 - 3 * 3_600_000)
    expect((await fresh()).shopNow()).toBe(NOON + 400 - 3 * 3_600_000)
  })
  it('what a network takes is no difference, a slow answer and one without a time tell nothing', async () => {
    const clock = await fresh()
    clock.hearClock(says(NOON + 1900), NOON)
    clock.hearClock(says(NOON + 90_000), NOON - 3000)
    clock.hearClock({ get: () => null }, NOON)
    expect(clock.shopNow()).toBe(NOON)
  })
  it('stands within a run: it moves only where a clock was set anew', async () => {
    const clock = await fresh()
    clock.hearClock(says(NOON + 60_000), NOON)
    clock.hearClock(says(NOON + 63_000), NOON)
    expect(clock.shopNow()).toBe(NOON + 60_000)
    clock.hearClock(says(NOON), NOON)
    expect(clock.shopNow()).toBe(NOON)
  })
  it.each([
    [-3 * 3_600_000 - 125_000, '3 h 2 min ahead'],
    [300_000, '5 min behind'],
    [-12_400, '12 s ahead'],
  ])('%i ms is said as %s', (ms, words) => expect(saySkew(ms)).toBe(words))
})
