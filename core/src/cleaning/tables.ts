/** What can be cleaned along the intake. */
export type SurfaceId =
  | 'airflow-element'
  | 'throttle-plate'
  | 'throttle-coated'
  | 'idle-valve'
  | 'manifold-aluminium'
  | 'manifold-plastic'
  | 'intake-valves'
  | 'pressure-sensor-port'
  | 'rubber'
  | 'filter-washable'
  | 'sooted-metal'

/** Product classes; never brands. The label of the product in hand always wins. */
export type ProductId =
  | 'airflow-cleaner'
  | 'throttle-cleaner'
  | 'intake-cleaner'
  | 'chlorinated-brake-cleaner'
  | 'metal-brush'
  | 'soft-brush-cloth'
  | 'water-soap'
  | 'demineralised-water'

export interface SurfaceInfo {
  readonly id: SurfaceId
  readonly label: string
  /** How it is known to be done: a stated test, not shine. */
  readonly doneWhen: string
  /** Drying before power or refit [s]. */
  readonly drySeconds: number
}

export const SURFACES: readonly SurfaceInfo[] = [
  {
    id: 'airflow-element',
    label: 'airflow sensor element',
    doneWhen: 'zero with the engine off, airflow inside its band at idle',
    drySeconds: 900,
  },
  {
    id: 'throttle-plate',
    label: 'throttle edge and bore',
    doneWhen: 'edge and seat free, plate moves, opening in its clean band',
    drySeconds: 300,
  },
  {
    id: 'throttle-coated',
    label: 'throttle, coated bore',
    doneWhen: 'edge free; the coating is left as it is',
    drySeconds: 300,
  },
  { id: 'idle-valve', label: 'idle valve', doneWhen: 'swept by command without sticking', drySeconds: 600 },
  {
    id: 'manifold-aluminium',
    label: 'manifold, aluminium',
    doneWhen: 'wall bare to the finger, rinsed, dry',
    drySeconds: 1800,
  },
  { id: 'manifold-plastic', label: 'manifold, plastic', doneWhen: 'no soft film left, rinsed, dry', drySeconds: 1800 },
  { id: 'intake-valves', label: 'intake valves', doneWhen: 'borescope: stem and tulip seen', drySeconds: 0 },
  {
    id: 'pressure-sensor-port',
    label: 'pressure sensor port',
    doneWhen: 'barometric at key-on, quick on a snap',
    drySeconds: 600,
  },
  { id: 'rubber', label: 'rubber hose', doneWhen: 'dry and not sticky', drySeconds: 0 },
  {
    id: 'sooted-metal',
    label: 'sooted metal: valve, passage, flap',
    doneWhen: 'passage bare to the finger, part moves and seats, dry',
    drySeconds: 1800,
  },
  { id: 'filter-washable', label: 'washable filter', doneWhen: 'dry through, thin even oil', drySeconds: 3600 },
]

export interface ProductInfo {
  readonly id: ProductId
  readonly label: string
  /** Where it may go, with no remark. */
  readonly may: readonly SurfaceId[]
  /** Where it must not, and why. */
  readonly never: Readonly<Partial<Record<SurfaceId, string>>>
}

const RESIDUE = 'it leaves a film on the element, which then reads wrong'
const ATTACKS = 'it softens this material'
const TOXIC = 'chlorinated solvent near heat makes a toxic gas; it has no place in an intake'

/** What each class may touch, with the reason where it must not. */
export const PRODUCTS: readonly ProductInfo[] = [
  {
    id: 'airflow-cleaner',
    label: 'airflow sensor cleaner',
    may: ['airflow-element', 'pressure-sensor-port'],
    never: {},
  },
  {
    id: 'throttle-cleaner',
    label: 'throttle cleaner on a cloth',
    may: ['throttle-plate', 'idle-valve', 'manifold-aluminium', 'sooted-metal'],
    never: {
      'airflow-element': RESIDUE,
      'throttle-coated': 'solvent strips the coating that seals the plate',
      rubber: ATTACKS,
      'filter-washable': ATTACKS,
    },
  },
  {
    id: 'intake-cleaner',
    label: 'intake cleaner, fed to a running engine',
    may: ['intake-valves', 'manifold-aluminium', 'throttle-plate'],
    never: { 'airflow-element': RESIDUE, 'filter-washable': ATTACKS, rubber: ATTACKS },
  },
  {
    id: 'chlorinated-brake-cleaner',
    label: 'chlorinated brake cleaner',
    may: [],
    never: Object.fromEntries(
      [
        'airflow-element',
        'throttle-plate',
        'throttle-coated',
        'idle-valve',
        'manifold-aluminium',
        'manifold-plastic',
        'intake-valves',
        'pressure-sensor-port',
        'rubber',
        'filter-washable',
        'sooted-metal',
      ].map((s) => [s, TOXIC]),
    ),
  },
  {
    id: 'metal-brush',
    label: 'metal brush',
    may: ['manifold-aluminium'],
    never: {
      'sooted-metal': 'it scores the seat and the valve’s shaft',
      'airflow-element': 'the element is never touched',
      'throttle-plate': 'it scores the bore where the plate must seal',
      'throttle-coated': 'it scrapes the coating off',
      'idle-valve': 'it scores the seat',
      'pressure-sensor-port': 'nothing is poked inward',
      'manifold-plastic': 'it cuts plastic',
      rubber: 'it cuts rubber',
      'filter-washable': 'it tears the gauze',
    },
  },
  {
    id: 'soft-brush-cloth',
    label: 'soft brush or lint-free cloth',
    may: [
      'throttle-plate',
      'throttle-coated',
      'idle-valve',
      'manifold-aluminium',
      'manifold-plastic',
      'rubber',
      'sooted-metal',
    ],
    never: { 'airflow-element': 'the element is never touched', 'pressure-sensor-port': 'nothing is poked inward' },
  },
  {
    id: 'water-soap',
    label: 'water and soap',
    may: ['manifold-aluminium', 'manifold-plastic', 'rubber', 'filter-washable'],
    never: { 'airflow-element': RESIDUE, 'idle-valve': 'water gets into the drive' },
  },
  {
    id: 'demineralised-water',
    label: 'demineralised water, fed as mist',
    may: ['intake-valves'],
    never: { 'airflow-element': RESIDUE },
  },
]

export type Permission =
  { readonly ok: true; readonly remark?: string } | { readonly ok: false; readonly reason: string }

/** Whether a product class may touch a surface. What no table names is refused until the label says otherwise. */
export function mayTouch(product: ProductId, surface: SurfaceId): Permission {
  const p = PRODUCTS.find((x) => x.id === product)
  const s = SURFACES.find((x) => x.id === surface)
  if (!p || !s) throw new RangeError(`no product "${product}" or surface "${surface}"`)
  const never = p.never[surface]
  if (never) return { ok: false, reason: `${p.label} on the ${s.label}: ${never}.` }
  if (p.may.includes(surface)) return { ok: true }
  return { ok: false, reason: `${p.label} is not known to be safe on the ${s.label}: only if its label says so.` }
}
