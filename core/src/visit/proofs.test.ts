import { describe, expect, it } from '@jest/globals'
import type { FaultId } from '../diagnosis/index.js'
import { causesOf, diagnoseVisit, isInVain, nowAct, proofBetween, proofsOf, sheetOf, worseSince } from './index.js'
import type { BalanceRecord } from './balanceRecords.js'
import { at, idleOf, repairAt, stepAt, tried, visitOf } from './remedies.fixture.js'

/** A hand pump on the valve: from 50 kPa down by so much in a minute. */
const pumped = (round: number, loss: number, part: 'egr' | 'purge' = 'egr'): BalanceRecord => ({
  id: `${part}${round}`,
  version: 1,
  by: 'R',
  at: at(5 + 30 * round),
  visitId: 'v',
  round,
  taken: {
    kind: 'pump',
    part,
    samples: [0, 20, 40, 60].map((t) => ({ t, kpa: 50 - (loss * t) / 60 })),
  },
})

describe('a hand pump before and after', () => {
  const visit = (before: number, after: number) =>
    visitOf({
      readings: [...idleOf(0), ...idleOf(1)],
      repairs: [repairAt('egr', 0, { kind: 'replace' })],
      balances: [pumped(0, before), pumped(1, after), pumped(0, 1, 'purge')],
    })
  it('is compared by part where both rounds have it', () => {
    const rows = proofBetween(visit(14, 1), 0, 1).changes.filter((c) => c.quantity === 'pump_loss')
    expect(rows).toMatchObject([
      { label: 'loss on the hand pump, EGR diaphragm', before: 14, after: 1, verdict: 'better' },
    ])
    expect(proofsOf(visit(14, 1))[0].proof?.verdict).toBe('better')
  })
  it('holding before and after is no gain; leaking afterwards is worse', () => {
    expect(proofBetween(visit(2.5, 0.5), 0, 1).verdict).toBe('no change seen')
    expect(proofBetween(visit(1, 16), 0, 1).verdict).toBe('worse')
  })
})

describe('throttles before and after their screws were turned', () => {
  const row = (id: string, minutes: number, vacuumKpa: number[], turned = false): BalanceRecord => ({
    id,
    version: 1,
    by: 'R',
    at: at(minutes),
    visitId: 'v',
    round: 0,
    taken: {
      kind: 'throttles',
      slot: 'idle',
      layout: 'each',
      vacuumKpa,
      ...(turned ? { turned: { adjuster: 'linkage-1-2', turns: 0.25 } } : {}),
    },
  })
  const [APART, ALIKE] = [
    [52.4, 47.1, 55.9, 52.2],
    [52.4, 52.1, 52, 52.2],
  ]
  const visit = (balances: BalanceRecord[], repairs: ReturnType<typeof repairAt>[] = []) =>
    visitOf({ readings: [...idleOf(0), ...idleOf(1)], balances, repairs }, { throttleBodies: 4 })
  it('are figures of the proof: what was done has not changed nothing', () => {
    const f = visit([row('a', 5, APART), row('b', 8, ALIKE, true)])
    const proof = proofBetween(f, 0, 1)
    expect(proof.verdict).toBe('better')
    expect(proof.changes.filter((c) => c.quantity === 'throttle_spread')).toMatchObject([
      { kind: 'idle', before: expect.closeTo(8.8), after: expect.closeTo(0.4), verdict: 'better' },
    ])
    expect(sheetOf(f, diagnoseVisit(f, 0), 60, diagnoseVisit(f, 1)).plain).toMatch(
      /The readings are better than before/,
    )
    expect(nowAct(f, diagnoseVisit(f, 1)).why).not.toMatch(/changed nothing/)
    // alike before and after is no gain, and a row that was not read again none either
    expect(proofBetween(visit([row('a', 5, ALIKE), row('b', 8, ALIKE, true)]), 0, 1).verdict).toBe('no change seen')
    expect(proofBetween(visit([row('a', 5, APART)]), 0, 1).changes.map((c) => c.quantity)).not.toContain(
      'throttle_spread',
    )
  })
  it('confirm no cause of what was done beside them', () => {
    const f = visit([row('a', 5, APART), row('b', 8, ALIKE, true)], [repairAt('booster', 0)])
    expect(causesOf(f, diagnoseVisit(f, 0), diagnoseVisit(f, 1)).confirmed).toEqual([])
  })
})

describe('what an instrument of its own says', () => {
  const needle = (round: number, says: string): BalanceRecord => ({
    id: `needle${round}`,
    version: 1,
    by: 'R',
    at: at(5 + 30 * round),
    visitId: 'v',
    round,
    taken: { kind: 'needle', needle: says as never },
  })
  it('has changed by the work where it says something else since', () => {
    const f = (since: string) =>
      visitOf({
        readings: [...idleOf(0), ...idleOf(1)],
        repairs: [repairAt('purge', 0)],
        balances: [needle(0, 'needle.drifting'), needle(1, since)],
      })
    expect(isInVain(f('needle.drifting'), 1)).toBe(true)
    expect(isInVain(f('needle.steady'), 1)).toBe(false)
    expect(nowAct(f('needle.steady'), diagnoseVisit(f('needle.steady'), 1)).why).not.toMatch(/changed nothing/)
  })
})

describe('a work that is read more than once after it', () => {
  // cleaned, fast until it was taught, then where it belongs: nothing was entered between the two
  const f = visitOf({
    readings: [...idleOf(0, { rpm: 590 }), ...idleOf(1, { rpm: 1080 }), ...idleOf(2, { rpm: 715 })],
    steps: [stepAt()],
  })
  it('is judged by the last reading, on the proof and on the customer’s page', () => {
    expect(proofBetween(f, 0, 1).verdict).toBe('worse')
    expect(proofsOf(f)).toMatchObject([{ before: 0, after: 2, proof: { verdict: 'better' } }])
    expect(sheetOf(f, diagnoseVisit(f, 0), 60).plain).not.toMatch(/worse/)
  })
  it('what stood in between is past for what was done later too', () => {
    const both = { ...f, repairs: [repairAt('duct', 1)] }
    expect(proofsOf(both).map((p) => [p.before, p.after, p.proof?.verdict])).toEqual([
      [0, 1, 'worse'],
      [1, 2, 'better'],
    ])
    expect(sheetOf(both, diagnoseVisit(both, 0), 60).plain).not.toMatch(/worse/)
  })
  it('what the last work made worse is said, though all of it together helped', () => {
    const spoilt = visitOf({
      readings: [...idleOf(0, { trim: 24 }), ...idleOf(1), ...idleOf(2, { trim: 9 })],
      repairs: [repairAt('booster', 0)],
      steps: [stepAt({ afterRound: 1 }, 35)],
    })
    expect(proofBetween(spoilt, 0, 2).verdict).toBe('better')
    const said = /^Worse since airflow sensor element cleaned .*: total trim by 9\.0 ± 3\.5 %\.$/
    expect(worseSince(spoilt)).toMatch(said)
    expect(nowAct(spoilt, undefined)).toMatchObject({ id: 'worse-since', why: expect.stringMatching(said) })
    expect(sheetOf(spoilt, diagnoseVisit(spoilt, 0), 60).left).toContainEqual(expect.stringMatching(said))
    expect(
      worseSince({ ...spoilt, readings: [...idleOf(0, { trim: 24 }), ...idleOf(1), ...idleOf(2)] }),
    ).toBeUndefined()
  })
  it('what the last work can have hidden is next where it is as good as sure, and is not laid to that work', () => {
    const spoilt = visitOf({
      readings: [...idleOf(0, { trim: 24 }), ...idleOf(1), ...idleOf(2, { trim: 14 })],
      repairs: [repairAt('booster', 0)],
      steps: [stepAt({ afterRound: 1 }, 35)],
    })
    const d = diagnoseVisit(spoilt, 2)
    const led = (fault: FaultId, probability: number): ReturnType<typeof nowAct> =>
      nowAct(spoilt, { ...d, ranking: [{ ...d.ranking.find((r) => r.fault === fault)!, probability }] })
    expect(led('fuel-delivery-low', 0.95)).toMatchObject({
      id: 'still-there',
      why: expect.stringMatching(/^Too little fuel delivered, 95 % by .* Worse since .* can have hidden it\.$/),
    })
    // not as good as sure; air, which a hose left off lets in; and what the work itself can have spoilt
    for (const [fault, p] of [
      ['fuel-delivery-low', 0.7],
      ['unmetered-air', 0.95],
      ['maf-under-reads', 0.95],
    ] as const)
      expect(led(fault, p)).toMatchObject({
        id: 'worse-since',
        why: expect.stringMatching(/By what is read now: .*%\.$/),
      })
  })
  it('what became worse is checked where it was done, and then traced as any other', () => {
    const spoilt = visitOf({
      readings: [...idleOf(0, { trim: 12 }), ...idleOf(1, { trim: 24 })],
      repairs: [repairAt('booster', 0)],
    })
    expect(nowAct(spoilt, diagnoseVisit(spoilt, 1))).toMatchObject({ id: 'worse-since', where: { station: 'booster' } })
    const note = tried('note', 'booster', 'pass', undefined, { note: 'sits as it should', at: at(60) })
    const checked = { ...spoilt, findings: [note] }
    expect(nowAct(checked, diagnoseVisit(checked, 1))).toMatchObject({ id: 'test', why: expect.stringMatching(/24/) })
    // what was noted before it was read again is no check of that
    const early = { ...spoilt, findings: [{ ...note, at: at(1) }] }
    expect(nowAct(early, diagnoseVisit(early, 1)).id).toBe('worse-since')
  })
  it('an owed reading stays owed', () => {
    expect(proofsOf({ ...f, repairs: [repairAt('duct', 2)] }).map((p) => p.after)).toEqual([2, undefined])
  })
})
