import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS } from '../engine/index.js'
import { bankDifference, emptyVisit, trimSheet, type Slot, type VisitFile } from './index.js'

const meta = { version: 1, by: 'R', at: '2026-01-01T09:00:00.000Z' }
type Figures = Readonly<Partial<Record<Slot, Readonly<Record<string, number>>>>>

function visit(pattern: string, figures: Figures): VisitFile {
  const spec = { ...ENGINE_PATTERNS.find((p) => p.id === pattern)!.vehicle, name: 'car', altitudeM: 0 }
  const open = {
    vehicleId: 'car',
    openedAt: meta.at,
    state: 'open',
    intent: 'complaint',
    complaint: '',
    signs: [],
    conditions: [],
    altitudeM: 0,
    ambientC: 20,
  } as const
  return {
    ...emptyVisit({ ...meta, id: 'car', plate: 'T', customer: '', spec }, { ...meta, id: 'v', ...open }),
    readings: Object.entries(figures).flatMap(([slot, values]) =>
      Object.entries(values).map(([channel, value]) => ({
        ...meta,
        id: `${slot}${channel}`,
        visitId: 'v',
        round: 0,
        slot: slot as Slot,
        channel: channel as VisitFile['readings'][number]['channel'],
        value,
        typed: String(value),
      })),
    ),
  }
}
const banks = (one: number, two: number) => ({ stft1_pct: 0, ltft1_pct: one, stft2_pct: 0, ltft2_pct: two })

describe('trim sheet', () => {
  it('short, long and total of both banks, airflow against what belongs there', () => {
    const rows = trimSheet(visit('v6-maf', { idle: { rpm: 700, maf_gs: 1.2, ...banks(10, 2), stft1_pct: 10 } }), 0)
    expect(rows).toHaveLength(1)
    // (1 + 0.10)(1 + 0.10) − 1 = 21 %
    expect(rows[0].banks[0].total).toBeCloseTo(21, 6)
    expect(rows[0].banks.map((b) => b.verdict)).toEqual(['outside', 'good'])
    expect(rows[0].air).toBe('low')
  })
  it('one bank, no airflow sensor, nothing read: what is not there is left out', () => {
    const rows = trimSheet(
      visit('four-map', { idle: { rpm: 760, stft1_pct: 1, ltft1_pct: 2 }, cruise: { rpm: 2000 } }),
      0,
    )
    expect(rows.map((r) => [r.kind, r.banks.length, r.airGS])).toEqual([['idle', 1, undefined]])
    expect(bankDifference(rows)).toBeUndefined()
  })
  it('a difference that fades with flow is air at one bank; one that does not is fuel or a sensor', () => {
    const at = (idle: [number, number], held: [number, number]): string | undefined =>
      bankDifference(
        trimSheet(
          visit('v6-maf', { idle: { rpm: 700, ...banks(...idle) }, 'hold-2500': { rpm: 2500, ...banks(...held) } }),
          0,
        ),
      )
    expect(at([14, 2], [4, 1])).toMatch(/^Bank 1 is given 12 % more fuel than bank 2 at idle and less at speed: air/)
    expect(at([1, 9], [0, 9])).toMatch(/^Bank 2 is given \d % more.*not less with flow: fuel or oxygen sensor/)
    expect(at([2, 1], [1, 1])).toBeUndefined()
  })
})
