import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS } from '../engine/index.js'
import {
  confirmedOutcome,
  diagnoseVisit,
  evidenceOf,
  NO_CODES,
  soundRecord,
  type Slot,
  type VisitFile,
} from './index.js'

const meta = { version: 1, by: 'R', at: '2026-03-01T08:00:00.000Z' }
const spec = { ...ENGINE_PATTERNS[0].vehicle, name: 'x', altitudeM: 300 }

type Figures = Readonly<Partial<Record<Slot, readonly [maf: number, trim: number]>>>
const SOUND: Figures = { idle: [2.5, 1], 'hold-2500': [8.2, 0] }
const LEAK: Figures = { idle: [2.04, 23], 'hold-2500': [7.8, 5.5] }

/** A visit with airflow and long trim typed at idle and 2500, round by round. */
function visit(id: string, openedAt: string, rounds: readonly Figures[], mended = false): VisitFile {
  const readings = rounds.flatMap((slots, round) =>
    Object.entries(slots).flatMap(([slot, [maf, trim]]) =>
      Object.entries({ rpm: slot === 'idle' ? 700 : 2500, maf_gs: maf, stft1_pct: 0, ltft1_pct: trim }).map(
        ([channel, value]) => ({
          ...meta,
          id: `${id}:${round}:${slot}:${channel}`,
          visitId: id,
          round,
          slot,
          channel,
          value,
          typed: String(value),
        }),
      ),
    ),
  )
  const repair = { ...meta, id: `${id}:r`, visitId: id, station: 'pcv', kind: 'replace', state: 'done', afterRound: 0 }
  const lists = Object.fromEntries(
    [
      'findings',
      'recordings',
      'photos',
      'reports',
      'items',
      'counts',
      'steps',
      'ticks',
      'runs',
      'timers',
      'codes',
      'balances',
    ].map((noun) => [noun, []]),
  )
  return {
    format: 'uvula-visit',
    formatVersion: 1,
    vehicle: { ...meta, id: 'car', plate: 'A', customer: 'B', spec },
    visit: {
      ...meta,
      id,
      vehicleId: 'car',
      openedAt,
      state: 'open',
      altitudeM: 300,
      ambientC: 20,
      intent: 'complaint',
      complaint: '',
      signs: [],
      conditions: [],
    },
    readings,
    repairs: mended ? [repair] : [],
    ...lists,
  } as unknown as VisitFile
}

describe('what a car and a shop remember', () => {
  const mended = visit('b', '2026-02-01', [LEAK, SOUND], true)
  it('the newest round that leaves nothing wrong is the sound record', () => {
    const record = soundRecord(
      [visit('a', '2026-01-01', [SOUND]), mended, visit('c', '2026-03-01', [LEAK])],
      'same-car',
    )
    expect(record).toMatchObject({ visitId: 'b', at: '2026-02-01' })
    expect(record!.points.find((p) => p.kind === 'idle')!.means.maf_gs).toBe(2.5)
    expect(soundRecord([visit('c', '2026-03-01', [LEAK])], 'same-car')).toBeUndefined()
  })
  it('a cause is confirmed when it led, was mended and is gone', () => {
    expect(confirmedOutcome(mended)).toBe('unmetered-air')
    expect(confirmedOutcome(visit('d', '2026-02-01', [LEAK, LEAK], true))).toBeUndefined()
    expect(confirmedOutcome(visit('e', '2026-02-01', [LEAK]))).toBeUndefined()
    expect([mended, mended].map(confirmedOutcome)).toEqual(['unmetered-air', 'unmetered-air'])
  })
  it('codes that were read and do not stand are known from codes that nobody read', () => {
    const unread = visit('g', '2026-05-01', [SOUND])
    const none = { ...unread, visit: { ...unread.visit, conditions: [NO_CODES] } }
    expect(evidenceOf(unread, 0).codes).toBeUndefined()
    expect(evidenceOf(none, 0).codes).toEqual([])
  })
  it('its own record makes a small leak plainer, and confirmed outcomes lift a cause', () => {
    const small = visit('f', '2026-04-01', [{ idle: [2.32, 8], 'hold-2500': [8.05, 2.3] }])
    const p = (beyond = {}): number =>
      diagnoseVisit(small, 0, beyond).ranking.find((r) => r.fault === 'unmetered-air')!.probability
    expect(p({ sound: [soundRecord([mended], 'same-car')!] })).toBeGreaterThan(p())
    expect(p({ outcomes: { 'unmetered-air': 30 } })).toBeGreaterThan(p())
  })
})
