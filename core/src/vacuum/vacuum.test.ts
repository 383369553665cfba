import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, type Vehicle } from '../engine/index.js'
import { seededRandom } from '../statistics/index.js'
import {
  pumpPartsOf,
  adjustersOf,
  gaugeProblem,
  gaugeSeen,
  judgeDrops,
  judgePump,
  pumpSaid,
  SPREAD_LIMIT_KPA,
  throttleAdvice,
  turnWords,
  type ThrottleReading,
} from './index.js'

const at = (altitudeM: number) => ({ ...ENGINE_PATTERNS[0].vehicle, name: 'test', altitudeM })

describe('gauge', () => {
  const idle = (kpa: number, altitudeM: number) =>
    gaugeSeen(kpa, { vehicle: at(altitudeM), kind: 'idle', ambientC: 15 })
  it('at 1500 m a gauge is healthy that a rule of sea level calls low', () => {
    // ambient there is 84.56 kPa by the standard atmosphere
    const high = idle(52, 1500)
    expect(high.verdict).toBe('inside')
    expect(high.say).toMatch(/made at sea level would call it low.*85 kPa, not 101/)
    expect(high.feelsKpa).toBeCloseTo(32.6, 1)
    expect(high.atSeaLevelKpa).toBeCloseTo(68.8, 1)
    expect(idle(52, 0).verdict).toBe('low')
  })
  it('what it shows and what the engine feels add up to what the air presses with', () => {
    const x = idle(60, 0)
    expect(x.showsKpa + x.feelsKpa).toBeCloseTo(101.325, 3)
    expect(x.say).not.toMatch(/sea level/)
  })
  it('more than there is to miss is refused', () => {
    expect(() => idle(95, 1500)).toThrow(RangeError)
    expect(() => idle(NaN, 0)).toThrow(RangeError)
    expect(gaugeProblem(95, 1500)).toMatch(/cannot be missing where the air presses with 84\.6/)
    expect([gaugeProblem(50, 1500), gaugeProblem(NaN, 0)?.slice(0, 3)]).toEqual([undefined, 'NaN'])
  })
})

/** Throttles with screws of unknown bite: how many turns until the advice says balanced. */
function turnsNeeded(n: number, layout: 'each' | 'pairs', seed: number): number {
  const random = seededRandom(seed)
  const vacuum = Array.from({ length: n }, () => 55 + 14 * (random() - 0.5))
  const gains = new Map(adjustersOf(layout, n).map((a) => [a.id, 9 * Math.exp(1.2 * (random() - 0.5))]))
  const read = (): number[] => vacuum.map((x) => x + 0.3 * (random() - 0.5))
  const readings: ThrottleReading[] = [{ vacuumKpa: read() }]
  for (let turns = 0; turns < 40; turns++) {
    const advice = throttleAdvice(layout, readings)
    if (advice.balanced) return turns
    const { adjuster, turns: t } = advice
    // a hand turns it nearly as far as it means to
    const made = t! * (1 + 0.1 * (random() - 0.5))
    for (const i of adjuster!.moves) vacuum[i - 1] -= gains.get(adjuster!.id)! * made
    readings.push({ vacuumKpa: read(), turned: { adjuster: adjuster!.id, turns: t! } })
  }
  return Infinity
}

describe('throttles', () => {
  it.each([
    [2, 'each'],
    [3, 'each'],
    [4, 'each'],
    [4, 'pairs'],
    [6, 'each'],
    [8, 'each'],
  ] as const)('%i throttles, %s: at most two turns an adjuster in 95 of 100 starts', (n, layout) => {
    const needed = Array.from({ length: 200 }, (_, s) => turnsNeeded(n, layout, 100 * n + s))
    const within = needed.filter((x) => x <= 2 * (n - 1)).length
    expect(within / needed.length).toBeGreaterThanOrEqual(0.95)
    expect(Math.max(...needed)).toBeLessThan(40)
  })
  it('deeper than its reference is opened, less deep is closed; the first turn is called a guess', () => {
    const deep = throttleAdvice('each', [{ vacuumKpa: [50, 56] }])
    expect([deep.turns! > 0, deep.learnt]).toEqual([true, false])
    expect(deep.say).toMatch(/^Open the screw of throttle 2 by about /)
    expect(deep.why).toMatch(/6\.0 kPa deeper than 1\. A guess/)
    expect(throttleAdvice('each', [{ vacuumKpa: [56, 50] }]).turns).toBeLessThan(0)
  })
  it('what a turn did makes the next one surer', () => {
    // an eighth took 4 kPa: 32 a turn, where 9 are usual
    const next = throttleAdvice('each', [
      { vacuumKpa: [50, 58] },
      { vacuumKpa: [50, 54], turned: { adjuster: 'throttle-2', turns: 1 / 8 } },
    ])
    expect(next.learnt).toBe(true)
    expect(next.turns).toBeLessThanOrEqual(3 / 16)
  })
  it('within pairs before between them; inside the limit nothing is turned', () => {
    expect(throttleAdvice('pairs', [{ vacuumKpa: [50, 54, 60, 60] }]).adjuster?.id).toBe('pair-1')
    expect(throttleAdvice('pairs', [{ vacuumKpa: [54, 54, 60, 60] }]).adjuster?.id).toBe('middle')
    expect(throttleAdvice('each', [{ vacuumKpa: [54, 54 + SPREAD_LIMIT_KPA] }]).balanced).toBe(true)
    // "1.7 of 1.7" is inside, whatever stands behind the tenth; 1.8 is not
    expect(throttleAdvice('each', [{ vacuumKpa: [54, 55.74] }]).balanced).toBe(true)
    expect(throttleAdvice('each', [{ vacuumKpa: [54, 55.76] }]).balanced).toBe(false)
  })
  it('no row, rows of different length, one throttle, pairs of three: refused', () => {
    expect(() => throttleAdvice('each', [])).toThrow(RangeError)
    expect(() => throttleAdvice('each', [{ vacuumKpa: [1, 2] }, { vacuumKpa: [1, 2, 3] }])).toThrow(RangeError)
    expect(() => adjustersOf('each', 1)).toThrow(RangeError)
    expect(() => adjustersOf('pairs', 3)).toThrow(RangeError)
  })
  it('turns in the words of the bay', () => {
    expect([turnWords(0.25), turnWords(-0.5), turnWords(5 / 16), turnWords(1), turnWords(1.25)]).toEqual([
      'a quarter turn',
      'half a turn',
      '5 sixteenths of a turn',
      'one turn',
      'one turn and a quarter',
    ])
  })
})

describe('drops', () => {
  it('the cylinder whose drop is surely less does less work', () => {
    const j = judgeDrops([150, 145, 60, 155].map((rpmDrop, i) => ({ cylinder: i + 1, rpmDrop })))
    expect(j.filter((x) => x.weak).map((x) => x.cylinder)).toEqual([3])
    expect(j[2].sharePct.median).toBeCloseTo(40, 0)
    expect(j[0].sharePct.low).toBeLessThan(j[0].sharePct.median)
  })
  it('two say nothing, drops of nothing accuse nobody, what cannot be is refused', () => {
    expect(
      judgeDrops([
        { cylinder: 1, rpmDrop: 100 },
        { cylinder: 2, rpmDrop: 10 },
      ]),
    ).toEqual([])
    expect(judgeDrops([2, 3, 1, 0].map((rpmDrop, i) => ({ cylinder: i + 1, rpmDrop }))).some((x) => x.weak)).toBe(false)
    expect(() => judgeDrops([{ cylinder: 1, rpmDrop: NaN }])).toThrow(RangeError)
  })
})

describe('hand pump', () => {
  it('a choked leak fills the volume at a steady rate, and its area is found again', () => {
    // 35 mL behind 0.001 mm² at sea level: ṗ = R·T·ṁ/V with ṁ = A·p0·ψ*/√(R·T), ψ* = 0.68473
    const rate = (287.05 * 293.15 * ((1e-9 * 101_325 * 0.68473) / Math.sqrt(287.05 * 293.15))) / 35e-6 / 1000
    const samples = [0, 5, 10, 15, 20].map((t) => ({ t, kpa: 80 - rate * t }))
    const j = judgePump(samples, 0)
    expect(j.areaMm2.median).toBeCloseTo(0.001, 5)
    expect([j.verdict, j.areaMm2.low < 0.001, j.areaMm2.high > 0.001]).toEqual(['leaks', true, true])
    expect(j.kpaPerMinute).toBeCloseTo(60 * rate, 6)
    expect(j.say).toMatch(/a leak like a hole of 0\.0\d mm/)
  })
  it('holds, and falls to where something opens', () => {
    expect(
      judgePump(
        [
          { t: 0, kpa: 60 },
          { t: 60, kpa: 58.5 },
        ],
        1180,
      ).say,
    ).toBe('It loses 1.5 kPa a minute: it holds.')
    const opens = judgePump(
      [60, 46, 36, 31, 30.2, 30.1, 30].map((kpa, i) => ({ t: 10 * i, kpa })),
      1180,
    )
    expect(opens).toMatchObject({ verdict: 'opens', holdsAtKpa: 30 })
  })
  it('one figure, time that stands, more vacuum than there is: refused', () => {
    expect(
      pumpSaid(
        [
          { t: 0, kpa: 95 },
          { t: 9, kpa: 50 },
        ],
        1180,
      ),
    ).toMatch(/cannot be missing/)
    expect(() => judgePump([{ t: 0, kpa: 60 }], 0)).toThrow(RangeError)
    expect(() =>
      judgePump(
        [
          { t: 0, kpa: 60 },
          { t: 0, kpa: 50 },
        ],
        0,
      ),
    ).toThrow(RangeError)
    expect(() =>
      judgePump(
        [
          { t: 0, kpa: 95 },
          { t: 9, kpa: 50 },
        ],
        1180,
      ),
    ).toThrow(/0 to 87/)
  })
})

it('a hand pump is offered for what this engine has', () => {
  const of = (id: string, over: Partial<Vehicle> = {}): string[] =>
    pumpPartsOf({
      ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle,
      name: id,
      altitudeM: 0,
      ...over,
    }).map((p) => p.id)
  expect(of('v6-maf')).toEqual(['egr', 'booster', 'purge', 'line'])
  expect(of('turbo-di')).toEqual(['booster', 'purge', 'actuator', 'line'])
  expect(of('diesel-four')).toEqual(['actuator', 'line'])
  expect(of('diesel-four', { egrControl: 'vacuum' })).toEqual(['egr', 'actuator', 'line'])
  expect(of('carb-one')).toEqual(['booster', 'line'])
})
