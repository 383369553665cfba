import { describe, expect, it } from '@jest/globals'
import { diagnoseVisit, expectedGain, sheetOf, type VisitFile } from './index.js'
import { fed, holdOf, idleOf, reading, visitOf } from './remedies.fixture.js'

const idle = (opening: number, signs: VisitFile['visit']['signs'] = []): VisitFile => {
  const f = visitOf({
    readings: [
      ...idleOf(0).filter((r) => r.channel !== 'throttle_pct'),
      ...holdOf(0, 0, 8),
      reading(0, 'idle', 'throttle_pct', opening),
    ],
  })
  return { ...f, visit: { ...f.visit, signs } }
}
const gain = (f: VisitFile) => expectedGain(f, diagnoseVisit(f, 0))

describe('what a service could bring', () => {
  it('a sound engine: nothing, and the sheet says so', () => {
    const f = idle(2)
    const g = gain(f)!
    expect(g).toMatchObject({ nothing: true, against: false })
    expect(g.sentences.at(-1)).toBe('A service could gain nothing here that can be measured.')
    expect(sheetOf(f, diagnoseVisit(f, 0), 60).gain).toEqual(g.sentences)
  })
  it('a throttle that opens far past a clean one: lost area with its interval, and the range that comes back', () => {
    const g = gain(idle(5.5))!
    expect(g.nothing).toBe(false)
    expect(g.sentences[0]).toMatch(
      /gives back \d+ mm² \(\d+ to \d+\) of its opening at idle: idle control uses 46 % of its range now, about \d+ % then/,
    )
  })
  it('a feed that changed nothing: a second one is advised against, and the sheet of what was done tells no gain', () => {
    const f = idle(2)
    const after = [...idleOf(1), ...holdOf(1, 0, 8)]
    const twice = { ...f, readings: [...f.readings, ...after], runs: [fed()] }
    const g = expectedGain(twice, diagnoseVisit(twice, 1))!
    expect(g.against).toBe(true)
    expect(g.sentences.join(' ')).toMatch(/a second service is advised against/)
    expect(sheetOf(twice, diagnoseVisit(twice, 0), 60, diagnoseVisit(twice, 1)).gain).toBe(undefined)
  })
  it('before anything is read, nothing is said', () => expect(gain(visitOf())).toBe(undefined))
})
