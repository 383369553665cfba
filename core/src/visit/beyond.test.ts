import { describe, expect, it } from '@jest/globals'
import {
  BEYOND_THE_PATH,
  diagnoseVisit,
  dirtLeft,
  findsToMend,
  mayIssueReport,
  nowAct,
  remediesOf,
  sheetOf,
  stationStates,
} from './index.js'
import type { FindingRecord, Slot, VisitFile } from './index.js'
import { ENGINE_PATTERNS } from '../engine/index.js'
import type { ChannelId } from '../signals/index.js'
import { evidenceOf } from './evidence.js'
import { fed, foundAt, holdOf, idleOf, meta, reading, repairAt, visitOf } from './remedies.fixture.js'

const find = (test: string, station: FindingRecord['station'], note?: string): FindingRecord => ({
  ...meta(`v:${test}`, 3),
  visitId: 'v',
  test,
  station,
  outcome: 'fail',
  ...(note ? { note } : {}),
})
const POOR = [...idleOf(0, { trim: 16 }), ...holdOf(0, 17, 8.2)]
const GOOD = [...idleOf(1, { trim: 1 }), ...holdOf(1, 1, 8.2)]
const PUMP = 'the fuel filter renewed'
const sheet = (f: VisitFile): ReturnType<typeof sheetOf> => sheetOf(f, diagnoseVisit(f, 0), 60, diagnoseVisit(f, 1))

describe('what is found beyond the air path', () => {
  // files from before have such a find at the runners, where nothing was wrong
  it.each(['beyond', 'runners-1'] as const)('is mended there, wherever it was written down (%s)', (station) => {
    const f = visitOf({ readings: POOR, findings: [find('fuel-pressure', station)] })
    expect(findsToMend(f).map((x) => x.place)).toEqual(['beyond'])
    expect(stationStates(f).get('runners-1')).not.toBe('failed')
    expect(stationStates(f).get('beyond')).toBe('failed')
    expect(nowAct(f)).toMatchObject({ id: 'mend', title: 'Mend what the test found' })
    expect(sheet(f).left.join(' ')).toMatch(/^Beyond the air path \(fuel pressure.*\), not mended\./)
    expect(sheet(f).left.join(' ')).not.toMatch(/unners/)
  })
  it('is told by what was done, in the words of whoever did it', () => {
    const repairs = [repairAt('beyond', 0, { kind: 'replace', note: PUMP })]
    const f = visitOf({
      readings: [...POOR, ...GOOD],
      findings: [find('fuel-pressure', 'beyond', '2.9 of 4.0 bar')],
      repairs,
    })
    const s = sheet(f)
    expect(s.plain).toMatch(/Done: the fuel filter renewed\. The readings are better/)
    expect(s.done.join(' ')).toMatch(/^The fuel filter renewed/)
    expect(s.found.join(' ')).toMatch(/Fuel pressure[^:]*: 2\.9 of 4\.0 bar\./)
    expect(s.technical?.tests).toEqual([expect.stringMatching(/^Fuel pressure[^.]*: off its stated figure\.$/)])
    expect(s.left.join(' ')).not.toMatch(/not mended/)
    expect(stationStates(f).get('beyond')).toBe('mended')
    expect(mayIssueReport(f, 0).ok).toBe(true)
    expect(evidenceOf(f, 1).findings).toEqual([])
  })
  it('two finds are not answered by one repair: which it was of is not known', () => {
    const findings = [find('fuel-pressure', 'beyond'), find('compression', 'beyond')]
    const left = (...repairs: VisitFile['repairs']): string =>
      sheet(visitOf({ readings: [...POOR, ...GOOD], findings, repairs })).left.join(' ')
    const pump = repairAt('beyond', 0, { kind: 'replace', note: PUMP })
    const second = { ...pump, id: 'second', note: 'the head gasket renewed' }
    const word = { ...pump, id: 'word', kind: 'leave' as const }
    expect(left(pump).match(/whether what was done there answers this is not written down/g)).toHaveLength(2)
    expect(left(pump, second)).not.toMatch(/eyond the air path/)
    expect(left(word, { ...word, id: 'word 2' }).match(/left as it is, as agreed/g)).toHaveLength(2)
    expect(left(pump, word)).toMatch(/mended, or left as it is/)
    const one = visitOf({ readings: POOR, findings, repairs: [pump] })
    expect(stationStates(one).get('beyond')).toBe('failed')
    expect(nowAct({ ...one, readings: [...POOR, ...GOOD] }).id).toBe('mend')
    expect(nowAct(visitOf({ readings: [...POOR, ...GOOD], findings, repairs: [pump, word] })).id).not.toBe('mend')
  })
  it('a repair that names its find answers that one, and nothing of the other', () => {
    const findings = [find('fuel-pressure', 'beyond'), find('compression', 'beyond')]
    const pump = repairAt('beyond', 0, { kind: 'replace', note: PUMP, finding: findings[0].id })
    const f = visitOf({ readings: [...POOR, ...GOOD], findings, repairs: [pump] })
    const { left } = sheet(f)
    expect(left.filter((x) => /eyond the air path/.test(x))).toEqual([
      expect.stringMatching(/^Beyond the air path \(compression.*\), not mended\./),
    ])
    expect(remediesOf(f)[0].answers).toContain('fuel-delivery-low')
    expect(remediesOf(f)[0].answers).not.toContain('weak-cylinder')
    // what was found of the cylinder stands as evidence, what was found of the fuel is spent
    expect(evidenceOf(f, 1).findings.map((x) => x.test)).toEqual(['compression'])
    const word = { ...pump, id: 'word', kind: 'leave' as const, finding: findings[1].id }
    const both = { ...f, repairs: [pump, word] }
    expect(sheet(both).left.join(' ')).toMatch(/\(compression.*\), not mended: left as it is, as agreed/)
    expect(nowAct(both).id).not.toBe('mend')
    // left at first, mended later
    const later = {
      ...f,
      repairs: [pump, word, { ...word, id: 'later', kind: 'replace' as const, note: 'the head gasket renewed' }],
    }
    expect(sheet(later).left.join(' ')).not.toMatch(/eyond the air path/)
    expect(stationStates(later).get('beyond')).toBe('mended')
  })
  it('has a place on a car where nothing of it was tested only when something is done there', () => {
    expect(stationStates(visitOf()).has('beyond')).toBe(false)
    expect(BEYOND_THE_PATH).toContain('fuel-delivery-low')
    expect(BEYOND_THE_PATH).not.toContain('unmetered-air')
  })
})

describe('a test that names no place', () => {
  const f = visitOf({ readings: POOR, findings: [find('gauge-idle', 'vacuum-lines')] })
  it('asks for no work where it was made, and no part there has failed', () => {
    expect(findsToMend(f)).toEqual([])
    expect(stationStates(f).get('vacuum-lines')).toBe('unseen')
    expect(sheet(f).left.join(' ')).not.toMatch(/acuum lines/)
    expect(sheet(f).found.join(' ')).not.toMatch(/acuum lines/)
  })
  it('told of the engine as it was: work since spends it, as it does a find at its place', () => {
    const after = { ...f, readings: [...POOR, ...GOOD], repairs: [repairAt('duct', 0)] }
    expect(evidenceOf(f, 0).findings).toHaveLength(1)
    expect(evidenceOf(after, 1).findings).toEqual([])
    expect(evidenceOf({ ...after, findings: [foundAt('booster.1', 'split')] }, 1).findings).toHaveLength(1)
  })
})

describe('dirt that a test found', () => {
  const crust = find('valve-borescope', 'runners-1', 'hard crust')
  const f = visitOf({ readings: POOR, findings: [crust] })
  it('is fed or cleaned off: no part of the runners has failed', () => {
    expect(findsToMend(f)).toEqual([])
    expect(stationStates(f).get('runners-1')).not.toBe('failed')
    expect(nowAct(f)).toMatchObject({ id: 'dirt', stage: 'decarbonize', why: 'hard crust' })
    expect(sheet(f).found.join(' ')).toMatch(/Intake valves by borescope: hard crust\./)
    expect(sheet(f).left.join(' ')).toMatch(
      /Deposits on the intake valves \(intake valves by borescope\), not cleaned\./,
    )
  })
  it('is answered by a feed, and not by work elsewhere', () => {
    const after = { ...f, readings: [...POOR, ...GOOD] }
    expect(dirtLeft({ ...after, runs: [fed()] })).toEqual([])
    expect(evidenceOf({ ...after, runs: [fed()] }, 1).findings).toEqual([])
    const elsewhere = { ...after, repairs: [repairAt('duct', 0)] }
    expect(dirtLeft(elsewhere)).toEqual([crust])
    expect(evidenceOf(elsewhere, 1).findings).toHaveLength(1)
  })
  it('is not confirmed by a feed after which nothing was seen to change', () => {
    const turbo = ENGINE_PATTERNS.find((p) => p.id === 'turbo-di')!.vehicle
    const figures = {
      rpm: 720,
      maf_gs: 2.25,
      map_kpa: 35.2,
      stft1_pct: 1,
      ltft1_pct: 3,
      throttle_pct: 3.5,
      battery_v: 14,
    }
    const held = { rpm: 2500, maf_gs: 7.3, map_kpa: 33, stft1_pct: 0, ltft1_pct: 2, throttle_pct: 7 }
    const readings = [0, 1].flatMap((round) =>
      Object.entries({ idle: figures, 'hold-2500': held }).flatMap(([slot, of]) =>
        Object.entries(of).map(([channel, value]) => reading(round, slot as Slot, channel as ChannelId, value)),
      ),
    )
    const f = visitOf({ readings, findings: [crust], runs: [fed(Infinity, 10, turbo)] }, turbo)
    const said = { ...f, visit: { ...f.visit, signs: ['stumbles', 'flat'], conditions: ['codes-none'] } }
    expect(diagnoseVisit(said, 0).ranking[0].fault).toBe('valve-deposits')
    const s = sheet(said)
    // no figure was out and none moved: there is nothing to draw
    expect(s.picture).toBeUndefined()
    expect(s.found.join(' ')).not.toMatch(/Confirmed/)
    expect(s.plain).toMatch(/^Done: the intake decarbonized\. The readings do not show a difference\./)
  })
})
