import { describe, expect, it } from '@jest/globals'
import { reachedLines, type StepRecord, type VisitFile } from './index.js'
import { at, fed, visitOf } from './remedies.fixture.js'

const step = (part: Partial<StepRecord>): StepRecord => ({
  id: 's',
  version: 1,
  by: 'R',
  at: at(10),
  visitId: 'v',
  station: 'throttle',
  surface: 'throttle-plate',
  product: 'throttle-cleaner',
  method: 'cloth-in-place',
  passed: true,
  ...part,
})
const lines = (part: Partial<VisitFile>, spec = {}): string => {
  const { done, left } = reachedLines(visitOf(part, spec))
  return [...done, ...left].join(' ')
}

describe('what was reached', () => {
  it('nothing done, nothing said; a sensor says nothing of deposits elsewhere', () => {
    expect(lines({})).toBe('')
    expect(lines({ steps: [step({ station: 'airflow-sensor', surface: 'airflow-element' })] })).toBe('')
  })
  it('a cloth in place leaves the back of the plate; off the car nothing of it is left', () => {
    expect(lines({ steps: [step({})] })).toMatch(/^Reached: plate edge.*Not reached: back of the plate/)
    expect(lines({ steps: [step({ method: 'off-the-car' })] })).not.toMatch(/Not reached:.*plate/)
  })
  it('a coated bore is said to be wiped at its edge, and no more', () =>
    expect(lines({ steps: [step({ surface: 'throttle-coated', method: 'off-the-car' })] })).toBe(
      'Reached: plate edge.',
    ))
  it('valves are told as this engine has them: in part where fuel is sprayed on them, else not', () => {
    const mist = { ...fed(), feed: { ...fed().feed!, method: 'mist-raised-idle', point: 'duct' } } as const
    expect(lines({ runs: [mist] }, { injection: 'port' })).toMatch(/in part: .*valves/i)
    expect(lines({ runs: [mist] }, { injection: 'direct' })).toMatch(/Not reached: .*valves/)
  })
  it('a feed that was stopped reached everything in part only', () =>
    expect(lines({ runs: [fed(2)] })).toMatch(/^In part: plenum, runners, valves\./))
  it('a manifold that was washed is not told as missed by the throttle beside it', () => {
    const wash = step({ id: 'm', station: 'plenum', surface: 'manifold-aluminium', method: 'off-the-car' })
    expect(lines({ steps: [step({ method: 'off-the-car' }), wash] })).not.toMatch(/Not reached:.*manifold/)
    expect(lines({ steps: [wash] })).toBe('Reached: manifold.')
    expect(lines({ steps: [{ ...wash, surface: 'manifold-flaps' }] })).toBe('Reached: manifold flaps and their shaft.')
  })
})
