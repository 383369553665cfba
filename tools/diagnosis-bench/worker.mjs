// One process of the bench: a list of tasks by message, an answer each.
import { diagnose, evidenceFromRecording } from '@uvula/core'
import { features, signaturesOf } from './identify.mjs'
import { caseOf } from './population.mjs'

/** A case simulated and diagnosed. */
function diagnosed(i, seed) {
  const { recording, ...one } = caseOf(i, seed)
  const began = performance.now()
  const d = diagnose(one.vehicle, {
    intent: 'not-stated',
    signs: [],
    findings: [],
    ...evidenceFromRecording(recording, one.vehicle),
  })
  return {
    ...one,
    features: features(recording, one.vehicle),
    ms: performance.now() - began,
    ranking: d.ranking.map((r) => ({ ...r, sentence: undefined })),
    unexplained: d.unexplained,
    tests: d.nextTests.slice(0, 3).map((t) => t.test),
  }
}

process.on('message', ({ task, args }) => {
  const answer = task === 'case' ? diagnosed(...args) : signaturesOf(...args)
  process.send({ answer })
})
process.send({ ready: true })
