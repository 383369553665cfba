import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import { totalTrimPct } from '../signals/index.js'
import { deadSaid, diagnose, pointFromTyped, type Diagnosis, type Finding, type TypedPoint } from './index.js'

type Values = TypedPoint['values']
const car = (id: string): Vehicle => ({
  ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle,
  name: id,
  altitudeM: 1180,
})
/** A right idle, and what was read with the ignition on before it; 88 kPa is the air of this place. */
const withKeyOn = (id: string, keyOn: Values, findings: Finding[] = [], trustedPressure = false): Diagnosis =>
  diagnose(car(id), {
    intent: 'complaint',
    signs: [],
    findings,
    trustedPressure,
    points: (
      [
        ['key-on', keyOn],
        ['idle', { rpm: 720, maf_gs: 2.5, stft1_pct: 0, ltft1_pct: 1, ect_c: 90, iat_c: 25 }],
      ] as const
    ).map(([kind, values]) => pointFromTyped({ kind, values }, totalTrimPct)),
  })
const chance = (d: Diagnosis, fault: string): number => d.ranking.find((r) => r.fault === fault)?.probability ?? 0
const doubts = (d: Diagnosis) => d.warnings.filter((w) => w.code === 'engine-off')
const asked = (d: Diagnosis, test: string): boolean => d.nextTests.some((t) => t.test === test)

describe('an airflow with the engine off', () => {
  it('answers its test, whichever way it is', () => {
    const [none, zero, much] = [{}, { maf_gs: 0 }, { maf_gs: 1.4 }].map((x) => withKeyOn('four-maf', x))
    expect(chance(zero, 'maf-over-reads')).toBeLessThan(chance(none, 'maf-over-reads'))
    expect(chance(much, 'maf-over-reads')).toBeGreaterThan(3 * chance(none, 'maf-over-reads'))
    expect(asked(much, 'maf-key-on')).toBe(false)
  })
  it('is a finding, seen to first, where it is much of what idle needs', () => {
    const d = withKeyOn('four-maf', { maf_gs: 1.4 })
    expect(deadSaid(d)).toEqual(['With the engine off the airflow sensor reads 1.4 g/s, where nothing flows.'])
    expect(doubts(d)[0].act).toBe('Look at the airflow sensor’s plug and earth')
  })
  it('of a little is told, and asks for nothing', () => {
    const d = withKeyOn('four-maf', { maf_gs: 0.4 })
    expect(doubts(d)).toEqual([{ code: 'engine-off', message: expect.stringMatching(/reads 0\.4 g\/s.*draught/) }])
  })
  it('is not told twice where the test itself was made', () => {
    const made = [{ test: 'maf-key-on', outcome: 'fail' }] as const
    expect(chance(withKeyOn('four-maf', { maf_gs: 1.4 }, [...made]), 'maf-over-reads')).toBeCloseTo(
      chance(withKeyOn('four-maf', {}, [...made]), 'maf-over-reads'),
      9,
    )
  })
})

describe('temperatures with the engine off', () => {
  it.each([
    ['one', { iat_c: 12, ect_c: 15 }, false, 0],
    ['an intake that is far warmer than its cold engine', { iat_c: 48, ect_c: 14 }, false, 1],
    ['an engine that was driven: nothing is told', { iat_c: 20, ect_c: 70 }, true, 0],
    ['cool air over coolant that still holds some heat: nothing is told', { iat_c: -2, ect_c: 40 }, true, 0],
  ] as const)('%s', (_, keyOn, isOpen, told) => {
    const d = withKeyOn('four-maf', keyOn)
    expect(doubts(d)).toHaveLength(told)
    const before = chance(withKeyOn('four-maf', {}), 'temperature-sensor-implausible')
    const after = chance(d, 'temperature-sensor-implausible')
    if (isOpen) expect(after).toBeCloseTo(before, 9)
    else if (told) expect(after).toBeGreaterThan(5 * before)
    else expect(after).toBeLessThan(before)
  })
  it('one that no car shows is the cause, with its figure', () => {
    const d = withKeyOn('four-maf', { iat_c: -39, ect_c: 15 })
    expect(d.ranking[0]).toMatchObject({
      fault: 'temperature-sensor-implausible',
      sentence: 'The intake air temperature reads −39 °C with the engine off, which no car shows.',
    })
  })
})

describe('charge and manifold pressure with the engine off', () => {
  it.each([
    ['alike', { map_kpa: 88, charge_kpa: 89.5 }, undefined],
    ['the charge sensor off', { map_kpa: 88, charge_kpa: 97 }, 'Check the charge pressure sensor'],
    ['both near the height’s, and apart', { map_kpa: 86, charge_kpa: 91 }, 'Compare the two pressure sensors'],
    ['neither of this height, and apart', { map_kpa: 97, charge_kpa: 78 }, 'Compare the two pressure sensors'],
    ['against the barometer that is reported', { baro_kpa: 88, charge_kpa: 96 }, 'Check the charge pressure sensor'],
    ['alone, and not of this height', { charge_kpa: 97 }, 'Check the charge pressure sensor'],
    ['alone, and of this height', { charge_kpa: 90 }, undefined],
  ] as const)('%s', (_, keyOn, act) => {
    expect(doubts(withKeyOn('turbo-di', keyOn)).map((w) => w.act)).toEqual(act ? [act] : [])
  })
  it('bears out that it is the manifold sensor', () => {
    const d = withKeyOn('turbo-di', { map_kpa: 79, charge_kpa: 88 })
    expect(d.ranking[0].fault).toBe('map-sensor-offset')
    expect(doubts(d)).toEqual([
      { code: 'engine-off', message: expect.stringMatching(/the charge sensor bears that out/) },
    ])
  })
  it('a barometer that is trusted tells which of two is off', () => {
    const apart = { map_kpa: 88, charge_kpa: 91.5 }
    expect(doubts(withKeyOn('turbo-di', apart))[0].act).toBe('Compare the two pressure sensors')
    expect(doubts(withKeyOn('turbo-di', apart, [], true))[0].act).toBe('Check the charge pressure sensor')
  })
})
