import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import { totalTrimPct } from '../signals/index.js'
import { deadSaid, diagnose, pointFromTyped, type Diagnosis, type TypedPoint } from './index.js'

const car = (id: string): Vehicle => ({
  ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle,
  name: id,
  altitudeM: 0,
})
type Values = TypedPoint['values']
/** An idle at 720 and a hold at 2500, trims as given. */
const at = (id: string, idle: Values, hold: Values, trim: number | null = 2): Diagnosis =>
  diagnose(car(id), {
    intent: 'complaint',
    signs: [],
    findings: [],
    points: (
      [
        ['idle', { rpm: 720, ...idle }],
        ['hold', { rpm: 2500, ...hold }],
      ] as const
    ).map(([kind, values]) =>
      pointFromTyped(
        { kind, values: { ...values, ...(trim === null ? {} : { stft1_pct: 0, ltft1_pct: trim }) } },
        totalTrimPct,
      ),
    ),
  })
const chance = (d: Diagnosis, fault: string): number => d.ranking.find((r) => r.fault === fault)?.probability ?? 0

describe('a sensor of air that cannot be telling of a running engine', () => {
  it.each([
    ['unplugged', 0, 0],
    ['stuck', 0.6, 0.6],
  ])('airflow, %s: told with its figure, and left aside', (_, idle, hold) => {
    const d = at('four-maf', { maf_gs: idle }, { maf_gs: hold })
    expect(deadSaid(d)[0]).toMatch(
      /^The airflow sensor reads 0\.\d0 g\/s at 720 rpm, where this engine needs about 2\.6/,
    )
    expect(d.warnings[0]).toMatchObject({ code: 'sensor-dead', act: 'Look at the airflow sensor’s plug and supply' })
    expect(d.unexplained).toBeLessThan(0.1)
    // the other readings are weighed without it
    const alone = at('four-maf', {}, {})
    expect(chance(d, 'none')).toBeCloseTo(chance(alone, 'none'), 6)
  })
  it('one that the trims make good for reads low, and is weighed', () => {
    const d = at('four-maf', { maf_gs: 1.2 }, { maf_gs: 3.9 }, 40)
    expect(deadSaid(d)).toEqual([])
  })
  it('one that would be right in another unit asks for that, and is no finding', () => {
    const d = at('four-maf', { maf_gs: 0.33 }, { maf_gs: 1.1 })
    expect(d.warnings[0]).toMatchObject({ code: 'sensor-dead', act: 'Is the airflow in lb/min?' })
    expect(d.warnings[0].message).toMatch(/In lb\/min it would be right: then it is entered with that unit; until then/)
    expect(deadSaid(d)).toEqual([])
    expect(at('four-maf', { maf_gs: 9.2 }, { maf_gs: 30 }).warnings[0]).toMatchObject({
      act: 'Is the airflow in kg/h?',
    })
  })
  it('far too much, at trims that do not follow, is none either', () => {
    expect(deadSaid(at('four-maf', { maf_gs: 14 }, { maf_gs: 21 }))[0]).toMatch(/reads 14\.0 g\/s .* needs about 2\.6/)
    // where the trims take off what they can it reads high
    expect(deadSaid(at('four-maf', { maf_gs: 6.4 }, { maf_gs: 20 }, -25))).toEqual([])
  })
  it('one that tells at one point is not dead', () =>
    expect(deadSaid(at('four-maf', { maf_gs: 0.6 }, { maf_gs: 8.2 }))).toEqual([]))
  it('without trims only what is far below any need is called so', () => {
    expect(deadSaid(at('four-maf', { maf_gs: 1.1 }, { maf_gs: 3.6 }, null))).toEqual([])
    expect(deadSaid(at('four-maf', { maf_gs: 0.2 }, { maf_gs: 0.2 }, null))).toHaveLength(1)
  })
  it.each([
    [101, /as with the engine standing\.$/],
    [3, /which no engine draws\.$/],
    [0, /which no engine draws\.$/],
  ])('manifold pressure of %d kPa', (kpa, said) => {
    const d = at('four-map', { map_kpa: kpa }, { map_kpa: kpa })
    expect(deadSaid(d)[0]).toMatch(said)
    expect(d.unexplained).toBeLessThan(0.1)
  })
  it('a pressure that is high, and one of an engine that draws none, are read as they are', () => {
    expect(deadSaid(at('four-map', { map_kpa: 60 }, { map_kpa: 40 }))).toEqual([])
    expect(deadSaid(at('diesel-four', { map_kpa: 101, maf_gs: 7 }, { map_kpa: 103, maf_gs: 25 }, null))).toEqual([])
    expect(deadSaid(at('four-maf', { maf_gs: 2.5 }, { maf_gs: 8.3 }))).toEqual([])
  })
})

describe('a pressure that was typed in another unit', () => {
  const idle = (id: string, values: Values): Diagnosis => {
    const v = car(id)
    const rpm = (v.idleSpecRpm.min + v.idleSpecRpm.max) / 2
    const point = pointFromTyped({ kind: 'idle', values: { rpm, stft1_pct: 0, ltft1_pct: 1, ...values } }, totalTrimPct)
    return diagnose(v, { intent: 'complaint', signs: [], findings: [], points: [point] })
  }
  const unit = (d: Diagnosis): string | undefined => d.warnings.find((w) => w.code === 'unit-doubtful')?.message
  it('of a gauge is said beside what it would mean, and nothing is left aside', () => {
    expect(unit(idle('v8-maf', { maf_gs: 5.9, gauge_vacuum_kpa: 19.5 }))).toMatch(
      /^The gauge was entered as 19\.5 kPa at 650 rpm; 19\.5 inHg would be what a sound engine draws\. Check its unit/,
    )
    expect(unit(idle('four-maf', { maf_gs: 2.5, gauge_vacuum_kpa: 66 }))).toBeUndefined()
    // weak, and in no unit right
    expect(unit(idle('four-maf', { maf_gs: 2.5, gauge_vacuum_kpa: 30 }))).toBeUndefined()
  })
  it('of a sensor likewise; where it cannot be that of a running engine it is asked for and left aside', () => {
    expect(unit(idle('four-map', { map_kpa: 9.8 }))).toMatch(/9\.8 inHg would be/)
    const psi = idle('four-map', { map_kpa: 4.8 })
    expect(psi.warnings[0]).toMatchObject({ code: 'sensor-dead', act: 'Is the manifold pressure in psi?' })
    expect(psi.warnings[0].said).toBeUndefined()
  })
})
