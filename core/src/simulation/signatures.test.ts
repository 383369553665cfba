import { describe, expect, it } from '@jest/globals'
import { hold, shop, engineWith, type Held } from './engines.fixture.js'
import { addFault, AT_IDLE, HEALTHY, SIMULATED_FAULTS, stretch, take } from './index.js'
import { vehicleOf } from './engines.fixture.js'

const cache = new Map<string, ReturnType<typeof shop>>()
/** One engine, sound or not: always the same one of its kind. */
const at = (kind: string, ...faults: string[]): { idle: Held; fast: Held } => {
  const key = [kind, ...faults].join('|')
  if (!cache.has(key)) cache.set(key, shop(kind, faults))
  return cache.get(key)!
}
/** What a fault moves against the sound engine. */
const moved = (kind: string, fault: string, what: keyof Held, when: 'idle' | 'fast' = 'idle'): number =>
  at(kind, fault)[when][what] - at(kind)[when][what]
const share = (kind: string, fault: string, what: keyof Held, when: 'idle' | 'fast' = 'idle'): number =>
  at(kind, fault)[when][what] / at(kind)[when][what]

describe('air let in', () => {
  it('behind the plate fades as 1/flow: L/ṁ of the sound engine at idle and at 2500', () => {
    const leak = 'unmetered-air:areaMm2=1.6'
    const L = at('four-maf', leak).idle.freshGs - at('four-maf', leak).idle.meteredGs
    for (const when of ['idle', 'fast'] as const) {
      const expected = 100 * (L / at('four-maf', leak)[when].meteredGs)
      expect(Math.abs(moved('four-maf', leak, 'trim1', when) / expected - 1)).toBeLessThan(0.1)
    }
    expect(moved('four-maf', leak, 'trim1', 'fast')).toBeLessThan(0.4 * moved('four-maf', leak, 'trim1'))
  })
  it('leaves the manifold pressure of a controlled idle where it was', () =>
    expect(Math.abs(moved('four-maf', 'unmetered-air:areaMm2=1.6', 'mapKpa'))).toBeLessThan(0.5))
  it('on a speed-density engine closes the idle control first, then lifts the speed', () => {
    const small = 'unmetered-air:areaMm2=1.5'
    expect(Math.abs(moved('four-map', small, 'trim1'))).toBeLessThan(1.5)
    expect(Math.abs(moved('four-map', small, 'rpm'))).toBeLessThan(5)
    expect(moved('four-map', small, 'openingPct')).toBeLessThan(-0.4)
    expect(moved('four-map', 'unmetered-air:areaMm2=9', 'rpm')).toBeGreaterThan(150)
  })
  it('in the duct does not fade', () => {
    const [idle, fast] = [
      moved('four-maf', 'unmetered-air-duct:areaMm2=150', 'trim1'),
      moved('four-maf', 'unmetered-air-duct:areaMm2=150', 'trim1', 'fast'),
    ]
    expect(idle).toBeGreaterThan(8)
    expect(fast / idle).toBeGreaterThan(0.9)
    expect(fast / idle).toBeLessThan(1.1)
  })
  it('ahead of the sensor moves no number', () =>
    expect(Math.abs(moved('v6-maf', 'leak-upstream', 'trim1'))).toBeLessThan(0.5))
  it('at one bank of isolated plenums leans that bank; a common plenum shares it out', () => {
    const split = (plenum: 'common' | 'per-bank'): number => {
      const { idle } = shop('v6-maf', ['unmetered-air-bank:areaMm2=1.2,bank=2'], 5, { plenum })
      return idle.trim2 - idle.trim1
    }
    expect(split('per-bank')).toBeGreaterThan(9)
    expect(split('common')).toBeLessThan(0.7 * split('per-bank'))
  })
  it('after the compressor goes rich under boost on a MAF engine, and changes no mixture on a MAP engine', () => {
    const climb = (kind: string, ...faults: string[]): Held => {
      const e = engineWith(kind, faults)
      take(e, stretch(20, 'road', { gear: 3, targetKph: 60 }))
      e.advance(20)
      return hold(e, 'road', { gear: 3, targetKph: 70, gradePct: 9 }, 60)
    }
    const [sound, leaky] = [climb('turbo-di'), climb('turbo-di', 'boost-leak:areaMm2=10')]
    expect(sound.chargeKpa).toBeGreaterThan(106)
    expect(leaky.trim1 - sound.trim1).toBeLessThan(-4)
    expect(leaky.meteredGs).toBeGreaterThan(leaky.freshGs * 1.04)
    expect(Math.abs(climb('turbo-map', 'boost-leak:areaMm2=10').trim1 - climb('turbo-map').trim1)).toBeLessThan(1.5)
  })
  it('behind the plate of a turbo is lean at idle and blows out under boost', () => {
    const e = engineWith('turbo-di', ['unmetered-air:areaMm2=1.5'])
    expect(moved('turbo-di', 'unmetered-air:areaMm2=1.5', 'trim1')).toBeGreaterThan(8)
    const before = e.total.leak
    take(e, stretch(8, 'wide', { gear: 3 }))
    e.advance(8)
    expect(e.air.manifoldPa).toBeGreaterThan(1.1 * e.surroundings.ambientPa)
    expect(e.total.leak - before).toBeLessThan(0)
  })
  it('through a vent that stands open is metered: the opening falls, the trim hardly moves', () => {
    expect(moved('four-maf', 'pcv-stuck-open:areaMm2=2', 'openingPct')).toBeLessThan(-0.2)
    expect(Math.abs(moved('four-maf', 'pcv-stuck-open:areaMm2=2', 'trim1'))).toBeLessThan(1)
    expect(moved('four-maf', 'pcv-blocked', 'openingPct')).toBeGreaterThan(0.05)
  })
  it('through purge is lean with an empty canister and rich with a full one', () => {
    expect(moved('four-maf', 'purge-stuck-open:areaMm2=1.2,errorPct=0', 'trim1')).toBeGreaterThan(6)
    expect(moved('four-maf', 'purge-stuck-open:areaMm2=1.2,errorPct=80', 'trim1')).toBeLessThan(-6)
  })
})

describe('sensors', () => {
  it.each([
    ['maf-under-reads:errorPct=-8,errorPctHigh=-8', 100 * (1 / 0.92 - 1)],
    ['maf-over-reads:errorPct=8,errorPctHigh=8', 100 * (1 / 1.08 - 1)],
  ])('%s: 1/(1+ε) at every flow', (fault, expected) => {
    expect(Math.abs(moved('four-maf', fault, 'trim1') - expected)).toBeLessThan(1)
    expect(Math.abs(moved('four-maf', fault, 'trim1', 'fast') - expected)).toBeLessThan(1)
  })
  it('film grows with flow', () => {
    const fault = 'maf-under-reads:errorPct=-3,errorPctHigh=-25'
    expect(moved('four-maf', fault, 'trim1', 'fast')).toBeGreaterThan(moved('four-maf', fault, 'trim1') + 6)
  })
  it('MAP 3 kPa low on a speed-density engine: lean by 10 to 18 % near 30 kPa, little at high load', () => {
    const low = moved('four-map', 'map-sensor-offset:offsetKpa=-3', 'trim1')
    expect(low).toBeGreaterThan(10)
    expect(low).toBeLessThan(18)
    expect(Math.abs(moved('turbo-di', 'map-sensor-offset:offsetKpa=-3', 'trim1'))).toBeLessThan(0.5)
  })
  it('a slow MAP sensor lets the mixture go lean when the plate opens', () => {
    const leanest = (faults: string[]): number => {
      const e = engineWith('four-map', faults)
      let most = 0
      e.controls = { ...AT_IDLE, mode: 'speed', targetRpm: 2500 }
      e.advance(1.5, () => (most = Math.max(most, e.mixture.lambda[0])))
      return most
    }
    expect(leanest(['map-sensor-slow'])).toBeGreaterThan(leanest([]) + 0.05)
  })
  it('an open intake temperature circuit makes a speed-density engine rich, a MAF engine not', () => {
    expect(moved('four-map', 'temperature-sensor-implausible', 'trim1')).toBeLessThan(-15)
    expect(Math.abs(moved('four-maf', 'temperature-sensor-implausible', 'trim1'))).toBeLessThan(0.5)
  })
  it('an open coolant circuit keeps the loop open', () =>
    expect(engineWith('four-maf', ['temperature-sensor-implausible:site=coolant']).closedLoop).toBe(false))
  it('a charge sensor that reads high holds the boost down', () => {
    const pull = (...f: string[]): number => {
      const e = engineWith('turbo-di', f)
      take(e, stretch(7, 'wide', { gear: 3 }))
      e.advance(7)
      return e.chargePa / 1000
    }
    expect(pull('charge-sensor-bias:offsetKpa=15')).toBeLessThan(pull() - 8)
  })
  it('an oxygen sensor that reads lean by δ is trimmed by it; crossed ones run to opposite limits', () => {
    expect(moved('v6-maf', 'oxygen-sensor-biased:errorPct=6,bank=1', 'trim1')).toBeCloseTo(100 * (1 / 1.06 - 1), 0)
    expect(Math.abs(moved('v6-maf', 'oxygen-sensor-biased:errorPct=6,bank=1', 'trim2'))).toBeLessThan(0.6)
    const crossed = at('v6-maf', 'oxygen-sensors-crossed').idle
    expect(Math.abs(crossed.trim1 - crossed.trim2)).toBeGreaterThan(60)
  })
})

describe('deposits, valves, restrictions', () => {
  it('deposits open plate and valve and leave the trims', () => {
    expect(moved('four-maf', 'throttle-deposits:severity=0.8', 'openingPct')).toBeGreaterThan(0.4)
    expect(Math.abs(moved('four-maf', 'throttle-deposits:severity=0.8', 'trim1'))).toBeLessThan(0.5)
    expect(moved('four-valve', 'throttle-deposits:severity=0.8', 'openingPct')).toBeGreaterThan(8)
  })
  it('an idle valve stuck open idles high, stuck shut low', () => {
    expect(moved('four-valve', 'idle-valve-stuck:severity=0.6', 'rpm')).toBeGreaterThan(150)
    expect(moved('four-valve', 'idle-valve-stuck:severity=0.12', 'rpm')).toBeLessThan(-60)
  })
  it('a loaded filter is not felt at idle and is at full load', () => {
    expect(Math.abs(moved('four-maf', 'intake-restriction:severity=0.9', 'openingPct'))).toBeLessThan(0.1)
    const pull = (...f: string[]): number => {
      const e = engineWith('four-maf', f)
      take(e, stretch(6, 'wide', { gear: 3 }))
      e.advance(6)
      return e.freshKgS
    }
    expect(pull('intake-restriction:severity=0.9')).toBeLessThan(0.93 * pull())
  })
  it('valve deposits and a stuck flap cost air at high flow only', () => {
    const pull = (...f: string[]): number => {
      const e = engineWith('four-maf', f)
      e.air.omega = 480
      take(e, stretch(0.6, 'wide', { gear: 2 }))
      e.advance(0.6)
      return e.freshKgS / e.rpm
    }
    expect(pull('valve-deposits:severity=1')).toBeLessThan(0.95 * pull())
    expect(share('four-maf', 'valve-deposits:severity=1', 'freshGs')).toBeCloseTo(1, 1)
    const flaps = shop('four-maf', [], 5, { flaps: true }).e
    expect(addFault(HEALTHY, 'flap-stuck', flaps.vehicle).ok).toBe(true)
  })
  it('exhaust gas at idle raises the pressure without metered air', () => {
    expect(moved('v6-maf', 'egr-open-at-idle:areaMm2=4', 'mapKpa')).toBeGreaterThan(2)
    expect(share('v6-maf', 'egr-open-at-idle:areaMm2=4', 'meteredGs')).toBeLessThan(1.02)
  })
  it('no exhaust gas flow on a diesel: more air than commanded', () =>
    expect(share('diesel', 'egr-no-flow:severity=1', 'meteredGs')).toBeGreaterThan(1.1))
  it('a narrowed diesel manifold holds pressure up before it and down behind', () => {
    const { e, fast } = shop('diesel', ['narrowed-manifold:severity=0.9'])
    expect(fast.chargeKpa - fast.mapKpa).toBeGreaterThan(6)
    expect([...e.monitors.confirmed]).toContain('P0101')
  })
  it('one bank with a blocked exhaust or a late cam: banks mirror each other, sum near zero', () => {
    for (const fault of ['exhaust-restriction:bank=1,severity=0.8', 'valve-timing-late:bank=1,severity=0.8']) {
      const [a, b] = [moved('v6-maf', fault, 'trim1'), moved('v6-maf', fault, 'trim2')]
      expect(a).toBeLessThan(-2)
      expect(b).toBeGreaterThan(2)
      expect(Math.abs(a + b)).toBeLessThan(2.5)
    }
  })
  it('late timing costs vacuum', () =>
    expect(moved('four-maf', 'valve-timing-late:severity=0.8', 'mapKpa')).toBeGreaterThan(2))
  it('a narrowed runner starves its bank', () =>
    expect(moved('v6-maf', 'runner-restriction:cylinder=2,severity=0.8', 'trim1')).toBeLessThan(-1))
})

describe('what is not in the intake', () => {
  it('fuel errors are trimmed alike at every flow', () => {
    for (const fault of [
      'fuel-delivery-low:errorPct=-12',
      'fuel-delivery-high:errorPct=12',
      'fuel-composition:severity=0.3',
    ]) {
      const [idle, fast] = [moved('four-maf', fault, 'trim1'), moved('four-maf', fault, 'trim1', 'fast')]
      expect(Math.abs(idle)).toBeGreaterThan(7)
      expect(Math.abs(idle - fast)).toBeLessThan(1)
    }
  })
  it('10 % ethanol asks for 4.2 % more fuel', () =>
    expect(moved('four-maf', `fuel-composition:severity=${0.1 / 0.85}`, 'trim1')).toBeCloseTo(4.2, 0))
  it('fuel missing at each injection goes with fuel per stroke, not with flow', () => {
    const [idle, fast] = [
      moved('four-maf', 'injector-dead-time', 'trim1'),
      moved('four-maf', 'injector-dead-time', 'trim1', 'fast'),
    ]
    expect(idle).toBeGreaterThan(8)
    expect(fast / idle).toBeGreaterThan(0.7)
  })
  it('one injector moves its own bank', () => {
    expect(moved('v6-maf', 'injector:errorPct=-30,cylinder=5', 'trim2')).toBeGreaterThan(7)
    expect(Math.abs(moved('v6-maf', 'injector:errorPct=-30,cylinder=5', 'trim1'))).toBeLessThan(1)
  })
  it('an exhaust leak looks lean at idle and fades', () => {
    expect(moved('four-maf', 'exhaust-leak', 'trim1')).toBeGreaterThan(10)
    expect(moved('four-maf', 'exhaust-leak', 'trim1', 'fast')).toBeLessThan(
      0.5 * moved('four-maf', 'exhaust-leak', 'trim1'),
    )
  })
  it('a misfire reads lean on its bank without any leak, and runs rough', () => {
    const fault = 'ignition-misfire:cylinder=1,severity=0.4'
    expect(moved('v6-maf', fault, 'trim1')).toBeGreaterThan(8)
    expect(Math.abs(moved('v6-maf', fault, 'trim2'))).toBeLessThan(1)
    expect(at('v6-maf', fault).idle.wanderRpm).toBeGreaterThan(at('v6-maf').idle.wanderRpm)
  })
  it('a weak cylinder needs more air for the same idle', () =>
    expect(share('four-maf', 'weak-cylinder:severity=0.8', 'freshGs')).toBeGreaterThan(1.08))
})

it('faults stand together: a leak and a dirty sensor add up', () => {
  const both = shop('four-maf', ['unmetered-air:areaMm2=1', 'maf-under-reads:errorPct=-6,errorPctHigh=-6'])
  const sound = at('four-maf')
  const alone =
    moved('four-maf', 'unmetered-air:areaMm2=1', 'trim1') +
    moved('four-maf', 'maf-under-reads:errorPct=-6,errorPctHigh=-6', 'trim1')
  expect(Math.abs(both.idle.trim1 - sound.idle.trim1 - alone)).toBeLessThan(2)
})

// the engines that a shop in the mountains sees in a month, each with what it came for
it.each([
  ['estate with a duct off its clip', 'v6-maf', ['unmetered-air:site=duct,areaMm2=80']],
  ['library van with a filmed sensor', 'four-maf', ['maf-under-reads:errorPct=-4,errorPctHigh=-14']],
  ['the same after a cleaning', 'four-maf', ['throttle-deposits:severity=0.7']],
  ['bakery van that stalls', 'four-valve', ['throttle-deposits:severity=0.8']],
  ['pick-up with two throttles', 'v8-two-throttles', ['valve-deposits:severity=0.6']],
  ['diesel with soot', 'diesel', ['narrowed-manifold:severity=0.5', 'egr-no-flow']],
  [
    'straight six with two leaks and a misfire',
    'six-line',
    ['unmetered-air:areaMm2=3', 'unmetered-air:site=duct,areaMm2=60', 'ignition-misfire:cylinder=5,severity=0.05'],
  ],
  ['small car with an open vent and an oily sensor', 'four-map', ['pcv-stuck-open', 'map-sensor-offset:offsetKpa=-3']],
  ['V6 with exhaust gas', 'v6-maf', ['egr-open-at-idle:areaMm2=3']],
  ['hill-climb car', 'four-bodies', ['throttles-unequal:cylinder=2', 'weak-cylinder:cylinder=4,severity=0.2']],
  ['post van', 'turbo-di', ['boost-leak', 'valve-deposits:severity=0.7']],
] as const)('%s runs, idles and drives', (_, kind, faults) => {
  const e = engineWith(kind, faults)
  const rpm: number[] = []
  e.advance(20, () => rpm.push(e.rpm))
  expect(e.running).toBe(true)
  expect(Math.min(...rpm)).toBeGreaterThan(300)
  e.controls = { ...e.controls, mode: 'speed', targetRpm: 2500 }
  e.advance(15)
  expect(Math.abs(e.rpm - 2500)).toBeLessThan(120)
})

describe('fault text', () => {
  it('every fault is one that some engine can have', () => {
    const v = { ...vehicleOf('turbo-di'), flaps: true, egr: 'valve' as const }
    const others = [vehicleOf('four-bodies'), vehicleOf('diesel'), vehicleOf('v6-maf'), vehicleOf('four-valve')]
    for (const id of SIMULATED_FAULTS)
      expect([id, [v, ...others].some((x) => addFault(HEALTHY, id, x).ok)]).toEqual([id, true])
  })
  it.each([
    ['maf-under-reads', 'four-map', /has no airflow sensor/],
    ['boost-leak', 'four-maf', /has no compressor/],
    ['unmetered-air:site=attic', 'four-maf', /site = "attic", accepted: inlet, filter/],
    ['injector:cylinder=9', 'four-maf', /cylinder = 9, accepted: 1 to 4/],
    ['valve-deposits:severity=3', 'four-maf', /severity = 3, accepted: 0 to 1/],
  ])('%s on %s is refused', (text, kind, message) => {
    const r = addFault(HEALTHY, text, vehicleOf(kind))
    expect(r.ok ? '' : r.message).toMatch(message)
  })
  it('a place acts by its zone', () => {
    const v = vehicleOf('turbo-di')
    const of = (site: string): object => {
      const r = addFault(HEALTHY, `unmetered-air:areaMm2=4,site=${site}`, v)
      return r.ok ? r.faults : {}
    }
    expect(of('booster')).toMatchObject({ leakMm2: 4 })
    expect(of('boost-pipe')).toMatchObject({ boostLeakMm2: 4 })
    expect(of('duct')).toMatchObject({ ductLeakMm2: 4 })
    expect(of('filter')).toMatchObject({ upstreamLeakMm2: 4 })
  })
})
