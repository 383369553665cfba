import type { FaultId } from '../diagnosis/index.js'
import { airPathOf, type StationId } from '../engine/index.js'
import { siteShares } from '../tracing/index.js'
import { live, type VisitFile } from './records.js'

/** Openings that may be anywhere along the path; the rest of what lets air in is a valve at its one place. */
export const HOLES: readonly FaultId[] = ['unmetered-air', 'unmetered-air-bank', 'unmetered-air-duct']

/** How much of the chance that a hole is somewhere lies at one place of a car as it came, by what was looked at and tried [–]. */
export function holeShares(f: VisitFile): (hole: FaultId, station: StationId) => number {
  const path = airPathOf(f.vehicle.spec)
  const found = live(f.findings).filter((x) => x.test !== 'note' && !x.afterWork)
  return (fault, station) =>
    siteShares(path, [{ fault, probability: 1, sentence: '' }], found).find((s) => s.station === station)
      ?.probability ?? 0
}
