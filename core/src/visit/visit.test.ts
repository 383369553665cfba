import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, lookItemsOf, type Vehicle } from '../engine/index.js'
import type { ChannelId } from '../signals/index.js'
import {
  emptyVisit,
  checkRepair,
  diagnoseVisit,
  evidenceOf,
  expectedCost,
  isProved,
  lastRound,
  mayIssueReport,
  nextPartsDay,
  nowAct,
  pointsOfRound,
  repairOptionsAt,
  roundToFill,
  sheetOf,
  stageStatuses,
  stationStates,
  unmeteredAir,
  visitLedger,
  type FindingRecord,
  type ReadingRecord,
  type RepairRecord,
  type VisitFile,
} from './index.js'

const meta = { version: 1, by: 'R', at: '2026-01-01T09:00:00Z' }
const spec: Vehicle = {
  ...ENGINE_PATTERNS.find((p) => p.id === 'v6-maf')!.vehicle,
  name: 'Test estate',
  altitudeM: 1180,
}

function file(part: Partial<VisitFile> = {}): VisitFile {
  const vehicle = { ...meta, id: 'car', plate: 'T 1', customer: 'C', spec }
  const visit: VisitFile['visit'] = {
    ...meta,
    id: 'v',
    vehicleId: 'car',
    openedAt: meta.at,
    state: 'open',
    intent: 'complaint',
    complaint: 'hunts',
    signs: ['idle-hunts'],
    conditions: [],
    altitudeM: 1180,
    ambientC: 9,
  }
  return { ...emptyVisit(vehicle, visit), ...part }
}

const idle = (round: number, trim: number, gs = 2.8): ReadingRecord[] =>
  (
    [
      ['rpm', 680],
      ['maf_gs', gs],
      ['stft1_pct', 0],
      ['ltft1_pct', trim],
      ['stft2_pct', 0],
      ['ltft2_pct', trim],
    ] as [ChannelId, number][]
  ).map(([channel, value]) => ({
    ...meta,
    id: `v:${round}:idle:${channel}`,
    visitId: 'v',
    round,
    slot: 'idle',
    channel,
    value,
    typed: String(value),
  }))

const looks = (bad?: string): FindingRecord[] =>
  lookItemsOf(spec).map((i) => ({
    ...meta,
    id: `v:look:${i.id}`,
    visitId: 'v',
    test: 'look',
    station: i.station,
    item: i.id,
    outcome: i.id === bad ? 'fail' : 'pass',
  }))

const wrap: RepairRecord = {
  ...meta,
  id: 'v:repair:duct',
  visitId: 'v',
  station: 'duct',
  kind: 'wrap',
  state: 'done',
  afterRound: 0,
  temporary: true,
  recheckOn: '2026-01-15',
  minutes: 12,
  partsPrice: 6,
  conditions: ['dry', 'clean', 'stretched'],
}

describe('what to do now', () => {
  it('goes the order of the work', () => {
    const signs = file()
    expect(nowAct({ ...signs, visit: { ...signs.visit, signs: [] } }).title).toMatch(/customer feels/)
    expect(nowAct(signs).title).toBe('Read the warm idle')
    expect(nowAct(file({ readings: idle(0, 15) })).stage).toBe('look')
    expect(nowAct(file({ readings: idle(0, 15), findings: looks('duct.1') })).title).toBe('Mend the duct')
    const mended = { readings: idle(0, 15), findings: looks('duct.1'), repairs: [wrap] }
    expect(nowAct(file(mended)).stage).toBe('prove')
    expect(nowAct(file({ ...mended, readings: [...idle(0, 15), ...idle(1, 1)] })).stage).toBe('hand-over')
    expect(nowAct(file({ ...mended, readings: [...idle(0, 30), ...idle(1, 17)] })).title).toBe('Look for the rest')
  })
  it('a sound car after a whole look goes to the sheet', () => {
    const f = file({ readings: idle(0, 0, 3), findings: looks() })
    const checkUp = { ...f, visit: { ...f.visit, intent: 'check-up' as const, signs: [] } }
    expect(nowAct(checkUp, diagnoseVisit(checkUp, 0)).stage).toBe('hand-over')
  })
})

describe('rounds', () => {
  it('a remedy opens the next round, and only then', () => {
    expect(roundToFill(file({ readings: idle(0, 15) }))).toBe(0)
    expect(roundToFill(file({ readings: idle(0, 15), repairs: [wrap] }))).toBe(1)
    const f = file({ readings: [...idle(0, 15), ...idle(1, 2)], repairs: [wrap] })
    expect([roundToFill(f), lastRound(f)]).toEqual([1, 1])
  })
  it('undone records count nowhere', () => {
    const f = file({ readings: idle(0, 15).map((r) => ({ ...r, deleted: true })) })
    expect(pointsOfRound(f, 0)).toEqual([])
  })
  it('after a remedy the find at the mended place is spent', () => {
    const f = file({ readings: [...idle(0, 15), ...idle(1, 15)], findings: looks('duct.1'), repairs: [wrap] })
    expect(evidenceOf(f, 0).findings.some((x) => x.outcome === 'fail')).toBe(true)
    expect(evidenceOf(f, 1).findings.some((x) => x.outcome === 'fail')).toBe(false)
  })
})

describe('unmetered air', () => {
  it('15 % of trim at 2.8 g/s is 0.42 g/s, 13 % of what the engine draws', () => {
    const u = unmeteredAir(file({ readings: idle(0, 15) }), 0)!
    expect(u.gramsPerS.median).toBeCloseTo(0.42, 9)
    expect(u.sharePct.median).toBeCloseTo(100 * (0.15 / 1.15), 9)
    expect(u.gramsPerS.low).toBeLessThan(u.gramsPerS.median)
  })
  it.each([2, 4, 4.5, 6])('at %s %% of trim it may be no air if it may be no hole, and the other way', (trim) => {
    const u = unmeteredAir(file({ readings: idle(0, trim) }), 0)!
    expect([u.areaMm2.low === 0, u.sharePct.low === 0]).toEqual(Array(2).fill(u.gramsPerS.low === 0))
  })
  it('of a trim at its stop is a range, from what it shows to the leanest mixture that an engine runs on', () => {
    const spent = idle(0, 25).map((r) => (r.channel.startsWith('stft') ? { ...r, value: 20.3 } : r))
    const u = unmeteredAir(file({ readings: spent }), 0)!
    expect(u.atLeast).toBe(true)
    expect(u.gramsPerS.median).toBeCloseTo(2.8 * (1.203 * 1.25 - 1), 3)
    // λ 1.5 besides
    expect(u.gramsPerS.high).toBeCloseTo(2.8 * (1.5 * 1.203 * 1.25 - 1), 3)
  })
  it('is never said of an engine without the sensor', () =>
    expect(
      unmeteredAir(
        file({ vehicle: { ...file().vehicle, spec: { ...spec, metering: 'map' } }, readings: idle(0, 15) }),
        0,
      ),
    ).toBeUndefined())
  it('the account knows before and now', () => {
    const a = visitLedger(
      file({ readings: [...idle(0, 15), ...idle(1, 1)], findings: looks('duct.1'), repairs: [wrap] }),
    )!
    expect(a.before.gramsPerS.median).toBeGreaterThan(a.now.gramsPerS.median)
    expect(a.accounted).toBe(true)
    expect(a.ledger.unsized).toEqual(['duct'])
  })
  it('a pinch sizes its branch', () => {
    const pinch: FindingRecord = {
      ...meta,
      id: 'p',
      visitId: 'v',
      test: 'pinch',
      station: 'booster',
      outcome: 'fail',
      value: 5,
      unit: '%',
    }
    const a = visitLedger(file({ readings: idle(0, 15), findings: [pinch] }))!
    expect(a.entries[0].areaMm2! / a.before.areaMm2.median).toBeCloseTo(10 / 15, 6)
  })
})

describe('gates', () => {
  it('a wrap holds dry, clean, stretched, on the suction side, and is temporary', () => {
    expect(checkRepair(file(), wrap)).toEqual([])
    expect(checkRepair(file(), { ...wrap, conditions: ['dry'] }).map((r) => r.rule)).toEqual(['wrap-conditions'])
    expect(checkRepair(file(), { ...wrap, temporary: false }).map((r) => r.rule)).toContain('wrap-is-temporary')
    expect(checkRepair(file(), { ...wrap, recheckOn: undefined }).map((r) => r.rule)).toEqual(['recheck-date'])
    const turbo = file({ vehicle: { ...file().vehicle, spec: { ...spec, induction: 'turbo' } } })
    expect(checkRepair(turbo, { ...wrap, station: 'boost-pipe' }).map((r) => r.rule)).toContain('wrap-suction-side')
  })
  it('no sheet before the proof, nor with a plan left open', () => {
    const f = file({ readings: idle(0, 15), repairs: [wrap] })
    expect(isProved(f)).toBe(false)
    expect(mayIssueReport(f, 0)).toMatchObject({ ok: false, refusals: [{ rule: 'prove-first' }] })
    const proved = file({ readings: [...idle(0, 15), ...idle(1, 1)], repairs: [wrap] })
    expect(mayIssueReport(proved, 0)).toEqual({ ok: true })
    expect(mayIssueReport(file({ repairs: [{ ...wrap, state: 'planned' }] }), 0)).toMatchObject({
      refusals: [{ rule: 'planned-repair-open' }],
    })
  })
})

describe('repair or replace', () => {
  it('prices both with their risk', () => {
    const clamp = repairOptionsAt('duct').find((o) => o.kind === 'clamp')!
    expect(expectedCost(clamp, 84).now).toBeCloseTo(4 + (84 * 8) / 60, 9)
    for (const o of repairOptionsAt('duct').filter((x) => x.kind !== 'leave'))
      expect(expectedCost(o, 84).withRisk).toBeGreaterThan(expectedCost(o, 84).now)
  })
  it('offers no wrap on a boost pipe', () =>
    expect(repairOptionsAt('boost-pipe').map((o) => o.kind)).not.toContain('wrap'))
  it('the next bus after a Wednesday is Friday', () => {
    expect(nextPartsDay([2, 5], '2026-11-25')).toBe('2026-11-27')
    expect(nextPartsDay([2, 5], '2026-11-27')).toBe('2026-12-01')
    expect(nextPartsDay([], '2026-11-25')).toBeUndefined()
  })
})

it('stations show the worst that was found until it is mended', () => {
  expect(stationStates(file({ findings: looks('duct.1') })).get('duct')).toBe('failed')
  expect(stationStates(file({ findings: looks('duct.1'), repairs: [wrap] })).get('duct')).toBe('mended')
  expect(stationStates(file({ findings: looks() })).get('filter')).toBe('sound')
  expect(stationStates(file({ findings: looks().slice(0, 2) })).get('filter')).toBe('begun')
})

it('every stage says what it has', () => {
  const s = stageStatuses(
    file({ readings: [...idle(0, 15), ...idle(1, 1)], findings: looks('duct.1'), repairs: [wrap] }),
  )
  const text = Object.fromEntries(s.map((x) => [x.stage, x.text]))
  expect(text).toMatchObject({ arrive: '6 readings', look: '1 failed', trace: '1 done', prove: 'measured' })
  const look = (findings: VisitFile['findings']) =>
    stageStatuses(file({ findings })).find((x) => x.stage === 'look')!.text
  expect(look(looks('duct.1').map((x) => (x.outcome === 'fail' ? { ...x, outcome: 'unclear' } : x)))).toBe('1 suspect')
  // made again after the work it is what it was found to be then
  const first = looks('duct.1').find((x) => x.outcome === 'fail')!
  expect(look([...looks('duct.1'), { ...first, id: 'again', outcome: 'pass', afterWork: 1 }])).toMatch(/^\d+ of \d+$/)
})

it('the sheet has a plain line, what was found and done, and the re-check', () => {
  const f = file({ readings: [...idle(0, 15), ...idle(1, 1)], findings: looks('duct.1'), repairs: [wrap] })
  const s = sheetOf(f, diagnoseVisit(f, 0), 84)
  expect(s.plain).toMatch(/^Air was getting in between the airflow sensor and the throttle\./)
  expect(s.plain).toMatch(/better than before.*for the time being/)
  expect(s.plain).not.toMatch(/trim|MAF|λ/)
  expect(s.done[0]).toMatch(/Duct wrapped \(temporary\)/)
  expect(s.advised[0]).toMatch(/2026-01-15/)
  expect(s.changes.some((c) => c.verdict === 'better')).toBe(true)
})
