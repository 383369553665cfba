import type { CautionId } from '../cautions/index.js'
import type { SurfaceId } from '../cleaning/index.js'
import { kindOfStation, type StationId, type StationKind, type Vehicle } from '../engine/index.js'
import type { ItemKind, ItemMore } from './itemRecords.js'

/** One kind of part as it usually is at a station. */
export interface ItemPreset {
  readonly name: string
  readonly kind: ItemKind
  readonly count: number
  readonly drive?: string
  readonly carries?: ItemMore['carries']
  readonly shape?: ItemMore['shape']
}

const bolts = (count: number, drive: string, shape: ItemMore['shape'] = 'round'): ItemPreset => ({
  name: 'bolt',
  kind: 'bolt',
  count,
  drive,
  shape,
})
const connector: ItemPreset = { name: 'connector', kind: 'connector', count: 1 }
const gasket: ItemPreset = { name: 'gasket', kind: 'gasket', count: 1 }
const oRing: ItemPreset = { name: 'o-ring', kind: 'o-ring', count: 1 }
const clamps: ItemPreset = { name: 'clamp', kind: 'clamp', count: 2, drive: '7 mm hex' }
const hoses = (count: number, carries: ItemMore['carries']): ItemPreset => ({
  name: carries === 'coolant' ? 'coolant hose' : 'hose',
  kind: 'hose',
  count,
  carries,
})

/** What usually comes off at a station, to be tapped in and corrected; sizes are what the technician finds. */
const PRESETS: Readonly<Record<StationKind, readonly ItemPreset[]>> = {
  inlet: [{ name: 'clip', kind: 'clip', count: 2 }],
  resonator: [{ name: 'clip', kind: 'clip', count: 2 }],
  filter: [{ name: 'clip', kind: 'clip', count: 4 }],
  'airflow-sensor': [
    { name: 'screw', kind: 'screw', count: 2, drive: 'star 20' },
    connector,
    { name: 'seal', kind: 'gasket', count: 1 },
  ],
  'intake-temperature': [connector, oRing],
  duct: [clamps, { name: 'duct', kind: 'part', count: 1 }],
  compressor: [bolts(3, '10 mm socket'), gasket, hoses(2, 'oil')],
  intercooler: [clamps, bolts(2, '10 mm socket')],
  'boost-pipe': [clamps, oRing],
  'charge-sensor': [{ name: 'screw', kind: 'screw', count: 1, drive: 'star 25' }, connector, oRing],
  throttle: [bolts(4, '8 mm socket'), connector, gasket, hoses(2, 'coolant')],
  'throttle-flap': [bolts(4, '10 mm socket'), connector, gasket],
  'idle-valve': [{ name: 'screw', kind: 'screw', count: 2, drive: 'cross 2' }, connector, oRing],
  plenum: [bolts(6, '10 mm socket', 'rows'), gasket, hoses(2, 'vacuum')],
  'map-sensor': [{ name: 'screw', kind: 'screw', count: 1, drive: 'star 25' }, connector, oRing],
  pcv: [hoses(1, 'air'), oRing],
  separator: [bolts(4, '8 mm socket'), gasket, hoses(2, 'air')],
  purge: [hoses(2, 'vacuum'), connector],
  booster: [hoses(1, 'vacuum'), { name: 'clamp', kind: 'clamp', count: 1 }],
  egr: [bolts(2, '10 mm socket'), connector, gasket],
  'egr-cooler': [bolts(4, '10 mm socket'), gasket, hoses(2, 'coolant')],
  'egr-tube': [{ name: 'clamp', kind: 'clamp', count: 2 }, gasket],
  flaps: [{ name: 'rod clip', kind: 'clip', count: 1 }, connector],
  'vacuum-lines': [hoses(1, 'vacuum')],
  'fresh-air-hose': [hoses(1, 'air')],
  'regulator-line': [hoses(1, 'vacuum')],
  'heater-line': [hoses(1, 'vacuum')],
  'cruise-line': [hoses(1, 'vacuum')],
  'boost-control-line': [hoses(1, 'air')],
  'idle-up-valve': [hoses(2, 'air'), connector],
  'secondary-air': [hoses(1, 'vacuum')],
  gaskets: [
    { name: 'nut', kind: 'nut', count: 8, drive: '10 mm socket', shape: 'rows' },
    gasket,
    { name: 'fuel hose', kind: 'hose', count: 1, carries: 'fuel' },
    { name: 'injector connector', kind: 'connector', count: 4 },
  ],
  'runners-1': [oRing],
  'runners-2': [oRing],
  beyond: [],
}

/** What differs where a carburettor stands: fuel comes to it, and nothing that a controller would move or read. */
const CARBURETTED: Partial<Readonly<Record<StationKind, readonly ItemPreset[]>>> = {
  throttle: [
    { name: 'nut', kind: 'nut', count: 4, drive: '10 mm socket', shape: 'round' },
    { name: 'throttle cable', kind: 'part', count: 1 },
    gasket,
    { name: 'fuel hose', kind: 'hose', count: 1, carries: 'fuel' },
  ],
  gaskets: [{ name: 'nut', kind: 'nut', count: 8, drive: '10 mm socket', shape: 'rows' }, gasket],
}

/** What usually comes off at a station of this engine. */
export const itemPresetsAt = (station: StationId, v: Pick<Vehicle, 'injection'>): readonly ItemPreset[] =>
  (v.injection === 'carburettor' ? CARBURETTED[kindOfStation(station)] : undefined) ?? PRESETS[kindOfStation(station)]

/** Reasons to make a connection before its part is fastened. */
export const BEFORE_REASONS = [
  'blind while the part is loose',
  'lower end before upper',
  'harness before hose',
] as const

/** Steps until which something stays loose on purpose. */
export const LOOSE_UNTIL = ['the part is seated', 'all hoses are on', 'the other end is on', 'first start'] as const

/** Things that go into or over an open intake and must come out. */
export const COUNTED_THINGS = ['cloth', 'hose plug', 'prop', 'bolt bag', 'tool'] as const

/** Surfaces found at a kind of station. */
const SURFACES: Readonly<Partial<Record<StationKind, readonly SurfaceId[]>>> = {
  'airflow-sensor': ['airflow-element', 'airflow-vane', 'connector'],
  'intake-temperature': ['temperature-sensor'],
  throttle: ['throttle-plate', 'throttle-coated'],
  'idle-valve': ['idle-valve', 'idle-passage'],
  'map-sensor': ['pressure-sensor-port'],
  'charge-sensor': ['pressure-sensor-port'],
  filter: ['filter-washable'],
  duct: ['rubber'],
  'boost-pipe': ['charge-pipe'],
  intercooler: ['intercooler'],
  plenum: ['manifold-aluminium', 'manifold-plastic'],
  gaskets: ['intake-valves', 'gasket-face'],
  'throttle-flap': ['sooted-metal'],
  pcv: ['vent-valve'],
  separator: ['separator'],
  egr: ['sooted-metal'],
  'egr-cooler': ['egr-cooler'],
  'egr-tube': ['sooted-metal'],
  flaps: ['manifold-flaps'],
}

/** Surfaces found at a station of this engine: a bore that is known to be coated, or bare, is one and not the other. */
export function surfacesAt(station: StationId, v?: Pick<Vehicle, 'coatedBore'>): readonly SurfaceId[] {
  const here = SURFACES[kindOfStation(station)] ?? []
  return v?.coatedBore === undefined
    ? here
    : here.filter((s) => s !== (v.coatedBore ? 'throttle-plate' : 'throttle-coated'))
}

/** A moment of the first minutes after work; minutes from the start. */
export interface FirstMinute {
  readonly from: number
  readonly to: number
  readonly say: string
}

/** What the first minutes after work bring on this engine: a plate that finds its stops where a motor moves it, glow on a diesel, codes where something reads them. */
export function firstMinutesOf(v: Pick<Vehicle, 'fuel' | 'injection' | 'throttle'>): readonly FirstMinute[] {
  const m = (from: number, to: number, say: string): FirstMinute => ({ from, to, say })
  const before =
    v.fuel === 'diesel'
      ? 'key on, wait for the glow lamp'
      : v.injection === 'carburettor'
        ? 'choke as cold, float bowls filling'
        : v.throttle === 'electronic'
          ? 'key on, wait: the throttle finds its stops'
          : 'key on, wait: pressure builds'
  return [
    m(0, 0.3, before),
    m(0.3, 0.6, 'long crank, then a flare'),
    m(0.6, 3, 'white smoke, stumble'),
    m(1, 5, 'fast idle'),
    m(5, 10, v.injection === 'carburettor' ? 'settles' : 'settles; read the codes'),
  ]
}

/** The STOP of cleaning at a station: a port that is open while the engine could turn, a plate that can drive shut, or whatever is hot and turns beside the part. */
export const stopOfCleaning = (station: StationId, surface?: SurfaceId): CautionId =>
  surface === 'intake-valves'
    ? 'turned-by-hand'
    : kindOfStation(station) === 'throttle'
      ? 'throttle-plate-shuts'
      : 'belts-fan-hot-coolant'
