import { describe, expect, it } from '@jest/globals'
import { causesOf, diagnoseVisit, nowAct, sheetOf } from './index.js'
import type { VisitFile } from './index.js'
import { holdOf, idleOf, reading, repairAt, visitOf } from './remedies.fixture.js'

const FAULT = 'temperature-sensor-implausible'
const last = (f: VisitFile): number => Math.max(...f.readings.map((r) => r.round))
const sheet = (f: VisitFile): ReturnType<typeof sheetOf> =>
  sheetOf(f, diagnoseVisit(f, 0), 60, diagnoseVisit(f, last(f)))
const causes = (f: VisitFile): ReturnType<typeof causesOf> =>
  causesOf(f, diagnoseVisit(f, 0), diagnoseVisit(f, last(f)))

/** An idle at which a temperature reads something else. */
const idleAt = (round: number, channel: 'ect_c' | 'iat_c', c: number, trim: number): VisitFile['readings'] => [
  ...idleOf(round, { trim }).filter((r) => r.channel !== channel),
  reading(round, 'idle', channel, c),
]
const COOLANT = repairAt('beyond', 0, { kind: 'replace', note: 'the coolant sensor renewed' })

describe('a temperature that no car shows, and that reads as it should since', () => {
  it('is its sensor, though no other figure has changed', () => {
    const f = visitOf({
      readings: [...idleAt(0, 'ect_c', -38, 1), ...idleAt(1, 'ect_c', 90, 1)],
      repairs: [COOLANT],
    })
    const s = sheet(f)
    expect(s.plain).toMatch(/^A temperature sensor of your engine was reading wrong\. .* is read as it should be\./)
    expect(s.found[0]).toMatch(
      /^Intake or coolant temperature .* Confirmed: .* the temperature reads as it should\. Before: the coolant temperature reads −38/,
    )
    // and no engine was colder than the other
    expect(s.proved!.join(' ')).not.toMatch(/colder engine/)
    expect(nowAct(f, diagnoseVisit(f, 1)).why).not.toMatch(/changed nothing/)
  })

  it('was nothing else of what lies beyond the air path, where one part of it was renewed and nobody said which', () => {
    const f = visitOf({
      readings: [
        ...idleAt(0, 'ect_c', -40, 18),
        ...holdOf(0, 18, 8.2),
        ...idleAt(1, 'ect_c', 90, 1),
        ...holdOf(1, 1, 8.2),
      ],
      repairs: [COOLANT],
    })
    const found = causes(f)
    expect(found.confirmed).toEqual([FAULT])
    expect(found.or[FAULT]).toEqual([])
    // a second part may have been another, where that was likelier than all else
    const two = { ...f, repairs: [COOLANT, repairAt('beyond', 0, { kind: 'replace', id: 'another' })] }
    const likely = diagnoseVisit(two, 0).ranking.filter((r) => r.probability > 0.5)
    expect(causes(two).confirmed).toContain(FAULT)
    expect(causes(two).confirmed.every((x) => likely.some((r) => r.fault === x))).toBe(true)
  })

  it('is confirmed beside what led before it, and not taken away by it', () => {
    const f = visitOf({
      readings: [
        ...idleAt(0, 'iat_c', -40, 18),
        ...holdOf(0, 5, 8.2),
        ...idleAt(1, 'iat_c', -40, 1),
        ...holdOf(1, 1, 8.2),
        ...idleAt(2, 'iat_c', 24, 1),
        ...holdOf(2, 1, 8.2),
      ],
      repairs: [repairAt('booster', 0), repairAt('airflow-sensor', 1, { kind: 'replace' })],
    })
    expect(causes(f).confirmed).toEqual([FAULT, 'unmetered-air'])
    // read as it should before that work was done, it is not of it
    const before = f.readings.map((r) => (r.round === 1 && r.channel === 'iat_c' ? { ...r, value: 24 } : r))
    expect(causes({ ...f, readings: before }).confirmed).not.toContain(FAULT)
  })
})
