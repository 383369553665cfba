import type { CautionId } from '../cautions/index.js'
import type { SurfaceId } from '../cleaning/index.js'
import type { StationId } from '../engine/index.js'

/** What usually comes off at a station, to be tapped in and corrected; sizes are what the technician finds. */
export const ITEM_PRESETS: Readonly<
  Partial<Record<StationId, readonly { readonly name: string; readonly count: number; readonly drive?: string }[]>>
> = {
  duct: [
    { name: 'clamp', count: 2, drive: '7 mm hex' },
    { name: 'duct', count: 1 },
  ],
  throttle: [
    { name: 'bolt', count: 4, drive: '8 mm socket' },
    { name: 'connector', count: 1 },
    { name: 'gasket', count: 1 },
    { name: 'coolant hose', count: 2 },
  ],
  'airflow-sensor': [
    { name: 'screw', count: 2, drive: 'star 20' },
    { name: 'connector', count: 1 },
    { name: 'seal', count: 1 },
  ],
  'idle-valve': [
    { name: 'screw', count: 2, drive: 'cross 2' },
    { name: 'o-ring', count: 1 },
  ],
  gaskets: [
    { name: 'nut', count: 8, drive: '10 mm socket' },
    { name: 'gasket', count: 1 },
  ],
  filter: [{ name: 'clip', count: 4 }],
}

/** Things that go into or over an open intake and must come out. */
export const COUNTED_THINGS = ['cloth', 'hose plug', 'prop', 'bolt bag', 'tool'] as const

/** Surfaces found at a station. */
export const SURFACES_AT: Readonly<Partial<Record<StationId, readonly SurfaceId[]>>> = {
  'airflow-sensor': ['airflow-element'],
  throttle: ['throttle-plate', 'throttle-coated'],
  'idle-valve': ['idle-valve'],
  'map-sensor': ['pressure-sensor-port'],
  filter: ['filter-washable'],
  duct: ['rubber'],
  plenum: ['manifold-aluminium', 'manifold-plastic'],
  gaskets: ['intake-valves'],
}

/** What the first minutes after a service bring; minutes from the start. */
export const FIRST_MINUTES: readonly { readonly from: number; readonly to: number; readonly say: string }[] = [
  { from: 0, to: 0.3, say: 'key on, wait: the throttle finds its stops' },
  { from: 0.3, to: 0.6, say: 'long crank, then a flare' },
  { from: 0.6, to: 3, say: 'white smoke, stumble' },
  { from: 1, to: 5, say: 'fast idle' },
  { from: 5, to: 10, say: 'settles; read the codes' },
]

/** The STOP of cleaning at a station: a plate that can drive shut, or whatever is hot and turns beside the part. */
export const stopOfCleaning = (station: StationId): CautionId =>
  SURFACES_AT[station]?.includes('throttle-plate') ? 'throttle-plate-shuts' : 'belts-fan-hot-coolant'
