import type { Vehicle } from '../engine/index.js'
import type { OperatingPoint } from '../signals/index.js'
import { basisOf, type Basis } from './basis.js'
import { discreteEvidence } from './discrete.js'
import { engineOffAnswers, engineOffDoubts } from './engineOff.js'
import { mergePoints, type Evidence, type Finding, type SoundPoints } from './evidence.js'
import { explain, type Reason } from './explain.js'
import { confounded, type FaultId } from './faults.js'
import { missingReading } from './missing.js'
import { nextTests, stopRule, testPlan, type NextTest, type Stop } from './nextTest.js'
import { observe } from './observations.js'
import { leavesMark, prepare } from './densities.js'
import { posterior, type Posterior } from './posterior.js'
import { widestOf, type PlateSensor } from './plateObservations.js'
import { rankingOf, tellsOfAir, type Ranked } from './ranked.js'
import { deadSensors, withoutDead } from './deadSensors.js'
import { heightDoubt, type HeightDoubt } from './heightDoubt.js'
import { warningsOf, type DiagnosisWarning } from './warnings.js'

/** What the readings say, likeliest first. */
export interface Diagnosis {
  readonly ranking: readonly Ranked[]
  readonly combinations: readonly { readonly faults: readonly FaultId[]; readonly probability: number }[]
  readonly nextTests: readonly NextTest[]
  /** The next three tests in order, each chosen after what the ones before are expected to tell. */
  readonly plan: readonly string[]
  readonly stop: Stop
  readonly warnings: readonly DiagnosisWarning[]
  readonly ambiguous: readonly (readonly [FaultId, FaultId])[]
  /** Probability that none of the list explains the readings. */
  readonly unexplained: number
  /** What all this stands on, and the reading that would help most. */
  readonly basis: Basis
  /** Causes that nothing read here could show, whatever their size: they stand by how often they come, by codes, signs and tests alone. */
  readonly unmarked: readonly FaultId[]
  /** What speaks for and against each of the leading causes, in bits. */
  readonly reasons: Readonly<Partial<Record<FaultId, readonly Reason[]>>>
}

/** Causes whose reasons are worked out. */
const EXPLAINED = 3

/** Closed readings further apart than this come from sensors of two kinds, or by two ways of telling [%]. */
const ONE_ZERO_PCT = 3.5

/** Whether the openings of a sound record are read from another zero: of a car's own they are not, unless both closed readings are known and lie apart. */
function isOtherZero(s: SoundPoints, closedPct: number | undefined): boolean {
  if (s.closedThrottlePct === undefined || closedPct === undefined) return s.of !== 'same-car'
  return Math.abs(s.closedThrottlePct - closedPct) > ONE_ZERO_PCT
}

/** How a throttle reads, with what other days have shown of the same one. */
function sensorOf(
  closedPct: number | undefined,
  points: readonly OperatingPoint[],
  others: readonly Pick<SoundPoints, 'points' | 'closedThrottlePct'>[],
): PlateSensor {
  const then = others.find((s) => s.closedThrottlePct !== undefined)?.closedThrottlePct
  return {
    closedPct: closedPct ?? then,
    isOfAnotherDay: closedPct === undefined,
    widestPct: Math.max(widestOf(points), ...others.map((s) => widestOf(s.points))),
  }
}

/** A vehicle at the height that its readings bear out, and what is to be said of the one that was entered. */
function atItsHeight(
  points: readonly OperatingPoint[],
  entered: Vehicle,
  isTrusted?: boolean,
): readonly [Vehicle, HeightDoubt | undefined] {
  const height = heightDoubt(points, entered, isTrusted)
  return [height?.isBorneOut ? { ...entered, altitudeM: height.readsM } : entered, height]
}

/** Evidence with tests that readings have answered; one that somebody made himself is not told twice. */
const withAnswers = (e: Evidence, answers: readonly Finding[]): Evidence => ({
  ...e,
  findings: [
    ...e.findings,
    ...answers.filter((a) => !e.findings.some((f) => f.test === a.test && f.outcome !== 'unclear')),
  ],
})

/** Weighs all evidence on one car. Pure and deterministic; some 0.07 s for a recording's points, half of it for typed ones. */
export function diagnose(entered: Vehicle, given: Evidence): Diagnosis {
  const read = mergePoints(given.points)
  const [car, height] = atItsHeight(read, entered, given.trustedPressure)
  const evidence = withAnswers(given, engineOffAnswers(read, car))
  const dead = deadSensors(read, car)
  const points = withoutDead(read, dead)
  const { closedThrottlePct } = evidence
  const own = (evidence.sound ?? []).filter((s) => s.of === 'same-car' && !isOtherZero(s, closedThrottlePct))
  const sensor = sensorOf(closedThrottlePct, points, own)
  const set = observe(points, car, sensor)
  // what shows in the mixture of a pull alone is thought of where that was measured
  const v = { ...car, wideband: set.observations.some((o) => o.group === 'mixture') }
  const discrete = discreteEvidence(evidence)
  const sound = evidence.sound?.map((s) => {
    const record = mergePoints(s.points)
    const [there] = atItsHeight(record, { ...entered, altitudeM: s.altitudeM })
    const then = own.includes(s)
      ? sensorOf(s.closedThrottlePct, record, [{ points, closedThrottlePct }, ...own])
      : { closedPct: s.closedThrottlePct, ownZero: isOtherZero(s, closedThrottlePct) }
    return { of: s.of, observations: observe(record, there, then).observations }
  })
  const prepared = prepare(set, v, sound, evidence.worked)
  const { intent, dies, outcomes, done } = evidence
  const p = posterior(prepared, { intent, dies, outcomes, done, discrete, sizes: true })
  const unmarked = prepared.candidates.filter((c) => !leavesMark(c)).map((c) => c.fault.id)
  const ranking = rankingOf(p, set, v, unmarked)
  const next = nextTests(p, v, evidence)
  const leaders = ranking.slice(0, EXPLAINED).map((r) => r.fault)
  return {
    ranking,
    combinations: p.hypotheses
      .filter((h) => h.faults.length === 2 && h.probability > 0.005)
      .sort((a, b) => b.probability - a.probability)
      .slice(0, 6)
      .map((h) => ({ faults: h.faults, probability: h.probability })),
    nextTests: next,
    plan: testPlan(p, next),
    stop: stopRule(p, next, !evidence.points.length ? 'no' : tellsOfAir(p, set) ? 'yes' : 'tells nothing', v, evidence),
    warnings: warningsOf(p, set, v, dead, engineOffDoubts(read, v, given.trustedPressure), height, dies),
    ambiguous: ambiguous(p, v),
    unexplained: p.unexplained,
    basis: basisOf(set, given, v, missingReading(points, set, p, car, sensor, dies)),
    unmarked,
    reasons: explain(leaders, prepared, evidence),
  }
}

/** Share of both from which a pair that no reading parts is named. */
const WORTH_NAMING = 0.05

const ambiguous = (p: Posterior, v: Vehicle): readonly (readonly [FaultId, FaultId])[] =>
  confounded(v).filter((pair) => pair.every((f) => (p.marginal.get(f) ?? 0) > WORTH_NAMING))
