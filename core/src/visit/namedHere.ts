import type { Diagnosis, FaultId, Ranked } from '../diagnosis/index.js'
import { kindOfStation, type StationKind } from '../engine/index.js'
import { LETS_AIR_IN, type Remedy } from './remedies.js'
import { shows } from './spokenFor.js'

/** What a valve that lets air in fails by itself by, where work on it answers leaks about it too. */
const OF_VALVES: Partial<Readonly<Record<StationKind, FaultId>>> = {
  purge: 'purge-stuck-open',
  pcv: 'pcv-stuck-open',
  separator: 'pcv-stuck-open',
}
/** Of all places where air may come in one valve’s joint is this share, or less [–]; ours. */
const AT_ONE_PLACE = 0.1

/** What fails by itself of a part that was worked on; undefined where the work was on a hose or a joint. */
const ownFault = ({ station, repair }: Remedy): FaultId | undefined =>
  station && (repair === undefined || repair === 'replace' || repair === 'clean')
    ? OF_VALVES[kindOfStation(station)]
    : undefined

/** How likely a cause is to be what some work answered: air that may come in anywhere seldom comes in about the one valve that was worked on. */
function hereOf({ fault, probability }: Ranked, works: readonly Remedy[]): number {
  const others = works.filter((r) => r.answers.includes(fault)).map(ownFault)
  const isElsewhere = others.every((x) => x !== undefined && x !== fault)
  return isElsewhere ? AT_ONE_PLACE * probability : probability
}

/** Of causes that let air in, which nobody tells apart who mends one place, the one that some work answered where one of them leads. */
export function namedHere(by: Diagnosis, works: readonly Remedy[], lead: FaultId): FaultId {
  if (!LETS_AIR_IN.includes(lead)) return lead
  const answers = new Set(works.flatMap((r) => r.answers))
  const alike = by.ranking.filter((r) => LETS_AIR_IN.includes(r.fault) && answers.has(r.fault) && shows(by, r.fault))
  return [...alike].sort((x, y) => hereOf(y, works) - hereOf(x, works)).at(0)?.fault ?? lead
}
