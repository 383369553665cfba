import fc from 'fast-check'
import { describe, expect, it } from '@jest/globals'
import {
  clockFace,
  KEY_PEDAL_RELEARN as relearn,
  PROCEDURES,
  runState,
  secondsLeft,
  STAGED_IDLE_LEARN,
  type RunEvent,
} from './index.js'

const T = 1_700_000_000_000
const at = (...seconds: number[]): RunEvent[] => [
  { kind: 'begin', atMs: T },
  ...seconds.map((s) => ({ kind: 'tap' as const, atMs: T + s * 1000 })),
]
const whole = [3, 3.6, 4.1, 4.6, 5.1, 5.6, 12.6, 20, 22, 42.5]

describe('a relearn against the clock', () => {
  it('in time from end to end', () => {
    const s = runState(relearn, at(...whole))
    expect(s.status).toBe('passed')
    expect(s.results).toHaveLength(relearn.steps.length)
  })
  it('half a second late fails, says so in tenths, and takes nothing more', () => {
    const s = runState(relearn, at(3.5, 4))
    expect(s).toMatchObject({ status: 'failed', step: 0 })
    expect(s.results[0].errorS).toBeCloseTo(0.5, 9)
    expect(s.reason).toMatch(/0\.5 s too late/)
  })
  it('four tenths is still in, early or late', () => {
    expect(runState(relearn, at(3.4)).step).toBe(1)
    expect(runState(relearn, at(2.6)).step).toBe(1)
    expect(runState(relearn, at(2.5)).reason).toMatch(/0\.5 s too early/)
  })
  it('quick pedal strokes count; a wet glove’s second tap elsewhere does not', () => {
    expect(runState(relearn, at(3, 3.5, 3.7, 3.9, 4.1, 4.3)).step).toBe(2)
    expect(runState(relearn, at(3, 3.2)).count).toBe(0)
  })
  it('back one takes the last tap away', () => {
    const events = [
      ...at(3.1),
      { kind: 'back', atMs: T + 3300 } as RunEvent,
      { kind: 'tap', atMs: T + 3350 } as RunEvent,
    ]
    const s = runState(relearn, events)
    expect(s.step).toBe(1)
    expect(s.results[0].errorS).toBeCloseTo(0.35, 9)
  })
  it('a clock that jumps back voids the attempt with a sentence', () => {
    const events = [...at(3), { kind: 'tap', atMs: T - 60_000 } as RunEvent]
    expect(runState(relearn, events)).toMatchObject({ status: 'failed', reason: expect.stringContaining('clock') })
  })
  it('STOP stops; what belongs to a feed is no tap', () => {
    expect(runState(relearn, [...at(), { kind: 'stop', atMs: T + 1 }]).status).toBe('stopped')
    expect(runState(relearn, [...at(), { kind: 'open', atMs: T + 1 }])).toMatchObject({ status: 'running', step: 0 })
  })
  it('before it has begun taps do nothing', () =>
    expect(runState(relearn, [{ kind: 'tap', atMs: T }]).status).toBe('ready'))
  it('events added one by one or at once, on this tablet or another, give the same state', () => {
    const kinds = fc.constantFrom('tap' as const, 'tap' as const, 'tap' as const, 'back' as const)
    fc.assert(
      fc.property(
        fc.array(fc.tuple(kinds, fc.double({ min: 0.05, max: 9, noNaN: true })), { maxLength: 14 }),
        (steps) => {
          let t = T
          const events: RunEvent[] = [
            { kind: 'begin', atMs: T },
            ...steps.map(([kind, s]) => ({ kind, atMs: (t += s * 1000) })),
          ]
          const a = runState(relearn, events)
          const b = runState(relearn, JSON.parse(JSON.stringify(events)) as RunEvent[])
          return JSON.stringify(a) === JSON.stringify(b) && a.results.every((r) => r.endMs >= r.startMs)
        },
      ),
    )
  })
})

it('the staged learn waits at least, and goes on at the sign', () => {
  expect(runState(STAGED_IDLE_LEARN, at(59)).status).toBe('failed')
  expect(runState(STAGED_IDLE_LEARN, at(61, 90, 150, 181)).status).toBe('passed')
})

it('every procedure names its STOP preconditions and says why', () => {
  for (const p of PROCEDURES) {
    expect(p.preconditions.some((c) => c.stop)).toBe(true)
    expect(p.why.length).toBeGreaterThan(10)
  }
})

describe('timers', () => {
  it('count from a stored start: an hour asleep is an hour gone', () =>
    expect(secondsLeft(T, 5400, T + 3_600_000)).toBe(1800))
  it('faces', () => {
    expect(clockFace(462)).toBe('07:42')
    expect(clockFace(4062)).toBe('1:07:42')
    expect(clockFace(-61)).toBe('\u221201:01')
    expect(() => secondsLeft(T, 0, T)).toThrow(RangeError)
  })
})
