import { stationInfo } from '../../engine/index.js'
import { COOLANT_BLED, coolantSeen } from '../closing.js'
import { whoseCode } from '../codes.js'
import { isSeal } from '../items.js'
import { type Proof } from '../proofs.js'
import { type CodeRecord, type VisitFile, live } from '../records.js'
import { type Remedy } from '../remedies.js'
import { procedureOfRun, stateOfRun } from '../runs.js'
import { stepWords } from '../steps.js'
import { cap, line } from '../words.js'

const money = (r: Remedy): string => (r.partsPrice > 0 ? `, parts ${r.partsPrice.toFixed(2)}` : '')

/** Every remedy with its minutes and parts; those that one measuring proves are told as joint. */
export function doneLines(remedies: readonly Remedy[], proofs: readonly Proof[]): string[] {
  const lines = remedies.map((r) => `${cap(r.words)} (${r.minutes} min${money(r)}).`)
  const joint = proofs
    .filter((p) => p.remedies.length > 1 && p.after !== undefined)
    .map(
      (p) =>
        `${p.remedies.length} of these were done without measuring between them: what changed is the gain of all together.`,
    )
  return [...lines, ...joint]
}

/** What became of an attempt: told first, since what it was to do is not done. */
const TRIED = { failed: 'tried and not taken', stopped: 'begun and stopped' } as const

/** Why, without what to do next: that is for whoever tries again, and not for who reads the sheet. */
const whyOf = (reason: string | undefined): string => {
  const first = reason?.split(/(?<=\.) /)[0].replace(/\.$/, '')
  return first ? `: ${first.charAt(0).toLowerCase()}${first.slice(1)}` : ''
}

/** Work that was begun and has not reached its end, or went against the rule; failed attempts too. */
export function openWork(f: VisitFile): string[] {
  const steps = live(f.steps)
    .filter((x) => !x.passed || x.againstRule)
    .map((x) => line(`${stepWords(x)}; ${x.againstRule ? 'against the rule, as recorded' : 'not to its end yet'}`))
  const runs = live(f.runs).flatMap((r) => {
    const state = r.procedure === 'feed' ? undefined : stateOfRun(f, r)
    return state && (state.status === 'failed' || state.status === 'stopped')
      ? [
          line(
            `${TRIED[state.status]}: ${procedureOfRun(r)?.donePlain ?? r.procedure}, attempt ${r.attempt}${whyOf(state.reason)}`,
          ),
        ]
      : []
  })
  return [...steps, ...runs]
}

export function codesOfOurs(f: VisitFile): string[] {
  return live(f.codes)
    .filter((c) => c.when !== 'before')
    .map((c) =>
      line(
        `code ${c.code}, ${c.state}, read ${c.when === 'after' ? 'after the work' : 'after the drive'}: ${whoseOnSheet(f, c)}${c.cleared ? ', cleared' : ''}`,
      ),
    )
}

function whoseOnSheet(f: VisitFile, c: CodeRecord): string {
  const w = whoseCode(f, c)
  return w.whose === 'ours'
    ? `can be of this work (${w.label})`
    : w.whose === 'came'
      ? 'there before the work too'
      : 'not of this work'
}

const SEAL_WORDS = { new: 'new', reused: 'used again', doubtful: 'doubtful' } as const

/** Seals as they went back, and the coolant that was let go. */
export function sealLines(f: VisitFile): string[] {
  const items = live(f.items).filter((i) => i.more && i.state === 'on')
  const seals = items
    .filter((i) => isSeal(i) && i.more!.seal)
    .map((i) => `${i.name} at the ${stationInfo(i.station).label} ${SEAL_WORDS[i.more!.seal!]}`)
  const coolant =
    live(f.items).some((i) => i.more?.carries === 'coolant' && i.state === 'on') && coolantSeen(f, COOLANT_BLED)
  return [
    ...(seals.length ? [line(seals.join('; '))] : []),
    ...(coolant ? ['Coolant hoses off and on; level made up, bled warm, no leak seen.'] : []),
  ]
}
