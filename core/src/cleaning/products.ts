import { surfaceInfo, SURFACE_IDS, type SurfaceId } from './surfaces.js'

/** Product classes; never brands. The label of the product in hand always wins. */
export const PRODUCT_IDS = [
  'airflow-cleaner',
  'throttle-cleaner',
  'intake-cleaner',
  'chlorinated-brake-cleaner',
  'metal-brush',
  'soft-brush-cloth',
  'water-soap',
  'demineralised-water',
  'contact-cleaner',
  'brake-cleaner',
  'carburettor-solvent',
  'degreaser-water',
  'soot-remover',
  'brass-brush',
  'plastic-scraper',
  'compressed-air',
  'soft-media',
  'filter-cleaner',
] as const
export type ProductId = (typeof PRODUCT_IDS)[number]

export interface ProductInfo {
  readonly id: ProductId
  readonly label: string
  /** How hard it goes to work, 0 to 5: the weaker comes first. */
  readonly strength: number
  /** What one use costs; the demo shop's list, in its own money. */
  readonly price: number
  /** Where it may go, with no remark. */
  readonly may: readonly SurfaceId[]
  /** Where it must not, and why. */
  readonly never: Readonly<Partial<Record<SurfaceId, string>>>
  /** Goes in with the air of a running engine, never onto a surface by hand. */
  readonly fed?: true
  /** How it is used everywhere. */
  readonly how?: string
}

const RESIDUE = 'it leaves a film on the element, which then reads wrong'
const ATTACKS = 'it softens this material'
const TOXIC = 'chlorinated solvent near heat makes a toxic gas; it has no place in an intake'
const TOUCHED = 'the element is never touched'
const POKED = 'nothing is poked inward'
const COATING = 'solvent strips the coating that seals the plate'
const SCORED = 'it scores the bore where the plate must seal'
const DRIVE = 'it gets into the drive and takes its grease away'
const DIAPHRAGM = 'it swells the diaphragm'

/** The same reason on several surfaces. */
const on = (why: string, ...surfaces: readonly SurfaceId[]): Readonly<Partial<Record<SurfaceId, string>>> =>
  Object.fromEntries(surfaces.map((s) => [s, why]))

const SOFT: readonly SurfaceId[] = ['rubber', 'filter-washable', 'manifold-plastic']
/** Strong solvents: never on anything soft, coated, filmed or driven. */
const SOLVENT_NEVER = {
  ...on(RESIDUE, 'airflow-element', 'temperature-sensor'),
  ...on(COATING, 'throttle-coated'),
  ...on(ATTACKS, ...SOFT, 'connector', 'charge-pipe'),
  ...on(DIAPHRAGM, 'vent-valve'),
  ...on(DRIVE, 'manifold-flaps', 'idle-valve'),
}
/** Hard tools: never where something seals, is coated, filmed or soft. */
const HARD_NEVER = {
  ...on(TOUCHED, 'airflow-element', 'temperature-sensor'),
  ...on(SCORED, 'throttle-plate', 'airflow-vane'),
  ...on('it scrapes the coating off', 'throttle-coated'),
  ...on('it scores the seat', 'idle-valve', 'vent-valve'),
  ...on(POKED, 'pressure-sensor-port', 'connector'),
  ...on('it cuts plastic', 'manifold-plastic'),
  ...on('it cuts rubber', 'rubber', 'charge-pipe'),
  ...on('it tears the gauze', 'filter-washable'),
  ...on('it tears the fins', 'intercooler', 'egr-cooler'),
  ...on('it scores the seat and the valve’s shaft', 'manifold-flaps'),
}

/** What each class may touch, with the reason where it must not. */
export const PRODUCTS: readonly ProductInfo[] = [
  {
    id: 'compressed-air',
    label: 'compressed air, outward',
    strength: 0,
    price: 0,
    how: 'always outward and away: never into the intake, never at a sensor; eyes covered, low pressure',
    may: ['intercooler', 'charge-pipe', 'separator', 'egr-cooler', 'connector', 'gasket-face'],
    never: {
      ...on('a jet tears the element', 'airflow-element'),
      ...on('a jet bends it', 'temperature-sensor', 'airflow-vane'),
      ...on('a jet bursts the diaphragm behind it', 'pressure-sensor-port', 'vent-valve'),
      ...on('a jet tears the gauze; it dries by itself', 'filter-washable'),
      ...on(
        'it drives grit inward',
        'intake-valves',
        'manifold-flaps',
        'throttle-plate',
        'throttle-coated',
        'idle-passage',
      ),
    },
  },
  {
    id: 'soft-brush-cloth',
    label: 'soft brush or lint-free cloth',
    strength: 1,
    price: 2,
    may: [
      'throttle-plate',
      'throttle-coated',
      'idle-valve',
      'idle-passage',
      'airflow-vane',
      'manifold-aluminium',
      'manifold-plastic',
      'manifold-flaps',
      'vent-valve',
      'separator',
      'rubber',
      'charge-pipe',
      'sooted-metal',
      'gasket-face',
    ],
    never: {
      ...on(TOUCHED, 'airflow-element', 'temperature-sensor'),
      ...on(POKED, 'pressure-sensor-port'),
    },
  },
  {
    id: 'water-soap',
    label: 'water and soap',
    strength: 1,
    price: 1,
    may: [
      'manifold-aluminium',
      'manifold-plastic',
      'rubber',
      'filter-washable',
      'separator',
      'charge-pipe',
      'intercooler',
    ],
    never: {
      ...on(RESIDUE, 'airflow-element', 'temperature-sensor'),
      ...on('water gets into the drive', 'idle-valve', 'manifold-flaps'),
      ...on('water stays in the pins', 'connector'),
    },
  },
  {
    id: 'demineralised-water',
    label: 'demineralised water, fed as mist',
    fed: true,
    strength: 1,
    price: 2,
    may: ['intake-valves'],
    never: on(RESIDUE, 'airflow-element', 'temperature-sensor'),
  },
  {
    id: 'airflow-cleaner',
    label: 'airflow sensor cleaner',
    strength: 1,
    price: 9,
    may: ['airflow-element', 'pressure-sensor-port', 'temperature-sensor'],
    never: {},
  },
  {
    id: 'contact-cleaner',
    label: 'contact cleaner',
    strength: 1,
    price: 7,
    how: 'on a sensor only where its label says free of residue and safe on plastic; it dries twice as long',
    may: ['connector', 'pressure-sensor-port'],
    never: { ...on(ATTACKS, 'filter-washable'), ...on(DIAPHRAGM, 'vent-valve') },
  },
  {
    id: 'filter-cleaner',
    label: 'filter cleaner of its own kit',
    strength: 1,
    price: 5,
    may: ['filter-washable'],
    never: on(RESIDUE, 'airflow-element', 'temperature-sensor'),
  },
  {
    id: 'plastic-scraper',
    label: 'plastic scraper',
    strength: 2,
    price: 0,
    may: ['gasket-face', 'manifold-aluminium', 'sooted-metal'],
    never: {
      ...on(TOUCHED, 'airflow-element', 'temperature-sensor'),
      ...on('it scrapes the coating off', 'throttle-coated'),
      ...on(POKED, 'pressure-sensor-port'),
      ...on('it tears the gauze', 'filter-washable'),
    },
  },
  {
    id: 'degreaser-water',
    label: 'degreaser and water',
    strength: 2,
    price: 3,
    may: ['manifold-aluminium', 'manifold-plastic', 'separator', 'charge-pipe', 'intercooler', 'rubber', 'egr-cooler'],
    never: {
      ...on(RESIDUE, 'airflow-element', 'temperature-sensor'),
      ...on('water gets into the drive', 'idle-valve', 'manifold-flaps'),
      ...on('water stays in the pins', 'connector'),
      ...on('it takes the gauze’s glue', 'filter-washable'),
    },
  },
  {
    id: 'throttle-cleaner',
    label: 'throttle cleaner on a cloth',
    strength: 2,
    price: 6,
    how: 'on the cloth, never sprayed toward motor, shaft or sensor',
    may: [
      'throttle-plate',
      'idle-valve',
      'idle-passage',
      'airflow-vane',
      'manifold-aluminium',
      'sooted-metal',
      'vent-valve',
    ],
    never: {
      ...on(RESIDUE, 'airflow-element', 'temperature-sensor'),
      ...on(COATING, 'throttle-coated'),
      ...on(ATTACKS, 'rubber', 'filter-washable'),
    },
  },
  {
    id: 'intake-cleaner',
    label: 'intake cleaner, fed to a running engine',
    fed: true,
    strength: 2,
    price: 16,
    may: ['intake-valves', 'manifold-aluminium', 'throttle-plate'],
    never: {
      ...on(RESIDUE, 'airflow-element', 'temperature-sensor'),
      ...on(COATING, 'throttle-coated'),
      ...on(ATTACKS, 'filter-washable', 'rubber'),
    },
  },
  {
    id: 'soot-remover',
    label: 'diesel soot remover',
    strength: 3,
    price: 14,
    how: 'off the car only; it ends in the tray, not in the engine',
    may: ['sooted-metal', 'egr-cooler', 'manifold-aluminium', 'manifold-flaps'],
    never: {
      ...on(RESIDUE, 'airflow-element', 'temperature-sensor'),
      ...on(COATING, 'throttle-coated'),
      ...on(ATTACKS, 'rubber', 'filter-washable', 'connector'),
      ...on(DIAPHRAGM, 'vent-valve'),
    },
  },
  {
    id: 'brake-cleaner',
    label: 'brake cleaner without chlorine',
    strength: 3,
    price: 5,
    how: 'off the car and cold, dried off before anything goes back',
    may: ['gasket-face', 'sooted-metal', 'egr-cooler', 'manifold-aluminium'],
    never: SOLVENT_NEVER,
  },
  {
    id: 'brass-brush',
    label: 'brass brush',
    strength: 3,
    price: 0,
    may: ['manifold-aluminium', 'sooted-metal'],
    never: HARD_NEVER,
  },
  {
    id: 'carburettor-solvent',
    label: 'carburettor solvent',
    strength: 4,
    price: 8,
    how: 'parts off the car, or a port whose valves are shut; gloves and air, nothing soft near it',
    may: ['manifold-aluminium', 'sooted-metal', 'egr-cooler', 'intake-valves'],
    never: { ...SOLVENT_NEVER, ...on('it strips the seal of the plate’s shaft', 'throttle-plate') },
  },
  {
    id: 'soft-media',
    label: 'soft media: crushed shells, blasted',
    strength: 3,
    price: 35,
    how: 'a port at a time with its valves shut, drawn out before anything turns; eyes and lungs covered',
    may: ['intake-valves'],
    never: {
      ...HARD_NEVER,
      ...on(
        'grains stay in what cannot be looked into',
        'manifold-aluminium',
        'separator',
        'idle-passage',
        'sooted-metal',
      ),
    },
  },
  {
    id: 'metal-brush',
    label: 'steel brush',
    strength: 5,
    price: 0,
    may: ['manifold-aluminium'],
    never: {
      ...HARD_NEVER,
      ...on('it scores the seat and the valve’s shaft', 'sooted-metal', 'manifold-flaps'),
      ...on('it scores the face that must seal', 'gasket-face'),
      ...on('it scores stem and seat', 'intake-valves'),
    },
  },
  {
    id: 'chlorinated-brake-cleaner',
    label: 'chlorinated brake cleaner',
    strength: 5,
    price: 0,
    may: [],
    never: on(TOXIC, ...SURFACE_IDS),
  },
]

export const productInfo = (id: ProductId): ProductInfo => PRODUCTS.find((p) => p.id === id)!

export type Permission =
  | { readonly ok: true; readonly remark?: string }
  | { readonly ok: false; readonly never: boolean; readonly reason: string }

/** Whether a product class may touch a surface. What no table names is refused until the label says otherwise. */
export function mayTouch(product: ProductId, surface: SurfaceId): Permission {
  const p = productInfo(product)
  const s = surfaceInfo(surface)
  if (!p || !s) throw new RangeError(`no product "${product}" or surface "${surface}"`)
  const never = p.never[surface]
  if (never) return { ok: false, never: true, reason: `${p.label} on the ${s.label}: ${never}.` }
  if (p.may.includes(surface)) return p.how ? { ok: true, remark: p.how } : { ok: true }
  return {
    ok: false,
    never: false,
    reason: `${p.label} is not known to be safe on the ${s.label}: only if its label says so.`,
  }
}

/** Products that may touch a surface by hand, the weaker first: the next is taken when one fails the surface's end test. */
export const escalation = (surface: SurfaceId): readonly ProductInfo[] =>
  PRODUCTS.filter((p) => !p.fed && p.may.includes(surface)).sort((a, b) => a.strength - b.strength)

/** What is tried next on a surface after classes that failed its end test; undefined when none is left. */
export const nextProduct = (surface: SurfaceId, failed: readonly ProductId[]): ProductInfo | undefined => {
  const most = Math.max(-1, ...failed.map((id) => productInfo(id).strength))
  return escalation(surface).find((p) => !failed.includes(p.id) && p.strength >= most)
}
