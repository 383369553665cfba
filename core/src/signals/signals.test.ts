import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import {
  CANONICAL_HEADER,
  channelProblem,
  findOperatingPoints,
  pointsCsv,
  pointsOfStretches,
  thinned,
  withDetail,
  totalTrimPct,
  writeRecordingCsv,
  type Recording,
} from './index.js'
import { readRecording } from '../reading/index.js'

const v: Vehicle = { ...ENGINE_PATTERNS[0].vehicle, name: 'x', altitudeM: 0 }

function read(text: string): Recording {
  const r = readRecording(new TextEncoder().encode(text))
  if (!r.ok) throw new Error(r.error.message)
  return r.recording
}
it('what is written reads back the same', () => {
  const ids = CANONICAL_HEADER.filter((id) => id !== 'fuel_status' && id !== 'time_s')
  fc.assert(
    fc.property(
      fc.integer({ min: 2, max: 20 }),
      fc.subarray(ids, { minLength: 2 }).filter((s) => s.includes('rpm')),
      (rows, picked) => {
        const columns = Object.fromEntries([
          ['time_s', Float64Array.from({ length: rows }, (_, i) => i * 0.25)],
          ...picked.map((id, k) => [
            id,
            Float64Array.from(
              { length: rows },
              (_, i) => (id === 'baro_kpa' ? 90 : 1) + k + 0.5 * (i % 3) * (id === 'lambda_cmd' ? 0 : 1),
            ) as Float64Array,
          ]),
        ])
        if (picked.includes('lambda_cmd')) columns.lambda_cmd = new Float64Array(rows).fill(1)
        const back = read(writeRecordingCsv({ rows, columns, warnings: [] }))
        return picked.every((id) => back.columns[id]!.every((x, i) => Math.abs(x - columns[id][i]) < 0.006))
      },
    ),
  )
})

describe('operating points', () => {
  const log = (
    parts: {
      seconds: number
      rpm: number
      maf: number
      stft?: (t: number) => number
      closed?: boolean
      kph?: number
      ect?: number
    }[],
  ): Recording => {
    const rows: string[] = ['time_s,rpm,maf_gs,stft1_pct,ltft1_pct,speed_kph,ect_c,load_pct,fuel_status']
    let t = 0
    for (const p of parts)
      for (let k = 0; k < p.seconds * 4; k++, t += 0.25)
        rows.push(
          [
            t,
            p.rpm,
            p.maf,
            p.stft?.(k / 4) ?? 2,
            3,
            p.kph ?? 0,
            p.ect ?? 90,
            p.maf * 5,
            p.closed === false ? 'open' : 'closed',
          ].join(','),
        )
    return read(rows.join('\n'))
  }
  it('finds idle and hold, drops the first seconds after a change', () => {
    const points = findOperatingPoints(
      log([
        { seconds: 30, rpm: 700, maf: 2.5 },
        { seconds: 30, rpm: 2500, maf: 8 },
      ]),
      v,
    )
    expect(points.map((p) => p.kind)).toEqual(['idle', 'hold'])
    expect(points[1].startS).toBeGreaterThanOrEqual(35)
    expect(points[0].means.trim1_pct).toBeCloseTo(totalTrimPct(2, 3), 6)
  })
  it('a loaded idle is told from this log’s own idle', () =>
    expect(
      findOperatingPoints(
        log([
          { seconds: 20, rpm: 700, maf: 2.5 },
          { seconds: 20, rpm: 720, maf: 3.2 },
        ]),
        v,
      ).map((p) => p.kind),
    ).toEqual(['idle', 'idle-load']))
  it('key on, a snap and a fuel cut are told for what they are', () => {
    const ramp = (from: number, to: number, n: number, maf: number, closed = true) =>
      Array.from({ length: n }, (_, i) => ({ seconds: 0.25, rpm: from + ((to - from) * (i + 1)) / n, maf, closed }))
    const points = findOperatingPoints(
      log([
        { seconds: 4, rpm: 0, maf: 0.02 },
        { seconds: 20, rpm: 700, maf: 2.5 },
        ...ramp(700, 3200, 5, 30),
        ...ramp(3200, 700, 14, 2, false),
        { seconds: 20, rpm: 700, maf: 2.5 },
      ]),
      v,
    )
    expect(points.map((p) => p.kind)).toEqual(['key-on', 'idle', 'snap', 'deceleration', 'idle'])
    expect(points[0].means.maf_gs).toBeCloseTo(0.02, 9)
  })
  it('a stretch chosen by hand has its own figures, whatever was found', () => {
    const r = log([
      { seconds: 30, rpm: 700, maf: 2.5 },
      { seconds: 4, rpm: 2500, maf: 8 },
    ])
    const [a, b] = pointsOfStretches(r, v, [
      { startS: 31, endS: 33 },
      { startS: 2, endS: 5 },
    ])
    expect([a.kind, a.n, b.kind, b.rpm]).toEqual(['idle', 13, 'hold', 2500])
    expect(() => pointsOfStretches(r, v, [{ startS: 3, endS: 3.2 }])).toThrow(/fewer than 3 rows/)
    const [head, first] = pointsCsv([a, b]).split('\r\n')
    expect(head).toMatch(/^kind,start_s,end_s,rows,rpm,/)
    expect(first).toMatch(/^idle,2,5,13,700,/)
  })
  it('too short, open loop, or a drifting trim is no point', () => {
    expect(findOperatingPoints(log([{ seconds: 6, rpm: 700, maf: 2.5 }]), v)).toEqual([])
    expect(findOperatingPoints(log([{ seconds: 40, rpm: 700, maf: 2.5, closed: false }]), v)).toEqual([])
    expect(findOperatingPoints(log([{ seconds: 12, rpm: 700, maf: 2.5, stft: (t) => t }]), v)).toEqual([])
  })
  it('cold and moving are what they are', () =>
    expect(
      findOperatingPoints(
        log([
          { seconds: 20, rpm: 900, maf: 3, ect: 50 },
          { seconds: 30, rpm: 2000, maf: 12, kph: 80 },
        ]),
        v,
      ).map((p) => p.kind),
    ).toEqual(['cold', 'cruise']))
})

it('a reading that is not physics is refused with its range', () => {
  expect(channelProblem('rpm', -1)).toMatch(/speed -1 is outside 0 to 15000/)
  expect(channelProblem('map_kpa', 900)).toBeDefined()
  expect(channelProblem('stft1_pct', 400)).toBeDefined()
  expect(channelProblem('maf_gs', NaN)).toBeDefined()
  expect(channelProblem('rpm', 700)).toBeUndefined()
})

describe('thinned for drawing', () => {
  const columns = {
    time_s: Float64Array.from({ length: 5000 }, (_, i) => i / 10),
    rpm: Float64Array.from({ length: 5000 }, (_, i) => (i === 3217 ? 6000 : i === 40 ? 100 : 700)),
    maf_gs: new Float64Array(5000).fill(NaN),
  }
  it('keeps the true extremes, and what is missing stays so', () => {
    const t = thinned({ rows: 5000, columns, warnings: [] }, ['rpm', 'maf_gs', 'wobble'], 200)
    expect(t.time_s).toHaveLength(200)
    expect(Math.max(...(t.rpm as number[]))).toBe(6000)
    expect(Math.min(...(t.rpm as number[]))).toBe(100)
    expect(t.maf_gs.every((x) => x === null)).toBe(true)
    expect(t.time_s.every((x, i) => i === 0 || x! >= t.time_s[i - 1]!)).toBe(true)
    expect(Object.keys(t)).toEqual(['time_s', 'rpm', 'maf_gs'])
  })
  it('a closer look at a span shows every row of it, and is laid in where it belongs', () => {
    const r = { rows: 5000, columns, warnings: [] }
    const near = thinned(r, ['rpm'], 200, [320, 323])
    expect(near.time_s).toEqual(Array.from({ length: 32 }, (_, i) => (3199 + i) / 10))
    const whole = thinned(r, ['rpm'], 200)
    const shown = withDetail(whole, near)
    expect(shown.time_s).toHaveLength(shown.rpm.length)
    expect(shown.time_s.every((x, i) => i === 0 || x! >= shown.time_s[i - 1]!)).toBe(true)
    expect(shown.time_s.filter((x) => x! > 319.85 && x! < 323.05)).toHaveLength(32)
    expect(Math.max(...(shown.rpm as number[]))).toBe(6000)
    expect(thinned(r, ['rpm'], 200, [900, 990]).time_s).toHaveLength(1)
    expect(withDetail(whole, { time_s: [], rpm: [] })).toBe(whole)
  })
  it('a short one stays as it is', () =>
    expect(
      thinned(
        { rows: 2, columns: { time_s: Float64Array.of(0, 1), rpm: Float64Array.of(1, NaN) }, warnings: [] },
        ['rpm'],
        10,
      ),
    ).toEqual({ time_s: [0, 1], rpm: [1, null] }))
})
