// What the diagnosis says of a simulated case: apart from the file that makes cases, which are kept until that changes.
import {
  deadSensors,
  diagnose,
  mergePoints,
  testInfo,
  type Evidence,
  type Finding,
  type Ranked,
  type SoundPoints,
} from '@uvula/core'
import type { Given } from './worker.js'
import { outcomeOf } from './tests.js'

/** Tests after which nobody goes on. */
const MOST_TESTS = 4

/** A cause without its sentence. */
export type Said = Omit<Ranked, 'sentence'>
const plain = ({ sentence: _sentence, ...r }: Ranked): Said => r

/** What was said of a case: at first, beside a sound car of its model, and after tests. */
export interface Diagnosed {
  readonly ms: number
  readonly ranking: readonly Said[]
  readonly beside: readonly Said[]
  readonly tests: number
  readonly minutes: number
  readonly tested: readonly Said[]
  /** Sensors that were told as dead. */
  readonly told: readonly string[]
}

/** By its readings, with a sound car of its model beside them, and after the tests that it asks for itself. */
export function diagnosed({ evidence, kin, ...one }: Given): Diagnosed {
  const own: SoundPoints[] = evidence.sound ? [{ of: 'same-car', ...evidence.sound }] : []
  // a message between processes has null for what is left out
  const given: Evidence = { ...evidence, codes: evidence.codes ?? undefined, sound: own }
  const began = performance.now()
  const first = diagnose(one.vehicle, given)
  const ms = performance.now() - began
  const beside = diagnose(one.vehicle, { ...given, sound: [...own, { of: 'same-model', ...kin }] })
  let d = first
  let findings: readonly Finding[] = []
  let minutes = 0
  while (d.stop.verdict === 'test' && findings.length < MOST_TESTS) {
    const { test } = d.nextTests[0]
    minutes += testInfo(test).minutes
    findings = [...findings, outcomeOf(test, one)]
    d = diagnose(one.vehicle, { ...given, findings })
  }
  return {
    ms,
    ranking: first.ranking.map(plain),
    beside: beside.ranking.map(plain),
    tests: findings.length,
    minutes,
    tested: d.ranking.slice(0, 4).map(plain),
    told: deadSensors(mergePoints(given.points), one.vehicle).map((x) => x.channel),
  }
}
