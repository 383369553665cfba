import { describe, expect, it } from '@jest/globals'
import { fedSoFar, mayBegin } from './index.js'
import { fed, visitOf } from './remedies.fixture.js'

describe('a dose across attempts', () => {
  const first = fed(2)
  const end = Math.max(...first.events.map((e) => e.atMs))
  const nowMs = end + 60_000
  it('nothing fed, nothing counted', () => expect(fedSoFar(visitOf(), nowMs)).toEqual({ alreadyMl: 0, filmStartMl: 0 }))
  it('what went in counts against a day’s label, and its film goes while the engine runs', () => {
    const f = visitOf({ runs: [first] })
    const soon = fedSoFar(f, end + 1000)
    const later = fedSoFar(f, end + 3600_000)
    expect(soon.alreadyMl).toBeGreaterThan(0)
    expect(soon.filmStartMl).toBeGreaterThan(0)
    expect(later.alreadyMl).toBe(soon.alreadyMl)
    expect(later.filmStartMl).toBeLessThan(soon.filmStartMl / 100)
    expect(fedSoFar(f, end + 25 * 3600_000).alreadyMl).toBe(0)
    expect(fedSoFar(f, nowMs, first.id)).toEqual({ alreadyMl: 0, filmStartMl: 0 })
  })
  it('a second dose above what the label leaves is refused, and says how much is left', () => {
    const f = visitOf({ runs: [first] })
    const { alreadyMl } = fedSoFar(f, nowMs)
    const again = {
      ...first,
      id: 'again',
      events: [],
      feed: { ...first.feed!, labelMaxMl: alreadyMl + 20, doseMl: 20.6 },
    }
    const gate = mayBegin(f, again, nowMs)
    expect(gate.ok ? '' : gate.refusals.map((r) => r.message).join()).toMatch(/within a day.*At most 20 mL now/)
  })
})
