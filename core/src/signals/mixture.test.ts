import { expect, it } from '@jest/globals'
import { commandedFuelPct, pullMixture, type OperatingPoint } from './index.js'

const point = (means: OperatingPoint['means'], kind: OperatingPoint['kind'] = 'pull'): OperatingPoint => ({
  kind,
  rpm: 3800,
  startS: 0,
  endS: 3,
  n: 30,
  means,
  sds: {},
})

it('a pull’s fuel is the commanded mixture over what was measured, less what the trims add already', () => {
  // λ 0.98 where 0.88 was asked for, with 5 % added: 0.88 / 0.98 / 1.05 = 0.8552
  expect(commandedFuelPct(point({ trim1_pct: 5, lambda1: 0.98, lambda_cmd: 0.88 }))).toBeCloseTo(-14.48, 2)
  const both = { trim1_pct: 0, trim2_pct: 0, lambda1: 0.88, lambda2: 1.1, lambda_cmd: 0.88 }
  expect(commandedFuelPct(point(both))).toBeCloseTo(-10, 6)
  expect(pullMixture(point(both), 2)!.log).toBeCloseTo(Math.log(1.25), 9)
})
it('without the commanded one it is a bound; no pull, nothing that burns: nothing', () => {
  const lean = { trim1_pct: 0, lambda1: 1.12 }
  expect(pullMixture(point(lean), 1)).toEqual({ log: Math.log(1.12), atLeast: true, untrimmed: false })
  expect(commandedFuelPct(point(lean))).toBeUndefined()
  // without the trims of that moment it is known less well, and proves no work
  const untrimmed = point({ lambda1: 1.12, lambda_cmd: 0.88 })
  expect(pullMixture(untrimmed, 1)).toMatchObject({ untrimmed: true, atLeast: false })
  expect(commandedFuelPct(untrimmed)).toBeUndefined()
  expect(pullMixture(point(lean, 'hold'), 1)).toBeUndefined()
  for (const lambda1 of [1, 0.2, 1.99])
    expect(pullMixture(point({ trim1_pct: 0, lambda1, lambda_cmd: 0.88 }), 1)).toBeUndefined()
})
