import type { Vehicle } from '../engine/index.js'
import type { Finding } from './evidence.js'
import type { FaultId } from './faultKit.js'
import type { Posterior } from './posterior.js'
import { findChance, TESTS, type TestInfo } from './tests.js'

/** A cause and its probability after an outcome. */
export interface After {
  readonly fault: FaultId
  readonly probability: number
}

/** A test worth doing next. */
export interface NextTest {
  readonly test: string
  /** Expected fall of uncertainty about which faults are there [bits]. */
  readonly bits: number
  readonly minutes: number
  /** Probability that it finds something [–]. */
  readonly finds: number
  /** Leading causes after it found something, and after it did not. */
  readonly ifFound: readonly After[]
  readonly ifNot: readonly After[]
}

/** What stands between the ranking and the work. */
export interface Stop {
  /** Act on the leading cause, test further, or measure first. */
  readonly verdict: 'act' | 'test' | 'measure'
  readonly because: string
}

const entropy = (ps: readonly number[]): number => -ps.reduce((s, p) => (p > 0 ? s + p * Math.log2(p) : s), 0)

/** Tests that would tell less than this are not named [bits]. */
const WORTH_NAMING = 0.01
/** Getting at it and writing it down costs something whatever the test [minutes]. */
const SETUP_MINUTES = 2
/** A STOP caution and each step of taking apart make a test dearer [minutes]. */
const HAZARD_MINUTES = 2
const INVASIVE_MINUTES = 2
const LEADERS = 3

/** What a test costs in time, with its hazard and what it takes apart [min]. */
const cost = (t: TestInfo): number =>
  SETUP_MINUTES + t.minutes + (t.caution?.stop ? HAZARD_MINUTES : 0) + INVASIVE_MINUTES * t.invasive

/** Hypotheses with their probabilities; the last one is what nothing explains. */
interface Beliefs {
  readonly faults: readonly (readonly FaultId[])[]
  readonly ps: readonly number[]
}

const beliefsOf = (p: Posterior): Beliefs => ({
  faults: [...p.hypotheses.map((h) => h.faults), []],
  ps: [...p.hypotheses.map((h) => h.probability), p.unexplained],
})

/** P(find) under every hypothesis. */
const findsUnder = (t: TestInfo, b: Beliefs): number[] =>
  b.faults.map((faults, i) => (i === b.faults.length - 1 ? t.otherwise : findChance(t, faults)))

/** Beliefs after an outcome, and how likely it is. */
function after(
  b: Beliefs,
  finds: readonly number[],
  found: boolean,
): { readonly chance: number; readonly ps: number[] } {
  const joint = b.ps.map((p, i) => p * (found ? finds[i] : 1 - finds[i]))
  const chance = joint.reduce((s, x) => s + x, 0)
  return { chance, ps: joint.map((x) => (chance > 0 ? x / chance : 0)) }
}

function leadersOf(b: Beliefs, ps: readonly number[]): After[] {
  const marginal = new Map<FaultId, number>()
  b.faults.forEach((faults, i) => {
    if (i === b.faults.length - 1) return
    for (const f of faults.length ? faults : (['none'] as const)) marginal.set(f, (marginal.get(f) ?? 0) + ps[i])
  })
  return [...marginal]
    .map(([fault, probability]) => ({ fault, probability }))
    .sort((x, y) => y.probability - x.probability)
    .slice(0, LEADERS)
}

function told(t: TestInfo, b: Beliefs, before: number): { bits: number; finds: number; yes: number[]; no: number[] } {
  const finds = findsUnder(t, b)
  const yes = after(b, finds, true)
  const no = after(b, finds, false)
  const expected = yes.chance * entropy(yes.ps) + no.chance * entropy(no.ps)
  return { bits: Math.max(0, before - expected), finds: yes.chance, yes: yes.ps, no: no.ps }
}

/** Tests that this engine, the equipment at hand and what is done already leave. @param equipment - what is at hand; all when left out */
function open(v: Vehicle, done: readonly Finding[], equipment?: readonly string[]): readonly TestInfo[] {
  const doneIds = new Set(done.filter((f) => f.outcome !== 'unclear').map((f) => f.test))
  return TESTS.filter(
    (t) => t.admissible(v) && !doneIds.has(t.id) && (!t.needs || !equipment || equipment.includes(t.needs)),
  )
}

/**
 * Tests by expected information per minute, hazard and taking apart counted as minutes: mutual information between the
 * outcome and the hypothesis. Tests already done are left out; so are those that would tell less than a hundredth of a bit.
 */
export function nextTests(
  p: Posterior,
  v: Vehicle,
  done: readonly Finding[],
  equipment?: readonly string[],
): NextTest[] {
  const b = beliefsOf(p)
  const before = entropy(b.ps)
  return open(v, done, equipment)
    .map((t) => ({ t, x: told(t, b, before) }))
    .filter(({ x }) => x.bits > WORTH_NAMING)
    .sort((m, n) => n.x.bits / cost(n.t) - m.x.bits / cost(m.t))
    .map(({ t, x }) => ({
      test: t.id,
      bits: x.bits,
      minutes: t.minutes,
      finds: x.finds,
      ifFound: leadersOf(b, x.yes),
      ifNot: leadersOf(b, x.no),
    }))
}

/** Ids of the next three tests: each the best after what the ones before it are expected to tell. */
export function testPlan(p: Posterior, v: Vehicle, done: readonly Finding[], equipment?: readonly string[]): string[] {
  const b = beliefsOf(p)
  let branches: { readonly chance: number; readonly ps: readonly number[] }[] = [{ chance: 1, ps: b.ps }]
  const plan: string[] = []
  const left = new Set(open(v, done, equipment))
  while (plan.length < 3) {
    let best: { t: TestInfo; rate: number; bits: number } | undefined
    for (const t of left) {
      let bits = 0
      for (const { chance, ps } of branches) bits += chance * told(t, { ...b, ps }, entropy(ps)).bits
      if (!best || bits / cost(t) > best.rate) best = { t, rate: bits / cost(t), bits }
    }
    if (!best || best.bits <= WORTH_NAMING) return plan
    const { t } = best
    plan.push(t.id)
    left.delete(t)
    branches = branches.flatMap(({ chance, ps }) => {
      const finds = findsUnder(t, { ...b, ps })
      return [true, false].map((found) => {
        const x = after({ ...b, ps }, finds, found)
        return { chance: chance * x.chance, ps: x.ps }
      })
    })
  }
  return plan
}

/** Time lost when the remedy of a cause turns out wrong, parts counted at the shop's hour [min]; ours. */
const WRONG_REMEDY_MINUTES: Readonly<Record<FaultId, number>> = {
  none: 30,
  'unmetered-air': 60,
  'unmetered-air-bank': 150,
  'unmetered-air-duct': 45,
  'pcv-stuck-open': 60,
  'purge-stuck-open': 60,
  'boost-leak': 60,
  'maf-under-reads': 40,
  'maf-over-reads': 150,
  'map-sensor-offset': 60,
  'temperature-sensor-implausible': 40,
  'throttle-deposits': 60,
  'idle-valve-stuck': 90,
  'intake-restriction': 20,
  'egr-open-at-idle': 180,
  'egr-no-flow': 120,
  'pcv-blocked': 60,
  'valve-deposits': 300,
  'runner-restriction': 240,
  'fuel-delivery-low': 240,
  'fuel-delivery-high': 240,
  'oxygen-sensor-biased': 120,
  'exhaust-leak': 120,
  'exhaust-restriction': 400,
  'valve-timing-late': 400,
  'weak-cylinder': 600,
  'ignition-misfire': 120,
}
/** Above this nothing further is tested, whatever it costs. */
const CERTAIN = 0.95

/** When to stop testing: certain enough, or acting is cheaper than the next test. @param measured - readings are there */
export function stopRule(p: Posterior, next: readonly NextTest[], measured: boolean): Stop {
  if (!measured) return { verdict: 'measure', because: 'Nothing is measured yet: idle and 2500 rpm first.' }
  const [lead] = leadersOf(beliefsOf(p), beliefsOf(p).ps)
  if (lead.probability >= CERTAIN)
    return {
      verdict: 'act',
      because: `At ${lead.probability > 0.99 ? 'over 99' : (100 * lead.probability).toFixed(0)} % no test would change what to do.`,
    }
  const risk = (1 - lead.probability) * WRONG_REMEDY_MINUTES[lead.fault]
  const test = next[0]
  if (!test) return { verdict: 'act', because: 'No test at hand tells more.' }
  const info = TESTS.find((t) => t.id === test.test)!
  return risk < cost(info)
    ? {
        verdict: 'act',
        because: `Acting now risks ${risk.toFixed(0)} minutes on average, the next test costs ${test.minutes}.`,
      }
    : {
        verdict: 'test',
        because: `Acting now risks ${risk.toFixed(0)} minutes on average, the next test costs ${test.minutes}.`,
      }
}
