import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import {
  emptyVisit,
  checkStep,
  expectedCode,
  mayBegin,
  mayCloseUp,
  nowAct,
  openThings,
  restartLocked,
  runsGoingOn,
  TURNED_BY_HAND,
  type RunRecord,
  type VisitFile,
} from './index.js'

const meta = { version: 1, by: 'R', at: '2026-01-01T09:00:00.000Z' }
const T = Date.parse(meta.at)
const v8 = ENGINE_PATTERNS.find((p) => p.id === 'v8-maf')!.vehicle

function file(part: Partial<VisitFile> = {}): VisitFile {
  const vehicle = { ...meta, id: 'car', plate: 'T', customer: '', spec: { ...v8, name: 'x', altitudeM: 0 } }
  const visit: VisitFile['visit'] = {
    ...meta,
    id: 'v',
    vehicleId: 'car',
    openedAt: meta.at,
    state: 'open',
    intent: 'complaint',
    complaint: '',
    signs: ['flat'],
    conditions: [],
    altitudeM: 0,
    ambientC: 15,
  }
  return { ...emptyVisit(vehicle, visit), ...part }
}

const feed: RunRecord = {
  ...meta,
  id: 'f',
  visitId: 'v',
  procedure: 'feed',
  attempt: 1,
  preconditions: ['stop-liquid', 'stop-fire', 'stop-gas'],
  events: [],
  feed: {
    method: 'metered-port',
    product: { kind: 'combustible', afr: 14.5 },
    doseMl: 20,
    labelMaxMl: 200,
    point: 'plenum',
    airGS: 19,
    rpm: 2500,
    speedFrom: 'scan',
    coolantC: 90,
    extraction: true,
    fireCover: true,
    lampFlashing: false,
    heldRunning: true,
    boostKpa: 0,
    feedRunning: false,
  },
}
const begun: RunRecord = { ...feed, events: [{ kind: 'begin', atMs: T }] }
const stalled: RunRecord = { ...feed, events: [...begun.events, { kind: 'stall', atMs: T + 5000 }] }
const rules = (g: ReturnType<typeof mayBegin>): string[] => (g.ok ? [] : g.refusals.map((r) => r.rule))

describe('a feed', () => {
  it('begins when planned and ticked', () => expect(mayBegin(file(), feed, T)).toEqual({ ok: true }))
  it('does not into an engine that holds no idle', () => {
    const ticks = [...file().ticks, { ...feed, events: [], id: 'dies', caution: 'no-idle-0' }]
    expect(mayBegin({ ...file(), ticks }, feed, T)).toMatchObject({
      refusals: [{ rule: 'holds-no-idle', message: expect.stringMatching(/^It holds no idle: let go, it stalls/) }],
    })
  })
  it('does not without its STOP ticks, without a plan, or while another runs', () => {
    expect(rules(mayBegin(file(), { ...feed, preconditions: [] }, T))).toEqual(['preconditions'])
    expect(rules(mayBegin(file(), { ...feed, feed: undefined }, T))).toEqual(['no-plan'])
    // direct injection may have a particulate filter: what nobody has ticked is not so, and a code speaks for itself
    const direct = file({ vehicle: { ...file().vehicle, spec: { ...file().vehicle.spec, injection: 'direct' } } })
    expect(rules(mayBegin(direct, feed, T))).toEqual(['particulate-filter'])
    expect(rules(mayBegin(direct, { ...feed, feed: { ...feed.feed!, filterClear: true } }, T))).toEqual([])
    const code = { id: 'c', version: 1, by: 'R', at: new Date(T).toISOString(), visitId: 'v' }
    const sooted = file({ codes: [{ ...code, code: 'P2463', state: 'stored', when: 'before', cleared: false }] })
    expect(rules(mayBegin(sooted, feed, T))).toEqual(['particulate-filter'])
    expect(runsGoingOn(file({ runs: [begun] }))).toHaveLength(1)
    expect(rules(mayBegin(file({ runs: [begun] }), { ...feed, id: 'g' }, T))).toEqual(['one-feed'])
  })
  it('a stall locks the restart until the engine was turned by hand, later than the stall', () => {
    const f = file({ runs: [stalled] })
    expect(restartLocked(f)).toBe(true)
    expect(nowAct(f).title).toBe('Do not crank')
    expect(rules(mayBegin(f, { ...feed, id: 'g' }, T))).toContain('restart-locked')
    const tick = (at: string) => ({ ...meta, id: 't', visitId: 'v', caution: TURNED_BY_HAND, at })
    expect(restartLocked(file({ runs: [stalled], ticks: [tick('2026-01-01T08:00:00.000Z')] }))).toBe(true)
    expect(restartLocked(file({ runs: [stalled], ticks: [tick('2026-01-01T09:10:00.000Z')] }))).toBe(false)
  })
})

describe('close-up', () => {
  const bolt = {
    ...meta,
    id: 'b',
    visitId: 'v',
    station: 'throttle' as const,
    name: 'bolt',
    count: 4,
    bag: 'A',
    arrival: 'present' as const,
    state: 'off' as const,
  }
  const cloth = { ...meta, id: 'c', visitId: 'v', thing: 'cloth', station: 'throttle' as const, putIn: 2, takenOut: 1 }
  it('names what is open, loose or uncounted, and where', () => {
    const f = file({ items: [bolt, { ...bolt, id: 'l', state: 'loose', until: 'first start' }], counts: [cloth] })
    expect(openThings(f).map((x) => x.rule)).toEqual(['item-off', 'item-loose', 'count'])
    expect(openThings(f)[2].message).toBe('cloth: 2 in, 1 out, at the throttle.')
    expect(mayCloseUp(f).ok).toBe(false)
  })
  it('closes when everything is back and out', () =>
    expect(mayCloseUp(file({ items: [{ ...bolt, state: 'on' }], counts: [{ ...cloth, takenOut: 2 }] }))).toEqual({
      ok: true,
    }))
})

it('a wrong product is a fact with its rule, and says what fits', () => {
  const step = {
    ...meta,
    id: 's',
    visitId: 'v',
    station: 'airflow-sensor' as const,
    surface: 'airflow-element' as const,
    product: 'throttle-cleaner' as const,
    method: 'cloth-in-place' as const,
    passed: false,
  }
  expect(checkStep(step, v8 as Vehicle)[0]).toMatchObject({
    rule: 'product-on-surface',
    message: expect.stringContaining('Use airflow sensor cleaner'),
  })
  expect(checkStep({ ...step, product: 'airflow-cleaner' }, v8 as Vehicle)).toEqual([])
})

it('our own codes are told from findings', () => {
  expect(expectedCode('p0507')?.from).toBe('throttle-cleaned')
  expect(expectedCode('P0420')).toBeUndefined()
})
