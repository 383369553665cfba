import type { Diagnosis, FaultId, Ranked } from '../diagnosis/index.js'
import { kindOfStation, type StationKind } from '../engine/index.js'
import { HOLES, holeShares } from './holeShare.js'
import type { VisitFile } from './records.js'
import { LETS_AIR_IN, type Remedy } from './remedies.js'
import { shows } from './spokenFor.js'

/** What a valve that lets air in fails by itself by, where work on it answers leaks about it too. */
const OF_VALVES: Partial<Readonly<Record<StationKind, FaultId>>> = {
  purge: 'purge-stuck-open',
  pcv: 'pcv-stuck-open',
  separator: 'pcv-stuck-open',
}
/** How often a valve that stands open is answered by work on its hose or joint, against work on itself [–]; ours. */
const BY_ITS_HOSE = 0.1

/** What fails by itself of a part that was worked on; undefined where the work was on a hose or a joint. */
const ownFault = ({ station, repair }: Remedy): FaultId | undefined =>
  station && (repair === undefined || repair === 'replace' || repair === 'clean')
    ? OF_VALVES[kindOfStation(station)]
    : undefined

/** How likely a cause is to be what some work answered: a hole that may be anywhere lies at the places worked on by its share, a valve that stands open is mended itself. */
function hereOf(
  { fault, probability }: Ranked,
  works: readonly Remedy[],
  holeAt: ReturnType<typeof holeShares>,
): number {
  const mine = works.filter((r) => r.answers.includes(fault))
  if (!HOLES.includes(fault)) return probability * (mine.some((r) => ownFault(r) === fault) ? 1 : BY_ITS_HOSE)
  const places = [...new Set(mine.flatMap((r) => r.station ?? []))]
  return (
    probability *
    Math.min(
      1,
      places.reduce((sum, at) => sum + holeAt(fault, at), 0),
    )
  )
}

/** Of causes that let air in, which nobody tells apart who mends one place, the one that some work answered where one of them leads. */
export function namedHere(f: VisitFile, by: Diagnosis, works: readonly Remedy[], lead: FaultId): FaultId {
  if (!LETS_AIR_IN.includes(lead)) return lead
  const answers = new Set(works.flatMap((r) => r.answers))
  const alike = by.ranking.filter((r) => LETS_AIR_IN.includes(r.fault) && answers.has(r.fault) && shows(by, r.fault))
  const holeAt = holeShares(f)
  const here = new Map(alike.map((r) => [r.fault, hereOf(r, works, holeAt)]))
  return [...alike].sort((x, y) => here.get(y.fault)! - here.get(x.fault)!).at(0)?.fault ?? lead
}
