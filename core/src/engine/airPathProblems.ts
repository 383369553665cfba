import { airPathOf, branchEditsOf, type AirPath } from './airPath.js'
import { EXTRA_BRANCHES, type StationId } from './stationIds.js'
import { STATIONS } from './stations.js'
import type { Vehicle } from './vehicle.js'

const label = (id: string): string => STATIONS.find((s) => s.id === id)?.label ?? id

/** Stations that an added branch may be: those that are no pipe, no bank's end. */
export const addableBranches = (path: AirPath): readonly StationId[] =>
  EXTRA_BRANCHES.filter((id) => !path.stations.some((s) => s.info.id === id))

/** Stations that a branch may join: the pipe from the inlet to the gasket, and branches that are hoses themselves. */
export const nipplesOf = (path: AirPath, branch?: StationId): readonly StationId[] => {
  const below = new Set<StationId | undefined>([branch])
  // what hangs on a branch cannot carry it
  for (let more = true; more;) {
    more = false
    for (const s of path.stations)
      if (s.lane === 'branch' && below.has(s.joins) && !below.has(s.info.id)) {
        below.add(s.info.id)
        more = true
      }
  }
  return path.stations.filter((s) => s.lane !== 'bank' && !below.has(s.info.id)).map((s) => s.info.id)
}

/**
 * Why an engine's path as it was entered is none: a branch that joins nothing, a loop, a path in two pieces. One sentence
 * each; empty where it holds together.
 */
export function airPathProblems(v: Vehicle): string[] {
  const out: string[] = []
  const { joins, without } = branchEditsOf(v)
  const path = airPathOf({ ...v, branches: undefined })
  const pipe = new Set(path.stations.filter((s) => s.lane !== 'branch').map((s) => s.info.id))
  const known = new Set<string>(STATIONS.map((s) => s.id))
  const parent = new Map<StationId, StationId>(
    path.stations.flatMap((s) => (s.lane === 'branch' ? [[s.info.id, s.joins!] as const] : [])),
  )
  for (const id of without)
    if (pipe.has(id)) out.push(`without the ${label(id)} the path is in two pieces: it is part of the pipe and stays`)
  for (const [id, to] of Object.entries(joins) as [StationId, StationId][]) {
    if (!known.has(id) || pipe.has(id)) out.push(`${label(id)}: no branch that can be hung elsewhere`)
    else parent.set(id, to)
  }
  for (const id of without) parent.delete(id)
  for (const [id, to] of parent) {
    let at: StationId | undefined = to
    const seen = new Set<StationId>([id])
    while (at !== undefined && !pipe.has(at)) {
      if (seen.has(at)) {
        out.push(`the ${label(id)} runs in a loop: ${[...seen, at].map(label).join(' to ')}`)
        break
      }
      seen.add(at)
      const next: StationId | undefined = parent.get(at)
      if (next === undefined) {
        out.push(`the ${label(id)} is a branch to nothing: this engine has no ${label(at)}`)
        break
      }
      at = next
    }
  }
  return [...new Set(out)]
}
