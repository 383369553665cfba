import { describe, expect, it } from '@jest/globals'
import { TESTS, type FaultId, type Ranked } from '../diagnosis/index.js'
import { ENGINE_PATTERNS, lookItemsOf } from '../engine/index.js'
import { benchOf, diagnoseVisit, nowAct, testsAt, type VisitFile } from './index.js'
import { holdOf, idleOf, repairAt, tried, visitOf } from './remedies.fixture.js'

const AIRY = [...idleOf(0, { trim: 16 }), ...holdOf(0, 5, 8.2)]
const TIGHT = [...idleOf(1, { trim: 1 }), ...holdOf(1, 1, 8.2)]
const MENDED = repairAt('booster', 0)

describe('what is left once the work is done', () => {
  const better = visitOf({ readings: [...AIRY, ...TIGHT], repairs: [MENDED] })
  it('is tested for where hardly anything says that the engine is sound, though no cause leads', () => {
    const d = diagnoseVisit(better, 1)
    const of = (fault: FaultId): Ranked => d.ranking.find((r) => r.fault === fault)!
    const left = (none: number): ReturnType<typeof nowAct> =>
      nowAct(better, {
        ...d,
        ranking: [
          { ...of('purge-stuck-open'), probability: 0.4 },
          { ...of('unmetered-air'), probability: 0.6 - none },
          { ...of('none'), probability: none },
        ],
        nextTests: [{ test: 'purge-pinch', minutes: 2, bits: 0.7, said: '' }] as unknown as typeof d.nextTests,
        stop: { verdict: 'test', because: '' } as typeof d.stop,
      })
    expect(left(0.05)).toMatchObject({
      id: 'test',
      title: 'Purge hose closed off',
      why: 'What is read now is hardly a sound engine’s: purge valve stuck open, 40 %. 2 minutes.',
      where: { station: 'purge', test: 'purge-pinch' },
    })
    expect(left(0.35)).toMatchObject({
      id: 'test',
      why: 'What is read now need not be a sound engine’s: purge valve stuck open, 40 %. 2 minutes.',
    })
    expect(left(0.75).id).toBe('sheet')
    // between the two what it came with tells
    expect(left(0.55)).toMatchObject({
      id: 'felt',
      why: expect.stringMatching(/need not be a sound engine’s\. Came with/),
    })
  })
  it('leads to where the cause sits once its own test is made', () => {
    const looks = lookItemsOf(better.vehicle.spec).map((i) => ({
      ...tried('look', i.station, 'pass', 0),
      id: `v:${i.id}`,
      item: i.id,
    }))
    const came = visitOf({ readings: AIRY, findings: looks })
    const whereOf = (fault: FaultId, findings: VisitFile['findings'] = []): ReturnType<typeof nowAct>['where'] => {
      const f = { ...came, findings: [...looks, ...findings] }
      const d = diagnoseVisit(f, 0)
      const lead = { ...d.ranking[0], fault, probability: 0.95 }
      return nowAct(f, { ...d, ranking: [lead, ...d.ranking.filter((r) => r.fault !== fault)] }).where
    }
    expect(whereOf('unmetered-air')).toBe('places')
    expect(whereOf('intake-restriction')).toEqual({ station: 'filter', test: expect.any(String) })
    expect(whereOf('maf-under-reads')).toEqual({ station: 'airflow-sensor' })
    expect(whereOf('purge-stuck-open')).toEqual({ station: 'purge', test: 'purge-pinch' })
    expect(whereOf('purge-stuck-open', [tried('purge-pinch', 'purge', 'pass', 0)])).toBe('places')
  })
  it('is shown at the bench that it leads to, whichever test it is', () => {
    for (const { vehicle } of ENGINE_PATTERNS) {
      const v = { ...vehicle, name: 'v', altitudeM: 0 }
      for (const t of TESTS.filter((x) => x.id !== 'look' && x.admissible(v))) {
        const where = benchOf(v, t.id)
        if (where !== 'places') expect([t.id, testsAt(v, where.station).includes(t)]).toEqual([t.id, true])
      }
    }
    // a plenum is pinched by nobody
    expect(benchOf(better.vehicle.spec, 'pinch')).toBe('places')
    expect(benchOf(better.vehicle.spec, 'smoke')).toEqual({ station: 'plenum', test: 'smoke' })
  })
})
