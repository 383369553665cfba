// One process of the bench: tasks by message, an answer each.
import { evidenceFromRecording, type Evidence, type Recording, type SoundPoints } from '@uvula/core'
import { diagnosed } from './diagnosed.js'
import { featuresOf, signaturesOf, trimRise, type Features } from './identify.js'
import { beyondOf, caseOf, pairOf, type Case } from './population.js'

/** A sound record before it is said whose. */
type Sound = Omit<SoundPoints, 'of'>

/** A case as it is kept: what the diagnosis is given, and what tells whether it can be identified. */
export interface Given extends Omit<Case, 'recording' | 'earlier' | 'kin'> {
  readonly features: Features
  readonly rise: number
  readonly kin: Sound
  readonly evidence: Omit<Evidence, 'sound'> & { readonly sound?: Sound }
}

/** What a case is drawn from. */
export type Sort = 'one' | 'two' | 'beyond'
const DRAWN = { one: caseOf, two: pairOf, beyond: beyondOf }

function simulated(i: number, seed: number, sort: Sort): Given {
  const { recording, earlier, kin, ...one } = DRAWN[sort](i, seed)
  const read = (r: Recording): Pick<Evidence, 'points' | 'closedThrottlePct'> => evidenceFromRecording(r, one.vehicle)
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

/** What can be asked. */
export type Task =
  | { readonly task: 'case'; readonly i: number; readonly seed: number; readonly sort: Sort }
  | { readonly task: 'diagnosis'; readonly one: Given }
  | { readonly task: 'signatures'; readonly kind: string }

function answerTo(t: Task): unknown {
  if (t.task === 'case') return simulated(t.i, t.seed, t.sort)
  return t.task === 'diagnosis' ? diagnosed(t.one) : signaturesOf(t.kind)
}
process.on('message', (t: Task) => process.send!({ answer: answerTo(t) }))
process.send!({ ready: true })
