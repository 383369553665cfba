import { describe, expect, it } from '@jest/globals'
import { idleSamplesProblem, settling, type IdleSample } from './settling.js'

const band = { min: 650, max: 750 }
const watched = (rpm: (minute: number) => number, minutes = 5): IdleSample[] =>
  Array.from({ length: minutes * 4 + 1 }, (_, i) => ({ s: 15 * i, rpm: rpm(i / 4) }))

describe('an idle that is watched', () => {
  it('says nothing before its minutes are over', () => {
    expect(
      settling(
        watched(() => 900, 2),
        band,
      ),
    ).toMatchObject({ state: 'too-short', watchedS: 120 })
    expect(
      settling(
        [
          { s: 0, rpm: 700 },
          { s: 400, rpm: 700 },
        ],
        band,
      ).state,
    ).toBe('too-short')
  })
  it('that falls towards its band learns by itself: about when is said', () => {
    const s = settling(
      watched((m) => 1000 - 40 * m),
      band,
    )
    expect(s.state).toBe('moving')
    expect(s.slope).toBeCloseTo(-40, 6)
    expect(s.minutesLeft).toBeCloseTo((s.rpm - 750) / 40, 6)
    expect(s.say).toMatch(/falling by 40 a minute: it learns by itself/)
  })
  it('that moves away, or moves inside its band, has not settled', () => {
    expect(
      settling(
        watched((m) => 800 + 20 * m),
        band,
      ).say,
    ).toMatch(/has not settled/)
    expect(
      settling(
        watched((m) => 660 + 14 * m),
        band,
      ).say,
    ).toMatch(/has not settled/)
  })
  it('in its band needs nothing taught, though it swings', () =>
    expect(
      settling(
        watched((m) => 700 + 8 * Math.sin(40 * m)),
        band,
      ),
    ).toMatchObject({
      state: 'inside',
      say: expect.stringMatching(/Nothing needs to be taught/),
    }))
  it('high with control nearly shut is air before it is learning', () => {
    expect(
      settling(
        watched(() => 1100),
        band,
      ).say,
    ).toMatch(/Teach it\.$/)
    expect(
      settling(
        watched(() => 1100),
        band,
        'shut',
      ).say,
    ).toMatch(/air past it before it is learning/)
  })
  it('low with control nearly open is no case for teaching', () => {
    expect(
      settling(
        watched(() => 560),
        band,
      ).say,
    ).toMatch(/Teach it, loads off/)
    expect(
      settling(
        watched(() => 560),
        band,
        'open',
      ).say,
    ).toMatch(/Teaching gives no air/)
  })
  it('one wild reading does not move it', () => {
    const one = watched(() => 700).map((x, i) => (i === 15 ? { ...x, rpm: 1900 } : x))
    expect(settling(one, band).state).toBe('inside')
  })
})

it('figures that are none are named', () => {
  expect(idleSamplesProblem([])).toMatch(/1 to 2000/)
  expect(idleSamplesProblem([{ s: -1, rpm: 700 }])).toMatch(/0 to 7200/)
  expect(idleSamplesProblem([{ s: 1, rpm: 700 }])).toBeUndefined()
})
