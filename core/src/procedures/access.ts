import {
  airPathOf,
  kindOfStation,
  maybeStation,
  stationInfo,
  type StationId,
  type StationKind,
  type Vehicle,
} from '../engine/index.js'

/** How a place is reached. */
export type Reach = 'open' | 'behind' | 'under' | 'below'

export const REACH_WORDS: Readonly<Record<Reach, string>> = {
  open: 'in the open',
  behind: 'behind what comes off first, by feel',
  under: 'under the manifold, seen only when it is off',
  below: 'from below or with the nose off',
}

/** What stands in the way of a station and how long it takes to lay bare. */
export interface AccessRow {
  /** Stations that come off first, nearest first; those that an engine has not are left out. */
  readonly first: readonly StationKind[]
  readonly reach: Reach
  /** To take it off and put it on again, once it can be reached [min]; ours, wide. */
  readonly minutes: number
  readonly reason: string
}

const row = (first: readonly StationKind[], reach: Reach, minutes: number, reason: string): AccessRow => ({
  first,
  reach,
  minutes,
  reason,
})

/** By station; whatever is not here stands in the open. */
const ACCESS: Readonly<Record<StationKind, AccessRow>> = {
  inlet: row([], 'open', 5, 'clips'),
  resonator: row(['inlet'], 'behind', 10, 'hangs below the box'),
  filter: row([], 'open', 6, 'clips or screws of the box'),
  'airflow-sensor': row([], 'open', 8, 'two screws, its connector'),
  'intake-temperature': row([], 'open', 4, 'pushes in'),
  duct: row([], 'open', 8, 'clamps at both ends'),
  compressor: row(['duct'], 'behind', 120, 'exhaust side, oil and coolant lines'),
  intercooler: row(['boost-pipe'], 'below', 60, 'its end tanks sit low'),
  'boost-pipe': row([], 'below', 20, 'clamps often from below'),
  'charge-sensor': row([], 'open', 5, 'one screw'),
  throttle: row(['duct'], 'open', 20, 'the duct covers it'),
  'throttle-flap': row(['boost-pipe'], 'open', 25, 'the charge pipe covers it'),
  'idle-valve': row(['duct'], 'open', 20, 'beside or on the throttle'),
  plenum: row(['throttle', 'throttle-flap'], 'open', 45, 'carries the throttle and its hoses'),
  'map-sensor': row([], 'open', 5, 'one screw'),
  pcv: row([], 'open', 15, 'on the cover or beside it'),
  separator: row([], 'open', 30, 'hoses age-hardened: presume one lost'),
  purge: row([], 'open', 10, 'two hoses'),
  booster: row([], 'open', 6, 'a thick hose, a grommet'),
  egr: row([], 'open', 40, 'hot bolts that have rusted'),
  'egr-cooler': row(['egr'], 'behind', 90, 'coolant runs through it'),
  'egr-tube': row(['egr'], 'behind', 40, 'clamps that have burnt'),
  flaps: row(['plenum'], 'behind', 60, 'their shaft runs through the manifold'),
  'vacuum-lines': row([], 'open', 6, 'thin ends'),
  'fresh-air-hose': row([], 'open', 5, 'pushes on'),
  'regulator-line': row([], 'open', 5, 'pushes on'),
  'heater-line': row([], 'behind', 15, 'goes through the bulkhead'),
  'cruise-line': row([], 'open', 5, 'pushes on'),
  'boost-control-line': row([], 'behind', 10, 'hot and low'),
  'idle-up-valve': row([], 'open', 10, 'two hoses, a connector'),
  'secondary-air': row([], 'open', 10, 'one line'),
  gaskets: row(['plenum'], 'behind', 60, 'the manifold comes off the head'),
  'runners-1': row(['gaskets'], 'behind', 20, 'seen with the manifold off'),
  'runners-2': row(['gaskets'], 'behind', 20, 'seen with the manifold off'),
  beyond: row([], 'open', 0, 'not of the air path'),
}

/** One station that is opened on the way to another. */
export interface AccessStep {
  readonly station: StationId
  readonly label: string
  readonly reach: Reach
  readonly minutes: number
  readonly why: string
}

/** What lies in the way of a station of this very engine. */
function accessRow(v: Vehicle, station: StationId): AccessRow {
  const kind = kindOfStation(station)
  const own = ACCESS[kind]
  const under = kind === 'separator' && v.separator === 'under-manifold'
  return under
    ? {
        ...own,
        first: ['gaskets'],
        reach: 'under',
        minutes: 45,
        reason: 'it sits under the manifold: that comes off first',
      }
    : own
}

/**
 * What comes off to lay a station bare, outermost first, itself last: from the engine's own path. Each station once.
 * @throws RangeError when the engine has no such station
 */
export function accessTo(v: Vehicle, station: StationId): readonly AccessStep[] {
  const path = airPathOf(v)
  if (!maybeStation(path, station)) throw new RangeError(`station = ${station}, must be one of this engine`)
  const out: AccessStep[] = []
  const open = (id: StationId): void => {
    if (out.some((s) => s.station === id)) return
    const r = accessRow(v, id)
    // the parts of a second inlet lie behind those of the second inlet
    const second = id !== kindOfStation(id)
    for (const f of r.first) {
      const own = second ? (`${f}-2` as StationId) : f
      if (maybeStation(path, own)) open(own)
    }
    out.push({ station: id, label: stationInfo(id).label, reach: r.reach, minutes: r.minutes, why: r.reason })
  }
  open(station)
  return out
}

/** What a school says of the battery for a piece of work, and why. */
export interface BatteryAdvice {
  readonly off: boolean
  readonly why: string
  readonly other: string
}

/** Stations at whose harness, fuel line or starter cable somebody works with a spanner. */
const NEAR_LIVE_CABLES: readonly StationKind[] = [
  'gaskets',
  'plenum',
  'flaps',
  'compressor',
  'egr-cooler',
  'runners-1',
  'runners-2',
]

/** Whether the battery comes off for what is opened, with the other school's reason. */
export function batteryAdvice(stations: readonly StationId[]): BatteryAdvice {
  const near = stations.find((s) => NEAR_LIVE_CABLES.includes(kindOfStation(s)))
  return near
    ? {
        off: true,
        why: `Battery off: at the ${stationInfo(near).label} spanners come near starter cable, injector harness and fuel. Codes, freeze-frame and readiness first; controllers given time to shut down; negative first.`,
        other: 'Some leave it on to keep learnt values: then key out, and no spanner near the starter cable.',
      }
    : {
        off: false,
        why: 'Battery stays on: key out and away, controller asleep, connector off. It keeps readiness and what was learnt.',
        other: 'Off where the maker asks for it: read codes and readiness first, and teach the idle after.',
      }
}
