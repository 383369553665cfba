import { describe, expect, it } from '@jest/globals'
import { feedWatch, type WatchedSample } from './index.js'

/** Ten seconds at two readings a second, the last of which differ. */
const row = (values: WatchedSample['values'], last: WatchedSample['values'] = {}, lastS = 8): WatchedSample[] =>
  Array.from({ length: 21 }, (_, k) => ({ t: k / 2, values: { ...values, ...(k / 2 > 10 - lastS ? last : {}) } }))
const held = { rpm: 2500, trimPct: 2 }
const GOOD = { rpm: 2480, ect_c: 92, stft1_pct: 0, ltft1_pct: 2, lambda1: 1 }

describe('live data during a feed', () => {
  it('all as it should be says nothing, and so does nothing', () => {
    expect(feedWatch(row(GOOD), held)).toEqual({})
    expect(feedWatch([], held)).toEqual({})
  })
  it.each([
    ['stall', { rpm: 0 }],
    ['ran-away', { rpm: 4200 }],
    ['speed', { rpm: 2200 }],
    ['hot', { ect_c: 108 }],
  ] as const)('%s ends it', (end, last) => expect(feedWatch(row(GOOD, last), held)).toEqual({ end }))
  it('a dip that comes back ends nothing; while it lasts the next shot waits', () =>
    expect(feedWatch(row(GOOD, { rpm: 2200 }, 2), held)).toEqual({
      waits: '2200 rpm: the speed comes back first',
    }))
  it('the trim, the mixture and a cold engine make the next shot wait', () => {
    expect(feedWatch(row(GOOD, { stft1_pct: -9 }, 1), held).waits).toBe(
      'trim 9 points off: it comes back within 3 first',
    )
    expect(feedWatch(row(GOOD, { stft1_pct: -9 }, 1), { rpm: 2500 })).toEqual({})
    expect(feedWatch(row(GOOD, { lambda1: 0.8 }, 1), held).waits).toMatch(/λ 0.80/)
    expect(feedWatch(row({ ...GOOD, ect_c: 60 }), held).waits).toMatch(/below 75/)
  })
})
