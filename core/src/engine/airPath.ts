import { hasMaf, hasMap, type Vehicle } from './vehicle.js'
import { stationInfo, type StationId, type StationInfo, type Zone } from './stations.js'

/** A station placed on one engine's path. */
export interface PlacedStation {
  readonly info: StationInfo
  readonly zone: Zone
  /** Where it stands: on the trunk, hanging off it, or on a bank's end. */
  readonly lane: 'trunk' | 'branch' | 'bank'
  /** For a branch: the trunk station that it joins. */
  readonly joins?: StationId
  readonly bank?: 1 | 2
}

/** The intake path of one engine as a directed graph, outside air first. */
export interface AirPath {
  readonly stations: readonly PlacedStation[]
  /** Which way air goes, station to station, in a running engine. */
  readonly edges: readonly { readonly from: StationId; readonly to: StationId }[]
}

/** Computes an engine's intake path from its description. */
export function airPathOf(v: Vehicle): AirPath {
  const trunk: { id: StationId; zone: Zone }[] = [
    { id: 'inlet', zone: 'before-sensor' },
    { id: 'filter', zone: 'before-sensor' },
  ]
  // An engine without an airflow sensor meters behind the plate: its duct is "before the sensor" in effect,
  // but stands between filter and plate all the same; only the consequences differ.
  if (hasMaf(v)) trunk.push({ id: 'airflow-sensor', zone: 'before-sensor' })
  if (v.throttleBodies < 3) trunk.push({ id: 'duct', zone: 'sensor-to-plate' })
  if (v.induction === 'turbo')
    trunk.push(
      { id: 'compressor', zone: 'sensor-to-plate' },
      { id: 'intercooler', zone: 'boost' },
      { id: 'boost-pipe', zone: 'boost' },
    )
  trunk.push({ id: 'throttle', zone: v.induction === 'turbo' ? 'boost' : 'sensor-to-plate' })
  if (v.plenum !== 'individual') trunk.push({ id: 'plenum', zone: 'behind-plate' })
  trunk.push({ id: 'gaskets', zone: 'runner' })

  const behind: StationId = v.plenum === 'individual' ? 'gaskets' : 'plenum'
  const stations: PlacedStation[] = trunk.map((t) => ({ info: stationInfo(t.id), zone: t.zone, lane: 'trunk' }))
  const edges: { from: StationId; to: StationId }[] = []
  for (let i = 1; i < trunk.length; i++) edges.push({ from: trunk[i - 1].id, to: trunk[i].id })

  const branch = (id: StationId, joins: StationId, zone: Zone = 'behind-plate'): void => {
    stations.push({ info: stationInfo(id), zone, lane: 'branch', joins })
    edges.push({ from: id, to: joins })
  }
  if (v.idleControl === 'idle-valve') {
    branch('idle-valve', behind)
    edges.push({ from: v.throttleBodies < 3 ? 'duct' : 'filter', to: 'idle-valve' })
  }
  // several throttles have no common duct: their vent ends in the air box
  const vent = v.pcvJoins === 'duct' && v.throttleBodies >= 3 ? 'filter' : (v.pcvJoins ?? 'plenum')
  branch('pcv', vent === 'plenum' ? behind : vent, vent === 'duct' ? 'sensor-to-plate' : 'behind-plate')
  if (v.purge !== false && v.injection !== 'carburettor') branch('purge', behind)
  if (v.booster !== false) branch('booster', behind)
  if (hasMap(v)) branch('map-sensor', behind)
  if (v.egr === 'valve') branch('egr', behind)
  branch('vacuum-lines', behind)
  for (let b = 1; b <= v.banks; b++) {
    const id: StationId = b === 1 ? 'runners-1' : 'runners-2'
    stations.push({ info: stationInfo(id), zone: 'runner', lane: 'bank', bank: b as 1 | 2 })
    edges.push({ from: 'gaskets', to: id })
  }
  return { stations, edges }
}

/** Trunk stations in the order of the air. */
export const trunkOf = (path: AirPath): readonly PlacedStation[] => path.stations.filter((x) => x.lane === 'trunk')

/** A placed station by id, or undefined when this engine has none. */
export const maybeStation = (path: AirPath, id: string): PlacedStation | undefined =>
  path.stations.find((x) => x.info.id === id)

/** One line of the free look. */
export interface LookItem {
  readonly id: string
  readonly station: StationId
  readonly question: string
}

/** The look list of this engine: from the inlet to the head, branches where they join. */
export function lookItemsOf(path: AirPath): readonly LookItem[] {
  const order: PlacedStation[] = []
  for (const t of trunkOf(path)) {
    order.push(t, ...path.stations.filter((b) => b.lane === 'branch' && b.joins === t.info.id))
  }
  order.push(...path.stations.filter((b) => b.lane === 'bank'))
  return order.flatMap((p) =>
    p.info.looks
      .filter((q) => p.info.id !== 'throttle' || !q.startsWith('Cable'))
      .map((question, i) => ({ id: `${p.info.id}.${i + 1}`, station: p.info.id, question })),
  )
}
