import { describe, expect, it } from '@jest/globals'
import {
  benchNext,
  diagnoseVisit,
  lastRound,
  mayIssueReport,
  nowAct,
  placesToMend,
  proofsOf,
  roundToFill,
  seatsHere,
  sheetOf,
  worseSince,
} from './index.js'
import { diesTick, type Dies } from './dies.js'
import type { FindingRecord, ReadingRecord, TickRecord, VisitFile } from './records.js'
import { at, holdOf, idleOf, meta, reading, repairAt, tried, visitOf } from './remedies.fixture.js'

const tick = (how: Dies, round: number): TickRecord => ({
  ...meta(diesTick(how, round), 2 + 30 * round),
  visitId: 'v',
  caution: diesTick(how, round),
})

const heldOf = (round: number, trim: number): ReadingRecord[] => holdOf(round, trim, 7.6)

const now = (f: VisitFile) => nowAct(f, diagnoseVisit(f, lastRound(f)))
const sheet = (f: VisitFile) => sheetOf(f, diagnoseVisit(f, 0), 60, diagnoseVisit(f, lastRound(f)))
const dying = (part: Partial<VisitFile> = {}): VisitFile =>
  visitOf({ ticks: [tick('no-idle', 0)], readings: heldOf(0, 24), ...part })

describe('an engine that holds no idle', () => {
  it('is asked for a held speed instead, which is its “before”', () => {
    const f = dying({ readings: [] })
    expect(now(f)).toMatchObject({ id: 'read-idle', title: 'Read it held at 2500 rpm' })
    expect(benchNext(f, 'arrive')).toBe('It holds no idle: read it held at 2500 rpm.')
    expect(now(dying()).id).toBe('walk')
    expect(benchNext(dying(), 'arrive')).toMatch(/^A held speed is read/)
  })
  it('is asked for its idle all the same where nobody says so, and once one was typed', () => {
    const unsaid = now(visitOf({ readings: heldOf(0, 24) }))
    expect(unsaid).toMatchObject({ title: 'Read the warm idle', why: expect.not.stringContaining('holds none') })
    const felt = visitOf()
    const said = now({ ...felt, visit: { ...felt.visit, signs: ['no-idle'] } })
    expect(said.why).toMatch(/If it holds none, tick that there\.$/)
    const idles = dying({ readings: [...heldOf(0, 24), ...idleOf(0)] })
    expect(sheet(idles).left.join()).not.toMatch(/no idle/)
  })
  it('is never told to be sound, and no test is named that its idle would have to give', () => {
    const f = dying({ readings: heldOf(0, 0) })
    const d = diagnoseVisit(f, 0)
    expect(sheet(f).plain).toBe('Your engine holds no idle; what makes it die has not been found yet.')
    expect(sheet(f).found[0]).toBe('It held no idle when it came.')
    const named = d.nextTests.map((t) => t.test)
    expect(named).toContain('smoke')
    for (const test of ['gauge-idle', 'oil-cap', 'enrichment']) expect(named).not.toContain(test)
    expect(d.basis.missing?.id).not.toBe('idle')
  })
  it('is proved by an idle, which is better than none whatever else was read', () => {
    const f = dying({
      repairs: [repairAt('booster', 0)],
      readings: [...heldOf(0, 0), ...idleOf(1), ...heldOf(1, 0)],
    })
    expect(proofsOf(f)).toMatchObject([{ before: 0, after: 1, proof: { verdict: 'better' } }])
    expect(sheet(f).plain).toMatch(/ It holds an idle again, at \d+ rpm, where it should\./)
    expect(sheet(f).proved![0]).toBe('It held no idle before, and holds an idle now.')
    const alone = { ...f, readings: [...heldOf(0, 0), ...idleOf(1)] }
    expect(sheet(alone).proved).toEqual(['It held no idle before, and holds an idle now.'])
  })
  it('that still holds none after the work is traced on, and the sheet says so', () => {
    const done = dying({ repairs: [repairAt('booster', 0)] })
    expect(now(done)).toMatchObject({ id: 'measure-again', why: expect.stringContaining('Idle, warm') })
    const ticked = { ...done, ticks: [tick('no-idle', 0), tick('no-idle', 1)] }
    expect(now(ticked)).toMatchObject({ id: 'measure-again', why: expect.stringContaining('held at 2500') })
    const still = { ...ticked, readings: [...heldOf(0, 24), ...heldOf(1, 12)] }
    expect(now(still).why).toMatch(/It still holds no idle/)
    expect(benchNext(still, 'prove')).toBe('It still holds no idle.')
    expect(proofsOf(still)).toMatchObject([{ before: 0, after: 1, proof: { verdict: 'better' } }])
    expect(sheet(still).plain).toMatch(/ It still holds no idle\.$/)
    expect(sheet(still).left).toContain('It still holds no idle.')
    expect(sheet(still).found.join(' ')).not.toMatch(/came back/)
    expect(mayIssueReport(still, 0)).toMatchObject({ refusals: [{ rule: 'prove-first' }] })
    const found = { ...still, findings: [tried('smoke', 'runners-1', 'fail', 0)] }
    expect(now(found)).toMatchObject({ id: 'mend', title: 'Mend the runners, bank 1' })
  })
  it('and ran with the pedal before the work is worse since, too', () => {
    const f = dying({
      repairs: [repairAt('booster', 0)],
      ticks: [tick('no-idle', 0), tick('no-idle', 1), tick('no-run', 1)],
    })
    expect(worseSince(f)).toMatch(/^Worse since .*: it does not keep running any more\.$/)
    expect(now({ ...f, findings: [tried('smoke', 'booster', 'fail', 0)] }).id).toBe('worse-since')
    expect(benchNext(f, 'measure')).toMatch(/^It does not keep running/)
    expect(sheet(f).plain).toMatch(/It does not keep running any more\.$/)
    expect(sheet(f).proved).toEqual(['It ran with the pedal before, and does not keep running now.'])
  })
  it('is as it came again where the work is taken back', () => {
    const done = dying({ repairs: [repairAt('booster', 0)], ticks: [tick('no-idle', 0), tick('no-idle', 1)] })
    expect([lastRound(done), lastRound({ ...done, repairs: [] })]).toEqual([1, 0])
  })
  it('and held one before the work is worse since', () => {
    const f = visitOf({
      ticks: [tick('no-idle', 1)],
      repairs: [repairAt('booster', 0)],
      readings: [...idleOf(0, { trim: 24 }), ...heldOf(0, 12), ...heldOf(1, 12)],
    })
    expect(worseSince(f)).toMatch(/^Worse since .*: it holds no idle any more\.$/)
    expect(now(f)).toMatchObject({ id: 'worse-since', title: 'Check what was done last' })
    expect(sheet(f).plain).toMatch(/It holds no idle any more\.$/)
  })
})

describe('an engine that does not keep running', () => {
  const f = visitOf({ ticks: [tick('no-idle', 0), tick('no-run', 0)] })
  it('is looked at and tested at rest, with nothing asked of it that it cannot do', () => {
    expect(now(f).id).toBe('walk')
    const d = diagnoseVisit(f, 0)
    expect(d.stop).toEqual({ verdict: 'test', because: 'It does not keep running: what is tried on it at rest tells.' })
    const named = d.nextTests.map((t) => t.test)
    expect(named).toContain('smoke')
    for (const test of ['flex-duct', 'pinch', 'gauge-idle', 'misfire-count']) expect(named).not.toContain(test)
  })
  it('is not told to have been measured', () => {
    expect(sheet(f).plain).toBe('Your engine does not keep running; what makes it die has not been found yet.')
    const found = { ...f, findings: [tried('purge-hold', 'purge', 'fail', 0)] }
    expect(sheet(found).plain).toBe(
      'Your engine does not keep running. We found where to look; nothing has been mended yet.',
    )
  })
  it('died of what was mended last before it ran, and not of what was mended before that', () => {
    const find = (id: string, station: 'purge' | 'egr', afterWork: number): FindingRecord =>
      tried(id, station, 'fail', 0, { at: at(3 + 20 * afterWork) })
    const two = {
      ...f,
      findings: [find('egr-passage-look', 'egr', 0), find('purge-hold', 'purge', 1)],
      repairs: [repairAt('egr', 0), repairAt('purge', 1)],
      ticks: [...f.ticks, tick('no-idle', 1), tick('no-run', 1)],
    }
    const runs = { ...visitOf({ ...two, readings: idleOf(2) }, { egr: 'valve' }) }
    expect(proofsOf(runs).map((p) => p.proof?.verdict)).toEqual(['no change seen', 'better'])
    const { plain, found } = sheet(runs)
    expect(plain).toMatch(/^The fuel vapour valve of your engine was standing open\. Done: .* It holds an idle again/)
    expect(found).toContain('Purge valve stuck open. Confirmed: what answers it was done, and it holds an idle since.')
    expect(found.join()).not.toMatch(/EGR does not flow\. Confirmed/)
    // and what is done next stands in a round of its own
    expect(roundToFill({ ...two, repairs: [repairAt('egr', 0)] })).toBe(1)
    expect(roundToFill(two)).toBe(2)
  })
  it('keeps running after all once a held speed is read', () => {
    expect(sheet({ ...f, readings: heldOf(0, 24) }).found[0]).toBe('It held no idle when it came.')
  })
})

describe('a coolant sensor that no engine shows', () => {
  const cold = (round: number): ReadingRecord[] => [
    reading(round, 'idle', 'rpm', 1400),
    reading(round, 'idle', 'ect_c', -40),
  ]
  const f = visitOf({ readings: [...cold(0), ...cold(1)], repairs: [repairAt('airflow-sensor', 0)] })
  it('comes before measuring again, which it hides', () => {
    expect(now(f)).toMatchObject({
      id: 'still-there',
      title: 'Temperatures against a thermometer, then sensor and plug',
      why: 'The coolant sensor still reads −40 °C, which no engine shows: until it is right, the idle cannot be measured again.',
    })
  })
  it('is mended in the block, and not where the intake’s sensor sits', () => {
    expect(now(f).where).toMatchObject({ station: 'beyond' })
    expect(placesToMend(f, diagnoseVisit(f, 1))).toEqual(['beyond'])
    expect(seatsHere(f, 'temperature-sensor-implausible')).toEqual([])
  })
})
