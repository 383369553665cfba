import { describe, expect, it } from '@jest/globals'
import { bandOf } from '../expectation/index.js'
import {
  diagnoseVisit,
  idleTitle,
  isProved,
  lackingSince,
  mayIssueReport,
  nowAct,
  pointsOfRound,
  sheetOf,
  slotChannels,
} from './index.js'
import { at, foundAt, idleOf, meta, reading, repairAt, visitOf } from './remedies.fixture.js'
import type { FindingRecord, ReadingRecord, VisitFile } from './records.js'
import { pictureOf } from './sheet/picture.js'

/** A turbo engine with both sensors that lacks pressure in a pull, its charge hose split. */
const SPEC = { metering: 'maf+map', induction: 'turbo', injection: 'direct', displacementL: 1.6 } as const
const idle = (round: number): ReadingRecord[] => [...idleOf(round, { maf: 2.2 }), reading(round, 'idle', 'map_kpa', 35)]
const pull = (round: number, kpa: number, maf: number, rpm = 4000): ReadingRecord[] => [
  reading(round, 'pull', 'rpm', rpm),
  reading(round, 'pull', 'map_kpa', kpa),
  reading(round, 'pull', 'maf_gs', maf),
]
const split: FindingRecord = {
  ...meta('v:boost', 4),
  visitId: 'v',
  test: 'boost-decay',
  station: 'boost-pipe',
  outcome: 'fail',
}
const mended = (readings: readonly ReadingRecord[], part: Partial<VisitFile> = {}): VisitFile =>
  visitOf(
    {
      readings: [...idle(0), ...pull(0, 128, 90), ...readings],
      findings: [split],
      repairs: [repairAt('boost-pipe', 0, { kind: 'replace' })],
      ...part,
    },
    SPEC,
  )

describe('a full pull, typed', () => {
  it('counts with its speed only: what goes through an open plate goes by it', () => {
    const [, ...withoutSpeed] = pull(0, 128, 90)
    const kinds = (readings: ReadingRecord[]): string[] =>
      pointsOfRound(visitOf({ readings }, SPEC), 0).map((p) => p.kind)
    expect(kinds(withoutSpeed)).toEqual([])
    expect(kinds(pull(0, 128, 90))).toEqual(['pull'])
  })
  it('asks for what an open plate lets through, and of a diesel for the valve that would take its place', () => {
    const v = visitOf({}, SPEC).vehicle.spec
    expect(slotChannels('pull', v)).toEqual(['rpm', 'maf_gs', 'map_kpa'])
    // trims are frozen in a pull: a sensor that measures the mixture is read beside them, by bank
    const mixture = ['lambda_cmd', 'lambda1', 'stft1_pct', 'ltft1_pct'] as const
    expect(slotChannels('pull', { ...v, wideband: true })).toEqual(['rpm', 'maf_gs', 'map_kpa', ...mixture])
    expect(slotChannels('pull', { ...v, wideband: true, banks: 2 })).toContain('lambda2')
    expect(slotChannels('pull', { ...v, wideband: true, fuel: 'diesel' })).not.toContain('lambda1')
    // what is lost on the way in shows ahead of a plate that throttles
    const turbo = { ...v, induction: 'turbo', chargeSensor: true } as const
    for (const slot of ['idle', 'hold-2500'] as const) expect(slotChannels(slot, turbo)).toContain('charge_kpa')
    for (const spec of [v, { ...turbo, fuel: 'diesel' as const }])
      expect(slotChannels('hold-2500', spec)).not.toContain('charge_kpa')
    const place = { vehicle: turbo, ambientC: 15 }
    expect(bandOf('charge_kpa', { ...place, kind: 'idle' })!.low).toBeCloseTo(
      bandOf('charge_kpa', { ...place, kind: 'hold' })!.low,
      6,
    )
    expect(bandOf('charge_kpa', { ...place, kind: 'pull' })).toBeUndefined()
    expect(slotChannels('pull', { ...v, metering: 'maf' })).toEqual(['rpm', 'maf_gs', 'gauge_vacuum_kpa'])
    expect(slotChannels('pull', { ...v, fuel: 'diesel', egr: 'valve' })).toContain('egr_pct')
  })
  it('has its bands: air at the pressure that is read or, nothing blown in, by the open plate; no trim', () => {
    const natural = { vehicle: visitOf().vehicle.spec, kind: 'pull' as const, rpm: 4000, ambientC: 15 }
    const wide = bandOf('maf_gs', natural)!
    // 2 L, 4000 rpm, 97 kPa, ηv 0.89, 308 K: 65 g/s
    expect((wide.low + wide.high) / 2).toBeGreaterThan(63)
    expect((wide.low + wide.high) / 2).toBeLessThan(68)
    expect(bandOf('ltft1_pct', natural)).toBeUndefined()
    const turbo = { ...natural, vehicle: visitOf({}, SPEC).vehicle.spec }
    expect(bandOf('maf_gs', turbo)).toBeUndefined()
    expect(bandOf('map_kpa', turbo)).toBeUndefined()
    expect(bandOf('maf_gs', { ...turbo, manifoldKpa: 168 })!.low).toBeGreaterThan(70)
  })
  it('tells more of a boost leak than the code alone', () => {
    const f = (readings: ReadingRecord[]): VisitFile =>
      visitOf(
        {
          readings: [...idle(0), ...readings],
          codes: [{ ...meta('v:c', 1), visitId: 'v', code: 'P0299', state: 'stored', when: 'before', cleared: false }],
        },
        SPEC,
      )
    const share = (x: VisitFile): number =>
      diagnoseVisit(x, 0).ranking.find((r) => r.fault === 'boost-leak')!.probability
    expect(share(f(pull(0, 128, 90)))).toBeGreaterThan(share(f([])) + 0.2)
  })
})

describe('a charge hose that was renewed', () => {
  it('is not proved by an idle that never showed it: the pull of the baseline is read again', () => {
    const f = mended(idle(1))
    expect(isProved(f)).toBe(false)
    expect(lackingSince(f)).toEqual(['the full pull'])
    expect(nowAct(f)).toMatchObject({
      id: 'measure-again',
      why: expect.stringContaining('Still to be read: the full pull.'),
    })
    expect(JSON.stringify(mayIssueReport(f, Date.parse(at(60))))).toContain('Measured again without the full pull')
    const s = sheetOf(f, diagnoseVisit(f, 0), 60, diagnoseVisit(f, 1))
    expect(s.plain).toContain('measured again only in part')
    expect(s.left.join(' ')).toContain('Measured again without the full pull since')
    // the idle itself was read after the work
    expect(idleTitle(s)).toBe('its warm idle as it leaves')
    expect(isProved(mended([...idle(1), ...pull(1, 168, 96, 4100)]))).toBe(true)
    // at another speed there is no row of it, and what it says of the engine counts
    const slower = mended([...idle(1), ...pull(1, 160, 58, 2600)])
    expect(isProved(slower)).toBe(true)
    expect(sheetOf(slower, diagnoseVisit(slower, 0), 60).proved!.join(' ')).not.toMatch(/full pull/)
  })
  it('a car that nobody pulled at first is proved by its idle, as far as that goes', () => {
    const f = mended(idle(1))
    expect(isProved({ ...f, readings: f.readings.filter((r) => r.slot !== 'pull') })).toBe(true)
  })
  it('a filter that was changed by the way asks for no pull, one that a look found blocked does', () => {
    const filter = [repairAt('filter', 0, { kind: 'replace' })]
    const blocked: FindingRecord = { ...split, test: 'filter-look', station: 'filter' }
    expect(isProved(mended(idle(1), { repairs: filter, findings: [] }))).toBe(true)
    expect(isProved(mended(idle(1), { repairs: filter, findings: [blocked] }))).toBe(false)
    // the walk sees it as well, and a complaint of full load is of nothing else
    const loaded = foundAt('filter.2', 'loaded')
    expect(isProved(mended(idle(1), { repairs: filter, findings: [loaded] }))).toBe(false)
    const flat = mended(idle(1), { repairs: filter, findings: [] })
    expect(isProved({ ...flat, visit: { ...flat.visit, signs: ['flat'] } })).toBe(false)
  })
  it('a filter is confirmed by the pull that breathes again, which idle and trims never showed', () => {
    const wide = (round: number, gs: number): ReadingRecord[] => [
      reading(round, 'pull', 'rpm', 3400),
      reading(round, 'pull', 'maf_gs', gs),
    ]
    const f = visitOf({
      readings: [...idleOf(0, { trim: 0 }), ...wide(0, 41), ...idleOf(1, { trim: 0 }), ...wide(1, 54)],
      findings: [foundAt('filter.2', 'loaded with dust')],
      repairs: [repairAt('filter', 0, { kind: 'replace' })],
    })
    const s = sheetOf(f, diagnoseVisit(f, 0), 60, diagnoseVisit(f, 1))
    expect(s.plain).toMatch(/^The way of the air into your engine was narrowed\. Done/)
    expect(s.found[0]).toMatch(/^Filter, inlet or manifold blocked\. Confirmed:/)
  })
  it('what the pull shows is told apart from what the closed plate shows, and is the customer’s picture', () => {
    const f = mended([...idle(1), ...pull(1, 168, 96)])
    const s = sheetOf(f, diagnoseVisit(f, 0), 60, diagnoseVisit(f, 1))
    expect(s.proved!.join(' ')).toMatch(/Manifold pressure, full pull: 40\.0 ± [\d.]+ kPa higher than before/)
    expect(s.proved!.join(' ')).not.toMatch(/pressure over \d points/)
    // a little faster or slower, it is the same row
    const other = mended([...idle(1), ...pull(1, 168, 96, 4200)])
    const rows = sheetOf(other, diagnoseVisit(other, 0), 60, diagnoseVisit(other, 1)).technical!.readings
    expect(rows.find((r) => /^pull/.test(r.point) && r.label === 'airflow')!.values).toEqual([90, 96])
    expect(pictureOf(f)).toEqual({
      label: 'pressure in the intake at full throttle',
      unit: 'kPa',
      before: 128,
      after: 168,
      decimals: 0,
    })
  })
  it('a figure that belonged and was not seen to move is no picture', () => {
    const f = mended([...idle(1).map((r) => (r.channel === 'ltft1_pct' ? { ...r, value: -1.6 } : r))])
    expect(pictureOf(f)).toBeUndefined()
  })
})
