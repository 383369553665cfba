import { describe, expect, it } from '@jest/globals'
import { proofBetween, proofsOf } from './index.js'
import type { BalanceRecord } from './balanceRecords.js'
import { at, idleOf, repairAt, visitOf } from './remedies.fixture.js'

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
