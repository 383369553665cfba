import { describe, expect, it } from '@jest/globals'
import type { Recording } from '../signals/index.js'
import { readRecording } from './index.js'

const read = (text: string): Recording => {
  const result = readRecording(new TextEncoder().encode(text))
  if (!result.ok) throw new Error(result.error.message)
  return result.recording
}
const codes = (r: Recording): string[] => r.warnings.map((w) => w.code)

/** Speed rises by 10 a second, airflow by 0.1, trim falls by 0.2: what a line between two values gives is known. */
const at = {
  rpm: (t: number) => 700 + 10 * t,
  maf_gs: (t: number) => 2 + 0.1 * t,
  stft1_pct: (t: number) => 5 - 0.2 * t,
}
const NAMES = Object.keys(at) as (keyof typeof at)[]
const asked = Array.from({ length: 90 }, (_, i) => ({ t: 0.25 * i, id: NAMES[i % 3] }))

describe('one parameter asked at a time', () => {
  const sparse = [
    'time_s,rpm,maf_gs,stft1_pct',
    ...asked.map(({ t, id }) => [t, ...NAMES.map((n) => (n === id ? at[n](t).toFixed(4) : ''))].join(',')),
  ].join('\n')
  const long = ['time;name;value', ...asked.map(({ t, id }) => [t, id, at[id](t).toFixed(4)].join(';'))].join('\n')
  it.each([
    ['a table with one value a row', sparse],
    ['the long form', long],
  ])('%s becomes one row a round, each value drawn there from its own times', (_, text) => {
    const r = read(text)
    expect(r.rows).toBe(30)
    expect(codes(r)).toContain('in-rounds')
    const { time_s: t, rpm, maf_gs: maf, stft1_pct: trim } = r.columns
    for (const i of [3, 10, 20]) {
      expect(rpm![i]).toBeCloseTo(at.rpm(t![i]), 3)
      expect(maf![i]).toBeCloseTo(at.maf_gs(t![i]), 3)
      expect(trim![i]).toBeCloseTo(at.stft1_pct(t![i]), 3)
    }
  })
  it('where a channel was not asked for a while it is unknown, and not drawn across', () => {
    const gone = asked.filter(({ t, id }) => id !== 'maf_gs' || t < 5 || t > 15)
    const r = read(['time;name;value', ...gone.map(({ t, id }) => [t, id, at[id](t)].join(';'))].join('\n'))
    const { time_s: t, maf_gs: maf } = r.columns
    expect(maf![t!.findIndex((x) => x >= 10)]).toBeNaN()
    expect(maf![t!.findIndex((x) => x >= 20)]).toBeCloseTo(at.maf_gs(20), 1)
  })
  it('a table whose rows are full, or that asks some channels less often, stays as it is', () => {
    const rows = Array.from({ length: 40 }, (_, i) => [i, 700, i % 5 ? '' : 2.5, 1].join(','))
    const r = read(['time_s,rpm,maf_gs,stft1_pct', ...rows].join('\n'))
    expect([r.rows, codes(r).includes('in-rounds')]).toEqual([40, false])
  })
})

describe('columns parted by spaces', () => {
  const pad = (cells: readonly (string | number)[]): string => cells.map((c) => String(c).padStart(18)).join('')
  it('are read, with names of several words', () => {
    const rows = Array.from({ length: 20 }, (_, i) => pad([0.5 * i, 700 + i, 2.5, 1.6]))
    const r = read(
      [pad(['Time (s)', 'Engine Speed (rpm)', 'Mass Air (g/s)', 'STFT B1 (%)'].map((x) => `  ${x}`)), ...rows].join(
        '\n',
      ),
    )
    expect(r.columns.rpm![5]).toBe(705)
    expect(r.columns.maf_gs![5]).toBe(2.5)
    expect(r.columns.time_s![5]).toBe(2.5)
  })
  it('single spaces part names of one word', () => {
    const r = read(['time_s rpm maf_gs', ...Array.from({ length: 20 }, (_, i) => `${i} ${700 + i} 2.5`)].join('\n'))
    expect([r.rows, r.columns.rpm![19]]).toEqual([20, 719])
  })
})

describe('rows without a time', () => {
  const body = Array.from({ length: 20 }, (_, i) => `${700 + i},2.5`)
  it.each([
    ['Sample interval: 250 ms', 0.25],
    ['Logging every 0.5 s', 0.5],
    ['Abtastintervall = 0,2 s', 0.2],
    ['Sampling rate 4 Hz', 0.25],
    ['Samplerate: 10 samples/s', 0.1],
  ])('"%s" says how far apart they stand', (line, seconds) => {
    const r = read([line, '', 'rpm,maf_gs', ...body].join('\n'))
    expect(r.columns.time_s![10]).toBeCloseTo(10 * seconds, 6)
    expect(codes(r)).toContain('time-by-interval')
  })
  it('nothing that says so: refused, and told what would do', () => {
    const result = readRecording(new TextEncoder().encode(['Workshop log', '', 'rpm,maf_gs', ...body].join('\n')))
    expect(result).toMatchObject({ ok: false, error: { code: 'no-time' } })
    expect(!result.ok && result.error.message).toMatch(/names the interval/)
  })
  it('a unit in a row of its own is kept', () => {
    const r = read(
      ['Sample interval: 1 s', 'Engine speed,Intake temp', 'rpm,°F', ...Array.from({ length: 9 }, () => '700,86')].join(
        '\n',
      ),
    )
    expect(r.columns.iat_c![3]).toBeCloseTo(30, 1)
  })
})
