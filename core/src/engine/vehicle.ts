/** The vehicle format of Uvula: what of an engine its air path and its expectations depend on. */
export interface Vehicle {
  readonly name: string
  /** Swept volume [L]. */
  readonly displacementL: number
  readonly cylinders: number
  readonly banks: number
  readonly compressionRatio: number
  /** What the controller fuels by; `maf+map` is fuelled by the airflow sensor and reports pressure too. */
  readonly metering: 'maf' | 'map' | 'maf+map' | 'none'
  readonly induction: 'natural' | 'turbo'
  readonly injection: 'port' | 'direct' | 'carburettor'
  readonly fuel: 'gasoline' | 'diesel'
  readonly throttle: 'electronic' | 'cable'
  readonly throttleBoreMm: number
  readonly throttleBodies: number
  readonly idleControl: 'electronic-throttle' | 'idle-valve' | 'none'
  readonly egr: 'none' | 'valve'
  readonly pcv: 'valve' | 'orifice'
  readonly idleSpecRpm: { readonly min: number; readonly max: number }
  /** Place of the recording [m]; in the application it belongs to the visit. */
  readonly altitudeM: number
  /** Air about the car [°C], where a visit knows it; no part of the car itself. */
  readonly ambientC?: number
  readonly booster?: boolean
  readonly purge?: boolean
  readonly flaps?: boolean
  readonly chargeSensor?: boolean
  readonly pcvJoins?: 'plenum' | 'duct' | 'throttle'
  readonly egrControl?: 'vacuum' | 'electric' | 'backpressure'
  readonly loadControl?: 'throttle' | 'valve-lift' | 'late-closing' | 'cylinder-cut'
  readonly plenum?: 'common' | 'per-bank' | 'individual'
  readonly feedPoints?: readonly string[]
}

/** One thing wrong with a field: what was given and what is accepted. */
export interface FieldProblem {
  readonly field: string
  readonly value: unknown
  readonly accepted: string
}

export type Checked<T> =
  { readonly ok: true; readonly value: T } | { readonly ok: false; readonly problems: readonly FieldProblem[] }

const CHOICES = {
  metering: ['maf', 'map', 'maf+map', 'none'],
  induction: ['natural', 'turbo'],
  injection: ['port', 'direct', 'carburettor'],
  fuel: ['gasoline', 'diesel'],
  throttle: ['electronic', 'cable'],
  idleControl: ['electronic-throttle', 'idle-valve', 'none'],
  egr: ['none', 'valve'],
  pcv: ['valve', 'orifice'],
} as const

const OPTIONAL_CHOICES = {
  pcvJoins: ['plenum', 'duct', 'throttle'],
  egrControl: ['vacuum', 'electric', 'backpressure'],
  loadControl: ['throttle', 'valve-lift', 'late-closing', 'cylinder-cut'],
  plenum: ['common', 'per-bank', 'individual'],
} as const

/** Ranges outside which a figure is a slip of the finger and not an engine. */
const RANGES = {
  displacementL: { min: 0.3, max: 12, unit: 'L', whole: false },
  cylinders: { min: 1, max: 16, unit: '', whole: true },
  banks: { min: 1, max: 2, unit: '', whole: true },
  compressionRatio: { min: 6, max: 25, unit: '', whole: false },
  throttleBoreMm: { min: 15, max: 120, unit: 'mm', whole: false },
  throttleBodies: { min: 1, max: 12, unit: '', whole: true },
  altitudeM: { min: -450, max: 5500, unit: 'm', whole: false },
} as const

/** Checks an unknown value against the vehicle format; every problem is listed, none is repaired. */
export function checkVehicle(input: unknown): Checked<Vehicle> {
  if (typeof input !== 'object' || input === null || Array.isArray(input))
    return { ok: false, problems: [{ field: 'vehicle', value: input, accepted: 'one JSON object' }] }
  const v = input as Record<string, unknown>
  const problems: FieldProblem[] = []
  const add = (field: string, accepted: string): void => {
    problems.push({ field, value: v[field], accepted })
  }
  if (typeof v.name !== 'string' || v.name.trim() === '') add('name', 'a text')
  for (const [field, list] of Object.entries(CHOICES))
    if (!(list as readonly unknown[]).includes(v[field])) add(field, list.join(', '))
  for (const [field, list] of Object.entries(OPTIONAL_CHOICES))
    if (v[field] !== undefined && !(list as readonly unknown[]).includes(v[field]))
      add(field, `${list.join(', ')} or left out`)
  for (const [field, r] of Object.entries(RANGES)) {
    const x = v[field]
    const inside = typeof x === 'number' && x >= r.min && x <= r.max
    if (!(inside && (!r.whole || Number.isInteger(x))))
      add(field, `${r.whole ? 'a whole number ' : ''}${r.min} to ${r.max} ${r.unit}`.trim())
  }
  const spec = v.idleSpecRpm as { min?: unknown; max?: unknown } | undefined
  const { min, max } = spec ?? {}
  if (!(typeof min === 'number' && typeof max === 'number' && min >= 300 && max <= 2500 && min <= max))
    add('idleSpecRpm', '{"min","max"} between 300 and 2500 rpm')
  for (const field of ['booster', 'purge', 'flaps', 'chargeSensor'])
    if (v[field] !== undefined && typeof v[field] !== 'boolean') add(field, 'true, false or left out')
  return problems.length ? { ok: false, problems } : { ok: true, value: input as Vehicle }
}

/** True when an airflow sensor is fitted. */
export const hasMaf = (v: Vehicle): boolean => v.metering === 'maf' || v.metering === 'maf+map'
/** True when a manifold pressure sensor is fitted. */
export const hasMap = (v: Vehicle): boolean => v.metering === 'map' || v.metering === 'maf+map'

/** A vehicle as people say it: "V6 2.9, airflow sensor". */
export function describeEngine(v: Vehicle): string {
  const shape = v.banks === 2 ? `V${v.cylinders}` : v.cylinders === 4 ? 'four' : `straight ${v.cylinders}`
  const metering = {
    maf: 'airflow sensor',
    map: 'pressure sensor',
    'maf+map': 'airflow and pressure sensors',
    none: v.injection === 'carburettor' ? 'carburetted' : 'no air metering',
  }[v.metering]
  const turbo = v.induction === 'turbo' ? ' turbo' : ''
  return `${shape} ${v.displacementL.toFixed(1)}${turbo}, ${metering}`
}
