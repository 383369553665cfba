import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, lookItemsOf } from '../engine/index.js'
import { causesOf, diagnoseVisit, sheetOf, type Slot } from './index.js'
import { asItStood } from './asItStood.js'
import { proofsOf } from './proofs.js'
import { foundAt, meta, reading, repairAt, visitOf } from './remedies.fixture.js'

const V8 = { ...ENGINE_PATTERNS.find((p) => p.id === 'v8-maf')!.vehicle, name: 'eight', altitudeM: 1180 }
type Channel = Parameters<typeof reading>[2]
const CHANNELS: readonly Channel[] = [
  'rpm',
  'maf_gs',
  'stft1_pct',
  'ltft1_pct',
  'stft2_pct',
  'ltft2_pct',
  'idle_valve_pct',
  'gauge_vacuum_kpa',
]
type Row = readonly [slot: Slot, ...values: number[]]
const typed = (round: number, rows: readonly Row[], channels = CHANNELS): ReturnType<typeof reading>[] =>
  rows.flatMap(([slot, ...values]) =>
    slot === 'pull'
      ? (['rpm', 'maf_gs', 'gauge_vacuum_kpa'] as const).map((c, i) => reading(round, slot, c, values[i]))
      : [
          ...channels.map((c, i) => reading(round, slot, c, values[i])),
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
  it('beyond a trim’s stop nobody has read what fell away with the first: it has no size', () => {
    const { found } = sheetOf(f, diagnoseVisit(f, 0), 60, diagnoseVisit(f, 2))
    expect(found.find((x) => x.startsWith('Split or loose duct'))).toMatch(/the readings came back\.$/)
  })
})

/** A four with a hole of 2.2 mm² effective behind a sensor that reads 10 % high. */
describe('two causes at once', () => {
  const channels = ['rpm', 'maf_gs', 'stft1_pct', 'ltft1_pct', 'throttle_pct', 'gauge_vacuum_kpa'] as const
  const four = visitOf({
    readings: [
      ...typed(
        0,
        [
          ['idle', 717, 2.12, 0, 11.7, 13.1, 56.6],
          ['hold-2500', 2498, 7.93, -0.8, -3.9, 17.3, 61.2],
          ['cruise', 1882, 9.33, 0, -6.3, 17.8, 51.7],
          ['pull', 3155, 51, 1.3],
        ],
        channels,
      ),
      ...typed(
        1,
        [
          ['idle', 713, 2.62, -0.8, -10.2, 13.2, 57.1],
          ['hold-2500', 2498, 8.45, 0, -10.2, 17.1, 61.6],
          ['cruise', 1881, 9.71, -0.8, -10.9, 18.2, 51.5],
          ['pull', 3151, 51.2, 1.4],
        ],
        channels,
      ),
      ...typed(
        2,
        [
          ['idle', 719, 2.39, -0.8, -0.8, 13.4, 57.1],
          ['hold-2500', 2499, 7.64, -0.8, -0.8, 17.3, 61.4],
          ['cruise', 1886, 8.67, -0.8, -0.8, 18, 51.8],
          ['pull', 3153, 45.6, 1.8],
        ],
        channels,
      ),
    ],
    findings: [{ ...meta('smoke', 5), visitId: 'v', test: 'smoke', station: 'booster', outcome: 'fail' }],
    repairs: [repairAt('booster', 0), repairAt('airflow-sensor', 1, { kind: 'replace' })],
  })
  const f = { ...four, visit: { ...four.visit, altitudeM: 1180, signs: ['idle-rough'] } }

  it('the first has its size from what fell away with it, not from readings that were of both', () => {
    const came = diagnoseVisit(f, 0)
    const { confirmed, sized } = causesOf(f, came, diagnoseVisit(f, 2))
    expect([...confirmed].sort()).toEqual(['maf-over-reads', 'unmetered-air'])
    const alone = came.ranking.find((r) => r.fault === 'unmetered-air')!.effectiveAreaMm2!
    const own = sized['unmetered-air']!.effectiveAreaMm2!
    expect(Math.abs(own.median - 2.2)).toBeLessThan(Math.abs(alone.median - 2.2))
    expect(own.low).toBeLessThan(2.2)
    expect(own.high).toBeGreaterThan(2.2)
  })
})
