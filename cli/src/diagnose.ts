import { diagnose, evidenceFromRecording, pointsFromTyped, TESTS, SIGNS } from '@uvula/core'
import { CommandError, eachCase, type BatchLine, readReadings, readRecording, readVehicle } from './files.js'

/** Paths of one case. */
export interface CasePaths {
  readonly vehicle: string
  readonly log: string
  readonly readings?: string
}

/** Diagnosis of one case in the open format. @throws CommandError */
export function diagnoseFiles(paths: CasePaths): object {
  const vehicle = readVehicle(paths.vehicle)
  const recording = readRecording(paths.log)
  const readings = paths.readings ? readReadings(paths.readings) : undefined
  const recorded = evidenceFromRecording(recording, vehicle)
  for (const t of readings?.tests ?? [])
    if (!TESTS.some((x) => x.id === t.test))
      throw new CommandError(
        'unknown-test',
        `Test "${t.test}" is not in the catalogue: ${TESTS.map((x) => x.id).join(', ')}.`,
      )
  for (const s of readings?.signs ?? [])
    if (!SIGNS.some((x) => x.id === s))
      throw new CommandError('unknown-sign', `Sign "${s}" is not in the table: ${SIGNS.map((x) => x.id).join(', ')}.`)
  const d = diagnose(vehicle, {
    intent: readings?.signs.length ? 'complaint' : 'not-stated',
    signs: readings?.signs ?? [],
    findings: readings?.tests ?? [],
    codes: readings?.codes,
    closedThrottlePct: recorded.closedThrottlePct,
    points: [...recorded.points, ...pointsFromTyped(readings?.points ?? [])],
  })
  return {
    ranking: d.ranking,
    combinations: d.combinations,
    operatingPoints: recorded.points,
    nextTests: d.nextTests,
    plan: d.plan,
    stop: d.stop,
    warnings: [...recording.warnings, ...d.warnings],
    ambiguous: d.ambiguous,
    unexplained: d.unexplained,
  }
}

/** Every case of a folder, one result a line. */
export const diagnoseBatch = (dir: string): Generator<BatchLine> =>
  eachCase(dir, ['vehicle.json', 'log.csv'], (c) =>
    diagnoseFiles({ vehicle: c.path('vehicle.json'), log: c.path('log.csv'), readings: c.maybe('readings.json') }),
  )
