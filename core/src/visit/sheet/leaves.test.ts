import { describe, expect, it } from '@jest/globals'
import { changesTitle, diagnoseVisit, expectedGain, idleTitle, nowAct, sheetOf, type Sheet } from '../index.js'
import { pictureOf } from './picture.js'
import { foundAt, holdOf, idleOf, reading, repairAt, stepAt, visitOf } from '../remedies.fixture.js'

const sheet = (part: Parameters<typeof visitOf>[0]): Sheet => {
  const f = visitOf(part)
  return sheetOf(f, diagnoseVisit(f, 0), 60)
}
const repairs = [repairAt('duct', 0)]

describe('the idle on a sheet', () => {
  it('is as it leaves only where it was measured after the work', () => {
    expect(idleTitle(sheet({ readings: idleOf(0) }))).toBe('its warm idle as measured')
    expect(idleTitle(sheet({ readings: idleOf(0), repairs }))).toBe('its warm idle before the work; not measured since')
    expect(idleTitle(sheet({ readings: [...idleOf(0), ...idleOf(1)], repairs }))).toBe('its warm idle as it leaves')
  })
  it('read between two pieces of work it is neither before nor after, and no figure is shown as after', () => {
    const readings = [...idleOf(0, { rpm: 560 }), ...idleOf(1, { rpm: 905 })]
    const between = sheet({ readings, steps: [stepAt()], repairs: [repairAt('duct', 1)] })
    expect(idleTitle(between)).toBe('its warm idle before the last of the work; not measured since')
    expect(changesTitle(between)).toBe('before the work and before the last of it, same points')
    expect(between.picture).toBeUndefined()
    const after = sheet({ readings, steps: [stepAt()] })
    expect(changesTitle(after)).toBe('before and after, same points')
    expect(after.picture).toMatchObject({ before: 560, after: 905 })
  })
  it('one that was issued before this was told says what it said', () => {
    const { measured: _, ...earlier } = sheet({ readings: idleOf(0) })
    expect(idleTitle(earlier)).toBe('its warm idle as it leaves')
  })
  it('the air around the car is not pooled with the pressure in its manifold', () => {
    const at = (round: number, idle: number): ReturnType<typeof reading>[] => [
      reading(round, 'key-on', 'map_kpa', 98.7),
      reading(round, 'idle', 'map_kpa', idle),
    ]
    const s = sheet({ readings: [...idleOf(0), ...idleOf(1), ...at(0, 50), ...at(1, 34)], repairs })
    expect(s.proved!.join(' ')).toMatch(/Manifold pressure: 16\.0 ± [\d.]+ kPa lower than before/)
    expect(s.proved!.join(' ')).not.toContain('points')
  })
  it('the customer’s picture is of what the customer came with, where that stood out', () => {
    const at = (round: number, rpm: number, kpa: number): ReturnType<typeof reading>[] => [
      ...idleOf(round).filter((r) => r.channel !== 'rpm'),
      reading(round, 'idle', 'rpm', rpm),
      reading(round, 'idle', 'map_kpa', kpa),
    ]
    const f = visitOf({ readings: [...at(0, 800, 90), ...at(1, 700, 34)], repairs }, { metering: 'maf+map' })
    const label = (signs: string[]): string | undefined => pictureOf({ ...f, visit: { ...f.visit, signs } })?.label
    expect(label(['idle-high'])).toBe('idle speed')
    expect(label([])).not.toBe('idle speed')
  })
  it('a trim at its stop before and after is no picture: two bounds show no difference', () => {
    const stopped = (round: number, rpm: number): ReturnType<typeof reading>[] => [
      ...idleOf(round, { rpm, trim: 25 }).filter((r) => r.channel !== 'stft1_pct'),
      reading(round, 'idle', 'stft1_pct', 25),
    ]
    const came = stopped(0, 680)
    expect(pictureOf(visitOf({ readings: [...came, ...idleOf(1)], repairs }))?.label).toBe('fuel correction at idle')
    expect(pictureOf(visitOf({ readings: [...came, ...stopped(1, 690)], repairs }))).toBeUndefined()
  })
  it('an idle that stood high by what is confirmed and stands where it belongs is not said to stand high', () => {
    const idle = (round: number, rpm: number, kpa: number, pct: number): ReturnType<typeof reading>[] => [
      reading(round, 'key-on', 'throttle_pct', 1),
      ...Object.entries({ rpm, map_kpa: kpa, stft1_pct: 0.8, ltft1_pct: 2.3, throttle_pct: pct, ect_c: 90 }).map(
        ([channel, value]) => reading(round, 'idle', channel as 'rpm', value),
      ),
    ]
    const f = visitOf(
      { readings: [...idle(0, 930, 50, 1), ...idle(1, 752, 34, 3)], repairs: [repairAt('gaskets', 0)] },
      { displacementL: 1.2, metering: 'map', throttleBoreMm: 46, idleSpecRpm: { min: 700, max: 850 } },
    )
    // before any work one cause is named, with one size, and nobody is told to teach an idle that a hole lifts
    const came = { ...f, repairs: [], readings: idle(0, 930, 50, 1) }
    const first = sheetOf(came, diagnoseVisit(came, 0), 60)
    expect(first.found.join(' ').match(/mm²/g)).toHaveLength(1)
    expect(first.plain).toBe('We measured your engine and found where to look; nothing has been mended yet.')
    const { found } = sheetOf(f, diagnoseVisit(f, 0), 60, diagnoseVisit(f, 1))
    expect(found[0]).toMatch(/^Air let in behind the throttle\. Confirmed/)
    expect(found.join(' ')).not.toContain('Idle stands')
  })
})

const typed = (round: number, slot: 'key-on' | 'idle' | 'hold-2500', values: Record<string, number>) =>
  Object.entries(values).map(([channel, value]) => reading(round, slot, channel as 'rpm', value))

describe('a valve that let exhaust gas in, cleaned', () => {
  // with the last figures a blocked exhaust cannot be ruled out: that the valve was it need not wait for that
  const f = visitOf(
    {
      readings: [
        ...typed(0, 'idle', { rpm: 660, maf_gs: 2.35, stft1_pct: 1.6, ltft1_pct: 1.6, gauge_vacuum_kpa: 47 }),
        ...typed(0, 'hold-2500', { rpm: 2500, maf_gs: 9.2, stft1_pct: 0.8, ltft1_pct: 0.8, gauge_vacuum_kpa: 62 }),
        ...typed(1, 'idle', { rpm: 700, maf_gs: 2.6, stft1_pct: 0.8, ltft1_pct: 1.6, gauge_vacuum_kpa: 62 }),
        ...typed(1, 'hold-2500', { rpm: 2500, maf_gs: 9.2, stft1_pct: 0.8, ltft1_pct: 0.8, gauge_vacuum_kpa: 64 }),
      ],
      steps: [stepAt({ station: 'egr', surface: 'sooted-metal', product: 'soot-remover' })],
    },
    { displacementL: 2, egr: 'valve', altitudeM: 240 },
  )
  it('is confirmed once it is all but gone', () => {
    const [d, now] = [diagnoseVisit(f, 0), diagnoseVisit(f, 1)]
    expect(d.ranking[0]).toMatchObject({ fault: 'egr-open-at-idle' })
    expect(now.ranking[0].fault).toBe('none')
    expect(sheetOf(f, d, 60, now).found[0]).toMatch(/^EGR valve leaks at idle\. Confirmed/)
  })
  it('is not where something else has taken its place', () => {
    const [d, now] = [diagnoseVisit(f, 0), diagnoseVisit(f, 1)]
    const other = { ...now, ranking: [{ ...now.ranking[0], fault: 'exhaust-restriction' as const, probability: 0.6 }] }
    expect(sheetOf(f, d, 60, other).found.join(' ')).not.toContain('Confirmed')
  })
})

describe('a sooted diesel', () => {
  const spec = { fuel: 'diesel', injection: 'direct', induction: 'turbo', egr: 'valve', idleControl: 'none' } as const
  const idle = { rpm: 690, maf_gs: 9.1, ect_c: 88 }
  const before = [...typed(0, 'idle', idle), ...typed(0, 'hold-2500', { rpm: 2500, maf_gs: 33 })]
  const washed = stepAt({ station: 'plenum', surface: 'manifold-aluminium', product: 'soot-remover' })
  it('shows a customer the air that it draws again', () => {
    const f = visitOf(
      {
        readings: [...before, ...typed(1, 'idle', idle), ...typed(1, 'hold-2500', { rpm: 2500, maf_gs: 44 })],
        steps: [washed],
      },
      spec,
    )
    expect(pictureOf(f)).toEqual({ label: 'air drawn at 2500 rpm', unit: 'g/s', before: 33, after: 44, decimals: 0 })
    expect(
      pictureOf({ ...f, vehicle: { ...f.vehicle, spec: { ...f.vehicle.spec, fuel: 'gasoline' } } })?.label,
    ).not.toBe('air drawn at 2500 rpm')
  })
  it('whose sensor was renewed tells another figure of the same air: that is no picture', () => {
    const f = visitOf(
      {
        readings: [...before, ...typed(1, 'idle', idle), ...typed(1, 'hold-2500', { rpm: 2500, maf_gs: 27 })],
        repairs: [repairAt('airflow-sensor', 0)],
      },
      spec,
    )
    expect(pictureOf(f)?.label).not.toBe('air drawn at 2500 rpm')
  })
  it('of which no figure tells by itself is not told to breathe well, nor that nothing was measured', () => {
    const f = visitOf({ readings: typed(0, 'idle', { rpm: 690, maf_gs: 9.1, ect_c: 88, battery_v: 14 }) }, spec)
    const d = diagnoseVisit(f, 0)
    expect(sheetOf(f, d, 60).plain).toMatch(/Nothing stands out there, and how well it breathes cannot be told/)
    expect(d.ranking.find((r) => r.fault === 'none')!.sentence).toBe(
      'What was measured does not tell one cause from another.',
    )
  })
  it('is not told that nothing points at deposits where air is missing', () => {
    const finding = { ...foundAt('plenum', 'soot'), test: 'intake-blockage' as const, item: undefined }
    const f = visitOf({ readings: before, findings: [finding] }, spec)
    expect(expectedGain(f, diagnoseVisit(f, 0))?.sentences.join(' ') ?? '').not.toMatch(
      /Nothing that was measured points/,
    )
  })
})

describe('trims beyond idle', () => {
  const f = visitOf({ readings: [...idleOf(0), ...holdOf(0, 14, 8.2)] })
  const d = diagnoseVisit(f, 0)
  it('stand on the sheet where they do not belong, though everything at idle does', () => {
    const s = sheetOf(f, { ...d, ranking: [{ fault: 'none', probability: 0.4, sentence: '' }], warnings: [] }, 60)
    expect(s.plain).toBe(
      'We measured your engine. Not every figure stands where it belongs, and no cause has been found yet.',
    )
    expect(s.found[0]).toBe('Total trim, held at 2500, 14.0 %, where −10.0 to 10.0 belongs.')
    expect(s.found[1]).toBe('Which cause it is has not been found out yet.')
    expect(nowAct(f, d).why).not.toMatch(/Everything measured stands in its band/)
  })
  it('are left when they are still out after the work, and not told of another round', () => {
    const left = (after: number): string =>
      sheet({
        readings: [...idleOf(0), ...holdOf(0, 18, 8.2), ...idleOf(1), ...holdOf(1, after, 8.2)],
        repairs,
      }).left.join(' ')
    expect(left(13)).toContain('Total trim, held at 2500, 13.0 %')
    expect(left(2)).not.toContain('held at 2500')
  })
})
