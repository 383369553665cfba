// One process of the bench: tasks by message, an answer each.
import { diagnose, evidenceFromRecording } from '@uvula/core'
import { featuresOf, signaturesOf, trimRise } from './identify.mjs'
import { caseOf } from './population.mjs'
import { outcomeOf } from './tests.mjs'

/** A case with what the diagnosis is given, and what tells whether it can be identified. */
function simulated(i, seed) {
  const { recording, earlier, ...one } = caseOf(i, seed)
  const read = (r) => evidenceFromRecording(r, one.vehicle)
  return {
    ...one,
    features: featuresOf({ ...one, recording, earlier }),
    rise: trimRise(recording, one.vehicle),
    evidence: {
      intent: 'not-stated',
      signs: [],
      findings: [],
      ...read(recording),
      codes: one.codes,
      sound: earlier && { ...read(earlier), altitudeM: one.vehicle.altitudeM },
    },
  }
}

/** Tests after which nobody goes on. */
const MOST_TESTS = 8

/** What the diagnosis says of a case: by its readings, and after the tests that it asks for itself. */
function diagnosed({ evidence, ...one }) {
  const given = { ...evidence, codes: evidence.codes ?? undefined, sound: evidence.sound ?? undefined }
  const began = performance.now()
  const first = diagnose(one.vehicle, given)
  const ms = performance.now() - began
  let [d, findings] = [first, []]
  while (d.stop.verdict === 'test' && findings.length < MOST_TESTS) {
    findings = [...findings, outcomeOf(d.nextTests[0].test, one)]
    d = diagnose(one.vehicle, { ...given, findings })
  }
  const plain = (r) => ({ ...r, sentence: undefined })
  return {
    ms,
    ranking: first.ranking.map(plain),
    unexplained: first.unexplained,
    tests: findings.length,
    tested: d.ranking.slice(0, 4).map(plain),
  }
}

const WORK = { case: simulated, diagnosis: diagnosed, signatures: signaturesOf }
process.on('message', ({ task, args }) => process.send({ answer: WORK[task](...args) }))
process.send({ ready: true })
