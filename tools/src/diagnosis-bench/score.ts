// Figures of a bench run: shares with their 95 % intervals, calibration, coverage, sizes.
import type { Interval, Vehicle } from '@uvula/core'
import type { Said } from './diagnosed.js'
import { sameAnswer } from './identify.js'
import type { Case } from './population.js'

/** A share or a middle; a share with its 95 % interval. */
export interface Figure {
  readonly value: number
  readonly low?: number
  readonly high?: number
  readonly n?: number
}

/** What is scored: the truth of a case and what was said of it. */
export interface Scored {
  readonly vehicle: Vehicle
  readonly fault: string
  readonly ranking: readonly Said[]
}

/** Wilson's 95 % interval of a share. */
export function share(k: number, n: number): Figure & { readonly n: number } {
  if (!n) return { value: NaN, low: NaN, high: NaN, n }
  const z = 1.96
  const p = k / n
  const mid = (p + z ** 2 / (2 * n)) / (1 + z ** 2 / n)
  const half = (z * Math.sqrt((p * (1 - p)) / n + z ** 2 / (4 * n * n))) / (1 + z ** 2 / n)
  return { value: p, low: mid - half, high: mid + half, n }
}

/** Causes that count as one answer. */
interface Answer {
  readonly faults: readonly string[]
  readonly probability: number
}

/** Answers of a ranking, exact confounders summed. */
function answers(one: Scored): Answer[] {
  const list: Said[][] = []
  for (const r of one.ranking) {
    const into = list.find((g) => g.some((x) => sameAnswer(x.fault, r.fault, one.vehicle)))
    if (into) into.push(r)
    else list.push([r])
  }
  return list
    .map((g) => ({
      faults: g.map((x) => x.fault),
      probability: Math.min(
        1,
        g.reduce((s, x) => s + x.probability, 0),
      ),
    }))
    .sort((a, b) => b.probability - a.probability)
}
const holds = (answer: Pick<Answer, 'faults'> | undefined, one: Scored): boolean =>
  answer?.faults.some((f) => sameAnswer(f, one.fault, one.vehicle)) ?? false
/** A place of the ranking as an answer of its own. */
const alone = (r: Said | undefined): Pick<Answer, 'faults'> => ({ faults: r ? [r.fault] : [] })

export const firstRight = (one: Scored): boolean => holds(alone(one.ranking[0]), one) || holds(answers(one)[0], one)
export const inFirstTwo = (one: Scored): boolean =>
  firstRight(one) || holds(answers(one)[1], one) || holds(alone(one.ranking[1]), one)

export const inFirstThree = (one: Scored): boolean =>
  inFirstTwo(one) ||
  holds(answers(one)[2], one) ||
  one.ranking
    .filter((r) => r.fault !== 'none')
    .slice(0, 3)
    .some((r) => holds(alone(r), one))

interface Calibration {
  /** Of ten bins; what perfect calibration would show by chance; how much more it is. */
  readonly error: number
  readonly chance: number
  readonly excess: number
  readonly logLoss: number
  readonly brier: number
  readonly bins: readonly { readonly n: number; readonly says: number; readonly is: number }[]
}

/** Error of the leader's probability over ten bins, and what perfect calibration would show by chance. */
export function calibration(cases: readonly Scored[]): Calibration {
  const bins = Array.from({ length: 10 }, () => ({ n: 0, p: 0, hit: 0, variance: 0 }))
  let [logLoss, brier] = [0, 0]
  for (const one of cases) {
    const lead = answers(one)[0]
    const p = Math.min(0.9999, lead.probability)
    const hit = holds(lead, one) ? 1 : 0
    const b = bins[Math.min(9, Math.floor(p * 10))]
    b.n++
    b.p += p
    b.hit += hit
    b.variance += p * (1 - p)
    const own = answers(one).find((a) => holds(a, one))?.probability ?? 1e-4
    logLoss -= Math.log(Math.max(1e-4, own))
    brier += (p - hit) ** 2
  }
  const n = cases.length
  const error = bins.reduce((s, b) => s + Math.abs(b.p - b.hit) / n, 0)
  // mean absolute deviation of a sum of Bernoulli draws about its mean
  const chance = bins.reduce((s, b) => s + Math.sqrt((2 * b.variance) / Math.PI) / n, 0)
  return {
    error,
    chance,
    excess: Math.max(0, error - chance),
    logLoss: logLoss / n,
    brier: brier / n,
    bins: bins.map((b) => (b.n ? { n: b.n, says: b.p / b.n, is: b.hit / b.n } : { n: 0, says: NaN, is: NaN })),
  }
}

const median = (xs: readonly number[]): number => [...xs].sort((a, b) => a - b)[Math.floor(xs.length / 2)]

/** A case whose sizes are held against the truth. */
export type Sized = Scored & Pick<Case, 'carried'> & { readonly rise: number }
interface Row extends Interval {
  readonly one: Sized
  readonly truth: number
}

/** Coverage of 90 % intervals and size error of leaks, and of airflow and fuel errors at idle. */
export function sizes(
  cases: readonly Sized[],
): Readonly<Record<'area' | 'maf' | 'fuel' | 'areaError', Figure & { readonly n: number }>> {
  const rows: Record<'area' | 'maf' | 'fuel', Row[]> = { area: [], maf: [], fuel: [] }
  for (const one of cases) {
    const r = one.ranking.find((x) => x.fault === one.fault)
    if (!r || r.probability < 0.3) continue
    const c = one.carried
    if (!c) continue
    if (['unmetered-air', 'unmetered-air-bank'].includes(one.fault))
      rows.area.push({ one, truth: c.leakMm2, ...r.effectiveAreaMm2! })
    if (one.fault.startsWith('maf-')) rows.maf.push({ one, truth: 100 * c.mafErrorIdle, ...r.mafErrorPct!.atIdle })
    if (one.fault.startsWith('fuel-')) rows.fuel.push({ one, truth: 100 * c.fuelErrorIdle, ...r.fuelErrorPct! })
  }
  const covered = (xs: readonly Row[]): Figure & { readonly n: number } =>
    share(xs.filter((x) => x.low <= x.truth && x.truth <= x.high).length, xs.length)
  // where a size is promised: fuelled by airflow, trims not at their stops, 12 points more at idle than at 2500
  const promised = rows.area.filter(({ one }) => {
    return one.vehicle.metering !== 'map' && one.rise >= 0.11
  })
  return {
    area: covered(rows.area),
    maf: covered(rows.maf),
    fuel: covered(rows.fuel),
    areaError: { value: median(promised.map((x) => Math.abs(x.median - x.truth) / x.truth)), n: promised.length },
  }
}
