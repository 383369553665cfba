import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS } from '../engine/index.js'
import { findOperatingPoints, recordingOfRows, type LiveRow } from '../signals/index.js'
import { CAUTIONS } from '../cautions/index.js'
import { ledHint, ledSlotOf, LIVE_STOPS, mayKeepLive, mayRecordLive, type VisitFile } from './index.js'

const v = { ...ENGINE_PATTERNS.find((p) => p.id === 'four-maf')!.vehicle, name: 'x', altitudeM: 0 }

/** Rows at 2 Hz, coolant and loop state polled in turn. */
const drive = (from: number, seconds: number, rpm: number, more: LiveRow['values'] = {}): LiveRow[] =>
  Array.from({ length: 2 * seconds }, (_, i) => ({
    t: from + i / 2,
    values: {
      rpm: rpm + (i % 2),
      maf_gs: rpm / 300,
      stft1_pct: 2,
      ...(i % 4 === 0 ? { ect_c: 90, fuel_status: 1, speed_kph: 0, ltft1_pct: 8, load_pct: 20 } : {}),
      ...more,
    },
  }))

describe('rows as a recording', () => {
  it('channels polled in turn leave blanks, and the trims still add up', () => {
    const r = recordingOfRows(drive(100, 30, 700))
    expect(r.columns.time_s![0]).toBe(0)
    expect(r.columns.ect_c![1]).toBeNaN()
    const [p] = findOperatingPoints(r, v)
    expect(p).toMatchObject({ kind: 'idle' })
    expect(p.means.trim1_pct).toBeCloseTo(100 * (1.02 * 1.08 - 1), 6)
  })
  it('no window reaches over a gap', () => {
    const points = findOperatingPoints(recordingOfRows([...drive(0, 20, 700), ...drive(60, 20, 700)]), v)
    expect(points.map((p) => [p.startS < 30, p.endS < 30])).toEqual([
      [true, true],
      [false, false],
    ])
    expect(findOperatingPoints(recordingOfRows([...drive(0, 7, 700), ...drive(40, 7, 700)]), v)).toEqual([])
  })
  it('no rows, no recording', () => expect(recordingOfRows([])).toMatchObject({ rows: 0, warnings: [] }))
})

describe('led to a point', () => {
  it.each([
    ['nothing read', 'idle', [], 'no-speed'],
    ['engine stands', 'idle', drive(0, 4, 0), 'stopped'],
    ['rolling', 'idle', drive(0, 4, 700, { speed_kph: 30 }), 'moving'],
    ['cold', 'idle', drive(0, 4, 700, { ect_c: 40 }), 'cold'],
    ['idling where 2500 is wanted', 'hold-2500', drive(0, 4, 700), 'away'],
    ['still at 2500 where idle is wanted', 'idle', drive(0, 4, 2500), 'away'],
    ['open loop', 'idle', drive(0, 4, 700, { fuel_status: 0 }), 'open-loop'],
    ['just there', 'hold-2500', [...drive(0, 9, 700), ...drive(9, 3, 2500)], 'settling'],
    ['long enough to settle', 'hold-2500', [...drive(0, 9, 700), ...drive(9, 8, 2500)], 'holding'],
    ['a gap begins anew', 'idle', [...drive(0, 20, 700), ...drive(40, 2, 700)], 'settling'],
    ['purging meanwhile', 'idle', drive(0, 30, 700, { purge_pct: 30 }), 'drifting'],
    ['held and not found', 'idle', drive(0, 30, 700), 'drifting'],
  ] as const)('%s', (_, slot, rows, state) => expect(ledHint(slot, v, rows).state).toBe(state))
  it('a found point is the led one by its kind and speed', () => {
    const at = (rpm: number): ReturnType<typeof ledSlotOf> =>
      ledSlotOf(findOperatingPoints(recordingOfRows(drive(0, 30, rpm)), v)[0], v)
    expect([at(700), at(1450), at(2600), at(3200)]).toEqual(['idle', 'hold-1500', 'hold-2500', undefined])
  })
})

describe('what bars a live recording', () => {
  const file = (...cautions: string[]): VisitFile =>
    ({
      ticks: cautions.map((caution, i) => ({ id: `t${i}`, caution, deleted: caution === 'undone' })),
      runs: [],
      timers: [],
    }) as unknown as VisitFile
  const soak = { id: 's', kind: 'soak', label: 'soak', startedAt: '2026-01-01T09:00:00Z', seconds: 900, ended: false }
  const NOW = Date.parse('2026-01-01T09:05:00Z')
  it('a real engine runs only after every STOP is seen to; a simulated one has no exhaust', () => {
    const bare = mayRecordLive(file('throttle-plate-shuts'), false, NOW)
    expect(!bare.ok && bare.refusals.map((r) => r.rule)).toEqual(LIVE_STOPS)
    const half = mayRecordLive(file('exhaust-gas'), false, NOW)
    expect(!half.ok && half.refusals.map((r) => r.rule)).toEqual(['vehicle-moves'])
    expect(mayRecordLive(file(...LIVE_STOPS), false, NOW).ok).toBe(true)
    expect(mayRecordLive(file(), true, NOW).ok).toBe(true)
  })
  it('a real engine is not run in a soak, a simulated one may be', () => {
    const soaking = { ...file(...LIVE_STOPS), timers: [soak] } as unknown as VisitFile
    const gate = mayRecordLive(soaking, false, NOW)
    expect(!gate.ok && gate.refusals.map((r) => r.rule)).toEqual(['soak-runs'])
    expect(mayRecordLive(soaking, true, NOW).ok).toBe(true)
    expect(mayRecordLive(soaking, false, NOW + 3_600_000).ok).toBe(true)
  })
  it('each STOP says the danger, the rule and what to do if it has happened', () => {
    for (const id of LIVE_STOPS)
      expect([CAUTIONS[id].text.length > 40, CAUTIONS[id].ifHappened.length > 20]).toEqual([true, true])
  })
  it('a simulated car leaves nothing in a customer’s visit', () => {
    expect(mayKeepLive(true, false)).toMatchObject({ ok: false, refusals: [{ rule: 'simulated' }] })
    expect([mayKeepLive(true, true).ok, mayKeepLive(false, false).ok]).toEqual([true, true])
  })
})
