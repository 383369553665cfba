import { describe, expect, it } from '@jest/globals'
import type { Recording } from '../signals/index.js'
import { readRecording } from './index.js'

/** A recording of a table's lines. */
function read(...lines: string[]): Recording {
  const r = readRecording(new TextEncoder().encode(lines.join('\n')))
  if (!r.ok) throw new Error(r.error.message)
  return r.recording
}
const rows = (n: number, line: (i: number) => string): string[] => Array.from({ length: n }, (_, i) => line(i))
const ends = (xs: Float64Array | undefined): readonly number[] => [xs!.at(0)!, xs!.at(-1)!]

describe('a header further down', () => {
  const [first, second] = [rows(80, (i) => `${i / 2},${700 + i},3.1`), rows(80, (i) => `${40 + i / 2},6.2,${1500 + i}`)]
  it('that names the columns in another order is followed', () => {
    const r = read('Time,RPM,MAF (g/s)', ...first, 'Time,MAF (g/s),RPM', ...second)
    expect(r.rows).toBe(160)
    expect(ends(r.columns.rpm)).toEqual([700, 1579])
    expect(ends(r.columns.maf_gs)).toEqual([3.1, 6.2])
    expect(r.warnings.map((w) => w.message)).toEqual([expect.stringMatching(/^Line 82 names other columns/)])
    expect(r.columns.time_s!.every((t, i, all) => i === 0 || t > all[i - 1])).toBe(true)
  })
  it('that adds a column leaves it blank before', () => {
    const r = read('Time,RPM,MAF (g/s)', ...first, 'Time,RPM,MAF (g/s),Coolant (°C)', ...first.map((l) => `${l},90`))
    expect(r.columns.ect_c!.subarray(0, 80).every(Number.isNaN)).toBe(true)
    expect(r.columns.ect_c![80]).toBe(90)
  })
  it('that is the same is passed over; a line of words is none', () => {
    const again = read('Time,RPM,MAF (g/s)', ...first, 'Time,RPM,MAF (g/s)', ...first)
    expect(again.warnings.map((w) => w.code)).toContain('header-again')
    expect(ends(read('Time,RPM,MAF (g/s)', ...first, 'Time out, link lost', ...first).columns.rpm)).toEqual([700, 779])
  })
  it('tells of lines as they stand in the file', () => {
    const bad = rows(80, (i) => `${40 + i / 2},6.2,${i === 3 ? 'x?' : 1500}`)
    const r = read('Time,RPM,MAF (g/s)', ...first, 'Time,MAF (g/s),RPM', ...bad)
    expect(r.warnings.map((w) => w.message).join()).toContain('"x?" in line 86')
  })
})

describe('times', () => {
  it('the newest row first: read from the end', () => {
    const r = read('Time,RPM,MAF (g/s)', ...rows(40, (i) => `${(40 - i) / 2},${700 + i},3.1`))
    expect(ends(r.columns.time_s)).toEqual([0, 19.5])
    expect(ends(r.columns.rpm)).toEqual([739, 700])
    expect(r.warnings.map((w) => w.code)).toEqual(['newest-first'])
  })
  it.each(['Date', 'Time'])('days as a spreadsheet counts them, under "%s"', (name) => {
    const day = name === 'Date' ? 46_000 : 0
    const r = read(`${name};RPM;MAF (g/s)`, ...rows(40, (i) => `${(day + 0.5 + i / 86_400).toFixed(9)};${700 + i};3.1`))
    expect(ends(r.columns.time_s)[1]).toBeCloseTo(39, 1)
  })
  it('a clock of whole seconds under a faster recording: rows stand evenly within each', () => {
    const clock = (i: number): string =>
      `10:${String(Math.floor(i / 300)).padStart(2, '0')}:${String(Math.floor(i / 5) % 60).padStart(2, '0')}`
    const { columns } = read('Time,RPM,MAF (g/s)', ...rows(600, (i) => `${clock(i)},${700 + (i % 3)},3.1`))
    expect([...columns.time_s!.subarray(0, 7)].map((t) => Number(t.toFixed(3)))).toEqual([
      0, 0.2, 0.4, 0.6, 0.8, 1, 1.2,
    ])
    expect(columns.time_s!.at(-1)).toBeCloseTo(119.8, 6)
  })
  it('whole numbers that would last for hours are milliseconds', () => {
    const { columns } = read('Time,RPM,MAF (g/s)', ...rows(3000, (i) => `${i * 10},700,3.1`))
    expect(columns.time_s!.at(-1)).toBeCloseTo(29.99, 6)
  })
  it('without order: said, and not that they are alike', () => {
    const r = readRecording(new TextEncoder().encode('Time,RPM,MAF (g/s)\n9,700,3\n8,700,3\n'))
    expect(r).toMatchObject({ ok: false, error: { message: expect.stringContaining('do not rise') } })
  })
})

describe('a pressure against the air outside', () => {
  it.each([
    ['Boost (psi)', -9.7, 66.9],
    ['Manifold pressure (psig)', -9.7, 66.9],
    ['Intake manifold pressure [bar g]', -0.6, 60],
    ['Boost (inHg)', -18, 61],
  ])('%s is read as vacuum', (name, value, vacuum) => {
    const { columns } = read(`Time,RPM,${name}`, ...rows(40, (i) => `${i},700,${value}`))
    expect(columns.gauge_vacuum_kpa![0]).toBeCloseTo(vacuum, 0)
    expect([columns.map_kpa, columns.charge_kpa]).toEqual([undefined, undefined])
  })
  it.each([
    ['MAP (psia)', 5, 'map_kpa', 34.5],
    ['MAP (kPa abs)', 35, 'map_kpa', 35],
    ['Boost pressure (mbar)', 1010, 'charge_kpa', 101],
  ] as const)('%s is absolute', (name, value, id, kpa) => {
    expect(read(`Time,RPM,${name}`, ...rows(40, (i) => `${i},700,${value}`)).columns[id]![0]).toBeCloseTo(kpa, 0)
  })
  it('a charge that is too low to be absolute is left aside', () => {
    expect(read('Time,RPM,Boost (psi)', ...rows(40, (i) => `${i},700,0.4`)).columns.charge_kpa).toBe(undefined)
  })
})

it.each([
  ['names on two lines', '"Time\n(s)","RPM\r\n(1/min)","MAF\n(g/s)"'],
  ['a stray quote above them', 'Wheels 16"\n"Time","RPM","MAF (g/s)"'],
  ['names parted by points', 'time.s,engine.rpm,maf.gps'],
  ['Dutch', 'Tijd,Motortoerental,Luchtmassa'],
  ['Portuguese', 'Tempo,Rotação do motor,Fluxo de massa de ar'],
  ['Swedish', 'Tid,Motorvarvtal,Luftmassa'],
  ['Czech', 'Čas,Otáčky motoru,Hmotnost vzduchu'],
])('%s', (_, head) => {
  const { columns } = read(head, ...rows(40, (i) => `${i / 2},${700 + i},3.1`))
  expect([columns.time_s![39], columns.rpm![39], columns.maf_gs![39]]).toEqual([19.5, 739, 3.1])
})

it.each([
  ['MAF (kg/s)', 0.0031, 'maf_gs', 3.1],
  ['MAP (Pa)', 35_000, 'map_kpa', 35],
  ['MAP (kg/cm2)', 0.35, 'map_kpa', 34.3],
  ['Coolant (K)', 363.15, 'ect_c', 90],
  ['Vehicle speed (m/s)', 10, 'speed_kph', 36],
  ['Vehicle speed (knots)', 27, 'speed_kph', 50],
  ['Battery (mV)', 14_100, 'battery_v', 14.1],
] as const)('%s %s', (name, value, id, canonical) => {
  expect(read(`Time,RPM,${name}`, ...rows(40, (i) => `${i},700,${value}`)).columns[id]![0]).toBeCloseTo(canonical, 1)
})
it('a voltage of what is no voltage is left aside', () => {
  const { columns } = read('Time,RPM,MAF (mV),Throttle (mV)', ...rows(40, (i) => `${i},700,1100,600`))
  expect([columns.maf_gs, columns.throttle_pct]).toEqual([undefined, undefined])
})

it('parameters by their service and number', () => {
  const r = read('Time,010C,0110,0106', ...rows(40, (i) => `${i},700,3.1,-1.6`))
  expect([r.columns.rpm![0], r.columns.maf_gs![0], r.columns.stft1_pct![0]]).toEqual([700, 3.1, -1.6])
})

it.each(['AFR,AFR target', 'AFR (:1),Air Fuel Ratio (Commanded)(:1)', 'Lambda,Lambda soll'])(
  'a mixture as parts of air, or as λ: %s',
  (names) => {
    const of = names.startsWith('AFR') ? 14.7 : 1
    const r = read(
      `Time,RPM,${names}`,
      ...rows(40, (i) => `${i / 2},${900 + i},${(0.9 * of).toFixed(2)},${(0.88 * of).toFixed(2)}`),
    )
    expect(r.columns.lambda1![3]).toBeCloseTo(0.9, 2)
    expect(r.columns.lambda_cmd![3]).toBeCloseTo(0.88, 2)
  },
)

describe('decimal commas between commas', () => {
  const comma = (x: number, decimals: number): string => x.toFixed(decimals).replace('.', ',')
  const table = (line: (i: number) => readonly string[]): string[] => [
    'Time,Engine RPM,MAF (g/s),Short fuel trim 1',
    ...rows(60, (i) => line(i).join(',')),
  ]
  it('of every column are put together, and said', () => {
    const r = read(...table((i) => [comma(i / 2, 1), comma(800 + (i % 7), 1), comma(2.55, 2), comma(-1.6, 1)]))
    expect([r.columns.time_s![3], r.columns.rpm![3], r.columns.maf_gs![3], r.columns.stft1_pct![3]]).toEqual([
      1.5, 803, 2.55, -1.6,
    ])
    expect(r.warnings.map((w) => w.code)).toContain('decimal-commas')
  })
  it('of some of them, where nothing tells which, are refused and not read as other figures', () => {
    const text = table((i) => [comma(i / 2, 1), String(800 + (i % 7)), comma(2.5, 2), comma(1.6, 1)]).join('\n')
    const r = readRecording(new TextEncoder().encode(text))
    expect(r).toMatchObject({
      ok: false,
      error: { message: expect.stringMatching(/^Line 1 names 4 columns, and rows hold up to 7/) },
    })
  })
  it('that are left out where nothing stands behind them are refused too', () => {
    const general = (x: number): string => String(x).replace('.', ',')
    const text = table((i) => [general(i / 2), '800', general(2 + (i % 3) / 2), '1']).join('\n')
    expect(readRecording(new TextEncoder().encode(text))).toMatchObject({ ok: false, error: { code: 'not-sure' } })
  })
  it('whole numbers with decimal points beside them, blank ends and cells that nobody named stay as they are', () => {
    expect(read(...table((i) => [String(i), '800', '2.5', '1', '7'])).columns.maf_gs![3]).toBe(2.5)
    expect(read(...table((i) => [String(i), String(800 + i), '3', '1', '', ''])).columns.rpm![3]).toBe(803)
  })
})
