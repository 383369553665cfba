import {
  compareRuns,
  differsBetween,
  judgeChange,
  proofVerdict,
  provedSaid,
  ruleOf,
  worseSaid,
  type Change,
  type ProofVerdict,
} from '../proof/index.js'
import { temperatureBeyond } from '../diagnosis/index.js'
import type { OperatingPoint } from '../signals/index.js'
import { HOLDS_KPA_PER_MINUTE, pumpJudged, PUMP_PARTS, SPREAD_LIMIT_KPA, spreadOf } from '../vacuum/index.js'
import { saysElse } from './balanceFindings.js'
import { vehicleAtPlace } from './place.js'
import { DIES } from './dies.js'
import { diesIn, idleTurned, isReadThough } from './noIdle.js'
import { lastRound, missingAgainstBaseline, pointsOfRound } from './points.js'
import type { VisitFile } from './records.js'
import { remediesOf, type Remedy } from './remedies.js'
import { takenOf } from './taken.js'
import { andList } from './words.js'

/** What was done between two measured rounds, and what it changed. */
export interface Proof {
  /** Done together: the gain is that of all of them, never of one. */
  readonly remedies: readonly Remedy[]
  /** Last measured round before them. */
  readonly before: number
  /** Last measured round after them and before what was done next; undefined while it is owed. */
  readonly after: number | undefined
  /** Undefined while the measuring after them is owed. */
  readonly proof?: ProofVerdict
}

/**
 * Remedies by the measured rounds about them, each group proved against the round before it, oldest first. Read more than once
 * after it, the last reading counts: an idle may need its time, or its teaching, to come back.
 */
export function proofsOf(f: VisitFile): Proof[] {
  const measured = Array.from({ length: lastRound(f) + 1 }, (_, r) => r).filter(
    (r) => !missingAgainstBaseline(f, r).length || isReadThough(f, r),
  )
  const groups = new Map<string, { remedies: Remedy[]; before: number; after: number | undefined }>()
  for (const remedy of remediesOf(f)) {
    const before = measured.filter((r) => r <= remedy.afterRound).at(-1) ?? 0
    const after = measured.find((r) => r > remedy.afterRound)
    const key = `${before} ${after ?? ''}`
    const group = groups.get(key) ?? { remedies: [], before, after }
    group.remedies.push(remedy)
    groups.set(key, group)
  }
  const inOrder = [...groups.values()].sort((x, y) => x.before - y.before)
  return inOrder.map((g, i) => {
    if (g.after === undefined) return g
    const after = inOrder.at(i + 1)?.before ?? measured.at(-1)!
    return { ...g, after, proof: proofBetween(f, g.before, after) }
  })
}

/** Whether an engine that died before some work idles after it. */
export const bringsIdleBack = (f: VisitFile, p: Proof): boolean =>
  p.after !== undefined && idleTurned(f, p.before, p.after) === 'back'

/** Whether a temperature that no car shows was read in one round, as when it came, and none in another that has any, as the last. */
export function isTemperatureBack(f: VisitFile, before = 0, after = lastRound(f)): boolean {
  const read = (round: number): readonly OperatingPoint[] =>
    pointsOfRound(f, round).filter((p) => p.means.iat_c !== undefined || p.means.ect_c !== undefined)
  const now = after > before ? read(after) : []
  return now.length > 0 && read(before).some(temperatureBeyond) && !now.some(temperatureBeyond)
}

/** Whether a temperature that no car showed before some work is read as it should be after it. */
export const bringsTemperatureBack = (f: VisitFile, p: Proof): boolean =>
  p.after !== undefined && isTemperatureBack(f, p.before, p.after)

/** Whether what was done before a round changed nothing that was measured: no figure, no temperature that no car shows, no idle, nothing that an instrument says. */
export function isInVain(f: VisitFile, round = lastRound(f)): boolean {
  const { verdict, changes } = proofBetween(f, 0, round)
  return (
    verdict === 'no change seen' &&
    changes.length > 0 &&
    !isTemperatureBack(f, 0, round) &&
    idleTurned(f, 0, round) !== 'back' &&
    !saysElse(f, 0, round)
  )
}

/** What the last work made worse, in a sentence: better than when the car came is not good enough for it. */
export function worseSince(f: VisitFile): string | undefined {
  const last = proofsOf(f).at(-1)
  const worse = last?.proof ? worseSaid(last.proof) : []
  const lost = last?.after !== undefined && idleTurned(f, last.before, last.after) === 'lost'
  const dies = lost ? diesIn(f, last.after!) : undefined
  const all = [...(dies ? [`it ${DIES[dies].now} any more`] : []), ...worse]
  if (!last || !all.length) return undefined
  return `Worse since ${andList(last.remedies.map((r) => r.words))}: ${andList(all)}.`
}

/**
 * What changed from one round to another at the same points, all judged together; idle speed by the band of this engine. One that
 * idles again is better whatever else was read, unless that is worse, and one that does not any more is worse.
 */
export function proofBetween(f: VisitFile, before: number, after: number): ProofVerdict {
  const proof = proofVerdict([
    ...compareRuns(pointsOfRound(f, before), pointsOfRound(f, after), f.vehicle.spec.idleSpecRpm),
    ...pumpChanges(f, before, after),
    ...spreadChanges(f, before, after),
  ])
  const turned = idleTurned(f, before, after)
  if (turned === 'lost') return { ...proof, verdict: 'worse' }
  return turned === 'back' && proof.verdict !== 'worse' ? { ...proof, verdict: 'better' } : proof
}

/** Loss of each part that was tried with a hand pump in both rounds; one that opens by itself has none to compare. */
function pumpChanges(f: VisitFile, before: number, after: number): Change[] {
  const rule = ruleOf('pump_loss')
  const belongs = { min: -HOLDS_KPA_PER_MINUTE, max: HOLDS_KPA_PER_MINUTE }
  const taken = takenOf(f.balances, 'pump')
  const { altitudeM } = vehicleAtPlace(f)
  return PUMP_PARTS.flatMap((part): Change[] => {
    const [b, a] = [
      taken.filter((x) => x.taken.part === part.id && x.round <= before).at(-1),
      taken.filter((x) => x.taken.part === part.id && x.round > before && x.round <= after).at(-1),
    ]
    if (!b || !a) return []
    const [was, is] = [b, a].map((x) => pumpJudged(x.taken.samples, altitudeM))
    if (!was || !is || was.verdict === 'opens' || is.verdict === 'opens') return []
    return [
      {
        kind: 'engine-off',
        rpm: 0,
        quantity: rule.quantity,
        label: `${rule.label}, ${part.label}`,
        unit: rule.unit,
        before: was.kpaPerMinute,
        after: is.kpaPerMinute,
        belongs,
        ...judgeChange(rule, was.kpaPerMinute, is.kpaPerMinute, undefined, belongs),
      },
    ]
  })
}

/** How far the throttles pulled apart in both rounds, at each speed at which they were read; the car as it came is its first row. */
function spreadChanges(f: VisitFile, before: number, after: number): Change[] {
  const rule = ruleOf('throttle_spread')
  const belongs = { min: 0, max: SPREAD_LIMIT_KPA }
  const rows = takenOf(f.balances, 'throttles').filter((x) => !x.taken.practice)
  return (['idle', 'hold-2500'] as const).flatMap((slot): Change[] => {
    const mine = rows.filter((x) => x.taken.slot === slot && x.round <= after)
    const [b, a] = [before === 0 ? mine.at(0) : mine.filter((x) => x.round <= before).at(-1), mine.at(-1)]
    if (!b || !a || b === a || b.taken.vacuumKpa.length !== a.taken.vacuumKpa.length) return []
    const [was, is] = [b, a].map((x) => spreadOf(x.taken.vacuumKpa))
    return [
      {
        ...(slot === 'idle' ? { kind: 'idle', rpm: 0 } : { kind: 'hold', rpm: 2500 }),
        quantity: rule.quantity,
        label: rule.label,
        unit: rule.unit,
        before: was,
        after: is,
        belongs,
        ...judgeChange(rule, was, is, undefined, belongs),
      },
    ]
  })
}

/** Whether throttles that pulled further apart than they may pull alike since the work, at every speed that was read again. */
export function pullAlikeAgain(f: VisitFile): boolean {
  const changes = spreadChanges(f, 0, lastRound(f))
  // as they are shown: to a tenth
  const isAlike = (kpa: number): boolean => Math.round(10 * kpa) <= Math.round(10 * SPREAD_LIMIT_KPA)
  return changes.some((c) => !isAlike(c.before)) && changes.every((c) => isAlike(c.after))
}

/** What became of an engine's running, in a sentence. */
function turnedSaid(f: VisitFile, before: number, after: number): string[] {
  const [was, is] = [diesIn(f, before), diesIn(f, after)]
  switch (idleTurned(f, before, after)) {
    case 'back':
      return [`It ${DIES[was!].then} before, and holds an idle now.`]
    case 'lost':
      return [`It ${was ? 'ran with the pedal' : 'held an idle'} before, and ${DIES[is!].now} now.`]
    case undefined:
      return []
  }
}

/** What two rounds say of the work between them, in sentences. */
export function provedLines(f: VisitFile, proof: ProofVerdict, before: number, after: number): string[] {
  const turned = turnedSaid(f, before, after)
  const read = turned.length && !proof.changes.length ? [] : provedSaid(proof, besidesTheWork(f, before, after))
  return [...turned, ...read]
}

/** What was not the same in two rounds besides the work, named. */
export const besidesTheWork = (f: VisitFile, before: number, after: number): string[] =>
  differsBetween(pointsOfRound(f, before), pointsOfRound(f, after))
