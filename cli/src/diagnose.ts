import {
  diagnose,
  evidenceFromRecording,
  pointsFromTyped,
  scaleDoubts,
  SIGNS,
  TESTS,
  type SoundOf,
  type SoundPoints,
  type Vehicle,
} from '@uvula/core'
import { CommandError, eachCase, type BatchLine, readJson, readReadings, readRecording, readVehicle } from './files.js'

/** Paths of one case. */
export interface CasePaths {
  readonly vehicle: string
  readonly log: string
  readonly readings?: string
  /** Recordings of sound cars: this one, or others of its model. */
  readonly sound?: readonly SoundPath[]
}

/** A recording of a sound car, and the height of its place where that was another. */
export interface SoundPath {
  readonly of: SoundOf
  readonly log: string
  readonly place?: string
}

/** @throws CommandError when the file is no recording, or its place no height */
function soundPoints(s: SoundPath, v: Vehicle): SoundPoints {
  const place = s.place ? (readJson(s.place) as { altitudeM?: unknown }) : {}
  const altitudeM = place.altitudeM ?? v.altitudeM
  if (typeof altitudeM !== 'number' || !(altitudeM >= -400 && altitudeM <= 5000))
    throw new CommandError(
      'place-not-valid',
      `${s.place}: altitudeM is ${JSON.stringify(place.altitudeM)}, accepted: -400 to 5000 m.`,
    )
  return { of: s.of, altitudeM, ...evidenceFromRecording(readRecording(s.log), { ...v, altitudeM }) }
}

/** Diagnosis of one case in the open format. @throws CommandError */
export function diagnoseFiles(paths: CasePaths): object {
  const vehicle = readVehicle(paths.vehicle)
  const recording = readRecording(paths.log)
  const readings = paths.readings ? readReadings(paths.readings) : undefined
  const recorded = evidenceFromRecording(recording, vehicle)
  for (const t of readings?.tests ?? []) {
    const test = TESTS.find((x) => x.id === t.test)
    if (!test)
      throw new CommandError(
        'unknown-test',
        `Test "${t.test}" is not in the catalogue: ${TESTS.map((x) => x.id).join(', ')}.`,
      )
    // of a look it is the line, which another list holds
    if (t.item !== undefined && t.test !== 'look' && !test.kinds?.some((k) => k.id === t.item))
      throw new CommandError(
        'unknown-find',
        `Test "${t.test}" has no find "${t.item}"; accepted: ${test.kinds?.map((k) => k.id).join(', ') ?? 'none'}.`,
      )
  }
  for (const s of readings?.signs ?? [])
    if (!SIGNS.some((x) => x.id === s))
      throw new CommandError('unknown-sign', `Sign "${s}" is not in the table: ${SIGNS.map((x) => x.id).join(', ')}.`)
  const d = diagnose(vehicle, {
    intent: readings?.signs.length ? 'complaint' : 'not-stated',
    signs: readings?.signs ?? [],
    findings: readings?.tests ?? [],
    codes: readings?.codes,
    closedThrottlePct: recorded.closedThrottlePct,
    sound: paths.sound?.map((s) => soundPoints(s, vehicle)),
    points: [...recorded.points, ...pointsFromTyped(readings?.points ?? [])],
  })
  return {
    ranking: d.ranking,
    combinations: d.combinations,
    operatingPoints: recorded.points,
    nextTests: d.nextTests,
    plan: d.plan,
    stop: d.stop,
    warnings: [
      ...recording.warnings,
      ...scaleDoubts(recording, vehicle).map(({ code, message }) => ({ code, message })),
      ...d.warnings,
    ],
    ambiguous: d.ambiguous,
    unexplained: d.unexplained,
    basis: d.basis,
  }
}

/** Names of sound recordings in the folder of a case. */
const SOUND_FILES: readonly (readonly [SoundOf, RegExp])[] = [
  ['same-car', /^sound-car-.*\.csv$/],
  ['same-model', /^sound-model-.*\.csv$/],
]

/** Every case of a folder, one result a line; recordings of sound cars stand beside those they belong to. */
export const diagnoseBatch = (dir: string): Generator<BatchLine> =>
  eachCase(dir, ['vehicle.json', 'log.csv'], (c) =>
    diagnoseFiles({
      vehicle: c.path('vehicle.json'),
      log: c.path('log.csv'),
      readings: c.maybe('readings.json'),
      sound: SOUND_FILES.flatMap(([of, name]) =>
        c.matching(name).map((file) => ({ of, log: c.path(file), place: c.maybe(file.replace(/csv$/, 'json')) })),
      ),
    }),
  )
