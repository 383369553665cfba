import { describe, expect, it } from '@jest/globals'
import {
  diagnoseVisit,
  isProved,
  mayIssueReport,
  nowAct,
  proofsOf,
  sheetOf,
  type Sheet,
  type VisitFile,
} from '../index.js'
import { foundAt, holdOf, idleOf, reading, repairAt, stepAt, visitOf } from '../remedies.fixture.js'

const NOW = Date.UTC(2026, 0, 1, 12)
const sheet = (f: VisitFile): Sheet => sheetOf(f, diagnoseVisit(f, 0), 60)
const without = (channel: string, readings: ReturnType<typeof idleOf>): ReturnType<typeof idleOf> =>
  readings.filter((r) => r.channel !== channel)
const repairs = [repairAt('duct', 0)]

describe('an idle that was read in part', () => {
  it('is not told as one that was not measured, and what it lacks is named', () => {
    const f = visitOf({ readings: without('maf_gs', idleOf(0, { trim: 14 })) })
    expect(sheet(f).found).toEqual(['The warm idle was read without airflow.'])
    expect(sheet(f).plain).toBe('We have begun to measure your engine; not everything has been read yet.')
    expect(nowAct(f, undefined)).toMatchObject({ id: 'read-idle', why: expect.stringContaining('read: airflow.') })
  })
  it('after the work: sheet and gate name what is missing', () => {
    const f = visitOf({ readings: [...idleOf(0, { trim: 14 }), ...without('maf_gs', idleOf(1))], repairs })
    expect(isProved(f)).toBe(false)
    const s = sheet(f)
    expect(s.plain).toContain('The engine has been measured again only in part.')
    expect(s.left).toContain('Measured again without airflow since: duct refitted.')
    const gate = mayIssueReport(f, NOW)
    expect(!gate.ok && gate.refusals[0].message).toMatch(/^Measured again without airflow since: duct refitted\./)
  })
  it('where the baseline went without a figure, the proof goes without it too', () => {
    const f = visitOf({
      readings: [...without('maf_gs', idleOf(0, { trim: 14 })), ...without('maf_gs', idleOf(1))],
      repairs,
    })
    expect(isProved(f)).toBe(true)
    expect(proofsOf(f)[0].proof?.verdict).toBe('better')
    expect(sheet(f).plain).toContain('The readings are better than before.')
    expect(mayIssueReport(f, NOW).ok).toBe(true)
    expect(nowAct(f, undefined).id).not.toBe('read-idle')
  })
  it('a recording whose coolant sensor no engine can show is told why it holds no warm idle', () => {
    const point = {
      kind: 'cold' as const,
      rpm: 1400,
      startS: 0,
      endS: 60,
      n: 100,
      means: { rpm: 1400, ect_c: -40 },
      sds: {},
    }
    const recording = {
      ...reading(0, 'idle', 'rpm', 0),
      name: 'a.csv',
      sha256: '',
      bytes: 1,
      rows: 1,
      points: [point],
      warnings: [],
    }
    expect(nowAct(visitOf({ recordings: [recording] }), undefined)).toMatchObject({
      id: 'read-idle',
      why: expect.stringMatching(/^The coolant sensor reads −40 °C, so no stretch that was recorded counts as warm: /),
    })
  })
  it('a speed alone is nothing to prove by', () => {
    const f = visitOf({ readings: [reading(0, 'idle', 'rpm', 900), reading(1, 'idle', 'rpm', 700)], repairs })
    expect(isProved(f)).toBe(false)
    expect(sheet(f).plain).toContain('measured again only in part')
  })
})

describe('what is left on a sheet', () => {
  it('counts a part that was in hand as looked at', () => {
    const left = (part: Parameters<typeof visitOf>[0]): number => {
      const said = sheet(visitOf({ readings: idleOf(0), ...part })).left.join(' ')
      return Number((/None of the (\d+) looks/.exec(said) ?? /looks along the intake (\d+) w/.exec(said))![1])
    }
    const none = left({})
    expect(left({ findings: [foundAt('duct.1', 'split')] })).toBe(none - 1)
    expect(left({ steps: [stepAt()] })).toBeLessThan(none)
    expect(left({ findings: [{ ...foundAt('airflow-sensor', ''), test: 'maf-look', item: undefined }] })).toBe(
      left({ steps: [stepAt()] }),
    )
    // smoke at the plenum is no look at it
    expect(left({ findings: [{ ...foundAt('plenum', ''), test: 'smoke', item: undefined, outcome: 'pass' }] })).toBe(
      none,
    )
  })
  it('a sign that is felt on the road only is not passed over where nobody drove', () => {
    const f = visitOf({ readings: [...idleOf(0, { trim: 14 }), ...idleOf(1)], repairs })
    const came = (signs: string[], more: VisitFile['readings'] = []): string =>
      sheet({ ...f, readings: [...f.readings, ...more], visit: { ...f.visit, signs } }).left.join(' ')
    expect(came(['flat', 'thirsty', 'idle-hunts'])).toContain(
      'Not tried on the road since the work: “thirsty” and “flat at high load”.',
    )
    expect(came(['idle-hunts'])).not.toContain('on the road')
    const cruised = [reading(1, 'cruise', 'maf_gs', 12)]
    expect(came(['thirsty', 'flat'], cruised)).toContain('Not tried on the road since the work: “flat at high load”.')
    expect(came(['thirsty'], cruised)).not.toContain('on the road')
  })
  it('what is not sure is told as what would follow', () => {
    const f = visitOf({ readings: idleOf(0, { trim: 17 }) })
    const d = diagnoseVisit(f, 0)
    expect(d.ranking[0].probability).toBeLessThan(0.85)
    expect(sheet(f).found[0]).toMatch(/not confirmed\. If so, [a-z]/)
  })
})

describe('two causes answered at once', () => {
  const [before, after] = [
    { rpm: 690, map_kpa: 34.5, stft1_pct: 0.8, ltft1_pct: 1.6, idle_valve_pct: 66, ect_c: 90 },
    { rpm: 830, map_kpa: 33, stft1_pct: 0, ltft1_pct: 1.6, idle_valve_pct: 36, ect_c: 91 },
  ]
  const idle = (round: number, values: typeof before): ReturnType<typeof reading>[] =>
    Object.entries(values).map(([channel, value]) => reading(round, 'idle', channel as 'rpm', value))
  const visit = (part: Partial<VisitFile>): Sheet => {
    const f = visitOf(
      {
        readings: [...idle(0, before), ...idle(1, after)],
        findings: [foundAt('throttle.1', 'a brown ring behind the plate')],
        ...part,
      },
      {
        ...{ displacementL: 1.6, metering: 'map', throttle: 'cable', throttleBoreMm: 50, idleControl: 'idle-valve' },
        idleSpecRpm: { min: 750, max: 900 },
      },
    )
    return sheetOf(f, diagnoseVisit(f, 0), 60, diagnoseVisit(f, 1))
  }
  const valve = stepAt({ station: 'idle-valve', surface: 'idle-valve', product: 'throttle-cleaner' })
  const plate = stepAt({ station: 'throttle', surface: 'throttle-plate', product: 'throttle-cleaner' })
  it('neither is told as the one that it was', () => {
    const s = visit({ steps: [valve, plate] })
    expect(s.found[0]).toMatch(/^Idle valve sticks, or deposits in .* not told apart\./)
    expect(s.plain).toMatch(/^Done: the idle valve cleaned and the throttle cleaned\./)
    expect(s.done.join(' ')).toContain('2 of these were done without measuring between them')
  })
  it('alone it is confirmed', () => {
    const s = visit({ steps: [valve] })
    expect(s.found[0]).toMatch(/^Idle valve sticks\. Confirmed/)
    expect(s.plain).toMatch(/^The valve that holds the idle of your engine did not follow\. Done/)
  })
})

describe('a cause that was answered and is neither confirmed nor left', () => {
  it('stands on the sheet as what it was before the work', () => {
    // a film by the readings, the sensor cleaned, and nothing changed
    const film = (round: number) => [...idleOf(round, { trim: 6, maf: 2.2 }), ...holdOf(round, 19, 6.4)]
    const f = visitOf({ readings: [...film(0), ...film(1)], steps: [stepAt()] })
    const d = diagnoseVisit(f, 0)
    const now = diagnoseVisit(f, 1)
    expect(sheetOf(f, d, 60, now).found.join(' ')).toMatch(/Airflow sensor reads low, .* after the work/)
    const none = { ...now, ranking: [{ ...now.ranking[0], fault: 'none', probability: 0.45 }] } as typeof now
    expect(sheetOf(f, d, 60, none).found.join(' ')).toMatch(
      /Before the work: airflow sensor reads low, \d+ % by the readings\. What was read since does not confirm it\./,
    )
  })
})

describe('two causes that the same work answers', () => {
  const f = visitOf(
    {
      readings: [...idleOf(0, { rpm: 590 }), ...idleOf(1)],
      findings: [{ ...foundAt('egr', ''), test: 'egr-passage-look', item: undefined, note: undefined }],
      steps: [stepAt({ station: 'egr', surface: 'sooted-metal', product: 'soot-remover' })],
    },
    { egr: 'valve' },
  )
  const [d, now] = [diagnoseVisit(f, 0), diagnoseVisit(f, 1)]
  const came = (...ps: readonly (readonly [string, number])[]): typeof d => ({
    ...d,
    ranking: ps.map(([fault, probability]) => ({ ...d.ranking[0], fault, probability })) as unknown as typeof d.ranking,
  })
  it('are not told apart where both were about as likely, and neither is told to the customer', () => {
    const s = sheetOf(f, came(['egr-open-at-idle', 0.3], ['egr-no-flow', 0.2]), 60, now)
    expect(s.found[0]).toMatch(/^EGR valve leaks at idle, or EGR does not flow\. What was done may answer either/)
    expect(s.plain).toMatch(/^Done: the EGR valve cleaned\./)
    expect(s.found.join(' ')).toContain('EGR valve: not as it should be (EGR valve off, passage looked at).')
  })
  it('the one that was far likelier is confirmed', () => {
    const s = sheetOf(f, came(['egr-open-at-idle', 0.8], ['egr-no-flow', 0.2]), 60, now)
    expect(s.found[0]).toMatch(/^EGR valve leaks at idle\. Confirmed/)
  })
})
