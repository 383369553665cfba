import {
  CONFIRMED_FIELDS,
  hasController,
  hasTrims,
  inletsOf,
  trimBanksOf,
  type ConfirmedField,
  type Vehicle,
} from './vehicle.js'
import { VEHICLE_RANGES } from './checkVehicle.js'

/** Where a question stands on the form. */
export type QuestionGroup = 'engine' | 'air and fuel' | 'throttle and idle' | 'what hangs on it'

interface Asked {
  readonly id: string
  readonly label: string
  readonly group: QuestionGroup
  /** Whether this engine is asked it; every engine when left out. */
  readonly applies?: (v: Vehicle) => boolean
  /** Field of the file that a dose stands on. */
  readonly confirms?: ConfirmedField
}

/** One of a few answers; the answers are the file's own words or what stands for them. */
export interface ChoiceQuestion extends Asked {
  readonly kind: 'choice'
  readonly choices: readonly { readonly value: string; readonly label: string }[]
  readonly get: (v: Vehicle) => string
  readonly set: (v: Vehicle, value: string) => Partial<Vehicle>
}

/** A figure within bounds. */
export interface NumberQuestion extends Asked {
  readonly kind: 'number'
  readonly unit: string
  readonly min: number
  readonly max: number
  readonly whole: boolean
  readonly get: (v: Vehicle) => number
  readonly set: (v: Vehicle, value: number) => Partial<Vehicle>
}

export type EngineQuestion = ChoiceQuestion | NumberQuestion

type Field = Extract<
  keyof Vehicle,
  | 'metering'
  | 'induction'
  | 'injection'
  | 'fuel'
  | 'throttle'
  | 'egr'
  | 'pcv'
  | 'pcvJoins'
  | 'egrControl'
  | 'loadControl'
  | 'plenum'
  | 'separator'
  | 'idleSpecFrom'
>

/** A choice that is one field of the file. @param otherwise - what a file that leaves it out means */
const choice = (
  id: Field,
  label: string,
  group: QuestionGroup,
  choices: Readonly<Record<string, string>>,
  otherwise?: string,
  applies?: Asked['applies'],
  also: (v: Vehicle, value: string) => Partial<Vehicle> = () => ({}),
): ChoiceQuestion => ({
  kind: 'choice',
  id,
  label,
  group,
  applies,
  choices: Object.entries(choices).map(([value, words]) => ({ value, label: words })),
  get: (v) => (v[id] as string | undefined) ?? otherwise ?? '',
  set: (v, value) => ({ [id]: value, ...also(v, value) }),
})

type Flag = Extract<
  keyof Vehicle,
  | 'booster'
  | 'purge'
  | 'flaps'
  | 'chargeSensor'
  | 'wideband'
  | 'egrCooler'
  | 'throttleFlap'
  | 'resonator'
  | 'intakeTemperature'
  | 'throttleCoolant'
  | 'coatedBore'
>

/** Yes or no; `unknown` offers a third answer, for what must not be guessed. */
const flag = (
  id: Flag,
  label: string,
  group: QuestionGroup,
  otherwise: (v: Vehicle) => boolean | undefined,
  applies?: Asked['applies'],
): ChoiceQuestion => ({
  kind: 'choice',
  id,
  label,
  group,
  applies,
  choices: [
    { value: 'yes', label: 'yes' },
    { value: 'no', label: 'no' },
    ...(id === 'coatedBore' ? [{ value: 'unknown', label: 'not known' }] : []),
  ],
  get: (v) => ({ true: 'yes', false: 'no', undefined: 'unknown' })[String(v[id] ?? otherwise(v))]!,
  set: (_, value) => ({ [id]: value === 'unknown' ? undefined : value === 'yes' }),
})

const number = (
  id: 'displacementL' | 'cylinders' | 'compressionRatio' | 'throttleBoreMm' | 'throttleBodies',
  label: string,
  group: QuestionGroup,
  applies?: Asked['applies'],
  also: (v: Vehicle, value: number) => Partial<Vehicle> = () => ({}),
): NumberQuestion => ({
  kind: 'number',
  id,
  label,
  group,
  applies,
  confirms: CONFIRMED_FIELDS.find((f) => f === id),
  ...VEHICLE_RANGES[id],
  get: (v) => v[id],
  set: (v, value) => ({ [id]: value, ...also(v, value) }),
})

const idleBound = (end: 'min' | 'max', label: string): NumberQuestion => ({
  kind: 'number',
  id: `idle-${end}`,
  label,
  group: 'throttle and idle',
  unit: 'rpm',
  min: 300,
  max: 2500,
  whole: true,
  get: (v) => v.idleSpecRpm[end],
  set: (v, value) => {
    const spec = { ...v.idleSpecRpm, [end]: value }
    // one end typed past the other takes it along
    if (spec.min > spec.max) spec[end === 'min' ? 'max' : 'min'] = value
    return { idleSpecRpm: spec, ...(v.idleSpecFrom === undefined ? { idleSpecFrom: 'book' as const } : {}) }
  },
})

const gasoline = (v: Vehicle): boolean => v.fuel === 'gasoline'
const turbo = (v: Vehicle): boolean => v.induction === 'turbo'

/** A diesel in place of a gasoline engine, and back: what goes with it. */
function withFuel(v: Vehicle, fuel: string): Partial<Vehicle> {
  return fuel === 'diesel'
    ? {
        injection: 'direct',
        idleControl: 'none',
        idleValveToo: undefined,
        throttle: 'electronic',
        compressionRatio: 16.5,
        metering: 'maf+map',
        induction: 'turbo',
        pcvJoins: 'duct',
        purge: false,
        booster: false,
        trimBanks: undefined,
        confirmed: v.confirmed?.filter((f) => f !== 'compressionRatio'),
      }
    : {
        injection: 'port',
        idleControl: 'electronic-throttle',
        compressionRatio: 10.5,
        purge: undefined,
        booster: undefined,
        throttleFlap: undefined,
        confirmed: v.confirmed?.filter((f) => f !== 'compressionRatio'),
      }
}

/** A carburettor meters by itself and has neither sensors nor a controller of the idle. */
const withInjection = (v: Vehicle, injection: string): Partial<Vehicle> =>
  injection === 'carburettor'
    ? { metering: 'none', throttle: 'cable', idleControl: 'none', idleValveToo: undefined, purge: false }
    : v.injection === 'carburettor'
      ? {
          metering: 'maf',
          idleControl: v.throttle === 'cable' ? 'idle-valve' : 'electronic-throttle',
          purge: undefined,
        }
      : {}

/**
 * What an engine is asked, in the order it is seen: a dozen answers that matter, then the rest. Each answer carries what
 * usually goes with it, and stays a field of the vehicle file.
 */
export const QUESTIONS: readonly EngineQuestion[] = [
  number('cylinders', 'cylinders', 'engine', undefined, (v, n) =>
    n > 6 && v.banks === 1
      ? { banks: 2, layout: undefined }
      : n < 4 && v.banks === 2 && n !== 2
        ? { banks: 1, layout: undefined }
        : {},
  ),
  {
    kind: 'choice',
    id: 'layout',
    label: 'they stand',
    group: 'engine',
    choices: [
      { value: 'line', label: 'in line' },
      { value: 'v', label: 'as a V' },
      { value: 'flat', label: 'flat' },
    ],
    get: (v) => v.layout ?? (v.banks === 2 ? 'v' : 'line'),
    set: (v, value) => ({
      layout: value as Vehicle['layout'],
      banks: value === 'line' ? 1 : 2,
      trimBanks: v.trimBanks,
    }),
  },
  number('displacementL', 'displacement', 'engine'),
  number('compressionRatio', 'compression', 'engine'),
  choice('fuel', 'fuel', 'engine', { gasoline: 'gasoline', diesel: 'diesel' }, undefined, undefined, withFuel),
  choice('induction', 'induction', 'engine', { natural: 'natural', turbo: 'turbo' }),
  choice(
    'injection',
    'fuel comes by',
    'air and fuel',
    { port: 'port injection', direct: 'direct injection', carburettor: 'carburettor' },
    undefined,
    gasoline,
    withInjection,
  ),
  choice(
    'metering',
    'air is metered by',
    'air and fuel',
    { maf: 'airflow sensor', map: 'pressure sensor', 'maf+map': 'both', none: 'neither' },
    undefined,
    hasController,
  ),
  {
    kind: 'choice',
    id: 'trimBanks',
    label: 'sets of trims',
    group: 'air and fuel',
    applies: (v) => gasoline(v) && hasController(v),
    choices: [
      { value: '1', label: 'one' },
      { value: '2', label: 'two' },
    ],
    get: (v) => String(trimBanksOf(v)),
    set: (_, value) => ({ trimBanks: Number(value) }),
  },
  {
    kind: 'choice',
    id: 'inlets',
    label: 'inlets',
    group: 'air and fuel',
    choices: [
      { value: '1', label: 'one' },
      { value: '2', label: 'two' },
    ],
    get: (v) => String(inletsOf(v)),
    set: (v, value) => ({
      inlets: value === '2' ? 2 : undefined,
      ...(value === '2' && v.throttleBodies === 1 ? { throttleBodies: 2 } : {}),
    }),
  },
  choice(
    'plenum',
    'plenum',
    'air and fuel',
    { common: 'one for all', 'per-bank': 'one a bank', individual: 'none' },
    'common',
  ),
  choice(
    'throttle',
    'throttle moved by',
    'throttle and idle',
    { electronic: 'motor', cable: 'cable' },
    undefined,
    (v) => gasoline(v) && hasController(v),
    (_, value) => ({
      pedal: undefined,
      idleControl: value === 'cable' ? 'idle-valve' : 'electronic-throttle',
      idleValveToo: undefined,
    }),
  ),
  {
    kind: 'choice',
    id: 'pedal',
    label: 'pedal',
    group: 'throttle and idle',
    applies: (v) => gasoline(v) && v.throttle === 'electronic',
    choices: [
      { value: 'wire', label: 'by wire' },
      { value: 'cable', label: 'cable to its sensor' },
    ],
    get: (v) => v.pedal ?? 'wire',
    set: (_, value) => ({ pedal: value as Vehicle['pedal'] }),
  },
  number('throttleBodies', 'throttles', 'throttle and idle', gasoline, (v, n) =>
    n >= v.cylinders && n > 2 ? { plenum: 'individual' } : v.plenum === 'individual' ? { plenum: 'common' } : {},
  ),
  number('throttleBoreMm', 'bore', 'throttle and idle', (v) => gasoline(v) || v.throttleFlap !== false),
  flag(
    'throttleFlap',
    'throttle flap',
    'throttle and idle',
    () => true,
    (v) => v.fuel === 'diesel',
  ),
  flag('coatedBore', 'coated bore', 'throttle and idle', () => undefined, gasoline),
  flag('throttleCoolant', 'coolant through it', 'throttle and idle', () => false),
  {
    kind: 'choice',
    id: 'idleControl',
    label: 'idle held by',
    group: 'throttle and idle',
    applies: (v) => gasoline(v) && hasController(v),
    choices: [
      { value: 'electronic-throttle', label: 'throttle' },
      { value: 'idle-valve', label: 'idle valve' },
      { value: 'both', label: 'both' },
      { value: 'none', label: 'a stop screw' },
    ],
    get: (v) => (v.idleControl === 'electronic-throttle' && v.idleValveToo ? 'both' : v.idleControl),
    set: (_, value) =>
      value === 'both'
        ? { idleControl: 'electronic-throttle', idleValveToo: true }
        : { idleControl: value as Vehicle['idleControl'], idleValveToo: undefined },
  },
  idleBound('min', 'idle from'),
  idleBound('max', 'idle to'),
  choice(
    'idleSpecFrom',
    'idle band from',
    'throttle and idle',
    { label: 'label', book: 'book', measured: 'measured', ours: 'a guess' },
    'ours',
  ),
  choice('pcv', 'crankcase vent', 'what hangs on it', { valve: 'valve', orifice: 'orifice' }),
  choice(
    'pcvJoins',
    'vent joins',
    'what hangs on it',
    { plenum: 'plenum', duct: 'duct', throttle: 'throttle' },
    'plenum',
  ),
  choice(
    'separator',
    'oil separator',
    'what hangs on it',
    { none: 'none', open: 'in reach', 'under-manifold': 'under the manifold' },
    'none',
  ),
  choice('egr', 'exhaust gas valve', 'what hangs on it', { none: 'none', valve: 'fitted' }),
  choice(
    'egrControl',
    'it is moved by',
    'what hangs on it',
    { vacuum: 'vacuum', electric: 'motor', backpressure: 'back pressure' },
    'vacuum',
    (v) => v.egr === 'valve',
  ),
  flag(
    'egrCooler',
    'its cooler',
    'what hangs on it',
    () => false,
    (v) => v.egr === 'valve',
  ),
  flag('purge', 'tank purge', 'what hangs on it', hasController, (v) => gasoline(v) && hasController(v)),
  flag('booster', 'brake booster on it', 'what hangs on it', gasoline),
  flag('flaps', 'manifold flaps', 'what hangs on it', () => false),
  flag('chargeSensor', 'charge sensor', 'what hangs on it', () => false, turbo),
  flag('wideband', 'wideband λ sensor', 'what hangs on it', () => false, hasTrims),
  flag('intakeTemperature', 'air temp sensor apart', 'what hangs on it', () => false),
  flag('resonator', 'resonator', 'what hangs on it', () => false),
  choice(
    'loadControl',
    'load held by',
    'throttle and idle',
    {
      throttle: 'throttle',
      'valve-lift': 'valve lift',
      'late-closing': 'late closing',
      'cylinder-cut': 'cylinder cut',
    },
    'throttle',
    gasoline,
  ),
]

/** Questions that this engine is asked. */
export const questionsOf = (v: Vehicle): readonly EngineQuestion[] => QUESTIONS.filter((q) => q.applies?.(v) ?? true)

/**
 * An engine with one answer changed, and with what usually goes with it. What a technician answers is confirmed by that.
 * @throws RangeError when the question takes no such answer
 */
export function withAnswer(v: Vehicle, id: string, value: string | number): Vehicle {
  const q = QUESTIONS.find((x) => x.id === id)
  if (!q) throw new RangeError(`no question "${id}"`)
  if (q.kind === 'number') {
    const n = Number(value)
    if (!(n >= q.min && n <= q.max && (!q.whole || Number.isInteger(n))))
      throw new RangeError(
        `${q.label} = ${value}, must be ${q.whole ? 'a whole number ' : ''}${q.min} to ${q.max} ${q.unit}`.trim(),
      )
    return clean({ ...v, ...q.set(v, n), ...(q.confirms ? { confirmed: withConfirmed(v, q.confirms) } : {}) })
  }
  if (!q.choices.some((c) => c.value === value))
    throw new RangeError(`${q.label} = ${value}, must be one of: ${q.choices.map((c) => c.value).join(', ')}`)
  return clean({ ...v, ...q.set(v, String(value)) })
}

const withConfirmed = (v: Vehicle, field: ConfirmedField): readonly ConfirmedField[] => [
  ...new Set([...(v.confirmed ?? []), field]),
]

/** An engine with a figure seen to be right as it stands. */
export const confirm = (v: Vehicle, field: ConfirmedField): Vehicle => ({ ...v, confirmed: withConfirmed(v, field) })

/** Fields that are not there are left out, so that a file reads back as it was written. */
const clean = (v: Vehicle): Vehicle =>
  Object.fromEntries(Object.entries(v).filter(([, x]) => x !== undefined)) as unknown as Vehicle
