/** Zones of the intake path by the pressure that a leak there sees. */
export type Zone = 'before-sensor' | 'sensor-to-plate' | 'boost' | 'behind-plate' | 'runner' | 'exhaust-side'

export type StationId =
  | 'inlet'
  | 'filter'
  | 'airflow-sensor'
  | 'duct'
  | 'compressor'
  | 'intercooler'
  | 'boost-pipe'
  | 'throttle'
  | 'idle-valve'
  | 'plenum'
  | 'map-sensor'
  | 'pcv'
  | 'purge'
  | 'booster'
  | 'egr'
  | 'vacuum-lines'
  | 'gaskets'
  | 'runners-1'
  | 'runners-2'

/** What is looked at, tried and known at a station; data, the same for every engine that has it. */
export interface StationInfo {
  readonly id: StationId
  readonly label: string
  /** Short questions of the free look, cheapest and likeliest first. */
  readonly looks: readonly string[]
  /** Relative chance that air comes in here, before anything is known, when the zone leaks. */
  readonly leakWeight: number
  readonly reason: string
  /** A supple rubber branch that can be pinched or unplugged and capped. */
  readonly pinchable: boolean
  readonly lookMinutes: number
}

const s = (
  id: StationId,
  label: string,
  leakWeight: number,
  pinchable: boolean,
  lookMinutes: number,
  looks: readonly string[],
  reason: string,
): StationInfo => ({
  id,
  label,
  leakWeight,
  pinchable,
  lookMinutes,
  looks,
  reason,
})

/** Stations in the order of the air. Weights are ours: how often a shop finds air let in there, hoses before hard parts. */
export const STATIONS: readonly StationInfo[] = [
  s(
    'inlet',
    'inlet',
    0,
    false,
    0.5,
    ['Snorkel in place and clear'],
    'before the sensor: air let in here is still metered',
  ),
  s(
    'filter',
    'filter',
    0,
    false,
    1.5,
    ['Box seated, all clips shut', 'Element: loaded, wet or oily', 'Dust past the seal'],
    'dust on the clean side means air goes round the element',
  ),
  s(
    'airflow-sensor',
    'airflow sensor',
    0.3,
    false,
    0.5,
    ['Connector clicked, arrow with the flow', 'Film or debris on the element'],
    'its seal to the pipe is small; a clean look is weak evidence',
  ),
  s(
    'duct',
    'duct',
    3,
    false,
    1,
    ['On its stubs, both clamps there and tight', 'Split in the bends and corrugations', 'Oil-soft or collapsed'],
    'the longest rubber part, flexed by the engine',
  ),
  s(
    'compressor',
    'compressor',
    0.5,
    false,
    1,
    ['Inlet pipe on, oil film no more than light'],
    'seals well unless the pipe is off',
  ),
  s(
    'intercooler',
    'intercooler',
    1,
    false,
    1,
    ['Oily streak at a joint or end tank'],
    'end tanks and clamps, oil marks the place',
  ),
  s(
    'boost-pipe',
    'boost pipe',
    2,
    false,
    1,
    ['Clamps tight, no oily fan of dirt', 'Split under a clamp'],
    'pressure opens what suction closes',
  ),
  s(
    'throttle',
    'throttle',
    1,
    false,
    1,
    ['Ring of deposit at the plate edge', 'Gasket face dry of dirt streaks', 'Cable slack, free return'],
    'gasket and shaft seals age slowly',
  ),
  s(
    'idle-valve',
    'idle valve',
    1.5,
    true,
    0.5,
    ['Hoses on both nipples', 'Connector clicked'],
    'a rubber bypass hose, and its gasket',
  ),
  s('plenum', 'plenum', 0.7, false, 1, ['Cracks, caps on unused nipples'], 'hard part; caps go missing'),
  s(
    'map-sensor',
    'pressure sensor',
    0.6,
    true,
    0.5,
    ['Seated with its seal, connector clicked'],
    'one small o-ring or one short hose',
  ),
  s(
    'pcv',
    'crankcase vent',
    3,
    true,
    1,
    ['Hoses on, no oil-soft elbow', 'Oil filler cap and dipstick seated'],
    'oil-soft elbows split first; a torn diaphragm lets air through the crankcase',
  ),
  s('purge', 'purge valve', 1, true, 0.5, ['Hose on both ends'], 'thin hose, stuck valve'),
  s(
    'booster',
    'booster hose',
    2,
    true,
    0.5,
    ['Hose on at both ends, check valve seated'],
    'thick hose under constant vacuum, grommet dries out',
  ),
  s('egr', 'EGR valve', 0.8, false, 1, ['Gasket streaks, vacuum hose on'], 'gasket burns, rarely'),
  s(
    'vacuum-lines',
    'vacuum lines',
    2,
    true,
    1,
    ['Split ends, missing caps, wrong nipple'],
    'many thin ends, disturbed by every earlier job',
  ),
  s(
    'gaskets',
    'manifold gasket',
    1.5,
    false,
    1,
    ['Dirt streaks along the joint, loose fasteners'],
    'long joint, heat cycles; one bank may lean alone',
  ),
  s('runners-1', 'runners, bank 1', 0.3, false, 0.5, ['Injector seals, cracks'], 'injector seals harden'),
  s('runners-2', 'runners, bank 2', 0.3, false, 0.5, ['Injector seals, cracks'], 'injector seals harden'),
]

/** A station's data by id. @throws RangeError on an unknown id */
export function stationInfo(id: string): StationInfo {
  const found = STATIONS.find((x) => x.id === id)
  if (!found) throw new RangeError(`no station "${id}"`)
  return found
}
