import { airPathOf, lookItemsOf, type StationId } from '../engine/index.js'
import { holdingStations, placeOfFind } from './findPlace.js'
import { live, type VisitFile } from './records.js'
import { mendedStations } from './remedies.js'

/** How a station stands, told by its ring. */
export type StationState = 'unseen' | 'begun' | 'sound' | 'suspect' | 'failed' | 'mended'

/** State of every station of this engine: the worst that was found, unless it was mended since and nothing was found there again. */
export function stationStates(f: VisitFile): ReadonlyMap<StationId, StationState> {
  const path = airPathOf(f.vehicle.spec)
  const items = lookItemsOf(f.vehicle.spec)
  const findings = live(f.findings).filter((x) => x.test !== 'note')
  const holding = holdingStations(f)
  // what is beyond the path has a state only where something was tested or done there
  const beyond: readonly StationId[] =
    mendedStations(f).has('beyond') || findings.some((x) => placeOfFind(x) === 'beyond') ? ['beyond'] : []
  return new Map(
    [...path.stations.map((s) => s.info.id), ...beyond].map((id) => {
      const here = findings.filter((x) => placeOfFind(x) === id)
      const judged = new Set(here.filter((x) => x.test === 'look').map((x) => x.item)).size
      const asked = items.filter((x) => x.station === id).length
      return [
        id,
        stateOf(
          here.map((x) => x.outcome),
          holding.has(id),
          judged >= asked,
        ),
      ]
    }),
  )
}

function stateOf(outcomes: readonly string[], mended: boolean, complete: boolean): StationState {
  if (mended) return 'mended'
  if (outcomes.includes('fail')) return 'failed'
  if (outcomes.includes('unclear')) return 'suspect'
  if (!outcomes.length) return 'unseen'
  return complete ? 'sound' : 'begun'
}
