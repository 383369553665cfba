import { describe, expect, it } from '@jest/globals'
import { ENGINE_PATTERNS, lookItemsOf, type StationId } from '../engine/index.js'
import { isOfDirt, openFinds, remediesOf, repairOptionsAt, type FindingRecord, type RepairKind } from './index.js'
import { foundAt, repairAt, stepAt, visitOf } from './remedies.fixture.js'

const kinds = (...of: Parameters<typeof repairOptionsAt>): RepairKind[] => repairOptionsAt(...of).map((o) => o.kind)
const look = (item: string): Pick<FindingRecord, 'test' | 'item'> => ({ test: 'look', item })

describe('ways to answer a find', () => {
  it('a ring of deposit is cleaned, and no joint is tightened for it', () => {
    expect(kinds('throttle', [look('throttle.1')])).toEqual(['clean', 'replace', 'leave'])
    expect(kinds('throttle', [look('throttle.2')])).toEqual(['refit', 'replace', 'leave'])
    expect(kinds('throttle-2', [look('throttle-2.1')])).not.toContain('refit')
  })
  it('two looks have the ways of both; a test that found air there, or nothing yet, has them all', () => {
    const all = kinds('throttle')
    expect(kinds('throttle', [look('throttle.2'), look('throttle.1')]).sort()).toEqual([...all].sort())
    expect(kinds('throttle', [look('throttle.2'), look('throttle.1')]).at(-1)).toBe('leave')
    expect(kinds('throttle', [look('throttle.1'), { test: 'smoke' }])).toEqual(all)
    expect(all).toContain('refit')
  })
  it('a ring of deposit asks for a new throttle where it is renewed, and no gasket; both together too', () => {
    const renewed = (...items: string[]) =>
      repairOptionsAt('throttle', items.map(look)).find((o) => o.kind === 'replace')!.label
    expect(renewed('throttle.1')).toBe('New throttle')
    expect(renewed('throttle.2')).toBe('New gasket or part')
    expect(renewed('throttle.2', 'throttle.1')).toBe('New throttle')
  })
  it('a runner that was seen to be narrowed is cleared or renewed, and no seal is tightened; its words read on', () => {
    expect(kinds('runners-1')).toEqual(['refit', 'replace', 'leave'])
    expect(kinds('runners-2', [{ test: 'runner-look' }])).toEqual(['clean', 'replace', 'leave'])
    expect(kinds('runners-2', [{ test: 'smoke' }])).toEqual(['refit', 'replace', 'leave'])
    expect(kinds('runners-2', [{ test: 'smoke' }, { test: 'runner-look' }]).sort()).toEqual([
      'clean',
      'leave',
      'refit',
      'replace',
    ])
    const [done] = remediesOf(visitOf({ repairs: [repairAt('runners-2', 0, { kind: 'clean' })] }))
    expect(done).toMatchObject({
      words: 'runners, bank 2, cleaned',
      answers: expect.arrayContaining(['runner-restriction']),
    })
  })
  it('a flap that soot holds is cleaned, and not tightened', () => {
    expect(kinds('throttle-flap', [look('throttle-flap.1')])).toEqual(['clean', 'replace', 'leave'])
    expect(isOfDirt(look('throttle-flap.1'))).toBe(true)
  })
  it('a seal or a plug is not cleaned', () => {
    for (const item of ['egr.1', 'map-sensor.1', 'pcv.1', 'idle-valve.1', 'throttle.2'])
      expect([item, kinds(item.split('.')[0] as StationId, [look(item)]).includes('clean')]).toEqual([item, false])
  })
  it('a valve that a test found is cleaned or renewed; what smoke finds there may be its hose', () => {
    expect(kinds('pcv', [{ test: 'pcv-grommet' }])).toEqual(['replace', 'clean', 'leave'])
    expect(kinds('purge', [{ test: 'purge-pinch' }])).toEqual(['replace', 'leave'])
    expect(kinds('map-sensor', [{ test: 'map-key-on' }])).toEqual(['clean', 'replace', 'leave'])
    expect(kinds('airflow-sensor', [{ test: 'maf-unplugged' }])).toEqual(['clean', 'replace', 'leave'])
    expect(kinds('pcv', [{ test: 'smoke' }])).toContain('clamp')
    expect(kinds('idle-valve', [{ test: 'idle-valve-sweep' }])).not.toContain('wrap')
    expect(repairOptionsAt('throttle', [{ test: 'throttle-look' }])[1].label).toBe('New throttle')
    expect(isOfDirt({ test: 'throttle-look' })).toBe(true)
    expect(kinds('egr', [{ test: 'egr-passage-look' }])).toEqual(['clean', 'replace', 'leave'])
  })
  it('a hose that is off is pushed on, one that is split is not', () => {
    expect(kinds('duct', [look('duct.1')])).toEqual(expect.arrayContaining(['refit', 'clamp', 'wrap']))
    for (const n of [2, 3]) {
      expect(kinds('duct', [look(`duct.${n}`)])).not.toContain('refit')
      expect(kinds('duct', [look(`duct.${n}`)])).not.toContain('clamp')
    }
  })
  it('every look of every engine has a way besides leaving it, and may be left', () => {
    for (const { vehicle } of ENGINE_PATTERNS) {
      const v = { ...vehicle, name: '', altitudeM: 0 }
      for (const { id, station } of lookItemsOf(v)) {
        const ways = kinds(station, [look(id)])
        expect([id, ways.includes('leave'), ways.length > 1]).toEqual([id, true, true])
      }
    }
  })
})

describe('dirt that was seen', () => {
  const ring = foundAt('throttle.1', '')
  const after = (part: object) => openFinds(visitOf({ findings: [ring], ...part }), true).map((x) => x.find.id)
  it('stays open when the throttle was only tightened, and is answered by cleaning or a new one', () => {
    expect(after({})).toEqual([ring.id])
    expect(after({ repairs: [repairAt('throttle', 0, { kind: 'refit' })] })).toEqual([ring.id])
    expect(after({ repairs: [repairAt('throttle', 0, { kind: 'replace' })] })).toEqual([])
    expect(
      after({
        steps: [
          stepAt({
            station: 'throttle',
            surface: 'throttle-plate',
            product: 'soft-brush-cloth',
            method: 'cloth-in-place',
          }),
        ],
      }),
    ).toEqual([])
  })
  it('a throttle that was tightened has lost no deposits, a gasket none of the valves’', () => {
    const answers = (station: 'throttle' | 'gaskets', kind: RepairKind) =>
      remediesOf(visitOf({ repairs: [repairAt(station, 0, { kind })] }))[0].answers
    expect(answers('throttle', 'refit')).not.toContain('throttle-deposits')
    expect(answers('throttle', 'replace')).toContain('throttle-deposits')
    expect(answers('gaskets', 'replace')).not.toContain('valve-deposits')
    expect(answers('gaskets', 'replace')).toContain('unmetered-air')
  })
})
