// Figures of a bench run: shares with their 95 % intervals, calibration, coverage, sizes.
import { sameAnswer } from './identify.mjs'

/** Wilson's 95 % interval of a share. */
export function share(k, n) {
  if (!n) return { value: NaN, low: NaN, high: NaN, n }
  const z = 1.96
  const p = k / n
  const mid = (p + z ** 2 / (2 * n)) / (1 + z ** 2 / n)
  const half = (z * Math.sqrt((p * (1 - p)) / n + z ** 2 / (4 * n * n))) / (1 + z ** 2 / n)
  return { value: p, low: mid - half, high: mid + half, n }
}

/** Answers of a ranking, exact confounders summed. */
function answers(one) {
  const list = []
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
const holds = (answer, one) => answer?.faults.some((f) => f === one.fault || sameAnswer(f, one.fault, one.vehicle))

export const firstRight = (one) => holds({ faults: [one.ranking[0].fault] }, one) || holds(answers(one)[0], one)
export const inFirstTwo = (one) =>
  firstRight(one) || holds(answers(one)[1], one) || holds({ faults: [one.ranking[1]?.fault] }, one)

export const inFirstThree = (one) =>
  inFirstTwo(one) ||
  holds(answers(one)[2], one) ||
  one.ranking
    .filter((r) => r.fault !== 'none')
    .slice(0, 3)
    .some((r) => holds({ faults: [r.fault] }, one))

/** Error of the leader's probability over ten bins, and what perfect calibration would show by chance. */
export function calibration(cases) {
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
    bins: bins.map((b) => (b.n ? { n: b.n, says: b.p / b.n, is: b.hit / b.n } : { n: 0 })),
  }
}

const median = (xs) => [...xs].sort((a, b) => a - b)[Math.floor(xs.length / 2)]

/** Coverage of 90 % intervals and size error of leaks, and of airflow and fuel errors at idle. */
export function sizes(cases) {
  const rows = { area: [], maf: [], fuel: [] }
  for (const one of cases) {
    const r = one.ranking.find((x) => x.fault === one.fault)
    if (!r || r.probability < 0.3) continue
    const c = one.carried
    if (['unmetered-air', 'unmetered-air-bank'].includes(one.fault))
      rows.area.push({ one, truth: c.leakMm2, ...r.effectiveAreaMm2 })
    if (one.fault.startsWith('maf-')) rows.maf.push({ one, truth: 100 * c.mafErrorIdle, ...r.mafErrorPct.atIdle })
    if (one.fault.startsWith('fuel-')) rows.fuel.push({ one, truth: 100 * c.fuelErrorIdle, ...r.fuelErrorPct })
  }
  const covered = (xs) => share(xs.filter((x) => x.low <= x.truth && x.truth <= x.high).length, xs.length)
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
