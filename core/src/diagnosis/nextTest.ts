import type { Vehicle } from '../engine/index.js'
import type { ChannelId } from '../signals/index.js'
import { actOf, CAUSES } from './causeFacts.js'
import { LOOKS_ALIKE } from './looks.js'
import type { Evidence } from './evidence.js'
import type { FaultId } from './faultKit.js'
import type { Posterior } from './posterior.js'
import { MISFIT, SURE_ENOUGH } from './ranked.js'
import { findChance, testInfo, TESTS, type TestInfo } from './tests.js'

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

/** Uncertainty about which of some answers comes [bits]. @param ps - their probabilities */
const entropy = (ps: readonly number[]): number => ps.reduce((sum, p) => (p > 0 ? sum - p * Math.log2(p) : sum), 0)

/** Tests that would tell less than this are not named [bits]. */
const WORTH_NAMING = 0.03
/** Getting at it and writing it down costs something whatever the test [minutes]. */
const SETUP_MINUTES = 2
/** A STOP caution and each step of taking apart make a test dearer [minutes]. */
const HAZARD_MINUTES = 2
const INVASIVE_MINUTES = 2
const LEADERS = 3
/** Tests of a plan, and among how many it is made. */
const PLANNED = 3
const PLANNED_AMONG = 10

/** What a test costs in time, with its hazard and what it takes apart [min]. */
const cost = (t: TestInfo): number =>
  SETUP_MINUTES + t.minutes + (t.caution?.stop ? HAZARD_MINUTES : 0) + INVASIVE_MINUTES * t.invasive

/** Hypotheses with their probabilities; the last one is what nothing explains. */
interface Beliefs {
  readonly faults: readonly (readonly FaultId[])[]
  readonly ps: readonly number[]
}

/** Probability of a hypothesis below which it changes no choice of a test. */
const NEGLIGIBLE = 1e-4

/** Where nothing explains the readings they may be wrong, and the causes are still there to be told apart: they keep their part. */
function beliefsOf(p: Posterior): Beliefs {
  const unexplained = Math.min(MISFIT, p.unexplained)
  const part = (1 - unexplained) / Math.max(Number.EPSILON, 1 - p.unexplained)
  const held = p.hypotheses.filter((h) => part * h.probability > NEGLIGIBLE)
  return {
    faults: [...held.map((h) => h.faults), []],
    ps: [...held.map((h) => part * h.probability), unexplained],
  }
}

/** P(find) under every hypothesis; what nothing explains has no cause that the test could find. */
const findsUnder = (t: Pick<TestInfo, 'finds' | 'otherwise'>, b: Beliefs): number[] =>
  b.faults.map((faults, i) => (i === b.faults.length - 1 ? t.otherwise : findChance(t, faults)))

/** P(each outcome) under every hypothesis: that it finds nothing, and each of the unlike things that it may find. */
function outcomesUnder(t: TestInfo, b: Beliefs): readonly (readonly number[])[] {
  const finds = findsUnder(t, b)
  const kinds = (t.kinds ?? []).map((k) => findsUnder(k, b))
  // of causes together each kind may be what is found: the shares are those of one find
  const all = finds.map((_, i) => kinds.reduce((sum, k) => sum + k[i], 0))
  return [
    finds.map((p) => 1 - p),
    ...(kinds.length ? kinds.map((k) => k.map((p, i) => (p * finds[i]) / all[i])) : [finds]),
  ]
}

const chanceOf = (ps: readonly number[], outcome: readonly number[]): number => {
  let chance = 0
  for (let i = 0; i < ps.length; i++) chance += ps[i] * outcome[i]
  return chance
}

/** Mutual information of an outcome with the hypotheses [bits]: its own uncertainty less what is left under each. */
function bitsOf(ps: readonly number[], outcomes: readonly (readonly number[])[]): number {
  let left = 0
  for (let i = 0; i < ps.length; i++) left += ps[i] * entropy(outcomes.map((o) => o[i]))
  return Math.max(0, entropy(outcomes.map((o) => chanceOf(ps, o))) - left)
}

/** Probabilities after an outcome, and how likely it is. */
function after(ps: readonly number[], outcome: readonly number[]): { readonly chance: number; readonly ps: number[] } {
  const chance = chanceOf(ps, outcome)
  return { chance, ps: ps.map((p, i) => (chance > 0 ? (p * outcome[i]) / chance : 0)) }
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

const atKeyOn = (e: Evidence, ...ids: readonly ChannelId[]): boolean =>
  e.points.some((p) => p.kind === 'key-on' && ids.every((id) => p.means[id] !== undefined))
const looked = (e: Evidence, item: string | undefined): boolean =>
  item !== undefined && e.findings.some((f) => f.test === 'look' && f.item === item && f.outcome !== 'unclear')

/** Tests whose answer stands in what was read or looked at already, or that an engine which has run cannot give before it has stood for a night. */
const ANSWERED: Readonly<Record<string, (e: Evidence) => boolean>> = {
  'map-key-on': (e) => atKeyOn(e, 'map_kpa'),
  'temperatures-cold': (e) => e.points.some((p) => p.kind !== 'key-on' && p.kind !== 'cold'),
  'temperatures-warm': (e) => e.points.some((p) => p.means.iat_c !== undefined && p.means.ect_c !== undefined),
  'gauge-idle': (e) => e.points.some((p) => p.kind === 'idle' && p.means.gauge_vacuum_kpa !== undefined),
}

/** Whether a test only looks at a part that somebody has had in hand since: what it looked like was seen. */
const wasInHand = (t: TestInfo, { done = [] }: Evidence): boolean =>
  t.id in LOOKS_ALIKE && done.some((d) => d.at !== undefined && d.at === t.at)

/** What a test asks: the same of two that try one part in two ways. */
const questionOf = (t: TestInfo): string => t.asksAs ?? t.id

/** Whether a test asks of an engine that dies what it does not do. */
const isBeyondIt = ({ asks }: TestInfo, { dies }: Evidence): boolean =>
  asks !== undefined && (dies === 'always' || (dies === 'at-idle' && asks === 'an idle'))

/** Tests that this engine, the equipment at hand, and what is done or answered already leave. */
function open(v: Vehicle, e: Evidence): readonly TestInfo[] {
  const { findings: done, equipment } = e
  const told = new Set(done.filter((f) => f.outcome !== 'unclear').map((f) => f.test))
  const asked = new Set(TESTS.filter((t) => told.has(t.id)).map(questionOf))
  return TESTS.filter(
    (t) =>
      t.admissible(v) &&
      !asked.has(questionOf(t)) &&
      !ANSWERED[t.id]?.(e) &&
      !isBeyondIt(t, e) &&
      !looked(e, LOOKS_ALIKE[t.id]) &&
      !wasInHand(t, e) &&
      (!t.needs || !equipment || equipment.includes(t.needs)),
  )
}

/**
 * Tests by expected information per minute, hazard and taking apart counted as minutes: mutual information between the
 * outcome and the hypothesis. Tests already done are left out; so are those that would tell less than a hundredth of a bit.
 */
export function nextTests(p: Posterior, v: Vehicle, e: Evidence): NextTest[] {
  const b = beliefsOf(p)
  return open(v, e)
    .map((t) => {
      const outcomes = outcomesUnder(t, b)
      return { t, outcomes, bits: bitsOf(b.ps, outcomes) }
    })
    .filter((x) => x.bits > WORTH_NAMING)
    .sort((m, n) => n.bits / cost(n.t) - m.bits / cost(m.t))
    .filter(({ t }, i, all) => all.findIndex((x) => questionOf(x.t) === questionOf(t)) === i)
    .map(({ t, outcomes: [nothing], bits }) => {
      const finds = nothing.map((p) => 1 - p)
      return {
        test: t.id,
        bits,
        minutes: t.minutes,
        finds: chanceOf(b.ps, finds),
        ifFound: leadersOf(b, after(b.ps, finds).ps),
        ifNot: leadersOf(b, after(b.ps, nothing).ps),
      }
    })
}

/**
 * Ids of the next three tests: each the best after what the ones before it are expected to tell.
 * @param next - tests by what they tell now; what tells little now seldom tells most after two others
 */
export function testPlan(p: Posterior, next: readonly NextTest[]): string[] {
  const b = beliefsOf(p)
  let branches: { readonly chance: number; readonly ps: readonly number[] }[] = [{ chance: 1, ps: b.ps }]
  const left = next
    .slice(0, PLANNED_AMONG)
    .map(({ test }) => ({ t: testInfo(test), outcomes: outcomesUnder(testInfo(test), b) }))
  const plan: string[] = []
  while (plan.length < PLANNED && left.length) {
    const rated = left.map((x) => branches.reduce((s, { chance, ps }) => s + chance * bitsOf(ps, x.outcomes), 0))
    const rates = rated.map((bits, i) => bits / cost(left[i].t))
    const best = rates.indexOf(Math.max(...rates))
    if (rated[best] <= WORTH_NAMING) return plan
    const [{ t, outcomes }] = left.splice(best, 1)
    plan.push(t.id)
    branches = branches.flatMap(({ chance, ps }) =>
      outcomes.map((outcome) => {
        const x = after(ps, outcome)
        return { chance: chance * x.chance, ps: x.ps }
      }),
    )
  }
  return plan
}

/** Above this nothing further is tested, whatever it costs. */
const CERTAIN = 0.95

/** What somebody feels and nobody found comes back: what another visit costs [min]; ours. */
const COMEBACK_MINUTES = 45

/** Words that begin small, unless they begin with an abbreviation. */
export const inSentence = (s: string): string => (/^[A-Z]{2}/.test(s) ? s : s.charAt(0).toLowerCase() + s.slice(1))

/**
 * When to stop testing: certain enough, or acting is cheaper than the next test.
 * @param measured - whether readings are there, and whether they tell one cause from another
 * @param e - a test that was made is not asked for again
 */
export function stopRule(
  p: Posterior,
  next: readonly NextTest[],
  measured: 'no' | 'tells nothing' | 'yes',
  v: Vehicle,
  e: Pick<Evidence, 'findings' | 'intent' | 'dies'>,
): Stop {
  if (measured === 'no' && e.dies === 'always' && next.length)
    return { verdict: 'test', because: 'It does not keep running: what is tried on it at rest tells.' }
  if (measured === 'no') return { verdict: 'measure', because: 'Nothing is measured yet: idle and 2500 rpm first.' }
  if (p.unexplained > MISFIT)
    return {
      verdict: 'measure',
      because:
        'What was measured fits neither a sound engine nor any cause: read it once more before anything is done about it.',
    }
  const beliefs = beliefsOf(p)
  const [lead] = leadersOf(beliefs, beliefs.ps)
  if (measured === 'tells nothing' && lead.probability < SURE_ENOUGH && next.length)
    return { verdict: 'test', because: 'What was measured does not tell one cause from another: the tests do.' }
  if (lead.probability >= CERTAIN)
    return {
      verdict: 'act',
      because: `At ${lead.probability > 0.99 ? 'over 99' : (100 * lead.probability).toFixed(0)} % no test would change what to do: ${inSentence(actOf(lead.fault, v, e.findings))}.`,
    }
  const wrong =
    lead.fault === 'none' && e.intent === 'complaint' ? COMEBACK_MINUTES : CAUSES[lead.fault].wrongRemedyMinutes
  const risk = (1 - lead.probability) * wrong
  const test = next[0]
  if (!test) return { verdict: 'act', because: 'No test at hand tells more.' }
  const costs = cost(testInfo(test.test))
  return {
    verdict: risk < costs ? 'act' : 'test',
    because: `Acting now risks ${risk.toFixed(0)} minutes on average, the next test costs ${costs.toFixed(0)} with set-up and hazard.`,
  }
}
