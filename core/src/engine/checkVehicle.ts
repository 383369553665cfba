import { airPathProblems } from './airPathProblems.js'
import { DRIVINGS, type Driving, type Vehicle } from './vehicle.js'

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
  layout: ['line', 'v', 'flat'],
  pedal: ['wire', 'cable'],
  separator: ['none', 'open', 'under-manifold'],
  idleSpecFrom: ['label', 'book', 'measured', 'ours'],
} as const

const FLAGS = [
  'booster',
  'purge',
  'flaps',
  'chargeSensor',
  'wideband',
  'idleValveToo',
  'egrCooler',
  'throttleFlap',
  'resonator',
  'intakeTemperature',
  'throttleCoolant',
  'coatedBore',
] as const

const OPTIONAL_COUNTS = { trimBanks: { min: 1, max: 2 }, inlets: { min: 1, max: 2 } } as const

/** Ranges outside which a figure is a slip of the finger and not an engine. */
export const VEHICLE_RANGES = {
  displacementL: { min: 0.3, max: 12, unit: 'L', whole: false },
  cylinders: { min: 1, max: 16, unit: '', whole: true },
  banks: { min: 1, max: 2, unit: '', whole: true },
  compressionRatio: { min: 6, max: 25, unit: '', whole: false },
  throttleBoreMm: { min: 15, max: 120, unit: 'mm', whole: false },
  throttleBodies: { min: 1, max: 12, unit: '', whole: true },
  altitudeM: { min: -450, max: 5500, unit: 'm', whole: false },
} as const

const isObject = (x: unknown): x is Record<string, unknown> => typeof x === 'object' && x !== null && !Array.isArray(x)
const isTexts = (x: unknown): boolean => Array.isArray(x) && x.every((e) => typeof e === 'string')

export const MATERIALS = ['rubber', 'plastic', 'metal', 'silicone', 'textile'] as const
export const CLAMPS = ['worm', 'spring', 'ear', 'quick', 'none'] as const
const DETAILS_ACCEPTED = `material ${MATERIALS.join(', ')}; clamp ${CLAMPS.join(', ')}; hoseMm 1 to 120; fittedOn and servicedOn as yyyy-mm-dd; note`
const DAY = /^\d{4}-\d{2}-\d{2}$/

function isDetails(x: unknown): boolean {
  if (!isObject(x)) return false
  const among = (list: readonly string[], e: unknown): boolean => e === undefined || list.includes(e as string)
  const day = (e: unknown): boolean => e === undefined || (typeof e === 'string' && DAY.test(e))
  return (
    among(MATERIALS, x.material) &&
    among(CLAMPS, x.clamp) &&
    (x.hoseMm === undefined || (typeof x.hoseMm === 'number' && x.hoseMm >= 1 && x.hoseMm <= 120)) &&
    day(x.fittedOn) &&
    day(x.servicedOn) &&
    (x.note === undefined || (typeof x.note === 'string' && x.note.length <= 300))
  )
}

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
  for (const [field, r] of Object.entries(VEHICLE_RANGES)) {
    const x = v[field]
    const inside = typeof x === 'number' && x >= r.min && x <= r.max
    if (!(inside && (!r.whole || Number.isInteger(x))))
      add(field, `${r.whole ? 'a whole number ' : ''}${r.min} to ${r.max} ${r.unit}`.trim())
  }
  const spec = v.idleSpecRpm as { min?: unknown; max?: unknown } | undefined
  const { min, max } = spec ?? {}
  if (!(typeof min === 'number' && typeof max === 'number' && min >= 300 && max <= 2500 && min <= max))
    add('idleSpecRpm', '{"min","max"} between 300 and 2500 rpm')
  for (const [field, { min, max }] of Object.entries(OPTIONAL_COUNTS))
    if (v[field] !== undefined && v[field] !== min && v[field] !== max) add(field, `${min}, ${max} or left out`)
  for (const field of FLAGS)
    if (v[field] !== undefined && typeof v[field] !== 'boolean') add(field, 'true, false or left out')
  for (const field of ['doNotClean', 'feedPoints', 'confirmed'])
    if (v[field] !== undefined && !isTexts(v[field])) add(field, 'a list of texts, or left out')
  if (
    v.driving !== undefined &&
    !(isTexts(v.driving) && (v.driving as string[]).every((d) => DRIVINGS.includes(d as Driving)))
  )
    add('driving', `a list of ${DRIVINGS.join(', ')}, or left out`)
  const { branches, stations } = v
  if (branches !== undefined) {
    const { joins = {}, without = [] } = isObject(branches) ? branches : { joins: 0 }
    if (!(isObject(joins) && isTexts(Object.values(joins)) && isTexts(without)))
      add('branches', '{"joins":{branch: station},"without":[branch]}, or left out')
  }
  if (stations !== undefined && !(isObject(stations) && Object.values(stations).every(isDetails)))
    add('stations', `an object by station: ${DETAILS_ACCEPTED}`)
  // what cannot be drawn is no engine
  if (!problems.length) for (const accepted of airPathProblems(input as Vehicle)) add('branches', accepted)
  return problems.length ? { ok: false, problems } : { ok: true, value: input as Vehicle }
}
