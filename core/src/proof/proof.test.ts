import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { totalTrimPct, type OperatingPoint } from '../signals/index.js'
import { normalFrom, seededRandom } from '../statistics/index.js'
import {
  CHANGE_RULES,
  compareRuns,
  differsBetween,
  judgeChange,
  placeOfChange,
  proofFigure,
  proofVerdict,
  provedSaid,
  trimBand,
  upperNormal,
} from './index.js'

const trim = CHANGE_RULES.find((r) => r.quantity === 'trim1_pct')!
const point = (kind: OperatingPoint['kind'], rpm: number, means: OperatingPoint['means']): OperatingPoint => ({
  kind,
  rpm,
  startS: 0,
  endS: 0,
  n: 1,
  means,
  sds: {},
})

describe('one change', () => {
  it('nearer to zero and beyond noise is better', () => expect(judgeChange(trim, 18, 2).verdict).toBe('better'))
  it('farther is worse', () => expect(judgeChange(trim, 2, 18).verdict).toBe('worse'))
  it('within what two runs differ by is no change seen', () =>
    expect(judgeChange(trim, 5, 2.5).verdict).toBe('no change seen'))
  it('half width is 1.645·√2·1.5 points for typed trims', () =>
    expect(judgeChange(trim, 0, 0).uncertainty).toBeCloseTo(1.645 * Math.SQRT2 * 1.5, 12))
  it('a relative rule scales with the reading', () => {
    const maf = CHANGE_RULES.find((r) => r.quantity === 'maf_gs')!
    expect(judgeChange(maf, 10, 10.3).verdict).toBe('no change seen')
    expect(judgeChange(maf, 10, 11).verdict).toBe('changed')
  })
  it('an unchanged car is called changed in fewer than one run of twenty', () => {
    fc.assert(
      fc.property(fc.constantFrom(...CHANGE_RULES), fc.double({ min: 1, max: 100, noNaN: true }), (rule, x) => {
        const sd = rule.betweenRuns * (rule.relative ? x : 1)
        return judgeChange(rule, x, x + 1.9 * sd).verdict === 'no change seen'
      }),
    )
  })
  it('refuses an error below zero', () =>
    expect(() => judgeChange(trim, 0, 0, { before: -1, after: 0 })).toThrow(RangeError))
})

describe('runs', () => {
  it('a faster poll of the same seconds is no surer of a swinging trim', () => {
    const of = (n: number): number => {
      const idle = { ...point('idle', 700, { trim1_pct: 9 }), n, endS: 16, sds: { trim1_pct: 3 } }
      return compareRuns([idle], [idle])[0].uncertainty
    }
    // 16 s hold five swings of 3.2 s: the error of a mean is 3/√5 beside the 1.5 between runs
    expect(of(40)).toBeCloseTo(1.645 * Math.SQRT2 * Math.hypot(1.5, 3 / Math.sqrt(5)), 9)
    expect(of(800)).toBe(of(40))
    expect(of(16)).toBeGreaterThan(of(40))
  })
  it('matches holds by speed and not by opening', () => {
    const changes = compareRuns(
      [point('hold', 2500, { trim1_pct: 9, throttle_pct: 6 }), point('idle', 700, { trim1_pct: 20 })],
      [
        point('hold', 1500, { trim1_pct: 1 }),
        point('hold', 2550, { trim1_pct: 2, throttle_pct: 8 }),
        point('idle', 720, { trim1_pct: 1 }),
      ],
    )
    expect(changes.filter((c) => c.quantity === 'trim1_pct').map((c) => [c.kind, c.after])).toEqual([
      ['hold', 2],
      ['idle', 1],
    ])
  })
  it('compares only what both have', () =>
    expect(compareRuns([point('idle', 700, { maf_gs: 2 })], [point('idle', 700, { map_kpa: 30 })])).toEqual([]))
})

it('trims: ±5 good, ±10 acceptable', () => {
  expect([4.9, -7, 12].map(trimBand)).toEqual(['good', 'acceptable', 'outside'])
  // no figure that reads as the band's end is told to be beyond it: 0 and 10 % make 10.000000000000009
  expect([totalTrimPct(0, 5), totalTrimPct(0, 10), 10.06].map(trimBand)).toEqual(['good', 'acceptable', 'outside'])
  expect(() => trimBand(NaN)).toThrow(RangeError)
})

describe('all changes together', () => {
  const run = (trims: readonly number[], more: OperatingPoint['means'] = {}): OperatingPoint[] =>
    trims.map((t, i) => point(i ? 'hold' : 'idle', i ? 1000 + 500 * i : 700, { trim1_pct: t, ...more }))
  const verdict = (before: readonly OperatingPoint[], after: readonly OperatingPoint[]) =>
    proofVerdict(compareRuns(before, after, { min: 650, max: 750 }))

  it('a gain too small for any one point is seen over five', () => {
    const one = verdict(run([9]), run([6]))
    expect(one.verdict).toBe('no change seen')
    const five = verdict(run([9, 9, 9, 9, 9]), run([6, 6, 6, 6, 6]))
    expect(five.verdict).toBe('better')
    expect(five.pooled[0]).toMatchObject({ gain: 3, points: 5, verdict: 'better' })
    expect(five.pooled[0].leastSeen).toBeLessThan(3)
  })
  it('a fault of the idle alone is found beside points that do not move', () =>
    expect(verdict(run([14, 3, 2, 2]), run([2, 3, 2, 2])).verdict).toBe('better'))
  it('no row says more than the whole does', () => {
    // one of six points off by chance, the others as before
    const told = verdict(run([5, 5, 5, 5, 5, 5]), run([5, 5, 5, 5, 5, 1.2]))
    expect(told.verdict).toBe('no change seen')
    expect(told.changes.every((c) => c.verdict === 'no change seen')).toBe(true)
  })
  it('worse is said before better', () =>
    expect(verdict(run([14], { trim2_pct: 1 }), run([2], { trim2_pct: 15 })).verdict).toBe('worse'))
  it('an opening is only other, never better', () =>
    expect(verdict([point('idle', 700, { throttle_pct: 4 })], [point('idle', 700, { throttle_pct: 2 })]).verdict).toBe(
      'changed',
    ))
  it('a trim of a moment is no proof', () =>
    expect(compareRuns([point('snap', 2300, { trim1_pct: 9 })], [point('snap', 2300, { trim1_pct: 0 })])).toEqual([]))
  it('a snap is compared by its delay, settling and fall, whatever its speed; longer is worse', () => {
    const snap = (rpm: number, means: OperatingPoint['means']): OperatingPoint[] => [
      { ...point('snap', rpm, means), sds: { pedal_delay_s: 0.04, settle_s: 0.04, dip_rpm: 0 } },
    ]
    const told = verdict(
      snap(3400, { pedal_delay_s: 0.7, settle_s: 6, dip_rpm: 340, trim1_pct: 9 }),
      snap(4100, { pedal_delay_s: 0.2, settle_s: 5.6, dip_rpm: 40, trim1_pct: 0 }),
    )
    expect(told.changes.map((c) => [c.label, c.verdict])).toEqual([
      ['delay from pedal to speed', 'better'],
      ['settling after a snap', 'no change seen'],
      ['fall below idle after a snap', 'better'],
    ])
    expect(placeOfChange(told.changes[0])).toBe('')
    expect(provedSaid(told, [])[0]).toBe('Delay from pedal to speed: better, 0.35 ± 0.13 s nearer to where it belongs.')
    // an engine that idled high by a leak did not fall below its idle; a sound one does, and is not worse for it
    expect(
      verdict(snap(4061, { settle_s: 3.3, dip_rpm: 0 }), snap(3444, { settle_s: 5.1, dip_rpm: 131 })).verdict,
    ).toBe('no change seen')
    expect(verdict(snap(3400, { pedal_delay_s: 0.2 }), snap(3400, { pedal_delay_s: 0.7 })).verdict).toBe('worse')
  })
  it('an idle speed that moved is not told as unchanged because it gained or lost nothing by its band', () => {
    const idle = (rpm: number): OperatingPoint[] => [point('idle', rpm, { rpm, trim1_pct: 1 })]
    const told = verdict(idle(790), idle(700))
    expect(told.changes.find((c) => c.quantity === 'rpm')).toMatchObject({
      before: 790,
      after: 700,
      verdict: 'changed',
    })
    expect(told.verdict).toBe('changed')
    expect(provedSaid(told, [])).toEqual(['Idle speed: 90 ± 35 rpm lower than before.'])
    expect(verdict(idle(720), idle(705)).verdict).toBe('no change seen')
    expect(verdict(idle(900), idle(700)).verdict).toBe('better')
  })
  it('a row that is called unchanged changed by less than it says could be seen', () => {
    for (const [was, is] of [
      [4.7, 1],
      [1.2, 2.7],
      [8, 2],
    ]) {
      const at = (idle: number): OperatingPoint[] =>
        [idle, 9, 9, 9, 9].map((x, i) =>
          point(i ? 'hold' : 'idle', 700 + 500 * i, { rpm: 700 + 500 * i, trim1_pct: x, throttle_pct: x }),
        )
      for (const c of verdict(at(was), at(is)).changes)
        if (c.verdict === 'no change seen') expect(Math.abs(c.difference)).toBeLessThan(c.leastSeen)
    }
  })
  it('runs that differ only as two runs do are called better in at most one visit of twenty', () => {
    const random = seededRandom(5)
    const normal = normalFrom(random)
    const visits = 600
    let better = 0
    for (let i = 0; i < visits; i++) {
      const drawn = (): OperatingPoint[] =>
        run(Array.from({ length: 5 }, () => 6 + 1.5 * normal())).map((p) => ({
          ...p,
          means: { ...p.means, trim2_pct: 4 + 1.5 * normal(), rpm: 700 + 15 * normal(), map_kpa: 34 + normal() },
        }))
      if (verdict(drawn(), drawn()).pooled.some((p) => p.verdict === 'better')) better++
    }
    expect(better / visits).toBeLessThanOrEqual(0.05)
  })
  it('quantiles of the normal are those of the table', () => {
    // Abramowitz and Stegun, table 26.5
    for (const [p, z] of [
      [0.05, 1.64485],
      [0.025, 1.95996],
      [0.001, 3.09023],
    ])
      expect(upperNormal(p)).toBeCloseTo(z, 2)
  })
  it('says how much, with its interval, or what could not have been seen', () => {
    expect(provedSaid(verdict(run([9, 9, 9, 9, 9]), run([6, 6, 6, 6, 6])), [])[0]).toMatch(
      /^Total trim over 5 points: better by 3\.0 ± \d\.\d %\.$/,
    )
    expect(provedSaid(verdict(run([9]), run([8])), ['supply 12.1 V before and 14.2 V after'])).toEqual([
      expect.stringMatching(/no change seen; one below 3\.\d % could not have been seen\.$/),
      'Not the same in both: supply 12.1 V before and 14.2 V after.',
    ])
  })
})

it('what changed at one point alone is said, and the readings are not called unchanged', () => {
  const drive = (under: number): OperatingPoint[] =>
    [4.7, 4.9, 4.9, 4.8, 4.7, under].map((x, i) =>
      point(i ? 'hold' : 'idle', 700 + 400 * i, { trim1_pct: -x, ect_c: 90 }),
    )
  const proof = proofVerdict(compareRuns(drive(14), drive(4.7)))
  expect(proof.verdict).toBe('changed')
  expect(provedSaid(proof, [])).toEqual([
    expect.stringMatching(/^Total trim, bank 1, held at 2700: 9\.3 ± \d\.\d % higher than before\.$/),
  ])
  expect(provedSaid(proofVerdict([]), [])).toEqual(['Nothing was read both before and after the work.'])
})

it('of two idles in each run each is held against its own', () => {
  const run = (): OperatingPoint[] => [1142, 778].map((rpm) => point('idle-load', rpm, { rpm, map_kpa: rpm / 25 }))
  expect(compareRuns(run(), run()).map((c) => c.difference)).toEqual([0, 0, 0, 0])
  // one alone is the same one, whatever its speed became
  const [fast] = run()
  expect(compareRuns([fast], [run()[1]]).map((c) => c.difference)).toContain(778 - 1142)
})

it('what was not the same in both runs is named, small differences are not', () => {
  const idle = (means: OperatingPoint['means']): OperatingPoint[] => [point('idle', 700, means)]
  const said = differsBetween(
    idle({ ect_c: 78, iat_c: 20, battery_v: 14 }),
    idle({ ect_c: 93, iat_c: 24, battery_v: 13.1 }),
  )
  expect(said).toHaveLength(2)
  expect(said[0]).toMatch(/coolant 78 °C before and 93 °C after/)
  expect(differsBetween([], idle({ ect_c: 90 }))).toEqual([])
})

it('what both banks say together is not said again for each', () => {
  const run = (t1: number, t2: number): OperatingPoint[] =>
    ['idle', 'hold'].map((kind, i) => point(kind as 'idle', i ? 2500 : 700, { trim1_pct: t1, trim2_pct: t2 }))
  const said = provedSaid(proofVerdict(compareRuns(run(18, 17), run(1, 0))), [])
  expect(said.map((s) => s.split(':')[0])).toEqual([
    'Total trim over 2 points',
    'Total trim, bank 1, at idle',
    'Total trim, bank 2, at idle',
  ])
  // one bank better, the other worse: both are said
  const split = provedSaid(proofVerdict(compareRuns(run(18, 0), run(1, 18))), [])
  expect(split.join(' ')).toMatch(/bank 1 over 2 points: better.*bank 2 over 2 points: worse/)
})

it('what rounds to nothing has no sign', () => {
  expect(proofFigure(-0.03, '%')).toBe('0.0')
  expect(proofFigure(-0.06, '%')).toBe('−0.1')
})

describe('the mixture of a pull, before and after', () => {
  const pull = (lambda1: number, ltft: number): OperatingPoint => ({
    kind: 'pull',
    rpm: 3900,
    startS: 0,
    endS: 3,
    n: 1,
    means: { rpm: 3900, maf_gs: 55, trim1_pct: ltft, lambda1, lambda_cmd: 0.87 },
    sds: {},
  })
  it('what no trim shows is better where the pull has its fuel again', () => {
    const { verdict, pooled } = proofVerdict(compareRuns([pull(1.03, 3)], [pull(0.88, 1.6)]))
    expect(verdict).toBe('better')
    expect(pooled.find((p) => p.verdict === 'better')!.what).toBe('fuel against what was commanded, full pull')
  })
  it('what trims took over meanwhile is no gain', () => {
    expect(proofVerdict(compareRuns([pull(1.03, 3)], [pull(0.96, 10.5)])).verdict).toBe('no change seen')
  })
})

describe('charge pressure, before and after', () => {
  const held = (kind: 'hold' | 'cruise', charge_kpa: number): OperatingPoint =>
    point(kind, 2500, { rpm: 2500, maf_gs: 8, charge_kpa })
  const seen = (kind: 'hold' | 'cruise', before: number, after: number): string[] =>
    compareRuns([held(kind, before)], [held(kind, after)]).flatMap((c) =>
      c.quantity === 'charge_kpa' ? [c.verdict] : [],
    )
  it('changes where the way in is free again, and by no more than weather it does not', () => {
    expect(seen('hold', 84.9, 87.5)).toEqual(['changed'])
    expect(seen('hold', 87.2, 87.6)).toEqual(['no change seen'])
  })
  it('is not compared on the road: a hill moves it', () => expect(seen('cruise', 84.9, 87.5)).toEqual([]))
})

it('an idle that came back into its band is better, read under load besides or not', () => {
  const run = (idle: number, loaded?: number): OperatingPoint[] => [
    point('idle', idle, { rpm: idle }),
    ...(loaded === undefined ? [] : [point('idle-load', loaded, { rpm: loaded })]),
  ]
  const band = { min: 750, max: 900 }
  for (const [before, after] of [
    [run(1080), run(840)],
    [run(1080, 1090), run(840, 835)],
  ]) {
    const { verdict, pooled, changes } = proofVerdict(compareRuns(before, after, band))
    expect(verdict).toBe('better')
    expect(pooled[0]).toMatchObject({ what: 'idle speed', verdict: 'better', points: 1 })
    expect(changes[0].verdict).toBe('better')
  }
  const { pooled } = proofVerdict(compareRuns(run(1080, 1090), run(840, 835), band))
  expect(pooled[1]).toMatchObject({ what: 'idle speed, loaded', verdict: 'changed' })
})

describe('pulls that were not taken to the same speed', () => {
  const pull = (rpm: number, maf_gs: number, gauge_vacuum_kpa: number, more: object = {}): OperatingPoint =>
    point('pull', rpm, { rpm, maf_gs, gauge_vacuum_kpa, ...more })
  const seen = (b: OperatingPoint, a: OperatingPoint): Record<string, string> =>
    Object.fromEntries(compareRuns([b], [a]).map((c) => [c.quantity, c.verdict]))
  it('are held against each other by the air of one turn, and told so', () => {
    // a blocked filter holds it back: 23 g/s at 2700 where 49 at 3250 are 41 at 2700
    const [air] = compareRuns([pull(2700, 23, 36)], [pull(3250, 49, 1.8)])
    expect(air).toMatchObject({ quantity: 'maf_gs', label: 'airflow, reckoned to that speed', verdict: 'changed' })
    expect(air.after).toBeCloseTo((49 * 2700) / 3250, 9)
    expect(seen(pull(2700, 23, 36), pull(3250, 49, 1.8))).toEqual({ maf_gs: 'changed', gauge_vacuum_kpa: 'changed' })
  })
  it('are one engine where a turn takes the same air, within what speed itself does', () => {
    expect(seen(pull(2700, 41, 2.2), pull(3250, 50, 3.1))).toEqual({
      maf_gs: 'no change seen',
      gauge_vacuum_kpa: 'no change seen',
    })
  })
  it('are nothing together too far apart, or under boost', () => {
    expect(compareRuns([pull(2000, 23, 3)], [pull(3250, 49, 2)])).toEqual([])
    expect(compareRuns([pull(2700, 40, 3, { map_kpa: 160 })], [pull(3250, 60, 2)])).toEqual([])
  })
  it('are those of nearest speed where there are several', () =>
    expect(
      compareRuns([pull(2700, 40, 3)], [pull(3250, 49, 2), pull(2750, 40.5, 2)]).find((c) => c.quantity === 'maf_gs')!
        .label,
    ).toBe('airflow'))
})

it('what moved at one point has changed, though the other points of its kind hardly did', () => {
  const run = (vacuum: readonly number[]): OperatingPoint[] =>
    (['idle', 'hold', 'cruise'] as const).map((kind, i) =>
      point(kind, [715, 2500, 1880][i], { maf_gs: 2.4 + i, gauge_vacuum_kpa: vacuum[i], trim1_pct: -2 }),
    )
  // late valves put right: idle feels it most
  const proof = proofVerdict(compareRuns(run([53, 61.1, 49.9]), run([57.8, 62, 51.6])))
  expect(proof.verdict).toBe('changed')
  expect(provedSaid(proof, [])).toEqual(['Gauge vacuum, idle: 4.8 ± 2.3 kPa higher than before.'])
})

describe('a trim at its stop', () => {
  const at = (kind: 'idle' | 'hold', rpm: number, stft: number, ltft: number, other?: number): OperatingPoint =>
    point(kind, rpm, {
      stft1_pct: stft,
      ltft1_pct: ltft,
      trim1_pct: totalTrimPct(stft, ltft),
      ...(other === undefined ? {} : { stft2_pct: other, ltft2_pct: 0, trim2_pct: other }),
    })
  const stopped = [at('idle', 800, 25, 5), at('hold', 2500, 25, 3)]

  it('before and after tells of no change, and nobody says that nothing was changed', () => {
    const proof = proofVerdict(compareRuns(stopped, stopped))
    expect(proof.verdict).toBe('at its stop')
    expect(proof.changes.map((c) => [c.verdict, c.atStop])).toEqual([
      ['at its stop', 'both'],
      ['at its stop', 'both'],
    ])
    expect(provedSaid(proof, [])).toEqual([
      'Total trim, idle and held at 2500: at its stop before and after, where no change of the mixture shows.',
    ])
  })

  it('that has left it since says the least that it was worth', () => {
    const proof = proofVerdict(compareRuns(stopped, [at('idle', 800, 2, 5), at('hold', 2500, 1, 3)]))
    expect(proof.verdict).toBe('better')
    expect(provedSaid(proof, []).at(0)).toMatch(/^Total trim over 2 points: better by at least \d/)
  })

  it('that has barely left it is no proof that nothing was gained', () => {
    const proof = proofVerdict(compareRuns(stopped.slice(0, 1), [at('idle', 800, 23.5, 5)]))
    expect(proof.changes.map((c) => [c.verdict, c.atStop])).toEqual([['at its stop', 'before']])
    expect(proof.pooled).toEqual([])
  })

  it('is told of the bank that stands there, and of the other what was seen', () => {
    const both = [at('idle', 800, 25, 5, 12)]
    const proof = proofVerdict(compareRuns(both, [at('idle', 800, 25, 5, 1)]))
    expect(proof.verdict).toBe('better')
    expect(provedSaid(proof, [])).toContain(
      'Total trim, bank 1, idle: at its stop before and after, where no change of the mixture shows.',
    )
  })
})
