import { describe, expect, it } from '@jest/globals'
import { diagnoseVisit, evidenceOf, feltNow, feltSaid, feltTick, nowAct, sheetOf, unasked } from './index.js'
import type { Felt, VisitFile } from './index.js'
import { holdOf, idleOf, meta, repairAt, tried, visitOf } from './remedies.fixture.js'

const said = (sign: string, felt: Felt, round = 1, hour = 9): VisitFile['ticks'][number] => ({
  ...meta(feltTick(sign, felt, round), hour),
  visitId: 'v',
  caution: feltTick(sign, felt, round),
})
const sound = (round: number): VisitFile['readings'] => [...idleOf(round, { trim: 1 }), ...holdOf(round, 1, 8.2)]
/** A car that reads soundly before and after work that was not it. */
const vain = (ticks: VisitFile['ticks'] = [], part: Partial<VisitFile> = {}): VisitFile => {
  const f = visitOf({ readings: [...sound(0), ...sound(1)], repairs: [repairAt('purge', 0)], ticks, ...part })
  return { ...f, visit: { ...f.visit, signs: ['idle-rough', 'flat', 'lamp'] } }
}
const now = (f: VisitFile): ReturnType<typeof nowAct> => nowAct(f, diagnoseVisit(f, 1))
const sheet = (f: VisitFile): ReturnType<typeof sheetOf> => sheetOf(f, diagnoseVisit(f, 0), 60, diagnoseVisit(f, 1))

describe('what a car came with, after work that changed nothing that was measured', () => {
  it('is asked for again before anything else is tried, as far as it is felt where it stands', () => {
    expect(unasked(vain()).map((s) => s.id)).toEqual(['idle-rough'])
    expect(now(vain())).toMatchObject({
      id: 'felt',
      stage: 'prove',
      why: 'What was done changed nothing that was measured. Came with “idle rough”: gone, or still there?',
    })
    // a check-up came with nothing
    const checkUp = vain()
    expect(now({ ...checkUp, visit: { ...checkUp.visit, intent: 'check-up' } }).id).not.toBe('felt')
    // what its own test does not find any more is gone
    const found = [tried('purge-pinch', 'purge', 'fail', 0), tried('purge-pinch', 'purge', 'pass', 1)]
    expect(now(vain([], { findings: found })).id).not.toBe('felt')
  })

  it('counts as it did when nobody says that it is gone, and only then is the car suspected like before', () => {
    const { intent, signs } = evidenceOf(vain(), 1)
    expect({ intent, signs }).toEqual({ intent: 'complaint', signs: ['idle-rough', 'flat'] })
    expect(evidenceOf(vain([said('idle-rough', 'gone')]), 1).signs).toEqual(['flat'])
    const none = (f: VisitFile): number => diagnoseVisit(f, 1).ranking.find((r) => r.fault === 'none')!.probability
    const all = ['idle-rough', 'flat'].map((s) => said(s, 'gone'))
    const gone = vain(all)
    expect(evidenceOf(gone, 1)).toMatchObject({ intent: 'not-stated', signs: [] })
    expect(none(gone)).toBeGreaterThan(none(vain()) + 0.1)
    // whether a lamp goes out its codes tell
    const lit = vain()
    expect(evidenceOf({ ...lit, visit: { ...lit.visit, signs: ['lamp'] } }, 1).intent).toBe('not-stated')
  })

  it('gone, it is the customer’s proof', () => {
    const f = vain([said('idle-rough', 'gone')])
    expect(now(f)).not.toMatchObject({ id: 'felt' })
    // once all of it is, nothing more is tried
    expect(now(vain(['idle-rough', 'flat'].map((s) => said(s, 'gone'))))).toMatchObject({
      id: 'sheet',
      why: 'What was done changed nothing that was measured. It stands in its bands, as it did; gone: “idle rough” and “flat at high load”.',
    })
    expect(sheet(f).plain).toMatch(
      /The readings do not show a difference\. What you came with, “idle rough”, is gone\./,
    )
    expect(sheet(f).left.join(' ')).not.toMatch(/Still there/)
  })

  it('still there, it is traced on, and handed over as open', () => {
    const f = vain([said('idle-rough', 'there')])
    expect(now(f)).toMatchObject({
      id: 'test',
      why: expect.stringMatching(/^Still there: “idle rough”\. \d+ minutes?\./),
    })
    expect(sheet(f).plain).toMatch(/Still there: “idle rough”\./)
    expect(sheet(f).left).toContain('Still there after the work: “idle rough”.')
    expect(sheet(f).left.join(' ')).toMatch(/Not tried on the road since the work: “flat at high load”/)
    expect(sheet(vain([said('flat', 'there')])).left.join(' ')).not.toMatch(/Not tried on the road/)
  })

  it('not to be told here, it is not asked for again, and stands as it came', () => {
    const f = vain([said('idle-rough', 'untold'), said('flat', 'untold')])
    expect(now(f)).toMatchObject({ id: 'test', why: expect.stringMatching(/^What was done changed nothing/) })
    expect(evidenceOf(f, 1).signs).toEqual(['idle-rough', 'flat'])
    expect(feltSaid(f)).toBe('')
    expect(sheet(f).left.join(' ')).toMatch(/Not tried on the road since the work: “flat at high load”/)
  })

  it('is of the round in which it was said: work since then, or that work taken back, leaves it behind', () => {
    const f = vain([said('idle-rough', 'gone')])
    expect([...feltNow(f)]).toEqual([['idle-rough', 'gone']])
    // of two answers the later one counts
    expect(feltSaid(vain([said('idle-rough', 'there', 1, 10), said('idle-rough', 'gone', 1, 9)]))).toBe(
      'Still there: “idle rough”.',
    )
    const more = { ...f, repairs: [...f.repairs, repairAt('duct', 1)] }
    expect([...feltNow(more)]).toEqual([])
    expect(feltNow({ ...f, repairs: [] }).size).toBe(0)
    // a sign that it did not come with is nobody's answer
    expect(feltNow(vain([said('hiss', 'gone')])).size).toBe(0)
  })

  it('a part that was in hand is not to be looked at for the first time', () => {
    const flat = vain([said('flat', 'there')])
    const filter = { ...flat, repairs: [repairAt('filter', 0, { kind: 'replace' as const })] }
    const tests = (f: VisitFile): string[] => diagnoseVisit(f, 1).nextTests.map((t) => t.test)
    expect(tests(flat)).toContain('filter-look')
    expect(tests(filter)).not.toContain('filter-look')
    expect(tests(filter)).toContain('back-pressure')
  })
})
