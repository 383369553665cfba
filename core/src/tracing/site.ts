import { kindOfStation, type AirPath, type StationId } from '../engine/index.js'
import type { Finding, Ranked } from '../diagnosis/index.js'

/** Where unmetered air may come in, as a probability over stations. */
export interface SiteShare {
  readonly station: StationId
  readonly probability: number
  /** What of it is a valve that stands open, and no hole: shut off it shows, under smoke it does not [–]. */
  readonly byValve?: number
}

/** How much likelier a failed test makes its place, and a passed one its place less likely. */
export const TELLS: Readonly<Record<string, { fail: number; pass: number }>> = {
  look: { fail: 12, pass: 0.55 },
  'flex-duct': { fail: 14, pass: 0.3 },
  pinch: { fail: 40, pass: 0.08 },
  'purge-pinch': { fail: 40, pass: 0.08 },
  smoke: { fail: 40, pass: 0.12 },
  enrichment: { fail: 15, pass: 0.35 },
}

/** Whether a test shuts a branch off: a hose closed for the sake of its valve is pinched all the same. */
export const isShutOff = (test: string): boolean => test === 'pinch' || test === 'purge-pinch'

/** Share of a throttle's leaks that come in behind its plate [–]; ours. */
const BEHIND_AT_PLATE = 0.7

/** How likely a mended place still leaks, against what it was before any test [–]. */
const MENDED = 0.04

/** Causes that are a valve of a branch standing open, and the kind of station where it is. */
const VALVES = [
  ['pcv-stuck-open', 'pcv'],
  ['purge-stuck-open', 'purge'],
] as const

/** Below this, together, what lets air in is not looked for [–]: as second causes beside a sure one they share about half of it. */
const LEAST_AIR = 0.1

/**
 * Posterior over places: prior by kind of joint, the causes' probabilities by zone, bank evidence, and
 * looks and tests at each place. A mended place is all but out: what is left comes in elsewhere. Empty where no cause that lets air in is likely.
 */
export function siteShares(
  path: AirPath,
  ranking: readonly Ranked[],
  findings: readonly Finding[],
  mended: ReadonlySet<StationId> = new Set(),
): SiteShare[] {
  const p = (id: string): number => ranking.find((r) => r.fault === id)?.probability ?? 0
  const bank = ranking.find((r) => r.fault === 'unmetered-air-bank')
  const behind = p('unmetered-air')
  const oneBank = p('unmetered-air-bank')
  const duct = p('unmetered-air-duct')
  const zoneMass = (zone: string, b: number | undefined): number => {
    if (zone === 'sensor-to-plate') return duct
    if (zone === 'behind-plate') return behind
    if (zone === 'runner') return 0.5 * behind + (b === undefined ? 2 : b === bank?.bank ? 6 : 0.3) * oneBank
    return 0
  }
  const holes = behind + oneBank + duct
  const valves = VALVES.reduce((sum, [fault]) => sum + p(fault), 0)
  if (holes + valves < LEAST_AIR) return []
  const raw = path.stations.map((s) => {
    // a throttle's gasket and shaft sit at the plate itself: mostly behind it
    const atPlate = kindOfStation(s.info.id) === 'throttle'
    const mass = atPlate ? BEHIND_AT_PLATE * behind + (1 - BEHIND_AT_PLATE) * duct : zoneMass(s.zone, s.bank)
    let w = s.info.leakWeight * mass
    // twenty looks at one place say no more than one, but a find outweighs what passed
    const here = findings.filter((f) => f.station === s.info.id)
    if (mended.has(s.info.id)) return { station: s.info.id, w: w * MENDED }
    for (const test of new Set(here.map((f) => f.test))) {
      const tell = TELLS[test]
      if (!tell) continue
      const outcomes = here.filter((f) => f.test === test).map((f) => f.outcome)
      if (outcomes.includes('fail')) w *= tell.fail
      else if (outcomes.includes('pass')) w *= tell.pass
    }
    return { station: s.info.id, w }
  })
  const total = raw.reduce((s, x) => s + x.w, 0)
  const all = raw.map(({ station, w }) => {
    const valve = VALVES.find(([, kind]) => kind === kindOfStation(station))
    // a test at its place has moved the cause itself
    const byValve = valve ? p(valve[0]) * (mended.has(station) ? MENDED : 1) : 0
    return { station, byValve, air: byValve + (total > 0 ? (w / total) * holes : 0) }
  })
  const sum = all.reduce((s, x) => s + x.air, 0)
  return sum > 0
    ? all.map((x) => ({
        station: x.station,
        probability: x.air / sum,
        ...(x.byValve ? { byValve: x.byValve / sum } : {}),
      }))
    : []
}
