import { describe, expect, it } from '@jest/globals'
import { planFeed, type FeedPlan, type FeedRequest } from '../cleaning/index.js'
import { ENGINE_PATTERNS } from '../engine/index.js'
import { allEvents, COUNT_IN_S, feedRunState, HAZARDS, type FeedRunState, type RunEvent } from './index.js'

const request: FeedRequest = {
  vehicle: {
    ...ENGINE_PATTERNS.find((p) => p.id === 'four-maf')!.vehicle,
    name: 'x',
    altitudeM: 0,
    confirmed: ['displacementL', 'cylinders', 'compressionRatio'],
  },
  method: 'metered-port',
  product: { kind: 'combustible', afr: 14.5 },
  doseMl: 12,
  labelMaxMl: 200,
  point: 'plenum',
  airGS: 14,
  rpm: 2500,
  speedFrom: 'scan',
  coolantC: 90,
  extraction: true,
  fireCover: true,
  lampFlashing: false,
  heldRunning: true,
  boostKpa: 0,
  feedRunning: false,
}
const planned = planFeed(request)
const plan: FeedPlan = planned.ok ? planned.plan : (undefined as never)
const T = Date.UTC(2026, 0, 1, 9)
const first = T + 1000 * COUNT_IN_S
const e = (kind: RunEvent['kind'], s: number): RunEvent => ({ kind, atMs: first + 1000 * s })
const begin: RunEvent = { kind: 'begin', atMs: T }
const at = (s: number, ...events: RunEvent[]): FeedRunState =>
  feedRunState(plan, request, [begin, ...events], first + 1000 * s)
const shot = [e('open', 0), e('shut', plan.shotS)] as const

describe('a feed led by the clock', () => {
  it('counts in, opens, shuts, waits, and counts in again; nobody taps', () => {
    expect(at(-1)).toMatchObject({ phase: 'count-in', dueMs: first, fedMl: 0 })
    expect(at(0.2, shot[0])).toMatchObject({ phase: 'shot', dueMs: first + 1000 * plan.shotS })
    const paused = at(plan.shotS + 0.1, ...shot)
    expect(paused).toMatchObject({ phase: 'pause', slips: 0, longerS: 0 })
    expect(paused.dueMs).toBeCloseTo(first + 1000 * (plan.shotS + plan.pauseS), 3)
    expect(at(plan.shotS + plan.pauseS - 1, ...shot).phase).toBe('count-in')
  })
  it('ends when all is in, the last shot only as long as what is left', () => {
    const events: RunEvent[] = []
    let s = 0
    for (let n = 0; n < 200; n++) {
      const state = at(s, ...events)
      if (state.phase === 'done') break
      s = (state.dueMs! - first) / 1000
      events.push(e(state.phase === 'shot' ? 'shut' : 'open', s))
    }
    expect(at(s, ...events)).toMatchObject({ phase: 'done', slips: 0 })
    expect(at(s, ...events).fedMl).toBeCloseTo(request.doseMl, 6)
  })
  it('a shot that was long counts as long as it was, and the next one waits for its film', () => {
    const long = at(2 * plan.shotS + 0.1, ...shot, e('shut-late', 2 * plan.shotS))
    expect(long).toMatchObject({ phase: 'pause', slips: 1 })
    expect(long.fedMl).toBeCloseTo(2 * plan.shotS * plan.rateMlS, 6)
    expect(long.dueMs).toBeGreaterThanOrEqual(first + 1000 * (2 * plan.shotS + plan.pauseS))
  })
  it('a shot fed twice counts twice; one cut short counts whole: nobody can say that it did not go in', () => {
    expect(at(9, ...shot, e('again', 8)).fedMl).toBeCloseTo(2 * plan.shotS * plan.rateMlS, 6)
    expect(at(0.5, shot[0], e('stop', 0.4)).fedMl).toBeCloseTo(plan.shotS * plan.rateMlS, 6)
  })
  it('held, it waits as long as it is held; then it counts in again', () => {
    const held = [...shot, e('hold', 5)]
    expect(at(300, ...held).phase).toBe('held')
    expect(at(301, ...held, e('go', 300))).toMatchObject({ phase: 'count-in', dueMs: first + 303_000 })
  })
  it.each(HAZARDS.map((h) => [h.kind, h.reason] as const))('%s ends it at any moment, by one tap', (kind, reason) => {
    for (const events of [[], [shot[0]], [...shot], [...shot, e('hold', 5)]])
      expect(at(20, ...events, e(kind, 10))).toMatchObject({ phase: 'stopped', hazard: kind, reason })
    expect(at(20, ...shot, e('stall', 10), e('open', 15)).shots).toHaveLength(1)
  })
  it('more than a cylinder bears ends it and locks the restart, as a stall does; a lamp does not', () => {
    const drowned = at(61, shot[0], e('shut', 60))
    expect(drowned).toMatchObject({ phase: 'stopped', locks: true })
    expect(drowned.reason).toMatch(/this engine bears \d+\.\d/)
    expect(at(20, ...shot, e('stall', 10)).locks).toBe(true)
    expect(at(20, ...shot, e('lamp', 10)).locks).toBe(false)
  })
  it('what was led by taps reads as it was: begun open, each tap shut or opened it', () => {
    const tapped = feedRunState(plan, request, [begin, e('tap', 0), e('tap', 20)], first + 21_000)
    expect(tapped.phase).toBe('shot')
    expect(tapped.shots).toHaveLength(2)
  })
  it('near the label the shots shrink, so that one fed twice stays below it', () => {
    const near = { ...request, labelMaxMl: 12, alreadyMl: 12 - 1.2 * plan.shotS * plan.rateMlS }
    expect(feedRunState(plan, near, [begin], first).shotS).toBeCloseTo(0.6 * plan.shotS, 6)
  })
  it('two tablets’ events are each taken once, in the order of their time', () => {
    const [a, b] = [
      [begin, e('open', 0), e('shut', 2)],
      [begin, e('open', 0), e('lamp', 1)],
    ]
    expect(allEvents(a, b).map((x) => x.kind)).toEqual(['begin', 'open', 'lamp', 'shut'])
    expect(allEvents(a, a)).toEqual(a)
    expect(allEvents([], b)).toEqual(b)
    // what the second one told ends it, whatever the first had not seen
    expect(feedRunState(plan, request, allEvents(a, b), first + 5000)).toMatchObject({
      phase: 'stopped',
      hazard: 'lamp',
    })
  })
  it('a page that was closed and opened sees the same: the state follows from the events alone', () => {
    const events = [...shot, e('again', 6), e('hold', 7), e('go', 30)]
    const again = JSON.parse(JSON.stringify(events)) as RunEvent[]
    for (const s of [1, 6.5, 8, 31, 60]) expect(at(s, ...again)).toEqual(at(s, ...events))
  })
})
