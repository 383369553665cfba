// What the diagnosis says of a simulated case: apart from the file that makes cases, which are kept until that changes.
import { diagnose, testInfo } from '@uvula/core'
import { outcomeOf } from './tests.mjs'

/** Tests after which nobody goes on. */
const MOST_TESTS = 4

const plain = (r) => ({ ...r, sentence: undefined })

/** By its readings, with a sound car of its model beside them, and after the tests that it asks for itself. */
export function diagnosed({ evidence, kin, ...one }) {
  const own = evidence.sound ? [{ of: 'same-car', ...evidence.sound }] : []
  const given = { ...evidence, codes: evidence.codes ?? undefined, sound: own }
  const began = performance.now()
  const first = diagnose(one.vehicle, given)
  const ms = performance.now() - began
  const beside = diagnose(one.vehicle, { ...given, sound: [...own, { of: 'same-model', ...kin }] })
  let [d, findings, minutes] = [first, [], 0]
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
    unexplained: first.unexplained,
    tests: findings.length,
    minutes,
    tested: d.ranking.slice(0, 4).map(plain),
  }
}
