import { describe, expect, it } from '@jest/globals'
import { lookItemsOf } from '../engine/index.js'
import { checkRepair, diagnoseVisit, nowAct, proposedLines, repairOptionsFor, type VisitFile } from './index.js'
import { foundAt, holdOf, idleOf, repairAt, visitOf } from './remedies.fixture.js'

/** A sensor that reads low, every look made, its film seen. */
const dirty = (doNotClean: readonly 'airflow-sensor'[]): VisitFile => {
  const readings = [...idleOf(0, { trim: 6, maf: 2.2 }), ...holdOf(0, 19, 6.4)]
  const spec = visitOf({}, { doNotClean }).vehicle.spec
  const findings = lookItemsOf(spec).map((i) => ({
    ...foundAt(i.id, ''),
    outcome: i.id === 'airflow-sensor.2' ? ('unclear' as const) : ('pass' as const),
  }))
  return visitOf({ readings, findings }, { doNotClean })
}

describe('a part whose label forbids cleaning', () => {
  const [free, labelled] = [dirty([]), dirty(['airflow-sensor'])]
  it('is renewed, and not sent to the cleaning bench', () => {
    const act = (f: VisitFile) => nowAct(f, diagnoseVisit(f, 0))
    expect(act(free)).toMatchObject({ title: 'Clean the airflow sensor, once', stage: 'clean' })
    expect(act(labelled)).toMatchObject({
      title: 'Renew the airflow sensor: its label forbids cleaning',
      stage: 'trace',
      where: { station: 'airflow-sensor' },
    })
  })
  it('is offered no cleaning, by ways nor by quote; one that was done all the same is against the rule', () => {
    const kinds = (f: VisitFile) => repairOptionsFor(f.vehicle.spec, 'airflow-sensor').map((o) => o.kind)
    expect(kinds(free)).toContain('clean')
    expect(kinds(labelled)).toEqual(kinds(free).filter((k) => k !== 'clean'))
    expect(JSON.stringify(proposedLines(labelled, diagnoseVisit(labelled, 0)))).not.toMatch(/[Cc]lean the airflow/)
    const cleaned = repairAt('airflow-sensor', 0, { kind: 'clean' })
    expect(checkRepair(free, cleaned)).toEqual([])
    expect(checkRepair(labelled, cleaned).map((r) => r.rule)).toEqual(['label-forbids'])
  })
})
