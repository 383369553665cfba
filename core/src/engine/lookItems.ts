import { airPathOf, trunkOf, type AirPath, type PlacedStation } from './airPath.js'
import type { StationId } from './stationIds.js'
import { hasCable, type Vehicle } from './vehicle.js'

/** One line of the free look. */
export interface LookItem {
  readonly id: string
  readonly station: StationId
  readonly question: string
}

/** Lines that only some engines have, by id. */
const ONLY_FOR: Readonly<Record<string, (v: Vehicle) => boolean>> = {
  'throttle.3': hasCable,
  'throttle-2.3': hasCable,
}

/** Stations as one walks: from the inlet to the head, the second inlet after the first, branches where they join. */
function walkOf(path: AirPath): PlacedStation[] {
  const out: PlacedStation[] = []
  const take = (s: PlacedStation): void => {
    out.push(s)
    path.stations.filter((b) => b.lane === 'branch' && b.joins === s.info.id).forEach(take)
  }
  const trunk = trunkOf(path)
  const second = path.stations.filter((s) => s.lane === 'second')
  const meets = second.at(-1)?.joins
  for (const t of trunk) {
    if (t.info.id === meets) second.forEach(take)
    take(t)
  }
  path.stations.filter((b) => b.lane === 'bank').forEach(take)
  return out
}

/** The look list of this engine: from the inlet to the head, branches where they join. */
export const lookItemsOf = (v: Vehicle): readonly LookItem[] =>
  walkOf(airPathOf(v)).flatMap((p) =>
    p.info.looks
      .map((question, i) => ({ id: `${p.info.id}.${i + 1}`, station: p.info.id, question }))
      .filter((item) => ONLY_FOR[item.id]?.(v) ?? true),
  )
