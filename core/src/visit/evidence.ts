import { totalTrimPct, type OperatingPoint } from '../signals/index.js'
import {
  diagnose,
  mergePoints,
  pointFromTyped,
  type CodeSeen,
  type Diagnosis,
  type Evidence,
} from '../diagnosis/index.js'
import { hasController } from '../engine/index.js'
import { kindAt } from '../expectation/index.js'
import { balanceFindings } from './balanceFindings.js'
import { vehicleAtPlace } from './place.js'
import { feltIn, signsToAsk } from './felt.js'
import { diesIn, NO_IDLE } from './noIdle.js'
import { closedThrottleOf, pointsOfRound } from './points.js'
import { findsDirt, overtaken } from './findPlace.js'
import { live, type FindingRecord, type VisitFile } from './records.js'
import { openCodes, overtakenCodes } from './codes.js'
import { cleanedBefore, visitDeposits } from './deposits.js'
import { isInVain } from './proofs.js'
import { remediesOf } from './remedies.js'
import { isFoundGone } from './retests.js'
import { workDone } from './workDone.js'

/**
 * Evidence of a visit. Signs belong to the baseline; after a remedy the finds at mended places are spent, those of tests
 * that name no place with any remedy, and how the car came no longer says how likely a fault is, unless nothing has changed. What was tried again after the
 * work tells of the car as it is now, and nothing of how it came.
 */
export function evidenceOf(f: VisitFile, round: number): Evidence {
  const baseline = round === 0
  const complaint = complaintAt(f, round)
  // what was tried on work that was done tells nothing of how the car came
  const isSpent = baseline ? (x: FindingRecord) => Boolean(x.afterWork) : spentSince(f)
  return {
    ...complaint,
    // that it holds no idle is a sign of any round in which it was seen
    signs: [...new Set([...complaint.signs, ...(diesIn(f, round) ? [NO_IDLE] : [])])],
    points: baseline ? mergePoints([...pointsOfRound(f, round), ...freezeFrames(f)]) : pointsOfRound(f, round),
    ...diesOf(f, round),
    ...(baseline ? { conditions: f.visit.conditions } : {}),
    findings: [
      ...live(f.findings)
        .filter((x) => x.test !== 'note' && !isSpent(x))
        .map((x) => ({
          test: x.test,
          outcome: x.outcome,
          station: x.station,
          ...(x.item ? { item: x.item } : {}),
          ...(x.afterWork ? { here: true } : {}),
        })),
      ...balanceFindings(f, round),
    ],
    closedThrottlePct: closedThrottleOf(f, round),
    codes: baseline ? codesOf(f) : codesSince(f),
    worked: untaught(f, round),
    ...(baseline ? {} : { done: workDone(f, round) }),
    ...(f.visit.baroKpa === undefined ? {} : { trustedPressure: true }),
  }
}

/**
 * Why it is here, and what the customer feels, as long as that stands: as the car came; after the work where it was asked for
 * again; and else while what was done has changed nothing, and what was found is not known to be gone. After the work a lamp tells nothing.
 */
function complaintAt(f: VisitFile, round: number): Pick<Evidence, 'intent' | 'signs'> {
  const { intent, signs } = f.visit
  if (round === 0) return { intent, signs }
  const said = feltIn(f, round)
  const isAsItCame = isInVain(f, round) && !isFoundGone(f)
  const felt = signsToAsk(f).flatMap(({ id }) => {
    const how = said.get(id)
    return how === 'there' || (how !== 'gone' && isAsItCame) ? [id] : []
  })
  return { intent: (signs.length ? felt.length > 0 : isAsItCame) ? intent : 'not-stated', signs: felt }
}

/** How the engine dies, as it was seen in a round. */
function diesOf(f: VisitFile, round: number): Pick<Evidence, 'dies'> {
  const dies = diesIn(f, round)
  return dies ? { dies: dies === NO_IDLE ? 'at-idle' : 'always' } : {}
}

/** Which findings say nothing of the engine as it is now: what was done has overtaken them. What was free of dirt stays so. */
function spentSince(f: VisitFile): (x: FindingRecord) => boolean {
  const isPast = overtaken(f)
  return (x) => isPast(x) && !(findsDirt(x) && x.outcome === 'pass')
}

/**
 * Whether the idle opening was cleaned before a round and the idle not taught between: then it may be learnt to what is gone.
 * With idle control at its shut stop it is not: it asks for less air than comes, so the air comes from elsewhere. Undefined
 * where nobody knows: what was done elsewhere is not always told.
 */
function untaught(f: VisitFile, round: number): boolean | undefined {
  const isTaught = remediesOf(f).some((r) => r.kind === 'relearn' && r.afterRound < round)
  if (isTaught || visitDeposits(f, round)?.near === 'shut') return false
  return cleanedBefore(f, round) || undefined
}

/** Among the conditions of a visit: the codes were read before anything was touched, and none stood. */
export const NO_CODES = 'codes-none'

/**
 * Codes that the car came with; those that our own work sets come later and say nothing of the car. Undefined where none is
 * written down and nobody says that they were read.
 */
function codesOf(f: VisitFile): CodeSeen[] | undefined {
  const before = live(f.codes).filter((c) => c.when === 'before')
  if (!before.length) return f.visit.conditions.includes(NO_CODES) ? [] : undefined
  return before.map(({ code, state }) => ({ code, state }))
}

/** Codes that were read since the last of the work and are none of it; undefined where none stands: a short drive clears nobody. */
function codesSince(f: VisitFile): CodeSeen[] | undefined {
  const past = new Set(overtakenCodes(f).map(({ code }) => code.id))
  const open = openCodes(f).flatMap(({ code: { id, code, state } }) => (past.has(id) ? [] : [{ code, state }]))
  return open.length ? open : undefined
}

/** Whether its lamp brought it, and nobody has read yet what it stored; without a controller there is nothing to read. */
export const isLampUnread = (f: VisitFile): boolean =>
  f.visit.signs.includes('lamp') && hasController(f.vehicle.spec) && codesOf(f) === undefined

/** Freeze-frames as single readings at the point where each was taken; one without speed says nothing. */
function freezeFrames(f: VisitFile): OperatingPoint[] {
  const v = vehicleAtPlace(f)
  return live(f.codes).flatMap((c) => {
    if (c.when !== 'before' || !c.frame || !((c.frame.rpm ?? 0) > 0)) return []
    const kind = kindAt(c.frame, v, false)
    return kind === 'key-on' ? [] : [pointFromTyped({ kind, values: c.frame }, totalTrimPct)]
  })
}

/** What is known beyond a visit: this car's sound record, what the shop has confirmed, and what equipment it has. */
export type Beyond = Pick<Evidence, 'sound' | 'outcomes' | 'equipment'>

/** What a visit's readings say in one round. */
export const diagnoseVisit = (f: VisitFile, round: number, beyond: Beyond = {}): Diagnosis =>
  diagnose(vehicleAtPlace(f), { ...evidenceOf(f, round), ...beyond })
