import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, lookItemsOf } from '../engine/index.js'
import {
  cylinderUnlike,
  emptyVisit,
  evidenceOf,
  nowAct,
  remediesOf,
  roundToFill,
  sheetOf,
  spreadsLeft,
  takenProblem,
  diagnoseVisit,
  type BalanceRecord,
  type Slot,
  type VisitFile,
} from './index.js'

const meta = (id: string, minute: number) => ({
  id,
  version: 1,
  by: 'R',
  at: new Date(Date.UTC(2026, 0, 1, 9, minute)).toISOString(),
  visitId: 'v',
})
const pull = (cylinder: number, median: number) => ({
  cylinder,
  position: cylinder,
  pullPct: { median, low: median - 3, high: median + 3 },
})
const wave = (weak: boolean): BalanceRecord['taken'] => ({
  kind: 'wave',
  name: 'idle.wav',
  side: 'intake',
  balance: {
    rpm: { median: 900, low: 880, high: 920 },
    cycles: 40,
    cylinders: [pull(1, 104), pull(3, weak ? 80 : 100), pull(4, 104), pull(2, 104)],
    odd: weak ? { cylinder: 3, probability: 0.99, kind: [{ id: 'runner', probability: 0.9 }] } : null,
    orders: [],
    cycleSpreadPct: 3,
    meanCycle: [],
    warnings: [],
  },
})
const throttles = (vacuumKpa: number[], turns?: number): BalanceRecord['taken'] => ({
  kind: 'throttles',
  slot: 'hold-2500',
  layout: 'each',
  vacuumKpa,
  ...(turns === undefined ? {} : { turned: { adjuster: 'throttle-2', turns } }),
})

function visit(balances: [number, BalanceRecord['taken']][], measuredAgain?: number): VisitFile {
  const spec = { ...ENGINE_PATTERNS.find((p) => p.id === 'four-bodies')!.vehicle, name: 'car', altitudeM: 1180 }
  const { visitId: _, ...own } = meta('car', 0)
  const open = {
    vehicleId: 'car',
    openedAt: own.at,
    state: 'open',
    intent: 'complaint',
    complaint: 'Shakes',
    signs: ['idle-rough'],
    conditions: [],
    altitudeM: 1180,
    ambientC: 9,
  } as const
  const read = (round: number, minute: number, values: Record<string, number>): VisitFile['readings'] =>
    Object.entries(values).map(([channel, value]) => ({
      ...meta(`r${round}${channel}`, minute),
      round,
      slot: 'idle' as Slot,
      channel: channel as VisitFile['readings'][number]['channel'],
      value,
      typed: String(value),
    }))
  const idle = { rpm: 930, gauge_vacuum_kpa: 54 }
  return {
    ...emptyVisit({ ...own, plate: 'T', customer: '', spec }, { ...own, id: 'v', ...open }),
    readings: [...read(0, 1, idle), ...(measuredAgain === undefined ? [] : read(1, measuredAgain, idle))],
    balances: balances.map(([minute, taken], i) => ({ ...meta(`b${i}`, minute), round: 0, taken })),
  }
}

/** Every place along the intake looked at and in order. */
const everyLook = (f: VisitFile): VisitFile['findings'] =>
  lookItemsOf(f.vehicle.spec).map((i) => ({
    ...meta(`look ${i.id}`, 3),
    test: 'look',
    station: i.station,
    item: i.id,
    outcome: 'pass' as const,
  }))

describe('balances of a visit', () => {
  it('needle and waveform are evidence of their round', () => {
    const f = visit([
      [5, { kind: 'needle', needle: 'needle.regular-tick' }],
      [6, wave(true)],
    ])
    expect(evidenceOf(f, 0).findings).toEqual([
      { test: 'needle', item: 'needle.regular-tick', outcome: 'fail' },
      { test: 'cylinder-pull', outcome: 'fail' },
    ])
    expect(evidenceOf(f, 1).findings).toEqual([])
    const chance = (x: VisitFile): number =>
      diagnoseVisit(x, 0).ranking.find((r) => r.fault === 'weak-cylinder')?.probability ?? 0
    expect(chance(f)).toBeGreaterThan(3 * chance(visit([])))
    expect(chance(visit([[6, wave(false)]]))).toBeLessThan(chance(visit([])))
  })
  it('turning screws is a remedy: minutes, a new round, proof, and words', () => {
    const rows: [number, BalanceRecord['taken']][] = [
      [10, throttles([60, 66, 60, 60])],
      [14, throttles([60, 63, 60, 60], 0.5)],
      [18, throttles([60, 60.4, 60, 60], 0.25)],
    ]
    const f = visit(rows)
    expect(remediesOf(f)).toMatchObject([
      { kind: 'balance', afterRound: 0, minutes: 28, words: 'throttles balanced, 2 turns' },
    ])
    expect(roundToFill(f)).toBe(1)
    expect(remediesOf(visit(rows.slice(0, 2)))[0].words).toBe(
      'screws of the throttles turned, not in balance yet, 1 turn',
    )
    // sheet and bench have one limit, to the last digit, and a row that was only read again is as good as one after a turn
    const words = (...last: [number, BalanceRecord['taken']][]): string =>
      remediesOf(visit([...rows.slice(0, 2), ...last]))[0].words
    expect(words([18, throttles([53.2, 54.9, 53.2, 53.2], 0.25)])).toBe('throttles balanced, 2 turns')
    expect(words([18, throttles([60, 61.2, 60, 60])])).toBe('throttles balanced, 1 turn')
    const s = sheetOf(visit(rows, 30), diagnoseVisit(f, 0), 84)
    expect(s.done[0]).toMatch(/^Throttles balanced, 2 turns \(28 min\)/)
    expect(s.found.join(' ')).toMatch(
      /differed by 6\.0 kPa when first read and differ by 0\.4 kPa at 2500, 1\.7 is allowed/,
    )
    expect(s.plain).toMatch(/^The throttles of your engine did not pull alike\. Done: the throttles adjusted\./)
  })
  it('what pulls unlike is never told as nothing wrong', () => {
    const plain = (balances: [number, BalanceRecord['taken']][]): string => {
      const f = visit(balances)
      return sheetOf(f, diagnoseVisit(f, 0), 84).plain
    }
    expect(plain([[10, throttles([60, 66, 60, 60])]])).toBe(plain([[10, wave(true)]]))
    expect(plain([[10, throttles([60, 66, 60, 60])]])).toMatch(/found where to look; nothing has been mended yet/)
    const drops = [150, 140, 40].map((rpmDrop, i): [number, BalanceRecord['taken']] => [
      i,
      { kind: 'drop', cylinder: i + 1, rpmDrop },
    ])
    expect([cylinderUnlike(visit(drops).balances), cylinderUnlike(visit([[1, wave(false)]]).balances)]).toEqual([
      true,
      false,
    ])
  })
  it('throttles that pull unlike come before dear tests', () => {
    const f = visit([[10, throttles([60, 66, 60, 60])]])
    expect(nowAct({ ...f, findings: everyLook(f) }, diagnoseVisit(f, 0))).toMatchObject({
      id: 'balance',
      stage: 'measure',
    })
  })
  it('a hand pump stands on the sheet in its own figures', () => {
    const samples = [60, 59.2, 58.4].map((kpa, i) => ({ t: 30 * i, kpa }))
    const f = visit([[5, { kind: 'pump', part: 'egr', samples }]])
    expect(takenProblem(f.balances[0].taken)).toBeUndefined()
    expect(sheetOf(f, diagnoseVisit(f, 0), 84).found.join(' ')).toContain(
      'Hand pump, EGR diaphragm: it loses 1.6 kPa a minute: it holds.',
    )
  })
  it('what is no balance is refused by its field', () => {
    expect(takenProblem(wave(true))).toBeUndefined()
    expect(takenProblem(throttles([50, 51]))).toBeUndefined()
    expect(takenProblem({ kind: 'drop', cylinder: 1, rpmDrop: 120 })).toBeUndefined()
    for (const [bad, field] of [
      [null, 'taken'],
      [{ kind: 'x' }, 'taken.kind'],
      [throttles([50, 500]), 'taken.vacuumKpa'],
      [{ ...(throttles([50, 51, 52]) as object), layout: 'pairs' }, 'taken.layout'],
      [{ ...(throttles([50, 51], 1) as object), turned: { adjuster: 'middle', turns: 1 } }, 'taken.turned.adjuster'],
      [{ kind: 'drop', cylinder: 1.5, rpmDrop: 1 }, 'taken.cylinder'],
      [{ kind: 'needle', needle: 'needle.gone' }, 'taken.needle'],
      [
        {
          kind: 'pump',
          part: 'egr',
          samples: [
            { t: 5, kpa: 60 },
            { t: 5, kpa: 50 },
          ],
        },
        'taken.samples',
      ],
      [{ kind: 'pump', part: 'spleen', samples: [] }, 'taken.part'],
      [{ ...(wave(true) as object), side: 'above' }, 'taken.side'],
    ] as const)
      expect(takenProblem(bad)).toMatch(new RegExp(`^${field.replace('.', '\\.')}`))
  })
})

it('a car’s throttles are left as they were last read, simulated ones are none of its own', () => {
  const rows = visit([
    [5, throttles([60, 63, 60, 61])],
    [6, throttles([60, 60.9, 60, 60.2], 0.5)],
    [7, { ...throttles([40, 60, 50, 50]), practice: true } as BalanceRecord['taken']],
  ]).balances
  expect(spreadsLeft(rows)).toEqual([{ slot: 'hold-2500', spreadKpa: expect.closeTo(0.9, 9) }])
  expect(spreadsLeft([])).toEqual([])
})
