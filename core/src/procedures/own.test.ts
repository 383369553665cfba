import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { checkOwnProcedure, ownProcedureProblem, procedureOfOwn, type OwnProcedure } from './own.js'
import { PROCEDURES, runState, type RunEvent, type StepRule } from './index.js'

const whole: OwnProcedure = {
  format: 'uvula-procedure',
  formatVersion: 1,
  id: 'own-1',
  label: 'Stops of the throttle',
  kind: 'teach',
  why: 'Stored at key out.',
  source: 'workshop book, page 12',
  sourceDate: '2026-11-20',
  preconditions: [{ id: 'own-1', label: 'supply', reads: { channel: 'battery_v', min: 12.9, max: 15.5 } }],
  steps: [
    { say: 'key on', rule: { kind: 'exact', seconds: 3, toleranceS: 0.4 } },
    { say: 'pedal', rule: { kind: 'count', times: 5, withinS: 5 } },
    { say: 'wait', rule: { kind: 'at-least', seconds: 10 } },
    { say: 'lamp', rule: { kind: 'until', sign: 'steady', withinS: 20 } },
    { say: 'let go', rule: { kind: 'at-most', seconds: 3 } },
  ],
}
const withRule = (rule: unknown): unknown => ({ ...whole, steps: [whole.steps[0], { say: 'it', rule }] })
const wrong = (x: unknown): string => ownProcedureProblem(x) ?? ''

describe('a procedure that a shop wrote', () => {
  it('comes back as it went, without what is not of it', () => {
    const checked = checkOwnProcedure(JSON.parse(JSON.stringify({ ...whole, stray: 1 })))
    expect(checked).toEqual({ ok: true, value: whole })
  })
  it('says the step that waits for the impossible', () => {
    expect(wrong(withRule({ kind: 'exact', seconds: 3, toleranceS: 0.05 }))).toMatch(
      /^Step 2 waits for the impossible.*0.2 s/,
    )
    expect(wrong(withRule({ kind: 'count', times: 20, withinS: 2 }))).toMatch(
      /^Step 2 waits for the impossible.*0.25 s each/,
    )
    expect(wrong(withRule({ kind: 'exact', seconds: 1, toleranceS: 2 }))).toMatch(/Step 2 is in time from its start/)
    expect(wrong(withRule({ kind: 'until', sign: ' ' }))).toMatch(/Step 2 ends by a sign/)
    expect(wrong(withRule({ kind: 'at-most', seconds: NaN }))).toMatch(/Step 2 needs its seconds/)
    expect(wrong(withRule({ kind: 'when-ready' }))).toMatch(/Step 2 ends in no known way/)
    expect(wrong(withRule(undefined))).toMatch(/Step 2 does not say how it ends/)
  })
  it('names what else is missing', () => {
    for (const id of ['feed', 'clear-out']) expect(wrong({ ...whole, id })).toMatch(/one of ours/)
    expect(wrong({ ...whole, source: '' })).toMatch(/where it was read/)
    expect(wrong({ ...whole, sourceDate: '2026-02-30' })).toMatch(/a day/)
    expect(wrong({ ...whole, steps: [] })).toMatch(/1 to 40 steps/)
    expect(wrong({ ...whole, kind: 'magic' })).toMatch(/teach, forget, drive/)
    expect(wrong({ format: 'other' })).toMatch(/no procedure file/)
    expect(wrong({ ...whole, formatVersion: 2 })).toMatch(/Version 2/)
    const long = { say: 'wait', rule: { kind: 'at-least', seconds: 7200 } }
    expect(wrong({ ...whole, steps: [long, long, long] })).toMatch(/four hours/)
  })
  it('a condition asks for what there is, and no reading stands for a STOP', () => {
    const one = (c: object): string => wrong({ ...whole, preconditions: [{ id: 'a', label: 'x', ...c }] })
    expect(one({ reads: { channel: 'ect_c', min: 100, max: 900 } })).toMatch(/between -40 and 130/)
    expect(one({ reads: { channel: 'ect_c', min: 90, max: 70 } })).toMatch(/lower figure first/)
    expect(one({ reads: { channel: 'luck', min: 0, max: 1 } })).toMatch(/no reading of that name/)
    expect(one({ stop: true, reads: { channel: 'ect_c', min: 70, max: 99 } })).toMatch(/ticked by hand/)
  })
  it('whatever its book says, two STOPs stand before it', () => {
    expect(
      procedureOfOwn(whole)
        .preconditions.filter((c) => c.stop)
        .map((c) => c.id),
    ).toEqual(['selector', 'extraction'])
    expect(procedureOfOwn({ ...whole, kind: 'drive' }).preconditions[0].label).toMatch(/lamp/)
  })
  it('tells on a sheet where it came from', () =>
    expect(procedureOfOwn(whole).done).toBe('Stops of the throttle (by workshop book, page 12, read 2026-11-20)'))
  it('is judged like any other: late by half a second is late', () => {
    const p = procedureOfOwn(whole)
    const at = (...seconds: number[]): RunEvent[] => [
      { kind: 'begin', atMs: 0 },
      ...seconds.map((s): RunEvent => ({ kind: 'tap', atMs: 1000 * s })),
    ]
    expect(runState(p, at(3.5)).reason).toMatch(/0\.5 s too late/)
    expect(runState(p, at(3, 4, 5, 6, 7, 7.9, 18, 25, 27)).status).toBe('passed')
  })
  it('our own library would pass the same check', () => {
    for (const p of PROCEDURES)
      expect(wrong({ ...whole, label: p.label, steps: p.steps, preconditions: p.preconditions })).toBe('')
  })
  it('nothing that anybody sends throws', () => {
    fc.assert(
      fc.property(fc.anything(), fc.anything(), (steps, preconditions) => {
        expect(typeof wrong({ ...whole, steps, preconditions })).toBe('string')
      }),
    )
    const rule = fc.record({
      kind: fc.constantFrom('exact', 'count', 'until', 'at-most'),
      seconds: fc.anything(),
      times: fc.anything(),
    })
    fc.assert(fc.property(rule, (r) => typeof wrong(withRule(r as unknown as StepRule)) === 'string'))
  })
})
