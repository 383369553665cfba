import { hasIdleValve, hasMaf, hasMap, inletsOf, trimBanksOf, type Vehicle } from './vehicle.js'
import { DOUBLED, type DoubledId, type StationId, type Zone } from './stationIds.js'
import { stationInfo, type StationInfo } from './stations.js'

/** A station placed on one engine's path. */
export interface PlacedStation {
  readonly info: StationInfo
  readonly zone: Zone
  /** Where it stands: on the trunk, on the second inlet, hanging off one of them, or on a bank's end. */
  readonly lane: 'trunk' | 'second' | 'branch' | 'bank'
  /** For a branch: the station that it joins. For the end of a second inlet: where the two meet. */
  readonly joins?: StationId
  readonly bank?: 1 | 2
}

/** The intake path of one engine as a directed graph, outside air first. */
export interface AirPath {
  readonly stations: readonly PlacedStation[]
  /** Which way air goes, station to station, in a running engine. */
  readonly edges: readonly { readonly from: StationId; readonly to: StationId }[]
}

interface Branch {
  readonly id: StationId
  readonly joins: StationId
}

/** Where air is before it meets the plate, by station; everything after it is behind the plate. */
function zonesOf(v: Vehicle): (id: StationId) => Zone {
  const turbo = v.induction === 'turbo'
  return (id) => {
    if (id === 'gaskets') return 'runner'
    if (id === 'plenum' || id === 'throttle-flap') return v.fuel === 'diesel' && turbo ? 'boost' : 'behind-plate'
    const first = DOUBLED.find((d) => id === d || id === `${d}-2`)
    if (!first) return 'behind-plate'
    if (['inlet', 'resonator', 'filter', 'airflow-sensor'].includes(first)) return 'before-sensor'
    if (first === 'intercooler' || first === 'boost-pipe') return 'boost'
    return first === 'throttle' && turbo ? 'boost' : 'sensor-to-plate'
  }
}

/** Inlet to plate, in the order of the air. */
function inletOf(v: Vehicle): DoubledId[] {
  const out: DoubledId[] = ['inlet']
  if (v.resonator) out.push('resonator')
  out.push('filter')
  // An engine without an airflow sensor meters behind the plate: its duct is "before the sensor" in effect,
  // but stands between filter and plate all the same; only the consequences differ.
  if (hasMaf(v)) out.push('airflow-sensor')
  if (v.throttleBodies < 3 || inletsOf(v) === 2) out.push('duct')
  if (v.induction === 'turbo') out.push('compressor', 'intercooler', 'boost-pipe')
  return out
}

/** Branches that an engine of this description usually has, and where they usually join. */
function usualBranches(v: Vehicle, behind: StationId, hasDuct: boolean): Branch[] {
  const out: Branch[] = []
  const add = (id: StationId, joins: StationId): void => void out.push({ id, joins })
  if (hasIdleValve(v)) add('idle-valve', behind)
  // several throttles have no common duct: their vent ends in the air box
  const vent: StationId =
    v.pcvJoins === 'duct'
      ? hasDuct
        ? 'duct'
        : 'filter'
      : v.pcvJoins === 'throttle' && isPlated(v)
        ? plateOf(v)
        : behind
  if (v.separator === undefined || v.separator === 'none') add('pcv', vent)
  else {
    add('separator', vent)
    add('pcv', 'separator')
  }
  if (v.purge !== false && v.injection !== 'carburettor' && v.fuel === 'gasoline') add('purge', behind)
  if (v.booster ?? v.fuel === 'gasoline') add('booster', behind)
  if (hasMap(v)) add('map-sensor', behind)
  if (v.chargeSensor && v.induction === 'turbo') add('charge-sensor', 'boost-pipe')
  if (v.intakeTemperature) add('intake-temperature', hasDuct ? 'duct' : 'filter')
  if (v.egr === 'valve') {
    add('egr', behind)
    if (v.egrCooler) add('egr-cooler', 'egr')
    if (v.egrCooler || v.fuel === 'diesel') add('egr-tube', v.egrCooler ? 'egr-cooler' : 'egr')
  }
  if (v.flaps) add('flaps', behind)
  add('vacuum-lines', behind)
  return out
}

/** Station of the plate: a diesel's flap, any other engine's throttle. */
export const plateOf = (v: Pick<Vehicle, 'fuel'>): StationId => (v.fuel === 'diesel' ? 'throttle-flap' : 'throttle')

/** Whether there is a plate at all: a diesel may do without. */
const isPlated = (v: Pick<Vehicle, 'fuel' | 'throttleFlap'>): boolean =>
  v.fuel === 'gasoline' || v.throttleFlap !== false

/** What of its branches is not as usual; nothing where nothing was entered. */
export const branchEditsOf = (
  v: Pick<Vehicle, 'branches'>,
): { readonly joins: Readonly<Partial<Record<StationId, StationId>>>; readonly without: readonly StationId[] } => ({
  joins: v.branches?.joins ?? {},
  without: v.branches?.without ?? [],
})

/** Branches as this very engine has them: the usual ones, moved, left out and added to as it was entered. */
function branchesOf(v: Vehicle, behind: StationId, hasDuct: boolean): Branch[] {
  const usual = usualBranches(v, behind, hasDuct)
  const { joins, without } = branchEditsOf(v)
  const added = (Object.keys(joins) as StationId[]).filter((id) => !usual.some((b) => b.id === id))
  return [
    ...usual.map((b) => ({ ...b, joins: joins[b.id] ?? b.joins })),
    ...added.map((id) => ({ id, joins: joins[id]! })),
  ].filter((b) => !without.includes(b.id))
}

/** Computes an engine's intake path from its description. */
export function airPathOf(v: Vehicle): AirPath {
  const zone = zonesOf(v)
  const inlet = inletOf(v)
  const common: StationId[] = []
  if (v.plenum !== 'individual') common.push('plenum')
  common.push('gaskets')
  const plate: StationId[] = isPlated(v) ? [plateOf(v)] : []
  const trunk: StationId[] = [...inlet, ...plate, ...common]
  const stations: PlacedStation[] = trunk.map((id) => ({ info: stationInfo(id), zone: zone(id), lane: 'trunk' }))
  const edges: { from: StationId; to: StationId }[] = []
  for (let i = 1; i < trunk.length; i++) edges.push({ from: trunk[i - 1], to: trunk[i] })

  if (inletsOf(v) === 2) {
    // with one throttle the two inlets meet ahead of it, with more each has its own
    const own: DoubledId[] = v.throttleBodies >= 2 && v.fuel === 'gasoline' ? [...inlet, 'throttle'] : inlet
    const meets = trunk[own.length]
    const row = own.map((d): StationId => `${d}-2`)
    row.forEach((id, i) => {
      const last = i === row.length - 1
      stations.push({ info: stationInfo(id), zone: zone(id), lane: 'second', ...(last ? { joins: meets } : {}) })
      edges.push({ from: id, to: last ? meets : row[i + 1] })
    })
  }

  const behind: StationId = v.plenum === 'individual' ? 'gaskets' : 'plenum'
  const hasDuct = inlet.includes('duct')
  const zones = new Map<StationId, Zone>(stations.map((s) => [s.info.id, s.zone]))
  const branches = branchesOf(v, behind, hasDuct)
  // from the pipe outwards: what hangs on a branch has the pressure of that branch
  const known = (id: StationId): boolean => zones.has(id)
  let left = branches
  while (left.length) {
    const now = left.filter((b) => known(b.joins))
    if (!now.length) break
    for (const b of now) {
      const at = zones.get(b.joins)!
      const own: Zone =
        b.id === 'egr-cooler' || b.id === 'egr-tube'
          ? 'exhaust-side'
          : at === 'runner' || b.joins === 'throttle' || b.joins === 'throttle-2'
            ? 'behind-plate'
            : at
      zones.set(b.id, own)
      stations.push({ info: stationInfo(b.id), zone: own, lane: 'branch', joins: b.joins })
      edges.push({ from: b.id, to: b.joins })
    }
    left = left.filter((b) => !now.includes(b))
  }
  if (zones.has('idle-valve')) edges.push({ from: hasDuct ? 'duct' : 'filter', to: 'idle-valve' })
  for (let b = 1; b <= Math.max(v.banks, trimBanksOf(v)); b++) {
    const id: StationId = b === 1 ? 'runners-1' : 'runners-2'
    stations.push({ info: stationInfo(id), zone: 'runner', lane: 'bank', bank: b as 1 | 2 })
    edges.push({ from: 'gaskets', to: id })
  }
  return { stations, edges }
}

/** The joint that is opened most: the throttle, or a diesel's flap. */
export const jointOpenedMost = (v: Pick<Vehicle, 'fuel'>): StationId =>
  v.fuel === 'diesel' ? 'throttle-flap' : 'throttle'

/** Trunk stations in the order of the air. */
export const trunkOf = (path: AirPath): readonly PlacedStation[] => path.stations.filter((x) => x.lane === 'trunk')

/** A placed station by id, or undefined when this engine has none. */
export const maybeStation = (path: AirPath, id: string): PlacedStation | undefined =>
  path.stations.find((x) => x.info.id === id)
