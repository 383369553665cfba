import { readFileSync } from 'node:fs'
import { describe, expect, it } from '@jest/globals'
import { canFrame, PIDS, segment, SERVICE } from '../link/index.js'
import type { Recording, RecordingResult } from '../signals/index.js'
import { columnsToAsk, matchesOf, readRecording, type ReadOptions } from './index.js'

const utf8 = (text: string): Uint8Array => new TextEncoder().encode(text)
const result = (text: string, options?: ReadOptions): RecordingResult => readRecording(utf8(text), options)

function read(text: string, options?: ReadOptions): Recording {
  const r = result(text, options)
  if (!r.ok) throw new Error(r.error.message)
  return r.recording
}
const code = (bytes: Uint8Array | string): string => {
  const r = readRecording(typeof bytes === 'string' ? utf8(bytes) : bytes)
  return r.ok ? 'ok' : r.error.code
}
const warned = (r: Recording): string[] => r.warnings.map((w) => w.code)

describe('tables of any tool', () => {
  it('canonical header', () => {
    const r = read('time_s,rpm,maf_gs,fuel_status\n0,700,2.5,closed\n0.5,702,2.6,open\n')
    expect([...r.columns.rpm!]).toEqual([700, 702])
    expect([...r.columns.fuel_status!]).toEqual([1, 0])
  })
  it('names and units in brackets, imperial', () => {
    const r = read(
      'Elapsed [s],RPM [1/min],ECT [°F],MAP [inHg],MAF [lb/min],STFT B1 [%]\n0,650,212,10,0.5,1\n1,651,212,10,0.5,1\n',
    )
    expect(r.columns.ect_c![0]).toBeCloseTo(100, 6)
    expect(r.columns.map_kpa![0]).toBeCloseTo(33.86389, 5)
    expect(r.columns.maf_gs![0]).toBeCloseTo(3.77994, 5)
  })
  it('a preamble, semicolons, decimal commas', () => {
    const r = read(
      'Recorded live data\nDate: 2031-01-14\nTime (s);Engine RPM (rpm);MAF Air Flow Rate (g/s)\n0,0;700;2,5\n0,5;701;2,6\n',
    )
    expect([...r.columns.maf_gs!]).toEqual([2.5, 2.6])
  })
  it('tabs, a row of units, clock times', () => {
    const r = read(
      'Time\tEngine Speed\tMass Air Flow\nhh:mm:ss\trpm\tg/s\n11:32:29.800\t700\t2.5\n11:32:30.300\t701\t2.5\n',
    )
    expect(r.columns.time_s![1]).toBeCloseTo(0.5, 6)
  })
  it.each([
    ['past midnight', '23:59:59.5', '00:00:00.5', 1],
    ['with a date', '2031-01-14T11:32:29.800', '2031-01-14T11:32:30.050', 0.25],
    ['day first, am and pm', '14.01.2031 11:59:59 AM', '14.01.2031 12:00:01 PM', 2],
    ['minutes and seconds', '3:59.5', '4:00.5', 1],
  ])('clocks: %s', (_, a, b, seconds) => {
    const r = read(`Time,RPM\n${a},700\n${b},701\n`)
    expect(r.columns.time_s![1]).toBeCloseTo(seconds, 6)
  })
  it.each([
    ['named', 'Time (ms),RPM\n0,700\n250,701\n500,700\n'],
    ['by their steps', 'Time,RPM\n1700000000000,700\n1700000000250,701\n1700000000500,700\n'],
  ])('milliseconds, %s', (_, text) => expect([...read(text).columns.time_s!]).toEqual([0, 0.25, 0.5]))
  it('every cell with its unit, the time too', () => {
    const r = read('Time,Engine speed,MAF\n0.00 s,700 rpm,2.5 g/s\n0.50 s,701 rpm,9 kg/h\n')
    expect([...r.columns.time_s!]).toEqual([0, 0.5])
    expect([...r.columns.rpm!]).toEqual([700, 701])
    expect([...r.columns.maf_gs!]).toEqual([2.5, 2.5])
    expect([...read('Time,RPM\n0 ms,700\n250 ms,701\n').columns.time_s!]).toEqual([0, 0.25])
  })
  it('parameters by their numbers in J1979, and a time that is only a unit', () => {
    const r = read('#,ms,0x0C,PID 10,$05,0x06 (%)\n1,0,700,2.5,88,-1\n2,250,701,2.5,88,-1\n')
    expect([...r.columns.time_s!]).toEqual([0, 0.25])
    expect(Object.keys(r.columns).sort()).toEqual(['ect_c', 'maf_gs', 'rpm', 'stft1_pct', 'time_s'])
  })
  it('a name that its unit completes', () => {
    const r = read('Time (s);Engine [rpm];Intake Air [°C];Intake [kPa];Vehicle [km/h]\n0;700;31;34;0\n1;700;31;34;0\n')
    expect([r.columns.iat_c![0], r.columns.map_kpa![0], r.columns.speed_kph![0]]).toEqual([31, 34, 0])
    // nothing is guessed of it without
    expect(read('Time,RPM,Intake Air\n0,700,31\n1,700,31\n').columns.iat_c).toBeUndefined()
  })
  it.each([
    ['a list', '[{"time":0,"rpm":700,"maf":2.5},\n{"time":0.5,"rpm":701,"maf":2.5}]'],
    ['one object a line', '{"time":0,"rpm":700,"maf":2.5}\n{"time":0.5,"rpm":701,"maf":2.5}\n{"time":1,"rp'],
    ['a list under a name', '{"car":"x","samples":[{"time":0,"rpm":700,"maf":2.5},{"time":0.5,"rpm":701,"maf":2.5}]}'],
    ['lists side by side', '{"data":{"time":[0,0.5],"rpm":[700,701],"maf":[2.5,2.5]}}'],
    [
      'values with their units',
      '[{"time":0,"values":{"rpm":{"value":700},"maf":{"value":9,"unit":"kg/h"}}},{"time":0.5,"values":{"rpm":{"value":701},"maf":{"value":9,"unit":"kg/h"}}}]',
    ],
  ])('JSON: %s', (_, text) => {
    const r = read(text)
    expect([...r.columns.time_s!]).toEqual([0, 0.5])
    expect([...r.columns.rpm!]).toEqual([700, 701])
    expect([...r.columns.maf_gs!]).toEqual([2.5, 2.5])
  })
  it('JSON: what was not understood is told by its moment', () => {
    const moments = [0, 1, 2].map((i) => ({ time: i, rpm: i === 1 ? 'fast' : 700, maf: 2.5 }))
    expect(read(JSON.stringify(moments)).warnings[0].message).toMatch(/the first is "fast" in moment 2, "rpm"/)
  })
  it('a header that begins with a module in brackets is no JSON', () => {
    expect([...read('[ECM] Time,[ECM] RPM\n0,700\n1,701\n').columns.rpm!]).toEqual([700, 701])
  })
  it('JSON that is no recording is refused like any other text', () => {
    expect(code('{"a":1}')).toBe('no-header')
    expect(code('[1,2,3]')).toBe('no-header')
    expect(code('{"a":')).toBe('no-header')
  })
  it('numbers with their unit in the cell, words for what is missing', () => {
    const r = read(
      'Time,RPM,Coolant,Supply voltage,MAF\n0,700 rpm,194 °F,14.2 V,2.5\n1,N/A,194 °F,---,NaN\n2,701 rpm,90 °C,14.1 V,2.5\n',
    )
    expect(r.columns.ect_c![0]).toBeCloseTo(90, 6)
    expect(r.columns.ect_c![2]).toBe(90)
    expect(r.columns.rpm![1]).toBeNaN()
    expect(r.columns.battery_v![1]).toBeNaN()
    expect(r.warnings).toEqual([])
  })
  it('quotes, thousands, a real minus, exponents', () => {
    const r = read('"Time","RPM","STFT1","MAF"\n"0","1,250","\u22122.5","2.5e0"\n"1","1,251","\u22122.5","2.5"\n')
    expect([r.columns.rpm![0], r.columns.stft1_pct![0], r.columns.maf_gs![0]]).toEqual([1250, -2.5, 2.5])
  })
  it('channels polled in turn, a header that comes again, a column twice', () => {
    const r = read('time_s,rpm,maf_gs,RPM\n0,700,,1\n0.2,,2.5,1\ntime_s,rpm,maf_gs,RPM\n0.4,701,,1\n')
    expect(r.rows).toBe(3)
    expect(r.columns.maf_gs![0]).toBeNaN()
    expect(warned(r).sort()).toEqual(['header-again', 'twice'])
  })
  it('one value a line', () => {
    const r = read(
      'Time,Channel,Value,Unit\n0,Engine speed,700,rpm\n0,MAP,10,inHg\n0.5,Engine speed,705,rpm\n0.7,Wobble,3,\n',
    )
    expect([...r.columns.rpm!]).toEqual([700, 705])
    expect(r.columns.map_kpa![0]).toBeCloseTo(33.86, 2)
    expect(r.columns.map_kpa![1]).toBeNaN()
    expect(r.warnings[0].message).toContain('Wobble')
  })
  it('inHg and °F without a name are told by their values', () => {
    const rows = Array.from({ length: 10 }, (_, i) => `${i},700,${9 + (i % 2)},190,29.9`).join('\n')
    const r = read(`Time,RPM,Manifold pressure,Coolant,Barometer\n${rows}\n`)
    expect(r.columns.map_kpa![1]).toBeCloseTo(33.86, 1)
    expect(r.columns.ect_c![0]).toBeCloseTo(87.8, 1)
    expect(r.columns.baro_kpa![0]).toBeCloseTo(101.25, 1)
    expect(warned(r).filter((w) => w === 'unit-by-value')).toHaveLength(3)
  })
  it.each(['utf-16le', 'utf-16be', 'utf-16le without a mark', 'latin-1', 'utf-8 with a mark'])('%s', (encoding) => {
    const text = 'Time;Engine speed (rpm);Coolant (°C)\r\n0;700;90\r\n1;701;90\r\n'
    const wide = (big: boolean, mark: boolean): Uint8Array =>
      Uint8Array.from(
        [...(mark ? '\ufeff' : ''), ...text].flatMap((c) => {
          const x = c.charCodeAt(0)
          return big ? [x >> 8, x & 255] : [x & 255, x >> 8]
        }),
      )
    const bytes =
      encoding === 'latin-1'
        ? Uint8Array.from(text, (c) => c.charCodeAt(0))
        : encoding.startsWith('utf-8')
          ? utf8('\ufeff' + text)
          : wide(encoding === 'utf-16be', !encoding.includes('without'))
    const r = readRecording(bytes)
    expect(r.ok && [...r.recording.columns.ect_c!]).toEqual([90, 90])
  })
  it('columns that say nothing can be asked about; what rises is proposed as the time', () => {
    const asked = columnsToAsk(utf8('Protokoll 7\nZeit;A;Water temp\n0,0;700;88\n0,5;701;88\n1,0;699;88\n'))
    expect(asked.map((c) => [c.label, c.candidates[0]?.channel, c.preview[1]])).toEqual([
      ['Zeit', 'time_s', '0,5'],
      ['A', undefined, '701'],
      ['Water temp', 'ect_c', '88'],
    ])
    expect(columnsToAsk(Uint8Array.of(0x50, 0x4b, 3, 4))).toEqual([])
    expect(columnsToAsk(utf8('time_s,battery_v\n0,14\n1,14\n'))).toEqual([])
  })
  it('a word of a person decides what a label means', () => {
    const text = 'Time,Kanal A,Kanal B\n0,700,2.5\n1,701,2.5\n'
    expect(code(text)).not.toBe('ok')
    const r = read(text, { mapping: { Time: 'time_s', 'Kanal A': 'rpm', 'Kanal B': 'none' } })
    expect(Object.keys(r.columns)).toEqual(['time_s', 'rpm'])
  })
})

describe('a table that lies on its side', () => {
  const moments = Array.from({ length: 12 }, (_, i) => i * 0.5)
  const lines = [
    ['Time', 's', ...moments],
    ['Engine speed', '1/min', ...moments.map((_, i) => 690 + i)],
    ['Mass air flow', 'kg/h', ...moments.map((_, i) => 9 + i / 10)],
    ['Long term fuel trim bank 1', '%', ...moments.map(() => 3.1)],
    ['Wiper', '', ...moments.map(() => 1)],
  ]
  const written = (delimiter: string, of = lines): string =>
    of.map((l) => l.map((x) => (delimiter === ';' ? String(x).replace('.', ',') : x)).join(delimiter)).join('\r\n')
  it.each([',', ';', '\t'])('one channel a line, its unit beside it, parted by "%s"', (delimiter) => {
    const r = read(`Workshop tool\r\nFour cylinders\r\n${written(delimiter)}`)
    expect(r.rows).toBe(12)
    expect([...r.columns.rpm!]).toEqual(moments.map((_, i) => 690 + i))
    expect(r.columns.maf_gs![0]).toBeCloseTo(2.5, 9)
    expect(r.columns.time_s![3]).toBe(1.5)
    expect(warned(r)).toEqual(['unknown-column'])
  })
  it('times without a name are what rises, and a cell that is no figure is told by its moment', () => {
    const bare = [['', ...moments], ...['rpm', 'maf_gs', 'ltft1_pct'].map((id) => [id, ...moments.map(() => 20)])]
    bare[1][4] = 'x'
    const r = read(written(',', bare))
    expect(Object.keys(r.columns)).toEqual(['time_s', 'rpm', 'maf_gs', 'ltft1_pct'])
    expect(r.warnings.map((w) => w.message).join()).toMatch(/"x" in moment 4, "rpm"/)
  })
  it('names that are not understood are asked for as of any table', () => {
    const odd = lines.map((l) => (l[0] === 'Wiper' ? ['Flurb', '', ...moments] : l))
    expect(columnsToAsk(utf8(written(',', odd))).map((g) => g.label)).toContain('Flurb')
  })
  it('a table that stands, and one without times, are not turned', () => {
    expect(read(`time,rpm,maf,ltft,load,ect,iat\n${'1,2,3,4,5,6,7\n'}${'2,2,3,4,5,6,7\n'}`).rows).toBe(2)
    expect(code(written(',', lines.slice(1)))).not.toBe('ok')
  })
})

describe('labels', () => {
  it.each([
    ['Engine RPM [rpm]', 'rpm'],
    ['Short Term Fuel Trim Bank 2 (%)', 'stft2_pct'],
    ['LONGFT1', 'ltft1_pct'],
    ['LTFT B2 [%]', 'ltft2_pct'],
    ['Intake Manifold Absolute Pressure', 'map_kpa'],
    ['MAF air flow rate (g/s)', 'maf_gs'],
    ['Absolute Throttle Position', 'throttle_pct'],
    ['Commanded evaporative purge', 'purge_pct'],
    ['Accelerator pedal position D', 'pedal_pct'],
    ['Control module voltage', 'battery_v'],
    ['EngineCoolantTemp', 'ect_c'],
    ['Fuel System Status', 'fuel_status'],
    ['Time since engine start', 'run_time_s'],
  ])('%s is %s', (label, channel) => expect(matchesOf(label)[0]?.channel).toBe(channel))
  it.each([
    'Transmission oil temperature',
    'Desired idle speed target rpm',
    'MAF sensor voltage',
    'Fuel rail pressure',
    'Odometer',
  ])('%s is not taken for what it resembles', (label) => expect(matchesOf(label)[0]?.score ?? 0).toBeLessThan(0.6))
})

describe('a dump of the bus', () => {
  const values = { rpm: 700, maf_gs: 2.5, stft1_pct: -3.125, ect_c: 90 } as const
  const answer = (t: number): string[] => {
    const rows = PIDS.filter((r) => r.channel in values)
    const message = Uint8Array.from([
      SERVICE.current + 0x40,
      ...rows.flatMap((r) => [r.pid, ...r.encode(values[r.channel as keyof typeof values])]),
    ])
    return segment(message).map((data, i) => {
      const hex = [...canFrame(0x7e8, data).data].map((b) => b.toString(16).padStart(2, '0')).join('')
      return `(${(1700000000 + t + i / 1000).toFixed(6)}) can0 7E8#${hex.toUpperCase()}`
    })
  }
  it('answers of several frames are put together; other frames are passed over', () => {
    const r = read(
      [
        ...answer(0),
        '(1700000000.100000) can0 123#DEADBEEF',
        '(1700000000.200000) can0 7DF#02010C0000000000',
        ...answer(0.5),
      ].join('\n'),
    )
    expect(r.rows).toBe(2)
    expect(r.columns.time_s![1]).toBeCloseTo(0.5, 5)
    expect([r.columns.rpm![0], r.columns.maf_gs![0], r.columns.stft1_pct![0]]).toEqual([700, 2.5, -3.125])
  })
  it('a dump without an answer says so', () => {
    const r = result('(1700000000.1) can0 123#DEADBEEF\n(1700000000.2) can0 123#DEADBEEF\n')
    expect(!r.ok && r.error.message).toMatch(/2 CAN frames .* none answers/)
  })
})

describe('spoilt files', () => {
  const body = (n: number): string => Array.from({ length: n }, (_, i) => `${i},700,2.5,1`).join('\n')
  const head = 'time_s,rpm,maf_gs,stft1_pct'
  const fixture = readFileSync(new URL('../../../cli/fixtures/c020/log.csv', import.meta.url))
  it.each<[string, Uint8Array | string, string]>([
    ['empty', '', 'empty'],
    ['blank lines only', '\n\n  \n', 'empty'],
    [
      'binary with a wrong extension',
      Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 0x0d]),
      'not-text',
    ],
    ['zip', Uint8Array.from([0x50, 0x4b, 3, 4, 20, 0, 0, 0]), 'packed'],
    ['one column', 'rpm\n700\n701\n', 'no-header'],
    ['no names', 'hello\nworld\n', 'no-header'],
    ['no time', 'rpm,maf_gs\n700,2\n701,2\n', 'no-time'],
    ['nothing of air or fuel', 'time_s,battery_v\n0,14\n1,14\n', 'no-usable-channel'],
    ['all blanks', 'time_s,rpm,maf_gs\n0,,\n1,,\n2,,\n', 'all-blank'],
    ['header only', `${head}\n`, 'no-rows'],
    ['repeated time', `${head}\n5,700,2.5,1\n5,700,2.5,1\n5,700,2.5,1\n`, 'time-stands'],
    [
      '10,000 columns',
      `time_s,rpm,${Array.from({ length: 9998 }, (_, i) => `x${i}`).join(',')}\n0,700\n1,700\n`,
      'too-many-columns',
    ],
  ])('%s', (_, bytes, expected) => {
    expect(code(bytes)).toBe(expected)
    const r = readRecording(typeof bytes === 'string' ? utf8(bytes) : bytes)
    expect(!r.ok && r.error.message.length).toBeGreaterThan(15)
  })
  it('broken off in the middle of a row: read as far as it goes', () => {
    const r = readRecording(fixture.subarray(0, fixture.length - 40))
    expect(r.ok && r.recording.rows).toBeGreaterThan(100)
    expect(r.ok && warned(r.recording)).toContain('truncated')
  })
  it('a time that begins again: what follows is laid behind what came before', () => {
    const rows = Array.from({ length: 80 }, (_, i) => `${(i % 40) * 0.5},${700 + i}`).join('\n')
    const r = read(`Time (s),RPM\n${rows}\n`)
    expect(r.rows).toBe(80)
    expect([...r.columns.time_s!].every((t, i, ts) => i === 0 || t > ts[i - 1])).toBe(true)
    expect(r.columns.time_s![40] - r.columns.time_s![39]).toBe(10)
    expect(warned(r)).toEqual(['time-restarts'])
  })
  it('of several fitting pressures the common one; every temperature as the one whose values tell', () => {
    const rows = Array.from({ length: 10 }, (_, i) => `${i},700,${320 + (i % 2)},190,72`).join('\n')
    const r = read(`Time,RPM,MAP,Coolant,IAT\n${rows}\n`)
    expect(r.columns.map_kpa![0]).toBeCloseTo(32, 6)
    expect(r.columns.iat_c![0]).toBeCloseTo(22.2, 1)
    expect(warned(r).filter((w) => w === 'unit-by-value')).toHaveLength(3)
  })
  it('an airflow that stands at the highest figure is none', () => {
    const rows = Array.from({ length: 10 }, (_, i) => `${i},700,${i % 4 ? 2.5 : 655.35}`).join('\n')
    expect([...read(`Time,RPM,MAF\n${rows}\n`).columns.maf_gs!].slice(0, 2)).toEqual([NaN, 2.5])
  })
  it.each([
    ['cfm', false],
    ['mg/s', false],
    ['ECM', true],
  ])('an airflow in (%s) is read: %s', (unit, isRead) => {
    const r = read(`Time,RPM,Air flow (${unit})\n0,700,2.5\n1,700,2.5\n`)
    expect(r.columns.maf_gs !== undefined).toBe(isRead)
  })
  it('an opening without a unit is a share, or a voltage, where hard driving never takes it beyond', () => {
    const driven = (name: string, opening: (i: number) => string, rpm = 4200): Recording =>
      read(
        `Time,RPM,${name}\n${Array.from({ length: 30 }, (_, i) => `${i},${i > 20 ? rpm : 700},${opening(i)}`).join('\n')}\n`,
      )
    const volts = driven('TPS', (i) => (i > 20 ? '4.12' : '0.63'))
    expect([volts.columns.throttle_pct, warned(volts)]).toEqual([undefined, ['unit-by-value']])
    const share = driven('TPS', (i) => (i > 20 ? '0.91' : '0.032'))
    expect(share.columns.throttle_pct![0]).toBeCloseTo(3.2, 6)
    // what an idle alone shows may be a percentage, and so is what was said to be
    expect(driven('TPS', () => '0.63', 900).columns.throttle_pct![0]).toBe(0.63)
    expect(driven('TPS (%)', (i) => (i > 20 ? '4.12' : '0.63')).columns.throttle_pct![0]).toBe(0.63)
    expect(driven('TPS', (i) => (i > 20 ? '62.4' : '2.63')).columns.throttle_pct![0]).toBe(2.63)
  })
  it('trims of which a hundred is none', () => {
    const rows = Array.from({ length: 30 }, (_, i) => `${i},700,${100 + (i % 5)},104.7`).join('\n')
    const r = read(`Time,RPM,STFT1,LTFT1\n${rows}\n`)
    expect([r.columns.stft1_pct![1], r.columns.ltft1_pct![0]]).toEqual([1, expect.closeTo(4.7)])
  })
  it('trims as shares of one, by the steps of their bytes; a small percentage stays one', () => {
    const table = (short: (i: number) => string): Recording =>
      read(`Time,RPM,STFT1,LTFT1\n${Array.from({ length: 30 }, (_, i) => `${i},700,${short(i)},0.1484`).join('\n')}\n`)
    const shares = table((i) => (((i % 5) - 2) / 128).toFixed(4))
    expect([shares.columns.stft1_pct![0], shares.columns.ltft1_pct![0]]).toEqual([
      expect.closeTo(-1.56),
      expect.closeTo(14.84),
    ])
    expect(table((i) => (0.03 * ((i % 5) - 2)).toFixed(3)).columns.ltft1_pct![0]).toBe(0.1484)
  })
  it('trims as factors: by their name, or where a short one never leaves 1', () => {
    const table = (names: string, trim: (i: number) => string): Recording =>
      read(`${names}\n${Array.from({ length: 30 }, (_, i) => `${i},700,${trim(i)},1.05`).join('\n')}\n`)
    const named = table('Time,RPM,STFT B1 (factor),LTFT B1 (factor)', () => '0.98')
    expect([named.columns.stft1_pct![0], named.columns.ltft1_pct![0]].map((x) => Math.round(x))).toEqual([-2, 5])
    const seen = table('Time,RPM,STFT1,LTFT1', (i) => (1 + 0.01 * ((i % 5) - 2)).toFixed(2))
    expect(seen.columns.stft1_pct![0]).toBeCloseTo(-2, 6)
    expect(warned(seen)).toEqual(['unit-by-value', 'unit-by-value'])
    // one in percent that happens to stand near 1
    expect(table('Time,RPM,STFT1,LTFT1', (i) => (i % 2 ? '0.78' : '1.56')).columns.stft1_pct![0]).toBeCloseTo(1.56, 6)
    expect(table('Time,RPM,STFT1 (%),LTFT1 (%)', (i) => (1 + 0.01 * (i % 5)).toFixed(2)).columns.stft1_pct![0]).toBe(1)
  })
  it('points that group thousands beside decimal commas', () => {
    const r = read('Zeit (s);Drehzahl;Luftmasse (g/s)\n0,0;1.633;2,51\n0,5;980;2,5\n')
    expect([...r.columns.rpm!]).toEqual([1633, 980])
    expect(r.columns.maf_gs![0]).toBe(2.51)
  })
  it('time that goes backwards: those rows are left out, and counted', () => {
    const r = read(`${head}\n0,700,2.5,1\n1,700,2.5,1\n0.5,999,2.5,1\n2,700,2.5,1\n`)
    expect([...r.columns.rpm!]).toEqual([700, 700, 700])
    expect(warned(r)).toEqual(['time-backwards'])
  })
  it('a quote that is never closed costs its line, not the file', () => {
    const r = read(`${head}\n0,"700,2.5,1\n${body(20).replace(/^0.*\n/, '')}\n`)
    expect(r.rows).toBeGreaterThanOrEqual(19)
    expect(r.columns.rpm!.at(-1)).toBe(700)
  })
  it('decimal commas and points side by side', () => {
    const r = read('Time;RPM;MAF\n0,0;700;2,5\n0.5;701;2.6\n')
    expect([...r.columns.maf_gs!]).toEqual([2.5, 2.6])
  })
  it('what is outside physics or no figure is left aside, with the first place named', () => {
    const r = read(`${head}\n0,-5,2.5,1\n1,700,2.5,oops\n2,700,2.5,1\n`)
    expect(r.columns.rpm![0]).toBeNaN()
    expect(r.warnings[0].message).toMatch(/^2 values .*"oops" in line 3, "stft1_pct"/)
  })
  it('names what it did not understand', () =>
    expect(read('time_s,rpm,wobble\n0,700,1\n1,700,1\n').warnings[0].message).toContain('wobble'))
  it('no cut of a good file throws', () => {
    for (let n = 0; n < 3000; n += 37) expect(() => readRecording(fixture.subarray(0, n))).not.toThrow()
  })
})
