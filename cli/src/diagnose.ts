import { existsSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import { diagnose, evidenceFromRecording, pointsFromTyped, TESTS, SIGNS } from '@uvula/core'
import { CommandError, readReadings, readRecording, readVehicle } from './files.js'

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

/** Every sub-folder of a folder, one result a line; a bad one gives its error and the rest go on. */
export function* diagnoseBatch(dir: string): Generator<{ readonly ok: boolean; readonly line: object }> {
  if (!existsSync(dir)) throw new CommandError('no-folder', `${dir} is not there.`)
  const names = readdirSync(dir, { withFileTypes: true })
    .filter(
      (e) =>
        e.isDirectory() && existsSync(join(dir, e.name, 'vehicle.json')) && existsSync(join(dir, e.name, 'log.csv')),
    )
    .map((e) => e.name)
    .sort()
  if (!names.length) throw new CommandError('no-cases', `${dir} holds no folder with vehicle.json and log.csv.`)
  for (const name of names) {
    const readings = join(dir, name, 'readings.json')
    try {
      const result = diagnoseFiles({
        vehicle: join(dir, name, 'vehicle.json'),
        log: join(dir, name, 'log.csv'),
        readings: existsSync(readings) ? readings : undefined,
      })
      yield { ok: true, line: { case: name, ...result } }
    } catch (e) {
      const known = e instanceof CommandError
      yield {
        ok: false,
        line: { case: name, error: { code: known ? e.code : 'failed', message: (e as Error).message } },
      }
    }
  }
}
