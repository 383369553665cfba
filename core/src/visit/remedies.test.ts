import { describe, expect, it } from '@jest/globals'
import { FAULTS, type Diagnosis } from '../diagnosis/index.js'
import { ENGINE_PATTERNS } from '../engine/index.js'
import { runState, KEY_PEDAL_RELEARN } from '../procedures/index.js'
import {
  causesOf,
  isAccountOfAir,
  checkStep,
  closeDownOf,
  closeDownRefusals,
  diagnoseVisit,
  fedMl,
  isProved,
  judgedIdle,
  lastRound,
  mayIssueReport,
  mayStart,
  feltTick,
  nowAct,
  plannedRepairs,
  pointsOfRound,
  POOLS_LOOKED,
  poolsUnlooked,
  proofsOf,
  readingTooLate,
  isAnsweredAt,
  remediesOf,
  seatsOf,
  roundToFill,
  runningWaits,
  sheetOf,
  stationStates,
  type CodeRecord,
  type TickRecord,
  type TimerRecord,
  type VisitFile,
  TYPED_TOO_LATE,
  UNPROVED_SAID,
} from './index.js'
import {
  at,
  fed,
  foundAt,
  holdOf,
  idleOf,
  meta,
  reading,
  repairAt,
  stepAt,
  taught,
  visitOf,
  tried,
} from './remedies.fixture.js'

const NOW = Date.parse(at(180))
const tick = (caution: string, minutes: number): TickRecord => ({
  id: `t${minutes}`,
  version: 1,
  by: 'R',
  at: at(minutes),
  visitId: 'v',
  caution,
})
const timer = (kind: TimerRecord['kind'], part: Partial<TimerRecord> = {}): TimerRecord => ({
  id: `timer-${kind}`,
  version: 1,
  by: 'R',
  at: at(170),
  visitId: 'v',
  label: kind === 'soak' ? 'soak' : 'sensor element drying',
  kind,
  startedAt: at(170),
  seconds: 1200,
  ended: false,
  ...part,
})
const rules = (g: ReturnType<typeof mayStart>): string[] => (g.ok ? [] : g.refusals.map((r) => r.rule))
const sheet = (f: VisitFile): ReturnType<typeof sheetOf> =>
  sheetOf(f, diagnoseVisit(f, 0), 60, diagnoseVisit(f, lastRound(f)))

/** A sensor that reads low: trims grow with flow, too little air for the work. */
const DIRTY = [...idleOf(0, { trim: 6, maf: 2.2 }), ...holdOf(0, 19, 6.4)]
const CLEANED = [...idleOf(1, { trim: 1, maf: 2.4 }), ...holdOf(1, 1, 8)]

describe('what is a remedy', () => {
  it.each([
    ['a repair', { repairs: [repairAt('duct', 0)] }, 'duct refitted'],
    ['a surface at its end', { steps: [stepAt()] }, 'airflow sensor element cleaned with airflow sensor cleaner'],
    ['a relearn that was taken', { runs: [taught()] }, 'idle taught'],
    ['a feed that went in', { runs: [fed()] }, '60 mL of cleaner fed'],
  ])('%s opens a round, is priced, and owes its proof', (_, part, words) => {
    const f = visitOf({ readings: idleOf(0), ...part })
    expect(remediesOf(f)).toHaveLength(1)
    expect(remediesOf(f)[0].words).toContain(words)
    expect(remediesOf(f)[0].minutes).toBeGreaterThan(0)
    expect(roundToFill(f)).toBe(1)
    expect(isProved(f)).toBe(false)
    expect(rules(mayIssueReport(f, NOW))).toContain('prove-first')
    expect(sheet(f).labourMinutes).toBe(remediesOf(f)[0].minutes)
  })
  it.each([
    ['a plan', { repairs: [repairAt('duct', 0, { state: 'planned' as const })] }],
    ['a find that is left', { repairs: [repairAt('duct', 0, { kind: 'leave' as const })] }],
    ['a surface that has not reached its end', { steps: [stepAt({ passed: false })] }],
    [
      'a relearn that failed',
      { runs: [{ ...taught(), events: taught().events.slice(0, 1).concat({ kind: 'tap', atMs: 0 }) }] },
    ],
    ['a feed that nobody began', { runs: [{ ...fed(), events: [] }] }],
  ])('%s is none', (_, part) => {
    const f = visitOf({ readings: idleOf(0), ...part })
    expect(remediesOf(f)).toEqual([])
    expect(roundToFill(f)).toBe(0)
  })
  it('a hose wiped where it is answers no leak; taken off and put on again it may', () => {
    const hose = { station: 'duct', surface: 'rubber', product: 'soft-brush-cloth' } as const
    const answers = (method: 'cloth-in-place' | 'off-the-car'): readonly string[] =>
      remediesOf(visitOf({ steps: [stepAt({ ...hose, method })] }))[0].answers
    expect(answers('cloth-in-place')).toEqual([])
    expect(answers('off-the-car')).toContain('unmetered-air-duct')
  })
  it('the relearn of the fixture is one that the procedure takes', () =>
    expect(runState(KEY_PEDAL_RELEARN, taught().events).status).toBe('passed'))
  it('a cleaning recorded as repair and as surface is one piece of work', () => {
    const f = visitOf({ repairs: [repairAt('airflow-sensor', 0, { kind: 'clean' })], steps: [stepAt()] })
    expect(remediesOf(f).map((r) => r.kind)).toEqual(['cleaning'])
  })
  it('a planned cleaning is answered by the surface at its end', () => {
    const planned = repairAt('airflow-sensor', 0, { kind: 'clean', state: 'planned' })
    expect(plannedRepairs(visitOf({ repairs: [planned] }))).toHaveLength(1)
    expect(plannedRepairs(visitOf({ repairs: [planned], steps: [stepAt()] }))).toEqual([])
  })
  it('what was done against the rule mends nothing', () => {
    const wrong = stepAt({ product: 'throttle-cleaner' })
    const f = visitOf({ steps: [{ ...wrong, againstRule: checkStep(wrong, visitOf().vehicle.spec)[0].rule }] })
    expect(remediesOf(f)).toEqual([])
    expect(sheet(f).done.join()).toMatch(/against the rule, as recorded/)
  })
  it('a feed that was stopped counts by the shots that were begun', () => {
    const f = visitOf({ runs: [fed(3)] })
    const ml = fedMl(f, f.runs[0])
    expect(ml).toBeGreaterThan(0)
    expect(ml).toBeLessThan(60)
    expect(remediesOf(f)[0].words).toMatch(/not to its end: Stopped by hand/)
  })
})

describe('rounds', () => {
  it('a second remedy before the first is measured shares its round, and the gain is joint', () => {
    const f = visitOf({
      readings: [...idleOf(0, { trim: 18 }), ...idleOf(1)],
      repairs: [repairAt('duct', 0), repairAt('pcv', 0)],
    })
    expect(proofsOf(f)).toHaveLength(1)
    expect(proofsOf(f)[0]).toMatchObject({ before: 0, after: 1 })
    expect(sheet(f).done.at(-1)).toMatch(/gain of all together/)
  })
  it('each remedy is proved against the round before it', () => {
    const f = visitOf({
      readings: [...idleOf(0, { trim: 18 }), ...idleOf(1, { trim: 9 }), ...idleOf(2)],
      repairs: [repairAt('duct', 0), repairAt('pcv', 1)],
    })
    expect(proofsOf(f).map((p) => [p.before, p.after])).toEqual([
      [0, 1],
      [1, 2],
    ])
    expect(roundToFill(f)).toBe(2)
  })
  it('older records tell by their time which round stood', () => {
    const f = visitOf({
      readings: [...idleOf(0, { trim: 18 }), ...idleOf(1, { trim: 9 })],
      repairs: [repairAt('duct', 0)],
      steps: [stepAt({ afterRound: undefined }, 60)],
    })
    expect(remediesOf(f).map((r) => [r.kind, r.afterRound])).toEqual([
      ['repair', 0],
      ['cleaning', 1],
    ])
    expect(roundToFill(f)).toBe(2)
  })
  it('the baseline is changed by the word of a correction only', () => {
    const f = visitOf({ readings: idleOf(0), repairs: [repairAt('duct', 0)] })
    const typed = (minutes: number, value: number, corrected?: boolean): ReturnType<typeof readingTooLate> =>
      readingTooLate(f, { round: 0, at: at(minutes), value, corrected }, { value: 680 })
    expect(typed(5, 700)).toBeUndefined()
    expect(typed(60, 700)).toBe('uncorrected')
    expect(typed(60, 680)).toBeUndefined()
    expect(typed(60, 700, true)).toBeUndefined()
    expect(readingTooLate(f, { round: 0, at: at(60), value: 30 }, null)).toBe('late')
    expect(readingTooLate(f, { round: 1, at: at(60), value: 30 }, null)).toBeUndefined()
  })
  it('what was typed too late is kept and counted nowhere', () => {
    const late = { ...reading(0, 'hold-2500', 'ltft1_pct', 30, 60), againstRule: TYPED_TOO_LATE }
    const f = visitOf({ readings: [...idleOf(0), late], repairs: [repairAt('duct', 0)] })
    expect(pointsOfRound(f, 0).map((p) => p.kind)).toEqual(['idle'])
  })
  it('a speed that nobody read is no reading of the speed', () => {
    const f = visitOf({ readings: idleOf(0).filter((r) => r.channel !== 'rpm') })
    const [idle] = pointsOfRound(f, 0)
    expect(idle.means.rpm).toBeUndefined()
    expect(judgedIdle(f, 0).map((j) => j.channel)).not.toContain('rpm')
  })
})

describe('a sensor cleaned, measured again, handed over', () => {
  const f = visitOf({
    readings: [...DIRTY, ...CLEANED],
    findings: [foundAt('airflow-sensor.2', 'film on the element')],
    steps: [stepAt()],
  })
  it('film on the element speaks for the sensor, not for a split duct', () => {
    const d = diagnoseVisit(visitOf({ readings: DIRTY, findings: f.findings }), 0)
    expect(d.ranking[0].fault).toBe('maf-under-reads')
    const [sensor, duct] = ['maf-under-reads', 'unmetered-air-duct'].map(
      (id) => d.ranking.find((r) => r.fault === id)!.probability,
    )
    expect(sensor).toBeGreaterThan(0.8)
    expect(duct).toBeLessThan(0.2)
  })
  it('the sheet says what was wrong in the words of that cause, and charges for it', () => {
    const s = sheet(f)
    expect(s.plain).toMatch(
      /^The airflow sensor of your engine was reading too low\. Done: the airflow sensor cleaned\./,
    )
    expect(s.plain).not.toMatch(/drawing in air/)
    expect(s.found[0]).toMatch(/^Airflow sensor reads low\. Confirmed/)
    expect(s.done[0]).toBe(
      'Airflow sensor element cleaned with airflow sensor cleaner, off the car (25 min, parts 9.00).',
    )
    expect(s.labourPrice).toBeCloseTo(25, 9)
    expect(s.left).not.toContain('Airflow sensor, not mended.')
  })
  it('cleaned in vain it is to be renewed, and the customer reads that it is still there', () => {
    const again = DIRTY.map((r) => ({ ...r, id: `${r.id}:1`, round: 1, at: at(60) }))
    const unasked = visitOf({ readings: [...DIRTY, ...again], findings: f.findings, steps: [stepAt()] })
    // what was worked on is less likely it: two minutes with the duct come before a new sensor
    expect(nowAct(unasked, diagnoseVisit(unasked, 1))).toMatchObject({
      id: 'test',
      title: 'Flex the duct, watch the trim',
    })
    const tests = ['flex-duct', 'smoke'].map((t) => tried(t, 'duct', 'pass', undefined))
    const inVain = {
      ...unasked,
      findings: [...unasked.findings, ...tests, tried('fuel-pressure', 'beyond', 'pass', 1)],
    }
    const now = diagnoseVisit(inVain, 1)
    expect(now.ranking[0]).toMatchObject({ fault: 'maf-under-reads', probability: expect.any(Number) })
    expect(nowAct(inVain, now)).toMatchObject({ id: 'still-there', title: 'Renew the airflow sensor' })
    expect(sheetOf(inVain, diagnoseVisit(inVain, 0), 60, now).plain).toMatch(
      /do not show a difference\. What the readings point at is still there: see below\./,
    )
    const elsewhere = { ...inVain, findings: [], steps: [], repairs: [repairAt('filter', 0)] }
    expect(nowAct(elsewhere, now).title).toBe('Clean the airflow sensor, once')
    const renewed = { ...inVain, steps: [], repairs: [repairAt('airflow-sensor', 0, { kind: 'replace' })] }
    expect(nowAct(renewed, now).title).toBe('The cause is still there')
  })
  it('its ring is mended and nothing more is asked', () => {
    expect(stationStates(f).get('airflow-sensor')).toBe('mended')
    // an idle alone hardly tells that nothing is wrong: whether it hunts still does
    expect(nowAct(f, diagnoseVisit(f, 1)).id).toBe('felt')
    const tick = { ...meta('gone', 20), visitId: 'v', caution: feltTick('idle-hunts', 'gone', 1) }
    const gone = { ...f, ticks: [...f.ticks, tick] }
    expect(nowAct(gone, diagnoseVisit(gone, 1)).id).toBe('sheet')
  })
  it('the technician’s page does not call its trims air that came in', () => {
    expect(sheet(f).technical!.account.join()).toMatch(
      /as if 0\.\d+ g\/s came in unmetered; by the cause named above none did/,
    )
  })
  it('a code it came with that nobody cleared stands under what is left, once something was done', () => {
    const code = (part: object): CodeRecord =>
      ({
        ...meta('c', 1),
        visitId: 'v',
        code: 'P0171',
        state: 'stored',
        when: 'before',
        cleared: false,
        ...part,
      }) as CodeRecord
    const left = (part: object): string => sheet(visitOf({ ...f, codes: [code(part)] })).left.join()
    expect(left({})).toMatch(/Code P0171, which it came with, has not been cleared here/)
    expect(left({ state: 'permanent' })).toMatch(/Code P0171, .*is permanent/)
    expect(left({ cleared: true })).not.toMatch(/P0171/)
    expect(left({ state: 'pending' })).not.toMatch(/P0171/)
  })
  it('a look at a place that nobody knows speaks for nothing', () => {
    const known = visitOf({ readings: DIRTY })
    const strange = visitOf({ readings: DIRTY, findings: [foundAt('airflow-sensor.99', 'odd')] })
    const p = (x: VisitFile): number =>
      diagnoseVisit(x, 0).ranking.find((r) => r.fault === 'unmetered-air-duct')!.probability
    expect(p(strange)).toBeCloseTo(p(known), 6)
  })
  it('a cause that other work has overtaken is not named', () => {
    const other = visitOf({ readings: [...DIRTY, ...CLEANED], repairs: [repairAt('booster', 0)] })
    expect(causesOf(other, diagnoseVisit(other, 0), diagnoseVisit(other, 1)).confirmed).toEqual([])
    expect(sheet(other).found.join()).not.toMatch(/reads low/)
    expect(sheet(other).plain).toMatch(/^Done: the booster hose refitted\. The readings are better/)
  })
})

describe('the account of unmetered air', () => {
  it('is told as air unless something else leads by the readings', () => {
    const dirty = visitOf({ readings: DIRTY })
    const d = diagnoseVisit(dirty, 0)
    expect(d.ranking[0].fault).toBe('maf-under-reads')
    expect(isAccountOfAir(dirty, d)).toBe(false)
    const lead = (fault: string, probability: number): Diagnosis =>
      ({ ...d, ranking: [{ ...d.ranking[0], fault, probability }] }) as Diagnosis
    expect(isAccountOfAir(dirty, lead('unmetered-air', 0.8))).toBe(true)
    expect(isAccountOfAir(dirty, lead('none', 0.8))).toBe(true)
    expect(isAccountOfAir(dirty, lead('maf-under-reads', 0.2))).toBe(true)
    expect(isAccountOfAir(dirty, undefined)).toBe(true)
  })
  it('is none once the sensor is clean and nothing leads', () => {
    const cleaned = visitOf({ readings: [...DIRTY, ...CLEANED], steps: [stepAt()] })
    const d = diagnoseVisit(cleaned, 1)
    expect(d.ranking[0].fault).toBe('none')
    expect(isAccountOfAir(cleaned, d)).toBe(false)
  })
  it('stays one of air where a hose was refitted, unless another cause is likelier than all else', () => {
    const refitted = visitOf({ readings: DIRTY, repairs: [repairAt('booster', 0)] })
    const d = diagnoseVisit(refitted, 0)
    const air = d.ranking.map((r) => (r.fault === 'unmetered-air' ? { ...r, probability: 0.45 } : r))
    const lead = (probability: number): Diagnosis => ({
      ...d,
      ranking: air.map((r) => (r.fault === 'maf-under-reads' ? { ...r, probability } : r)),
    })
    expect(isAccountOfAir(refitted, lead(0.48))).toBe(true)
    expect(isAccountOfAir(refitted, lead(0.8))).toBe(false)
  })
  it('is none where what is left is rather nothing than air', () => {
    const dirty = visitOf({ readings: DIRTY, repairs: [repairAt('idle-valve', 0)] })
    const d = diagnoseVisit(dirty, 0)
    const of = (none: number, air: number): Diagnosis => ({
      ...d,
      ranking: (['none', 'unmetered-air'] as const).map((fault) => ({
        ...d.ranking[0],
        fault,
        probability: fault === 'none' ? none : air,
      })),
    })
    expect(isAccountOfAir(dirty, of(0.4, 0.1))).toBe(false)
    expect(isAccountOfAir(dirty, of(0.3, 0.5))).toBe(true)
    expect(nowAct(dirty, of(0.4, 0.1)).id).not.toBe('look-for-the-rest')
  })
})

describe('a relearn alone', () => {
  const f = visitOf({
    readings: [...idleOf(0, { rpm: 1240, maf: 4.3 }), ...idleOf(1, { rpm: 690 })],
    runs: [taught()],
  })
  it('idle back in its band is better, and the sheet tells it against the band', () => {
    const speed = sheet(f).changes.find((c) => c.quantity === 'rpm')!
    expect(speed.verdict).toBe('better')
    expect(sheet(f).judged![0]).toMatch(/^Speed 690 rpm, inside \d+ to \d+\.$/)
    expect(sheet(f).plain).toMatch(
      /^The idle control .* Done: the idle taught again\..*It idles at 690 rpm, where it should\./,
    )
  })
  it('an idle that is not in its band is never called so', () => {
    const high = visitOf({ readings: [...idleOf(0, { rpm: 1240 }), ...idleOf(1, { rpm: 1240 })], runs: [taught()] })
    expect(sheet(high).plain).not.toMatch(/where it should/)
    expect(sheet(high).left.join()).toMatch(/Speed 1240 rpm, where \d+ to \d+ belongs/)
    // a vent that is torn open or a sensor that reads cold would lift it as well: a test parts them
    expect(nowAct(high, diagnoseVisit(high, 1))).toMatchObject({ id: 'test' })
  })
  it('nothing wrong is not said of an idle outside its band', () => {
    const odd = visitOf({ readings: idleOf(0, { rpm: 1240 }) })
    expect(sheet(odd).found.join()).not.toMatch(/stands in its band/)
  })
  it('nor of a car whose control unit has noted something, confirmed or not', () => {
    const plain = (state?: 'stored' | 'pending'): string =>
      sheet(
        visitOf({
          readings: [...idleOf(0), ...holdOf(0, 0, 9)],
          codes: state ? [{ ...meta('c', 2), visitId: 'v', code: 'P0299', state, when: 'before', cleared: false }] : [],
        }),
      ).plain
    expect(plain()).toMatch(/that alone does not rule out every cause\.$/)
    expect(plain('stored')).toMatch(/what set the fault code that it came with has not been found\.$/)
    expect(plain('pending')).toMatch(
      /what its control unit has noted without lighting its lamp yet has not been found\.$/,
    )
  })
})

describe('a trim that stands at its stop before and after', () => {
  const spent = (round: number): VisitFile['readings'] => [
    ...idleOf(round, { trim: 25, maf: 2.9 - 0.4 * round }).filter((r) => r.channel !== 'stft1_pct'),
    reading(round, 'idle', 'stft1_pct', 20.3),
  ]
  it('shows no change, and is not said to have shown that there was none', () => {
    const f = visitOf({ readings: [...spent(0), ...spent(1)], repairs: [repairAt('booster', 0)] })
    const said = sheet(f).proved!.join('\n')
    expect(said).toMatch(/Total trim, idle: at its stop before and after, where no change of the mixture shows\./)
    expect(said).not.toMatch(/could not have been seen/)
  })
})

describe('a feed that was stopped', () => {
  const found = tried('valve-borescope', 'runners-1', 'fail', 0)
  const left = (shots?: number): string | undefined => {
    const f = visitOf({ readings: [...idleOf(0), ...idleOf(1)], findings: [found], runs: [fed(shots)] })
    return sheet(f).left.find((x) => x.includes('not cleaned'))
  }
  it('after a few shots leaves the deposits that it was for where they were, and to its end does not', () => {
    expect(left(3)).toBe(
      'Deposits on the intake valves (intake valves by borescope), not cleaned: the feed was stopped before its end.',
    )
    expect(left()).toBeUndefined()
  })
})

describe('gates', () => {
  it('nothing is cranked while a soak runs, while something dries, or while a pool may stand', () => {
    expect(mayStart(visitOf(), NOW)).toEqual({ ok: true })
    expect(rules(mayStart(visitOf({ timers: [timer('soak')] }), NOW))).toEqual(['soak-runs'])
    expect(rules(mayStart(visitOf({ timers: [timer('drying')] }), NOW))).toEqual(['still-drying'])
    const open = visitOf({ readings: idleOf(0), runs: [fed(3)] })
    expect(rules(mayStart(open, NOW))).toEqual(['close-down', 'pools-unlooked'])
    expect(nowAct(open)).toMatchObject({ id: 'close-down', stage: 'decarbonize' })
    const [closed, next] = closeDownOf(fed(3))
    const begun = { ...fed(3), preconditions: [...fed(3).preconditions, closed.id] }
    expect(closeDownRefusals(visitOf({ runs: [begun] }))[0].message).toMatch(`${next.words} comes next`)
    const all = closeDownOf(fed(3)).map((s) => s.id)
    const f = visitOf({ runs: [{ ...fed(3), preconditions: [...fed(3).preconditions, ...all] }] })
    expect(rules(mayStart(f, NOW))).toEqual(['pools-unlooked'])
    expect(nowAct({ ...f, readings: idleOf(0) })).toMatchObject({ id: 'pools', stage: 'first-start' })
    expect(rules(mayStart({ ...f, ticks: [tick(POOLS_LOOKED, 9)] }, NOW))).toEqual(['pools-unlooked'])
    expect(rules(mayStart({ ...f, ticks: [tick(POOLS_LOOKED, 170)] }, NOW))).toEqual([])
    // two inlets that were fed together are looked into each
    const both = { ...f, runs: f.runs.map((r) => ({ ...r, feed: { ...r.feed!, together: true } })) }
    const looked = { ...both, ticks: [tick(POOLS_LOOKED, 170)] }
    expect(
      poolsUnlooked(looked)
        .map((r) => r.message)
        .join(),
    ).toMatch(/second inlet/)
  })
  it('a wait is over by its time or by the word of who ended it; a battery that is off is none', () => {
    expect(runningWaits(visitOf({ timers: [timer('soak', { seconds: 60 })] }), NOW)).toEqual([])
    expect(runningWaits(visitOf({ timers: [timer('soak', { ended: true })] }), NOW)).toEqual([])
    expect(runningWaits(visitOf({ timers: [timer('battery-off')] }), NOW)).toEqual([])
  })
  it('no sheet while something dries; one without its proof only by a word, which it says', () => {
    const f = visitOf({ readings: idleOf(0), repairs: [repairAt('duct', 0)] })
    expect(rules(mayIssueReport({ ...f, timers: [timer('drying')] }, NOW))).toEqual(['prove-first', 'still-drying'])
    const said = { ...f, ticks: [tick(UNPROVED_SAID, 170)] }
    expect(mayIssueReport(said, NOW)).toEqual({ ok: true })
    expect(sheet(said).plain).toMatch(/has not been measured again since/)
    expect(sheet(said).left.join()).toMatch(/Not measured again since: duct refitted; whether it helped is not known/)
    // work after the word asks for it anew
    const more = { ...said, repairs: [...said.repairs, repairAt('pcv', 0, {}, 175)] }
    expect(rules(mayIssueReport(more, NOW))).toEqual(['prove-first'])
  })
})

describe('where a cause sits', () => {
  it('is a place whose work answers it, on every kind of engine', () => {
    for (const { vehicle } of ENGINE_PATTERNS)
      for (const { id } of FAULTS)
        for (const seat of seatsOf({ ...vehicle, name: 'v', altitudeM: 0 }, id))
          expect([id, seat, isAnsweredAt(seat, id, vehicle)]).toEqual([id, seat, true])
  })
  it('is both sensors of an engine with two inlets, and nowhere for what lies beyond the air path', () => {
    const v8 = { ...ENGINE_PATTERNS.find((p) => p.id === 'v8-twin')!.vehicle, name: 'v', altitudeM: 0 }
    expect(seatsOf(v8, 'maf-under-reads')).toEqual(['airflow-sensor', 'airflow-sensor-2'])
    expect(seatsOf(v8, 'exhaust-restriction')).toEqual([])
  })
})
