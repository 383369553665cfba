/** Zones of the intake path by the pressure that a leak there sees. */
export type Zone = 'before-sensor' | 'sensor-to-plate' | 'boost' | 'behind-plate' | 'runner' | 'exhaust-side'

/** Parts of an inlet that an engine with two inlets has twice; the second has the number behind it. */
export const DOUBLED = [
  'inlet',
  'resonator',
  'filter',
  'airflow-sensor',
  'duct',
  'compressor',
  'intercooler',
  'boost-pipe',
  'throttle',
] as const
export type DoubledId = (typeof DOUBLED)[number]

/** Branches that some engines have besides the usual ones; a technician adds them where they are. */
export const EXTRA_BRANCHES = [
  'fresh-air-hose',
  'regulator-line',
  'heater-line',
  'cruise-line',
  'boost-control-line',
  'idle-up-valve',
  'secondary-air',
] as const

export type StationId =
  | DoubledId
  | `${DoubledId}-2`
  | (typeof EXTRA_BRANCHES)[number]
  | 'intake-temperature'
  | 'charge-sensor'
  | 'throttle-flap'
  | 'idle-valve'
  | 'plenum'
  | 'map-sensor'
  | 'pcv'
  | 'separator'
  | 'purge'
  | 'booster'
  | 'egr'
  | 'egr-cooler'
  | 'egr-tube'
  | 'flaps'
  | 'vacuum-lines'
  | 'gaskets'
  | 'runners-1'
  | 'runners-2'
  | 'beyond'

/** Kind of a station: what is known of the second inlet's parts is known of the first's. */
export type StationKind = Exclude<StationId, `${DoubledId}-2`>

/** The same part of the first inlet: of two airflow sensors, two throttles, the kind is one. */
export const kindOfStation = (id: StationId): StationKind => DOUBLED.find((d) => `${d}-2` === id) ?? (id as StationKind)
