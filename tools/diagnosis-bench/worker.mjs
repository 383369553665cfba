// One process of the bench: tasks by message, an answer each.
import { evidenceFromRecording } from '@uvula/core'
import { diagnosed } from './diagnosed.mjs'
import { featuresOf, signaturesOf, trimRise } from './identify.mjs'
import { caseOf, pairOf } from './population.mjs'

/** A case with what the diagnosis is given, and what tells whether it can be identified. */
function simulated(i, seed, two) {
  const { recording, earlier, kin, ...one } = (two ? pairOf : caseOf)(i, seed)
  const read = (r) => evidenceFromRecording(r, one.vehicle)
  return {
    ...one,
    features: featuresOf({ ...one, recording, earlier }),
    rise: trimRise(recording, one.vehicle),
    kin: { ...read(kin), altitudeM: one.vehicle.altitudeM },
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

const WORK = { case: simulated, diagnosis: diagnosed, signatures: signaturesOf }
process.on('message', ({ task, args }) => process.send({ answer: WORK[task](...args) }))
process.send({ ready: true })
