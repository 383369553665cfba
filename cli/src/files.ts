import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import {
  type CodeSeen,
  checkVehicle,
  maybeChannel,
  readRecording as readLog,
  type PointKind,
  type Recording,
  type TypedPoint,
  type Vehicle,
  type Finding,
} from '@uvula/core'

/** A failure that the user can act on: a code for machines, a sentence for people. */
export class CommandError extends Error {
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message)
  }
}

/** @throws CommandError when the file is not there */
export function readBytes(path: string): Buffer {
  try {
    return readFileSync(path)
  } catch {
    throw new CommandError('file-not-readable', `${path} cannot be read.`)
  }
}

/** @throws CommandError when the file is no JSON */
export function readJson(path: string): unknown {
  const text = readBytes(path).toString('utf8')
  try {
    return JSON.parse(text)
  } catch (e) {
    throw new CommandError('not-json', `${path} is not JSON: ${(e as Error).message}`)
  }
}

/** @throws CommandError naming every field that is not as the format says */
export function readVehicle(path: string): Vehicle {
  const checked = checkVehicle(readJson(path))
  if (checked.ok) return checked.value
  const list = checked.problems
    .map((p) => `${p.field} is ${JSON.stringify(p.value)}, accepted: ${p.accepted}`)
    .join('; ')
  throw new CommandError('vehicle-not-valid', `${path}: ${list}`)
}

/** @throws CommandError when the file is no recording */
export function readRecording(path: string): Recording {
  const result = readLog(readBytes(path))
  if (!result.ok) throw new CommandError(result.error.code, `${path}: ${result.error.message}`)
  return result.recording
}

/** Readings file: points, codes, signs and tests. */
export interface Readings {
  readonly points: readonly TypedPoint[]
  readonly signs: readonly string[]
  /** Codes that stand; an empty list says that they were read and none does, none at all that nobody read them. */
  readonly codes?: readonly CodeSeen[]
  readonly tests: readonly Pick<Finding, 'test' | 'outcome' | 'item'>[]
}

/** @throws CommandError naming the reading that is not physics */
export function readReadings(path: string): Readings {
  const raw = readJson(path) as {
    points?: unknown[]
    signs?: string[]
    codes?: CodeSeen[]
    tests?: { test: string; result: { outcome: Finding['outcome']; found?: string } }[]
  }
  const points = (raw.points ?? []).map((p, i) => {
    const { kind, ...values } = p as { kind: PointKind } & Record<string, number>
    for (const [id, value] of Object.entries(values)) {
      const ch = maybeChannel(id)
      if (!ch) throw new CommandError('unknown-channel', `${path}: points[${i}].${id} is not a channel.`)
      if (!(value >= ch.min && value <= ch.max))
        throw new CommandError(
          'reading-outside-physics',
          `${path}: points[${i}].${id} = ${value}, accepted: ${ch.min} to ${ch.max}.`,
        )
    }
    return { kind, values } as TypedPoint
  })
  for (const [i, c] of (raw.codes ?? []).entries())
    if (!/^[PBCU][0-9A-F]{4}$/i.test(c.code))
      throw new CommandError(
        'bad-code',
        `${path}: codes[${i}].code = ${JSON.stringify(c.code)}, accepted: as in P0171.`,
      )
  return {
    points,
    signs: raw.signs ?? [],
    codes: raw.codes,
    tests: (raw.tests ?? []).map(({ test, result }) => ({
      test,
      outcome: result.outcome,
      ...(result.found === undefined ? {} : { item: result.found }),
    })),
  }
}

/** One case of a folder of cases: its name and its files. */
export interface CaseFolder {
  readonly name: string
  readonly path: (file: string) => string
  /** A file that it may have. */
  readonly maybe: (...files: readonly string[]) => string | undefined
  /** Its files by name, in order. */
  readonly matching: (name: RegExp) => readonly string[]
}

/** A line of a batch, and whether its case could be worked. */
export interface BatchLine {
  readonly ok: boolean
  readonly line: object
}

/**
 * Every sub-folder of a folder that has what a case needs, one result a line; a bad one gives its error and the rest go on.
 * @param needs - files of a case; of those in a list one will do
 * @throws CommandError where the folder is not there or holds no case
 */
export function* eachCase(
  dir: string,
  needs: readonly (string | readonly string[])[],
  work: (c: CaseFolder) => object,
): Generator<BatchLine> {
  if (!existsSync(dir)) throw new CommandError('no-folder', `${dir} is not there.`)
  const folder = (name: string): CaseFolder => ({
    name,
    path: (file) => join(dir, name, file),
    maybe: (...files) => files.map((x) => join(dir, name, x)).find((x) => existsSync(x)),
    matching: (wanted) =>
      readdirSync(join(dir, name))
        .filter((x) => wanted.test(x))
        .sort((a, b) => a.localeCompare(b, 'en')),
  })
  const cases = readdirSync(dir, { withFileTypes: true })
    .filter((e) => e.isDirectory())
    .map((e) => folder(e.name))
    .filter((c) => needs.every((n) => c.maybe(...[n].flat()) !== undefined))
    .sort((a, b) => a.name.localeCompare(b.name, 'en'))
  if (!cases.length)
    throw new CommandError(
      'no-cases',
      `${dir} holds no folder with ${needs.map((n) => [n].flat().join(' or ')).join(' and ')}.`,
    )
  for (const c of cases)
    try {
      yield { ok: true, line: { case: c.name, ...work(c) } }
    } catch (e) {
      const code = e instanceof CommandError ? e.code : 'failed'
      yield { ok: false, line: { case: c.name, error: { code, message: (e as Error).message } } }
    }
}
