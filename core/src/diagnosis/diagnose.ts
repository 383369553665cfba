import { holeDiameterMm } from '../air/index.js'
import type { Vehicle } from '../engine/index.js'
import type { Interval } from '../statistics/index.js'
import { discreteEvidence } from './discrete.js'
import { mergePoints, type Evidence } from './evidence.js'
import { explain, type Reason } from './explain.js'
import { CONFOUNDED, faultOf, type FaultId } from './faults.js'
import { nextTests, type NextTest } from './nextTest.js'
import { observe, type ObservationSet } from './observations.js'
import { intervalOf, posterior, type Posterior } from './posterior.js'

/** One cause with its probability and size. */
export interface Ranked {
  readonly fault: FaultId
  /** Marginal probability that it is present, alone or with another; for `none` that nothing is. */
  readonly probability: number
  readonly bank?: 1 | 2
  readonly effectiveAreaMm2?: Interval
  readonly mafErrorPct?: { readonly atIdle: Interval; readonly atHighFlow: Interval }
  readonly fuelErrorPct?: Interval
  readonly sentence: string
}

export interface DiagnosisWarning {
  readonly code: 'none-of-these-explains-it' | 'nothing-to-judge' | 'no-trims' | 'no-map-or-gauge'
  readonly message: string
}

/** What the readings say, likeliest first. */
export interface Diagnosis {
  readonly ranking: readonly Ranked[]
  readonly combinations: readonly { readonly faults: readonly FaultId[]; readonly probability: number }[]
  readonly nextTests: readonly NextTest[]
  readonly warnings: readonly DiagnosisWarning[]
  readonly ambiguous: readonly (readonly [FaultId, FaultId])[]
  /** Probability that none of the list explains the readings. */
  readonly unexplained: number
  /** What speaks for and against each of the leading causes, in bits. */
  readonly reasons: Readonly<Partial<Record<FaultId, readonly Reason[]>>>
}

/** Causes whose reasons are worked out. */
const EXPLAINED = 3
/** Above this share of the probability, nothing in the list explains the readings. */
const MISFIT = 0.4

/** Weighs all evidence on one car. Pure and deterministic; about 20 ms for a recording's points. */
export function diagnose(v: Vehicle, evidence: Evidence): Diagnosis {
  const set = observe(mergePoints(evidence.points), v, evidence.closedThrottlePct)
  const discrete = discreteEvidence(evidence)
  const p = posterior(set, v, evidence.intent, discrete)
  const ranking = [...p.marginal]
    .map(([fault, probability]) => rank(fault, probability, p, set, v))
    .sort((a, b) => b.probability - a.probability)
  const leaders = ranking.slice(0, EXPLAINED).map((r) => r.fault)
  return {
    ranking,
    combinations: p.hypotheses
      .filter((h) => h.faults.length === 2 && h.probability > 0.005)
      .sort((a, b) => b.probability - a.probability)
      .slice(0, 6)
      .map((h) => ({ faults: h.faults, probability: h.probability })),
    nextTests: nextTests(p, v, evidence.findings),
    warnings: warnings(p, set, v),
    ambiguous: CONFOUNDED.filter((pair) => pair.every((f) => (p.marginal.get(f) ?? 0) > 0.08)),
    unexplained: p.unexplained,
    reasons: explain(leaders, set, v, evidence),
  }
}

function warnings(p: Posterior, set: ObservationSet, v: Vehicle): DiagnosisWarning[] {
  const out: DiagnosisWarning[] = []
  if (!set.observations.length)
    out.push({
      code: 'nothing-to-judge',
      message: 'No reading here can be judged yet: what is shown is how often each cause comes, nothing more.',
    })
  if (p.unexplained > MISFIT)
    out.push({
      code: 'none-of-these-explains-it',
      message:
        'None of the causes weighed here explains these readings. Check the readings first, then look outside the list.',
    })
  if (set.observations.length && !set.observations.some((o) => o.group === 'trims'))
    out.push({ code: 'no-trims', message: 'No fuel trims: air let in and fuel missing cannot be told apart.' })
  if (
    set.observations.length &&
    v.metering === 'maf' &&
    !set.points.some((x) => x.means.gauge_vacuum_kpa !== undefined || x.means.map_kpa !== undefined)
  )
    out.push({
      code: 'no-map-or-gauge',
      message: 'No manifold pressure: a gauge reading at idle would narrow the expected airflow.',
    })
  return out
}

function rank(fault: FaultId, probability: number, p: Posterior, set: ObservationSet, v: Vehicle): Ranked {
  const f = (get: (x: readonly number[]) => number): Interval | undefined => intervalOf(p, fault, get)
  const base = { fault, probability }
  switch (fault) {
    case 'unmetered-air':
    case 'unmetered-air-bank': {
      const area = f((x) => x[0])
      const bank = fault === 'unmetered-air-bank' ? ((f((x) => x[1])?.median ?? 0) >= 0 ? 1 : 2) : undefined
      return { ...base, ...(bank ? { bank } : {}), effectiveAreaMm2: area, sentence: leakSentence(area, bank) }
    }
    case 'unmetered-air-duct': {
      const share = f((x) => 100 * x[0])
      return {
        ...base,
        sentence: share
          ? `About ${share.median.toFixed(0)} % of the air comes in between sensor and plate (${share.low.toFixed(0)} to ${share.high.toFixed(0)} %); the share does not fade with flow.`
          : faultOf(fault).label,
      }
    }
    case 'maf-under-reads':
    case 'maf-over-reads': {
      const atIdle = f((x) => 100 * x[0])
      const atHighFlow = f((x) => 100 * x[1])
      if (!atIdle || !atHighFlow) return { ...base, sentence: faultOf(fault).label }
      return {
        ...base,
        mafErrorPct: { atIdle, atHighFlow },
        sentence: `The airflow sensor reads ${Math.abs(atIdle.median).toFixed(0)} % ${word(fault)} at idle and ${Math.abs(atHighFlow.median).toFixed(0)} % ${word(fault)} at high flow.`,
      }
    }
    case 'fuel-delivery-low':
    case 'fuel-delivery-high': {
      const error = f((x) => 100 * x[0])
      return {
        ...base,
        fuelErrorPct: error,
        sentence: error
          ? `About ${Math.abs(error.median).toFixed(0)} % too ${fault === 'fuel-delivery-low' ? 'little' : 'much'} fuel at idle; the air is as it should be.`
          : faultOf(fault).label,
      }
    }
    case 'map-sensor-offset': {
      const kpa = f((x) => x[0] / 1000)
      return {
        ...base,
        sentence: kpa
          ? `The manifold pressure sensor reads about ${Math.abs(kpa.median).toFixed(1)} kPa too ${kpa.median > 0 ? 'high' : 'low'}.`
          : faultOf(fault).label,
      }
    }
    case 'throttle-deposits': {
      const lost = f((x) => 100 * x[0])
      return {
        ...base,
        sentence: lost
          ? `Deposits have closed about ${lost.median.toFixed(0)} % of the idle opening (${lost.low.toFixed(0)} to ${lost.high.toFixed(0)} %).`
          : faultOf(fault).label,
      }
    }
    case 'egr-open-at-idle': {
      const area = f((x) => x[0])
      return {
        ...base,
        effectiveAreaMm2: area,
        sentence: area
          ? `Exhaust gas leaks into the manifold at idle through about ${area.median.toFixed(1)} mm².`
          : faultOf(fault).label,
      }
    }
    case 'none':
      return {
        ...base,
        sentence: set.observations.length
          ? `What was measured is what a sound ${v.displacementL.toFixed(1)} L engine does.`
          : 'Nothing has been measured yet.',
      }
  }
}

const word = (f: FaultId): string => (f === 'maf-under-reads' ? 'low' : 'high')

function leakSentence(area: Interval | undefined, bank: 1 | 2 | undefined): string {
  if (!area) return 'Air let in behind the throttle.'
  const d = (x: number): string => holeDiameterMm(x).toFixed(1)
  return `Air comes in behind the throttle${bank ? `, mostly on bank ${bank}` : ''}: ${area.median.toFixed(1)} mm² effective, like a sharp-edged hole of ${d(area.median)} mm (${d(area.low)} to ${d(area.high)} mm).`
}
