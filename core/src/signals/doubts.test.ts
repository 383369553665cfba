import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS } from '../engine/index.js'
import { simulateRecording, addFault, HEALTHY } from '../simulation/index.js'
import {
  channelLags,
  findOperatingPoints,
  leftOut,
  recordingDoubts,
  recordingOfRows,
  withoutLags,
  type LiveRow,
} from './index.js'

const v = { ...ENGINE_PATTERNS.find((p) => p.id === 'four-maf')!.vehicle, name: 'x', altitudeM: 1180 }
const base: LiveRow['values'] = {
  rpm: 700,
  maf_gs: 2.5,
  ect_c: 90,
  iat_c: 25,
  throttle_pct: 3,
  stft1_pct: 1,
  ltft1_pct: 2,
  fuel_status: 1,
}
const rows = (n: number, values: (i: number) => LiveRow['values'], stepS = 0.5): LiveRow[] =>
  Array.from({ length: n }, (_, i) => ({ t: i * stepS, values: { ...base, ...values(i) } }))
const codes = (list: readonly LiveRow[], vehicle = v): string[] =>
  recordingDoubts(recordingOfRows(list), vehicle).map((d) => (d.channel ? `${d.code} ${d.channel}` : d.code))

describe('what speaks against a recording', () => {
  it('nothing, of a sound car on the road', () =>
    expect(recordingDoubts(simulateRecording({ vehicle: v, drive: 'road', seed: 4 }), v)).toEqual([]))
  it('an open intake temperature circuit of the simulated engine', () => {
    const f = addFault(HEALTHY, 'temperature-sensor-implausible', v)
    const r = simulateRecording({ vehicle: v, faults: f.ok ? f.faults : HEALTHY, drive: 'shop', seed: 4 })
    expect(recordingDoubts(r, v)[0]).toMatchObject({ code: 'open-circuit', channel: 'iat_c' })
  })
  it.each<[string, readonly LiveRow[], string[]]>([
    [
      'airflow that stands while the speed moves',
      rows(60, (i) => ({ rpm: 700 + 40 * i, throttle_pct: i })),
      ['stuck maf_gs'],
    ],
    [
      'airflow with the engine standing',
      rows(60, (i) => (i < 20 ? { rpm: 0, maf_gs: 0.9 } : { throttle_pct: i, maf_gs: 2 + i / 30 })),
      ['zero-off maf_gs'],
    ],
    ['a loop that never closes', rows(60, () => ({ fuel_status: 0 })), ['open-loop fuel_status']],
    [
      'a hole in time',
      [...rows(30, () => ({})), ...rows(30, () => ({})).map((r) => ({ ...r, t: r.t + 60 }))],
      ['gaps'],
    ],
    [
      'an airflow sensor that drops out for seconds',
      rows(60, (i) => ({ maf_gs: i % 20 < 3 ? 0 : 2.5 + (i % 3) / 50 })),
      ['drops-out maf_gs'],
    ],
    [
      'a pressure that sticks while the throttle opens',
      rows(60, (i) => ({
        map_kpa: i > 20 && i < 40 ? 41 : 30 + (i % 5),
        rpm: 700 + 30 * Math.max(0, i - 20),
        maf_gs: 2.5 + i / 10,
        throttle_pct: 3 + i,
      })),
      ['sticks map_kpa'],
    ],
    [
      'a throttle that leaps by itself',
      rows(60, (i) => ({ throttle_pct: i % 15 === 7 ? 30 : 3, maf_gs: 2.5 + (i % 3) / 50 })),
      ['jumps throttle_pct'],
    ],
    ['rows that come seldom', rows(60, () => ({}), 2), ['seldom']],
  ])('%s', (_, list, expected) => expect(codes(list)).toEqual(expected))
  it('a wide plate leaves ambient behind it at any speed, and one that is closed the same air: neither sticks', () => {
    const pull = rows(60, (i) => ({
      map_kpa: i > 20 ? 86 : 30 + (i % 5),
      rpm: 700 + 60 * i,
      maf_gs: 2.5 + i,
      throttle_pct: i > 20 ? 90 : 3 + i / 5,
    }))
    expect(codes(pull)).toEqual([])
  })
  it('banks that pull apart, each its own way, may have crossed sensors; both one way may not', () => {
    const two = { ...v, banks: 2 }
    const at = (ltft1_pct: number, ltft2_pct: number): string[] =>
      codes(
        rows(40, () => ({ ltft1_pct, ltft2_pct, stft2_pct: 0 })),
        two,
      )
    expect(at(22, -19)).toEqual(['banks-apart'])
    expect(at(22, 19)).toEqual([])
  })
  it('manifold pressure with the engine standing is set against the height', () => {
    const map = { ...v, metering: 'map' as const }
    const at = (kpa: number): string[] =>
      codes(
        rows(60, (i) =>
          i < 20 ? { rpm: 0, map_kpa: kpa, maf_gs: 0 } : { map_kpa: 35 + (i % 3), throttle_pct: 3 + (i % 4) },
        ),
        map,
      )
    expect(at(88)).toEqual([])
    expect(at(101)).toEqual(['not-barometric map_kpa'])
  })
  it('what the engine has and the recording has not', () => {
    const v6 = { ...v, banks: 2, cylinders: 6, metering: 'maf+map' as const }
    expect(
      codes(
        rows(60, () => ({})),
        v6,
      ),
    ).toEqual(['missing map_kpa', 'missing stft2_pct'])
  })
  it('no rows: only what is missing', () => expect(codes([], { ...v, metering: 'none' })).toEqual(['missing rpm']))
})

describe('what is left out, and why', () => {
  const reasons = (list: readonly LiveRow[]): string[] => {
    const r = recordingOfRows(list)
    return leftOut(r, findOperatingPoints(r, v)).map((x) => x.reason)
  }
  const then = (list: readonly LiveRow[], more: readonly LiveRow[]): LiveRow[] => {
    const from = (list.at(-1)?.t ?? -0.5) + 0.5
    return [...list, ...more.map((r) => ({ ...r, t: r.t + from }))]
  }
  it('cold, open loop, purging, rolling: each by its own reason; key on counts by itself', () => {
    let list = rows(10, () => ({ rpm: 0, maf_gs: 0 }))
    list = then(
      list,
      rows(20, () => ({ ect_c: 40, rpm: 1100 })),
    )
    list = then(
      list,
      rows(10, (i) => ({ rpm: 1500 + 300 * i, fuel_status: 0 })),
    )
    list = then(
      list,
      rows(10, (i) => ({ rpm: 2000 + 150 * i, purge_pct: 30 })),
    )
    list = then(
      list,
      rows(10, (i) => ({ rpm: 1000 + 150 * i, speed_kph: 12, purge_pct: 0 })),
    )
    expect(reasons(list)).toEqual(['cold', 'open-loop', 'purge', 'rolling'])
  })
  it('a channel that the tool reads late is told, and drawn forward', () => {
    const r = simulateRecording({ vehicle: v, drive: 'road', seed: 4, pollS: 0.2 })
    expect(channelLags(r)).toEqual([])
    const maf = r.columns.maf_gs!
    const late = { ...r, columns: { ...r.columns, maf_gs: maf.map((_, i) => maf[Math.max(0, i - 5)]) } }
    const [lag] = channelLags(late)
    expect([lag.channel, lag.seconds]).toEqual(['maf_gs', expect.closeTo(1, 0)])
    expect(channelLags(withoutLags(late, [lag]))).toEqual([])
    expect(recordingDoubts(late, v).map((d) => d.message)).toContainEqual(
      expect.stringMatching(/airflow comes 1\.\d s behind the throttle/),
    )
  })
  it('a drive is points and the ways between them, with nothing unsaid', () => {
    const r = simulateRecording({ vehicle: v, drive: 'road', seed: 4 })
    const points = findOperatingPoints(r, v)
    const between = leftOut(r, points)
    const covered = [...points, ...between].reduce((s, x) => s + x.endS - x.startS, 0)
    expect(covered / r.columns.time_s!.at(-1)!).toBeGreaterThan(0.97)
    expect(new Set(between.map((x) => x.reason))).toContain('unsteady')
  })
  it('a hole is a hole', () =>
    expect(reasons([...rows(40, () => ({})), ...rows(40, () => ({})).map((x) => ({ ...x, t: x.t + 50 }))])).toEqual(
      expect.arrayContaining(['gap']),
    ))
})
