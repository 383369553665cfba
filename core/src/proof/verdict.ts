import { outside, type Change, type Verdict } from './compare.js'
import { ruleOf, type ChangeRule, type ProofQuantity } from './rules.js'

/** Changes of one kind over all points where both runs have them, taken together. */
export interface Pooled {
  readonly what: string
  /** Mean gain: how much nearer to where it belongs; where nothing is better by itself, the mean difference [unit]. */
  readonly gain: number
  readonly unit: string
  /** The gain is counted in how far the figure lay outside of where it belongs. */
  readonly toBand?: boolean
  /** A trim of it stood at its stop on the one side: the gain is the least there can be. */
  readonly atLeast?: boolean
  /** Half width of its 90 % interval. */
  readonly uncertainty: number
  /** A smaller gain could not have been seen. */
  readonly leastSeen: number
  readonly points: number
  readonly verdict: Exclude<Verdict, 'at its stop'>
}

/** What two runs say of the work between them. */
export interface ProofVerdict {
  readonly verdict: Verdict
  readonly pooled: readonly Pooled[]
  /** Each change as the whole allows it: no row says more than all of them do together. */
  readonly changes: readonly Change[]
}

/**
 * Chance of a false "better" of one visit, and of a false "worse" [–]. Shared out beforehand: most to the trims of all points
 * together, since they speak where a remedy speaks most often; then to the trim of the idle; the rest among all other figures.
 */
const ALPHA = 0.05
const SHARE = { allTrims: 0.6, idleTrim: 0.25, others: 0.15 } as const
/** Chance of a false "changed" of one visit as a share of that, which all figures at their points have between them [–]: points that hardly moved make none blind. */
const ALONE = 0.7
/**
 * Share of the between-run variance that all points of a run have in common: same tank, same day, same car. The rest is of
 * each point by itself (purge at that moment, a consumer, where the hold stood), so more points tell more.
 */
const COMMON = 0.1

/**
 * Judges all changes of a visit together, so that twenty rows do not find by chance what is not there: figures that say the
 * same thing are pooled, and the chance of a false word is held for the visit, not for each row (Holm, 1979).
 */
export function proofVerdict(changes: readonly Change[]): ProofVerdict {
  const tests = testsOf(changes.filter((c) => c.verdict !== 'at its stop'))
  const seen = { better: accepted(tests, 1), worse: accepted(tests, -1) }
  const pooled = tests.map((t): Pooled => {
    const words = { what: t.what, unit: t.unit, points: new Set(t.rows.map(pointOf)).size }
    const banded = t.rows.some((c) => c.belongs)
    const told = seen.better.has(t) || seen.worse.has(t)
    const shift = banded && !told && isShiftWorth(t.rows[0]) ? shiftOf(t) : undefined
    if (shift) return { ...words, ...shift, verdict: 'changed' }
    const isLeast = t.rows.some((c) => c.atStop) && told
    const verdict = t.directed
      ? seen.better.has(t)
        ? 'better'
        : seen.worse.has(t)
          ? 'worse'
          : 'no change seen'
      : seen.better.has(t) || seen.worse.has(t)
        ? 'changed'
        : 'no change seen'
    return {
      ...words,
      gain: t.gain,
      ...(banded ? { toBand: true } : {}),
      ...(isLeast ? { atLeast: true } : {}),
      uncertainty: 1.645 * t.sd,
      leastSeen: upperNormal(t.alpha) * t.sd,
      verdict,
    }
  })
  const alone = (ALONE * ALPHA) / 2 / changes.length
  const rows = changes.map((c) => asAllowed(c, tests, pooled, alone))
  const has = (v: Verdict): boolean => pooled.some((p) => p.verdict === v)
  const hasRow = (v: Verdict): boolean => rows.some((r) => r.verdict === v)
  const verdict =
    (['worse', 'better', 'changed'] as const).find(has) ??
    // what changed at one point alone has changed too; beside a trim at its stop nobody knows whether nothing did
    (['changed', 'at its stop'] as const).find(hasRow) ??
    'no change seen'
  return { verdict, pooled, changes: rows }
}

/**
 * One row as the whole allows it. A row that all points together do not bear out is not said to be better or worse; it has changed
 * where it alone exceeds its part of the chance, and else what could not have been seen is said by that part.
 * @param alone - its part of the chance of a false "changed" of one visit, which all rows share alike [–]
 */
function asAllowed(c: Change, tests: readonly Test[], pooled: readonly Pooled[], alone: number): Change {
  const whole: Verdict[] = tests.flatMap((t, i) => (t.rows.includes(c) ? [pooled[i].verdict] : []))
  if (c.verdict === 'no change seen' || c.verdict === 'at its stop' || whole.includes(c.verdict)) return c
  if (whole.includes('changed')) return { ...c, verdict: 'changed' }
  const leastSeen = Math.max(c.leastSeen, (upperNormal(alone) * c.uncertainty) / 1.645)
  const moved = Math.abs(c.difference) >= leastSeen && (!c.belongs || isShiftWorth(c))
  return moved
    ? { ...c, verdict: 'changed' }
    : { ...c, verdict: c.atStop ? 'at its stop' : 'no change seen', leastSeen }
}

interface Test {
  readonly what: string
  readonly unit: string
  readonly rows: readonly Change[]
  readonly gain: number
  readonly sd: number
  /** Chance of a false word that it is given to begin with. */
  readonly alpha: number
  /** Whether more is better, or only other. */
  readonly directed: boolean
}

function testsOf(changes: readonly Change[]): Test[] {
  const trims = changes.filter((c) => isTrim(c.quantity))
  const idle = trims.filter((c) => c.kind === 'idle')
  const points = new Set(trims.map(pointOf)).size
  const banks = new Set(trims.map((c) => c.quantity))
  const others = [...new Set(changes.filter((c) => !isTrim(c.quantity)).map((c) => c.quantity))]
  const drafts: Omit<Test, 'alpha' | 'gain' | 'sd'>[] = []
  const put = (what: string, rows: readonly Change[], unit: string, directed: boolean): void => {
    if (rows.length) drafts.push({ what, rows, unit, directed })
  }
  const alone = points === 1 && idle.length > 0
  if (!alone) put('total trim', trims, '%', true)
  for (const bank of banks) {
    const name = banks.size === 2 ? `total trim, bank ${bank.charAt(4)}` : 'total trim'
    put(
      alone ? name : `${name}, at idle`,
      idle.filter((c) => c.quantity === bank),
      '%',
      true,
    )
    if (banks.size === 2 && !alone)
      put(
        name,
        trims.filter((c) => c.quantity === bank),
        '%',
        true,
      )
  }
  for (const quantity of others) {
    const rule = ruleOf(quantity)
    const rows = changes.filter((c) => c.quantity === quantity)
    const unit = rule.relative ? '%' : rule.unit
    const running = rows.filter((c) => c.kind !== 'key-on' && c.kind !== 'pull')
    // a speed that has its band and one under load, which has none, are not one figure: nearer and lower do not add up
    const banded = running.filter((c) => c.belongs)
    const loaded = banded.length ? running.filter((c) => !c.belongs) : []
    // what a sensor reads of the air around it says nothing of the engine that runs
    // and what goes through an open plate nothing of the closed one
    for (const [words, some] of [
      [rule.label, banded.length ? banded : running],
      [`${rule.label}, loaded`, loaded],
      [`${rule.label}, full pull`, rows.filter((c) => c.kind === 'pull')],
      [`${rule.label}, engine off`, rows.filter((c) => c.kind === 'key-on')],
    ] as const)
      put(words, some, unit, some.some((c) => c.belongs) || rule.better !== 'none')
  }
  const group = (d: (typeof drafts)[number]): keyof typeof SHARE =>
    !isTrim(d.rows[0].quantity) ? 'others' : d.rows === trims || alone ? 'allTrims' : 'idleTrim'
  const inGroup = (g: keyof typeof SHARE): number => drafts.filter((d) => group(d) === g).length
  const used = (Object.keys(SHARE) as (keyof typeof SHARE)[]).filter((g) => inGroup(g) > 0)
  const whole = used.reduce((s, g) => s + SHARE[g], 0)
  return drafts.map((d) => ({
    ...d,
    ...pool(d.rows),
    alpha: (ALPHA * SHARE[group(d)]) / whole / inGroup(group(d)),
  }))
}

const isTrim = (q: ProofQuantity): boolean => q === 'trim1_pct' || q === 'trim2_pct'
const pointOf = (c: Change): string => `${c.kind} ${c.rpm}`

/** Mean gain, or what else is counted, over points, banks of a point taken as one, and its standard deviation. */
function pool(rows: readonly Change[], counted = gainOf): { gain: number; sd: number } {
  const byPoint = new Map<string, Change[]>()
  for (const c of rows) byPoint.set(pointOf(c), [...(byPoint.get(pointOf(c)) ?? []), c])
  const n = byPoint.size
  let [gain, own, common] = [0, 0, 0]
  for (const same of byPoint.values()) {
    const mean = (of: (c: Change) => number): number => same.reduce((s, c) => s + of(c), 0) / same.length
    gain += mean(counted) / n
    const sd = mean((c) => c.uncertainty / 1.645 / scaleOf(c))
    own += ((1 - COMMON) * sd ** 2) / n ** 2
    common += (Math.sqrt(COMMON) * sd) / n
  }
  return { gain, sd: Math.sqrt(own + common ** 2) }
}

/** Whether a figure that moved inside its band is told of: an idle speed is, a shorter delay than any engine needs is not. */
const isShiftWorth = (c: Change): boolean => ruleOf(c.quantity).better === 'none'

/**
 * How far figures with a band moved, where that was seen and nothing was gained or lost by it: from just outside to the middle is
 * a change that nobody may pass over. The chance of a false word is held apart from that of a gain.
 */
function shiftOf(t: Test): Pick<Pooled, 'gain' | 'uncertainty' | 'leastSeen'> | undefined {
  const { gain, sd } = pool(t.rows, (c) => c.difference / scaleOf(c))
  const leastSeen = upperNormal(t.alpha / 2) * sd
  return Math.abs(gain) > leastSeen ? { gain, uncertainty: 1.645 * sd, leastSeen } : undefined
}

/** What one change is counted in: shares of the first figure where the rule is one of shares [%]. */
const scaleOf = (c: Change): number => (ruleOf(c.quantity).relative ? Math.max(Math.abs(c.before), 1e-9) / 100 : 1)

/** How much better one figure became; where nothing is better by itself, how much higher. */
function gainOf(c: Change): number {
  const rule: ChangeRule = ruleOf(c.quantity)
  if (c.belongs) return outside(c.before, c.belongs) - outside(c.after, c.belongs)
  const d = c.difference / scaleOf(c)
  switch (rule.better) {
    case 'zero':
      return Math.abs(c.before) - Math.abs(c.after)
    case 'lower':
      return -d
    case 'higher':
    case 'none':
      return d
  }
}

/** Tests that hold at the shared-out chance, step by step: what one that holds had is shared among those that are left. */
function accepted(tests: readonly Test[], sign: 1 | -1): Set<Test> {
  const held = new Set<Test>()
  const open = [...tests]
  for (;;) {
    const whole = open.reduce((s, t) => s + t.alpha, 0)
    const next = open.find((t) => {
      // what is only other has two sides
      const alpha = ((ALPHA * t.alpha) / whole) * (t.directed ? 1 : 0.5)
      return sign * t.gain > upperNormal(alpha) * t.sd
    })
    if (!next) return held
    held.add(next)
    open.splice(open.indexOf(next), 1)
  }
}

/**
 * How many standard deviations above the mean a normal figure lies with this chance, by rational approximation
 * (Abramowitz and Stegun, 26.2.23: within 4.5e-4). @param p - 0 < p ≤ 0.5
 */
export function upperNormal(p: number): number {
  const t = Math.sqrt(-2 * Math.log(p))
  return t - (2.515517 + t * (0.802853 + t * 0.010328)) / (1 + t * (1.432788 + t * (0.189269 + t * 0.001308)))
}
