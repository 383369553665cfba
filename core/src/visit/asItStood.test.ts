import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, lookItemsOf } from '../engine/index.js'
import { causesOf, diagnoseVisit, sheetOf, type Slot } from './index.js'
import { asItStood } from './asItStood.js'
import { proofsOf } from './proofs.js'
import { foundAt, reading, repairAt, visitOf } from './remedies.fixture.js'

const V8 = { ...ENGINE_PATTERNS.find((p) => p.id === 'v8-maf')!.vehicle, name: 'eight', altitudeM: 1180 }
const CHANNELS = [
  'rpm',
  'maf_gs',
  'stft1_pct',
  'ltft1_pct',
  'stft2_pct',
  'ltft2_pct',
  'idle_valve_pct',
  'gauge_vacuum_kpa',
] as const
type Row = readonly [slot: Slot, ...values: number[]]
const typed = (round: number, rows: readonly Row[]): ReturnType<typeof reading>[] =>
  rows.flatMap(([slot, ...values]) =>
    slot === 'pull'
      ? (['rpm', 'maf_gs', 'gauge_vacuum_kpa'] as const).map((c, i) => reading(round, slot, c, values[i]))
      : [
          ...CHANNELS.map((c, i) => reading(round, slot, c, values[i])),
          ...(slot === 'idle' ? [reading(round, slot, 'battery_v', 14.1)] : []),
        ],
  )

/** A V8 whose duct was split, and whose exhaust of one bank was blocked besides: the trims of the first hid the second. */
const CAME = typed(0, [
  ['idle', 650, 3.9, 7.8, 25, 19.5, 25, 25.4, 56.1],
  ['hold-2500', 2499, 15.23, 1.6, 25, 20.3, 25, 25.5, 58.4],
  ['cruise', 1880, 13.84, 2.3, 25, 20.3, 25, 25.5, 50.4],
  ['pull', 3317, 76.75, 1.2],
])
const BETWEEN = typed(1, [
  ['idle', 650, 5.45, 0, -3.9, 0, 7, 25.5, 56.1],
  ['hold-2500', 2499, 21.14, 0.8, -15.6, -1.6, 19.5, 25.5, 57.9],
  ['cruise', 1880, 19.21, 0, -12.5, 0, 15.6, 25.5, 49.9],
  ['pull', 3300, 103.7, 1.6],
])
const LEAVES = typed(2, [
  ['idle', 650, 5.34, 0, 1.6, 0, 1.6, 24.7, 57],
  ['hold-2500', 2498, 20.04, 0, 1.6, 0, 1.6, 24.7, 60.4],
  ['cruise', 1881, 18.52, 0, 1.6, 0, 1.6, 24.7, 52.5],
  ['pull', 3804, 139.1, 2.4],
])
const looks = lookItemsOf(V8).map((i) => ({
  ...foundAt(i.station, 'look'),
  id: `look:${i.id}`,
  item: i.id,
  outcome: 'pass' as const,
}))
const visit = visitOf(
  {
    readings: [...CAME, ...BETWEEN, ...LEAVES],
    findings: looks,
    repairs: [repairAt('duct', 0), { ...repairAt('beyond', 1), note: 'catalyst of bank 1 renewed' }],
  },
  V8,
)
const f = { ...visit, visit: { ...visit.visit, altitudeM: 1180, signs: ['idle-rough'] } }

describe('two works, the second of what the first unmasked', () => {
  it('each is weighed by the visit as it stood before it', () => {
    const second = proofsOf(f)[1]
    const then = asItStood(f, second)
    expect(then.repairs.map((r) => r.station)).toEqual(['duct'])
    expect(new Set(then.readings.map((r) => r.round))).toEqual(new Set([0, 1]))
    expect(diagnoseVisit(then, 1).ranking[0].fault).toBe('exhaust-restriction')
  })
  it('both are confirmed, each with the size that was told of it, and nothing that nobody had found', () => {
    const causes = causesOf(f, diagnoseVisit(f, 0), diagnoseVisit(f, 2))
    expect(causes.confirmed).toEqual(['unmetered-air-duct', 'exhaust-restriction'])
    expect(Object.values(causes.or).flat()).toEqual([])
    const { found, plain } = sheetOf(f, diagnoseVisit(f, 0), 60, diagnoseVisit(f, 2))
    expect(plain).toMatch(/^Air was getting in between .* The exhaust of your engine was holding it back\. Done:/)
    expect(found.find((x) => x.startsWith('Exhaust blocked'))).toMatch(
      /Confirmed: .* Before: the exhaust of bank 1 holds back/,
    )
  })
})
