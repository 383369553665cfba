import { describe, expect, it } from '@jest/globals'
import {
  benchNext,
  emptyVisit,
  ENGINE_PATTERNS,
  FRESH_MS,
  failedLive,
  measuredPreconditions,
  preconditionReading,
  PROCEDURES,
  STAGES,
  countsOf,
  openThings,
  type CountRecord,
  type ReadingRecord,
  type VisitFile,
} from '../index.js'

const at = '2026-01-01T09:00:00Z'
const meta = { version: 1, by: 'R', at }
const spec = { ...ENGINE_PATTERNS[0].vehicle, name: 'x', altitudeM: 0 }
const visit = (part: Partial<VisitFile> = {}): VisitFile => ({
  ...emptyVisit(
    { ...meta, id: 'car', plate: 'T', customer: '', spec },
    {
      ...meta,
      id: 'v',
      vehicleId: 'car',
      openedAt: at,
      state: 'open',
      intent: 'complaint',
      complaint: '',
      signs: [],
      conditions: [],
      altitudeM: 0,
      ambientC: 15,
    },
  ),
  ...part,
})
const coolant = (value: number, when = at): ReadingRecord => ({
  ...meta,
  id: `c${value}${when}`,
  at: when,
  visitId: 'v',
  round: 0,
  slot: 'idle',
  channel: 'ect_c',
  value,
  typed: String(value),
})
const count = (id: string, thing: string, putIn: number, takenOut: number): CountRecord => ({
  ...meta,
  id,
  visitId: 'v',
  thing,
  station: 'throttle',
  putIn,
  takenOut,
})

describe('what a bench wants next', () => {
  it.each(STAGES.map((s) => s.id))('%s says one sentence, empty visit or not', (stage) => {
    for (const f of [visit(), visit({ readings: [coolant(90)] })])
      expect(benchNext(f, stage)).toMatch(/^[A-Z0-9].*\.$/s)
  })
  it('counts what is left to look at', () => expect(benchNext(visit(), 'look')).toMatch(/^\d+ looks left/))
  it('does not ask for a proof of nothing', () => expect(benchNext(visit(), 'prove')).toMatch(/No work is entered/))
})

describe('preconditions that readings tell', () => {
  const { preconditions } = PROCEDURES[0]
  const warm = preconditions.find((p) => p.reads)!
  const now = Date.parse(at) + 60_000

  it('a fresh reading inside its bounds stands for a tick', () =>
    expect(measuredPreconditions(visit({ readings: [coolant(90)] }), preconditions, now)).toEqual([warm.id]))
  it('a live figure goes before a typed one: inside it stands for a tick, outside no tick stands against it', () => {
    const cold = { ect_c: 40 }
    expect(measuredPreconditions(visit({ readings: [coolant(90)] }), preconditions, now, cold)).toEqual([])
    expect(failedLive(preconditions, cold)).toEqual([warm.id])
    expect(measuredPreconditions(visit({}), preconditions, now, { ect_c: 90 })).toEqual([warm.id])
    expect(failedLive(preconditions, {})).toEqual([])
  })
  it.each([
    ['outside its bounds', coolant(60), now],
    ['too long ago', coolant(90), now + FRESH_MS],
    ['of a clock that is ahead', coolant(90), Date.parse(at) - 60_000],
  ])('one %s does not', (_, r, when) =>
    expect(measuredPreconditions(visit({ readings: [r] }), preconditions, when)).toEqual([]),
  )
  it('the newest one speaks', () => {
    const later = coolant(40, '2026-01-01T09:00:30Z')
    expect(preconditionReading(visit({ readings: [coolant(90), later] }), warm, now)).toMatchObject({
      reading: later,
      inside: false,
    })
  })
  it('a STOP is never ticked by a reading, whatever tells it', () => {
    const stop = { id: 'x', label: 'x', stop: true, reads: { channel: 'ect_c', min: 0, max: 200 } } as const
    expect(measuredPreconditions(visit({ readings: [coolant(90)] }), [stop], now)).toEqual([])
  })
})

describe('counts', () => {
  it('every hand adds up, taken-back ones do not count', () => {
    const f = visit({
      counts: [
        count('a', 'hose plug', 1, 0),
        count('b', 'hose plug', 2, 0),
        count('c', 'hose plug', 0, 1),
        { ...count('d', 'hose plug', 5, 0), deleted: true },
        count('e', 'cloth', 1, 1),
      ],
    })
    expect(countsOf(f).map((c) => [c.thing, c.putIn, c.takenOut])).toEqual([
      ['hose plug', 3, 1],
      ['cloth', 1, 1],
    ])
    expect(openThings(f).map((o) => o.message)).toEqual(['hose plug: 3 in, 1 out, at the throttle.'])
  })
  it('more out than in is asked to be counted again', () =>
    expect(openThings(visit({ counts: [count('a', 'cloth', 1, 2)] }))[0].message).toMatch(/count again/))
})
