/** What can be cleaned along the intake. */
export const SURFACE_IDS = [
  'airflow-element',
  'airflow-vane',
  'temperature-sensor',
  'throttle-plate',
  'throttle-coated',
  'idle-valve',
  'idle-passage',
  'manifold-aluminium',
  'manifold-plastic',
  'manifold-flaps',
  'intake-valves',
  'pressure-sensor-port',
  'vent-valve',
  'separator',
  'rubber',
  'charge-pipe',
  'intercooler',
  'sooted-metal',
  'egr-cooler',
  'gasket-face',
  'connector',
  'filter-washable',
] as const
export type SurfaceId = (typeof SURFACE_IDS)[number]

export interface SurfaceInfo {
  readonly id: SurfaceId
  readonly label: string
  /** How it is known to be done: a stated test, not shine. */
  readonly doneWhen: string
  /** Drying before power or refit [s]. */
  readonly drySeconds: number
  /** Work until it ends, waiting left out [min]; ours, a shop's own record will replace it. */
  readonly minutes: number
  /** How it is cleaned where it is; only off the car where left out. */
  readonly inPlace?: { readonly label: string; readonly when?: string }
}

const s = (
  id: SurfaceId,
  label: string,
  minutes: number,
  drySeconds: number,
  doneWhen: string,
  inPlace?: SurfaceInfo['inPlace'],
): SurfaceInfo => ({
  id,
  label,
  doneWhen,
  drySeconds,
  minutes,
  ...(inPlace ? { inPlace } : {}),
})

const CLOTH = { label: 'cloth in place' }
const SPRAY = { label: 'sprayed in place' }
const WIPE = { label: 'wiped in place' }

export const SURFACES: readonly SurfaceInfo[] = [
  s('airflow-element', 'airflow sensor element', 25, 900, 'zero with the engine off, airflow inside its band at idle', {
    ...SPRAY,
    when: 'only where every opening of it is reached and the filter is out',
  }),
  s(
    'airflow-vane',
    'airflow vane and its bore',
    30,
    600,
    'the vane swings its whole way without a catch and comes back',
    WIPE,
  ),
  s(
    'temperature-sensor',
    'intake temperature sensor',
    10,
    600,
    'cold it agrees with the coolant and the air outside',
    SPRAY,
  ),
  s(
    'throttle-plate',
    'throttle edge and bore',
    30,
    300,
    'edge and seat free, plate moves, opening in its clean band',
    CLOTH,
  ),
  s('throttle-coated', 'throttle, coated bore', 30, 300, 'edge free; the coating is left as it is', CLOTH),
  s('idle-valve', 'idle valve', 30, 600, 'swept by command without sticking'),
  s('idle-passage', 'idle passage', 20, 300, 'light seen through it, its wall bare', WIPE),
  s('manifold-aluminium', 'manifold, aluminium', 60, 1800, 'wall bare to the finger, rinsed, dry'),
  s('manifold-plastic', 'manifold, plastic', 60, 1800, 'no soft film left, rinsed, dry'),
  s('manifold-flaps', 'manifold flaps and their shaft', 45, 1800, 'swept by hand and by command, no play in the shaft'),
  s('intake-valves', 'intake ports and valves', 180, 0, 'borescope: stem and tulip seen, every port drawn out'),
  s('pressure-sensor-port', 'pressure sensor port', 15, 600, 'barometric at key-on, quick on a snap'),
  s('vent-valve', 'crankcase vent valve', 20, 600, 'shuts one way, opens the other, its diaphragm whole'),
  s('separator', 'oil separator', 40, 1800, 'drains freely, no emulsion left'),
  s('rubber', 'rubber hose', 10, 0, 'dry and not sticky', WIPE),
  s('charge-pipe', 'boost pipe', 20, 600, 'no oil runs together in it, seats dry'),
  s('intercooler', 'intercooler', 60, 3600, 'rinsings run clear, blown dry outward, no oil at its low point'),
  s(
    'sooted-metal',
    'sooted metal: valve, passage, flap',
    45,
    1800,
    'passage bare to the finger, part moves and seats, dry',
    WIPE,
  ),
  s('egr-cooler', 'EGR cooler, gas side', 60, 3600, 'flow through it as through a new one, no loss under low pressure'),
  s('gasket-face', 'gasket face', 15, 0, 'bare, flat, no fibre left, nothing fell in'),
  s('connector', 'connector', 5, 600, 'pins bright, seal whole, it clicks', { label: 'in place' }),
  s('filter-washable', 'washable filter', 20, 3600, 'dry through, thin even oil by weight'),
]

export const surfaceInfo = (id: SurfaceId): SurfaceInfo => SURFACES.find((x) => x.id === id)!
