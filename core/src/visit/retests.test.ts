import { describe, expect, it } from '@jest/globals'
import {
  causesOf,
  diagnoseVisit,
  dirtLeft,
  evidenceOf,
  nowAct,
  openFinds,
  retestsOf,
  retestsOwed,
  sheetOf,
  stationStates,
  workOn,
} from './index.js'
import type { FindingRecord, VisitFile } from './index.js'
import { ENGINE_PATTERNS, lookItemsOf } from '../engine/index.js'
import type { ChannelId } from '../signals/index.js'
import { fed, holdOf, idleOf, meta, reading, repairAt, tried, visitOf } from './remedies.fixture.js'

const AIRY = [...idleOf(0, { trim: 16 }), ...holdOf(0, 5, 8.2)]
const TIGHT = [...idleOf(1, { trim: 1 }), ...holdOf(1, 1, 8.2)]
const SMOKE = tried('smoke', 'booster', 'fail', 0)
const MENDED = repairAt('booster', 0)
const sheet = (f: VisitFile, round: number): ReturnType<typeof sheetOf> =>
  sheetOf(f, diagnoseVisit(f, 0), 60, diagnoseVisit(f, round))

describe('a test made again after the work', () => {
  it('stands beside what it found before, and counts as the next act until then', () => {
    const f = visitOf({ readings: AIRY, findings: [SMOKE], repairs: [MENDED] })
    expect(workOn(f, SMOKE)).toBe(1)
    expect(workOn(f, { test: 'smoke', station: 'duct' })).toBe(0)
    expect(retestsOwed(f)).toEqual([SMOKE])
    expect(nowAct(f).then.join()).toMatch(/Smoke at low pressure again, 10 min/)
    const again = { ...f, findings: [SMOKE, tried('smoke', 'booster', 'pass', 1)] }
    expect(retestsOf(again).map((r) => [r.before.outcome, r.after.outcome])).toEqual([['fail', 'pass']])
    expect(retestsOwed(again)).toEqual([])
    expect(retestsOf({ ...again, repairs: [] })).toEqual([])
    expect(stationStates(again).get('booster')).toBe('mended')
    expect(sheet(again, 0).plain).toMatch(/Tested again, what was found there is gone\./)
    expect(sheet(again, 0).technical!.tests.join(' ')).toMatch(/, after the work: nothing found/)
  })
  it('tells of the car as it is, and nothing of how it came', () => {
    const again = tried('smoke', 'booster', 'pass', 1)
    const f = visitOf({ readings: [...AIRY, ...TIGHT], findings: [SMOKE, again], repairs: [MENDED] })
    expect(evidenceOf(f, 0).findings).toEqual([{ test: 'smoke', station: 'booster', outcome: 'fail' }])
    expect(evidenceOf(f, 1).findings).toEqual([{ test: 'smoke', station: 'booster', outcome: 'pass', here: true }])
    // made for the first time after the work it says nothing of how the car came either
    const only = { ...f, findings: [again] }
    expect(evidenceOf(only, 0).findings).toEqual([])
  })
  it('that finds something once more is open, whatever was done, until more is done', () => {
    const still = tried('smoke', 'booster', 'fail', 1)
    const f = visitOf({ readings: [...AIRY, ...TIGHT], findings: [SMOKE, still], repairs: [MENDED] })
    expect(stationStates(f).get('booster')).toBe('failed')
    expect(nowAct(f)).toMatchObject({ id: 'mend', title: 'Mend the booster hose', where: 'places' })
    // a new part is seldom bad: another one is not the next thing
    const fresh = { ...f, repairs: [{ ...MENDED, kind: 'replace' as const }] }
    expect(nowAct(fresh)).toMatchObject({
      id: 'mend',
      title: 'Look again at the booster hose',
      why: 'Smoke at low pressure, tried again after the work, still finds something, and it is new: how it is fitted and fed, and the test itself, come before another one.',
    })
    const s = sheet(f, 1)
    expect(s.left.join(' ')).toMatch(/tried again after the work, still finds something/)
    expect(s.plain).toMatch(/Tested again, what was found is still there/)
    expect(evidenceOf(f, 1).findings).toHaveLength(1)
    const more = { ...f, repairs: [MENDED, { ...repairAt('booster', 1, { kind: 'replace' }), id: 'second' }] }
    expect(stationStates(more).get('booster')).toBe('mended')
    expect(retestsOwed(more)).toEqual([still])
    expect(sheet(more, 1).left.join(' ')).not.toMatch(/still finds/)
  })
  it('that finds something once more is left by a word given since, and by no older one', () => {
    const low = tried('fuel-pressure', 'beyond', 'fail', 0)
    const weak = tried('compression', 'beyond', 'fail', 0)
    const still = tried('fuel-pressure', 'beyond', 'fail', 1)
    const pump = repairAt('beyond', 0, { kind: 'replace', note: 'the fuel pump renewed', finding: low.id })
    const word = (of: FindingRecord, minutes: number): ReturnType<typeof repairAt> => ({
      ...repairAt('beyond', 0, { kind: 'leave', note: 'left', finding: of.id }, minutes),
      id: `word ${of.id}`,
    })
    const f = visitOf({ readings: [...AIRY, ...TIGHT], findings: [low, weak, still], repairs: [pump, word(weak, 50)] })
    const toMend = (x: VisitFile): string[] => openFinds(x, true).map(({ find }) => find.id)
    expect(toMend(f)).toEqual([still.id])
    const left = { ...f, repairs: [...f.repairs, word(still, 60)] }
    expect(toMend(left)).toEqual([])
    expect(nowAct(left).id).not.toBe('mend')
    expect(sheet(left, 1).left.join(' ')).toMatch(/tried again after the work, still finds something; left as it is/)
    const early = repairAt('booster', 0, { kind: 'leave' }, 5)
    const again = tried('smoke', 'booster', 'fail', 1)
    const hose = visitOf({ readings: [...AIRY, ...TIGHT], findings: [SMOKE, again], repairs: [early, MENDED] })
    expect(toMend(hose)).toEqual([again.id])
    expect(sheet(hose, 1).left.join(' ')).not.toMatch(/as agreed/)
  })
  it('a look is made anew as well, and what was seen first stays', () => {
    const [first, again] = [
      tried('look', 'duct', 'fail', 0, { item: 'duct.1', note: 'off its clip' }),
      tried('look', 'duct', 'fail', 1, { item: 'duct.1' }),
    ]
    const f = visitOf({ readings: [...AIRY, ...TIGHT], findings: [first], repairs: [repairAt('duct', 0)] })
    expect(workOn(f, first)).toBe(1)
    expect(nowAct(f).id).not.toBe('mend')
    const seen = { ...f, findings: [first, again] }
    expect(nowAct(seen)).toMatchObject({ id: 'mend', why: 'Looked at again after the work, still not in order.' })
    expect(sheet(seen, 1).left.join(' ')).toMatch(/Duct: looked at again after the work, still not in order\./)
    expect(evidenceOf(seen, 0).findings).toHaveLength(1)
    // what a look sees is mended in sight: nobody is sent to look once more
    expect(retestsOwed(f)).toEqual([])
  })
  it('is open before its proof is asked for', () => {
    const f = visitOf({ readings: AIRY, findings: [SMOKE, tried('smoke', 'booster', 'fail', 1)], repairs: [MENDED] })
    expect(nowAct(f).id).toBe('mend')
  })
  it('of what lies beyond the air path asks what was done about that one', () => {
    const low = tried('fuel-pressure', 'beyond', 'fail', 0)
    const weak = tried('compression', 'beyond', 'fail', 0)
    const pump = repairAt('beyond', 0, { kind: 'replace', note: 'the fuel pump renewed', finding: low.id })
    const f = visitOf({ readings: AIRY, findings: [low, weak], repairs: [pump] })
    expect([workOn(f, low), workOn(f, weak)]).toEqual([1, 0])
    const still = { ...f, findings: [low, weak, tried('fuel-pressure', 'beyond', 'fail', 1)] }
    expect(sheet(still, 0).left.filter((x) => /^Beyond/.test(x))).toEqual([
      expect.stringMatching(/compression.*not mended/),
      expect.stringMatching(/fuel pressure.*tried again after the work, still finds/),
    ])
  })
  it('of dirt counts what washes it off, and not every repair', () => {
    const dirty = tried('valve-borescope', 'runners-1', 'fail', 0)
    const f = visitOf({ readings: AIRY, findings: [dirty], repairs: [MENDED] })
    expect(workOn(f, dirty)).toBe(0)
    const after = { ...f, runs: [fed()] }
    expect(workOn(after, dirty)).toBe(1)
    expect(dirtLeft(after)).toEqual([])
    const still = tried('valve-borescope', 'runners-1', 'fail', 1)
    expect(dirtLeft({ ...after, findings: [dirty, still] })).toEqual([still])
  })
})

describe('what confirms a cause', () => {
  const diesel = { ...ENGINE_PATTERNS.find((p) => p.id === 'diesel-four')!.vehicle }
  const crust = tried('egr-passage-look', 'egr', 'fail', 0)
  const CODE: VisitFile['codes'][number] = {
    ...meta('v:code', 1),
    visitId: 'v',
    code: 'P0401',
    state: 'stored',
    when: 'before',
    cleared: false,
  }
  const idle = (round: number, air: number): VisitFile['readings'] => [
    reading(round, 'idle', 'rpm', 820),
    reading(round, 'idle', 'maf_gs', air),
    reading(round, 'idle', 'map_kpa', 90),
    reading(round, 'idle', 'battery_v', 14.2),
  ]
  const f = visitOf(
    {
      codes: [CODE],
      readings: [...idle(0, 6.1), ...idle(1, 9.3)],
      findings: [crust],
      repairs: [repairAt('egr', 0, { kind: 'clean' })],
    },
    diesel,
  )
  it('is never a change of readings that the cause cannot make', () => {
    const [came, stands] = [diagnoseVisit(f, 0), diagnoseVisit(f, 1)]
    expect(came.ranking[0]).toMatchObject({ fault: 'egr-no-flow' })
    expect(came.unmarked).toContain('egr-no-flow')
    expect(causesOf(f, came, stands).confirmed).toEqual([])
    const s = sheet(f, 1)
    expect(s.found.join(' ')).toMatch(
      /Before the work: EGR does not flow, \d+ % by codes, signs and tests\. The readings have changed since; “EGR valve off, passage looked at”, made again, would tell/,
    )
    expect(s.plain).not.toMatch(/sound engine/)
  })
  it('is its own test, made again', () => {
    const again = { ...f, findings: [crust, tried('egr-passage-look', 'egr', 'pass', 1)] }
    const causes = causesOf(again, diagnoseVisit(again, 0), diagnoseVisit(again, 1))
    expect(causes).toMatchObject({ confirmed: ['egr-no-flow'], told: { 'egr-no-flow': 'test' } })
    expect(sheet(again, 1).found[0]).toBe(
      'EGR does not flow. Confirmed: what answers it was done, and the test that found it finds nothing any more.',
    )
    expect(sheet(again, 1).plain).not.toMatch(/sound engine/)
  })
  it('is either of two that the same test finds, where nothing tells them apart', () => {
    const again = { ...f, codes: [], findings: [crust, tried('egr-passage-look', 'egr', 'pass', 1)] }
    expect(sheet(again, 1).found[0]).toMatch(
      /^EGR .*, or EGR .* the test that found it finds nothing any more: which it was/i,
    )
  })
  it('is no test where readings could show it and did not change: that hole was not what they showed', () => {
    const holes = visitOf({
      readings: [...AIRY, ...idleOf(1, { trim: 15 }), ...holdOf(1, 5, 8.2)],
      findings: [SMOKE, tried('smoke', 'booster', 'pass', 1)],
      repairs: [MENDED],
    })
    expect(causesOf(holes, diagnoseVisit(holes, 0), diagnoseVisit(holes, 1)).confirmed).toEqual([])
    expect(sheet(holes, 1).plain).toMatch(
      /^Done: .*Tested again, what was found there is gone\. The readings do not show/,
    )
    // air or the exhaust: a test parts them, and no amount is told as if it were air
    expect(nowAct(holes, diagnoseVisit(holes, 1))).toMatchObject({
      id: 'test',
      why: expect.not.stringMatching(/unmeasured/),
    })
  })
  it('is no readings that never spoke for it, whatever else of them has changed: its test made again is', () => {
    // an engine in its bands, an exhaust gas valve that its test alone found, and a load that was on before
    const right = (round: number, pct: number): VisitFile['readings'] => [
      ...idleOf(round).filter((r) => r.channel !== 'throttle_pct'),
      reading(round, 'idle', 'throttle_pct', pct),
    ]
    const leaks = tried('egr-hand-pump', 'egr', 'fail', 0)
    const mended = (...more: FindingRecord[]): VisitFile =>
      visitOf(
        {
          readings: [...right(0, 6.9), ...right(1, 4.9)],
          findings: [leaks, ...more],
          repairs: [repairAt('egr', 0, { kind: 'clean' })],
        },
        { egr: 'valve' },
      )
    const told = (g: VisitFile) => causesOf(g, diagnoseVisit(g, 0), diagnoseVisit(g, 1))
    expect(diagnoseVisit(mended(), 0).ranking[0].fault).toBe('egr-open-at-idle')
    expect(told(mended()).confirmed).toEqual([])
    expect(sheet(mended(), 1).plain).not.toMatch(/Exhaust gas was leaking/)
    expect(told(mended(tried('egr-hand-pump', 'egr', 'pass', 1)))).toMatchObject({
      confirmed: ['egr-open-at-idle'],
      told: { 'egr-open-at-idle': 'test' },
    })
  })
  it('what was found and is left, as agreed, is not looked for once more', () => {
    const seen = { ...SMOKE, note: 'cracked at the valve' }
    const walked = lookItemsOf(visitOf().vehicle.spec).map((x) => ({
      ...meta(`v:look:${x.id}`, 2),
      visitId: 'v',
      test: 'look',
      station: x.station,
      item: x.id,
      outcome: 'pass' as const,
    }))
    const f = visitOf({
      readings: AIRY,
      findings: [...walked, seen],
      repairs: [repairAt('booster', 0, { kind: 'leave' })],
    })
    const now = nowAct(f, diagnoseVisit(f, 0))
    expect(now).toMatchObject({ id: 'sheet', why: 'Left as it is, as agreed: booster hose.' })
  })
  it('what changed nothing is tried again by what found it, and not called done inside its bands', () => {
    const right = (round: number): VisitFile['readings'] => [...idleOf(round, { trim: 1 }), ...holdOf(round, 1, 8.2)]
    const f = visitOf({ readings: [...right(0), ...right(1)], findings: [SMOKE], repairs: [MENDED] })
    expect(nowAct(f, diagnoseVisit(f, 1))).toMatchObject({
      id: 'test',
      stage: 'prove',
      title: 'Smoke at low pressure again',
      why: 'What was done changed nothing that was measured. What found it tells whether it is gone. 10 minutes.',
    })
    const tight = { ...f, findings: [SMOKE, tried('smoke', 'booster', 'pass', 1)] }
    expect(nowAct(tight, diagnoseVisit(tight, 1)).why).not.toMatch(/Done, measured again/)
  })
  it('is the idle valve, and not its passage, where its own test found it', () => {
    const four = { ...ENGINE_PATTERNS.find((p) => p.id === 'four-valve')!.vehicle }
    const idle = (round: number, pct: number): VisitFile['readings'] =>
      Object.entries({ rpm: 825, map_kpa: 32, stft1_pct: 0, ltft1_pct: 1, idle_valve_pct: pct, battery_v: 14.1 }).map(
        ([channel, value]) => reading(round, 'idle', channel as ChannelId, value),
      )
    const f2 = visitOf(
      {
        readings: [...idle(0, 26), ...idle(1, 18)],
        findings: [tried('idle-valve-sweep', 'idle-valve', 'fail', 0)],
        repairs: [repairAt('idle-valve', 0, { kind: 'clean' })],
      },
      four,
    )
    const [found] = sheet(f2, 1).found
    expect(found).toMatch(/^Idle valve sticks\. Confirmed: .* needs less opening for the same air\.$/)
    // renewed, and found to follow: one work, one cause
    const renewed = visitOf(
      {
        readings: [...idle(0, 46), ...idle(1, 40)],
        findings: [
          tried('idle-valve-sweep', 'idle-valve', 'fail', 0),
          tried('idle-valve-sweep', 'idle-valve', 'pass', 1),
        ],
        repairs: [repairAt('idle-valve', 0, { kind: 'replace' })],
      },
      four,
    )
    expect(causesOf(renewed, diagnoseVisit(renewed, 0), diagnoseVisit(renewed, 1)).confirmed).toEqual([
      'idle-valve-stuck',
    ])
  })
  it('is less opening for the same air, of a throttle that was cleaned', () => {
    const plate = (round: number, pct: number, air: number): VisitFile['readings'] => [
      ...idleOf(round, { maf: air }).filter((r) => r.channel !== 'throttle_pct'),
      reading(round, 'idle', 'throttle_pct', pct),
    ]
    const cleaned = (after: number, air: number): ReturnType<typeof sheetOf> =>
      sheet(
        visitOf({
          readings: [...plate(0, 6.4, 2.4), ...plate(1, after, air)],
          repairs: [repairAt('throttle', 0, { kind: 'clean' })],
        }),
        1,
      )
    expect(cleaned(3.5, 2.41).found[0]).toMatch(
      /^Deposits in the throttle.* Confirmed: what answers it was done, and it needs less opening for the same air\./,
    )
    expect(cleaned(3.5, 2.41).plain).toMatch(
      /^Deposits were closing the opening through which your engine idles\. Done/,
    )
    // less air needs less opening: only what it does not explain is told as deposits
    expect(cleaned(5.6, 2.0).found.join(' ')).not.toMatch(/Confirmed/)
    expect(cleaned(3.5, 2.0).found[0]).toMatch(/^Deposits in the throttle.* held against what is read now, shows it\./)
    expect(cleaned(6.3, 2.4).found.join(' ')).not.toMatch(/Confirmed/)
  })
  it('is no air that was stopped: its throttle would have opened further', () => {
    const three = { ...ENGINE_PATTERNS.find((p) => p.id === 'three-map')!.vehicle }
    const idle = (round: number, pct: number, kpa: number): VisitFile['readings'] =>
      Object.entries({ rpm: 825, map_kpa: kpa, stft1_pct: 0, ltft1_pct: 3, throttle_pct: pct, battery_v: 14.1 }).map(
        ([channel, value]) => reading(round, 'idle', channel as ChannelId, value),
      )
    const f = visitOf(
      {
        readings: [...idle(0, 16, 31.7), ...idle(1, 2.3, 32.2)],
        repairs: [repairAt('throttle', 0, { kind: 'clean' })],
      },
      three,
    )
    expect(sheet({ ...f, repairs: [], readings: idle(0, 16, 31.7) }, 0).plain).not.toMatch(/nothing wrong/)
    expect(sheet(f, 1).found[0]).not.toMatch(/, or /)
  })
  it('nor where that shows only over all points together: air that is shut out opens the throttle', () => {
    const slots = ['idle', 'idle-load', 'hold-1500', 'hold-2500'] as const
    const read = (round: number, less: number): VisitFile['readings'] =>
      slots.flatMap((slot, i) =>
        Object.entries({
          rpm: [775, 775, 1500, 2500][i],
          map_kpa: [31.5, 43, 27, 26.5][i],
          stft1_pct: 0,
          ltft1_pct: 1,
          throttle_pct: [13.2, 14.9, 15, 17.6][i] - (i ? less : less / 8),
        }).map(([channel, value]) => reading(round, slot, channel as ChannelId, value)),
      )
    const repairs = [repairAt('throttle', 0, { kind: 'clean' })]
    const told = (less: number): readonly string[] => {
      const f = visitOf(
        { readings: [...read(0, 0), ...read(1, less)], repairs },
        ENGINE_PATTERNS.find((p) => p.id === 'four-map')!.vehicle,
      )
      const [d, now] = [diagnoseVisit(f, 0), diagnoseVisit(f, 1)]
      const air = d.ranking.find((r) => r.fault === 'unmetered-air')!
      const none = now.ranking.find((r) => r.fault === 'none')!
      // as if the first reading had been laid to air, and the last to nothing
      return causesOf(
        f,
        { ...d, reasons: {}, ranking: [{ ...air, probability: 0.6 }, ...d.ranking.filter((r) => r !== air)] },
        { ...now, ranking: [{ ...none, probability: 0.8 }] },
      ).confirmed
    }
    expect(told(1.6)).toEqual(['throttle-deposits'])
    expect(told(-1.6)).toEqual(['unmetered-air'])
  })
  it('what is mended where a test found it, with better readings that tell no cause, is not denied', () => {
    const carb = { ...ENGINE_PATTERNS.find((p) => p.id === 'carb-one')!.vehicle }
    const read = (round: number, rpm: number, kpa: number): VisitFile['readings'] => [
      reading(round, 'idle', 'rpm', rpm),
      reading(round, 'idle', 'map_kpa', kpa),
      reading(round, 'hold-2500', 'rpm', 2500),
      reading(round, 'hold-2500', 'map_kpa', 37),
    ]
    const f = visitOf(
      {
        readings: [...read(0, 650, 52), ...read(1, 830, 36)],
        findings: [tried('enrichment', 'gaskets', 'fail', 0)],
        repairs: [repairAt('gaskets', 0, { kind: 'replace' })],
      },
      carb,
    )
    expect(sheet(f, 1).found[0]).toMatch(
      /The readings are better since; “gas at the joints.*”, made again, would tell whether it was that\.$/,
    )
  })
  it('what the readings point at only since the work was not there before', () => {
    const [fuel, still] = [16, 15].map((idle, i) => {
      const f = visitOf({
        readings: [...AIRY, ...idleOf(1, { trim: idle }), ...holdOf(1, i ? 5 : 19, 8.2)],
        repairs: [MENDED],
      })
      return causesOf(f, diagnoseVisit(f, 0), diagnoseVisit(f, 1))
    })
    expect(fuel.suspected?.fault).not.toBe('unmetered-air')
    expect(fuel.suspectedFirst).toBe('since')
    expect(still).toMatchObject({ suspected: { fault: 'unmetered-air' }, suspectedFirst: 'before' })
  })
  it('nothing read, no size: a cause that these readings cannot show is named without one', () => {
    const maf = diagnoseVisit(f, 0).ranking.find((r) => r.fault === 'maf-under-reads')!
    expect(maf.mafErrorPct).toBeUndefined()
    expect(maf.sentence).toBe('Airflow sensor reads low')
  })
})
