import { STATIONS, type Checked, type FieldProblem, type StationId, type Vehicle } from '../engine/index.js'
import { METHODS, type MethodId } from './methods.js'
import type { FeedRequest } from './plan.js'

type Rule = { readonly optional?: boolean } & (
  | { readonly min: number; readonly max: number; readonly unit: string }
  | { readonly oneOf: readonly string[] }
  | { readonly flag: true }
)

const FIELDS: Readonly<Record<string, Rule>> = {
  method: { oneOf: METHODS.filter((m) => m.feeds).map((m) => m.id) },
  'product.kind': { oneOf: ['combustible', 'water'] },
  'product.afr': { min: 5, max: 30, unit: 'g of air per g' },
  doseMl: { min: 0, max: 2000, unit: 'mL' },
  labelMaxMl: { min: 1, max: 2000, unit: 'mL' },
  labelRateMlS: { min: 0.01, max: 10, unit: 'mL/s', optional: true },
  point: { oneOf: STATIONS.map((s) => s.id) },
  together: { flag: true, optional: true },
  'equipment.pressureBar': { min: 0, max: 400, unit: 'bar', optional: true },
  'equipment.nozzleMm': { min: 0, max: 50, unit: 'mm', optional: true },
  'equipment.massG': { min: 0, max: 10_000, unit: 'g', optional: true },
  'equipment.overS': { min: 0, max: 10_000, unit: 's', optional: true },
  vacuumKpa: { min: 0, max: 110, unit: 'kPa', optional: true },
  airGS: { min: 0, max: 1000, unit: 'g/s' },
  rpm: { min: 0, max: 12_000, unit: 'rpm' },
  speedFrom: { oneOf: ['scan', 'pick-up', 'ripple', 'microphone', 'guessed'] },
  coolantC: { min: -40, max: 150, unit: '°C' },
  'trims.total': { min: -0.6, max: 0.6, unit: 'as a share', optional: true },
  'trims.totalMin': { min: -0.6, max: 0, unit: 'as a share', optional: true },
  'trims.short': { min: -0.6, max: 0.6, unit: 'as a share', optional: true },
  'trims.shortMin': { min: -0.6, max: 0, unit: 'as a share', optional: true },
  extraction: { flag: true },
  fireCover: { flag: true },
  lampFlashing: { flag: true },
  heldRunning: { flag: true },
  filterClear: { flag: true, optional: true },
  fuelCutAbove: { min: 0, max: 12_000, unit: 'rpm', optional: true },
  boostKpa: { min: -100, max: 300, unit: 'kPa', optional: true },
  feedRunning: { flag: true, optional: true },
}
const TRIMS = ['total', 'totalMin', 'short', 'shortMin'] as const

function wrong(rule: Rule, value: unknown): string | undefined {
  if (value === undefined) return rule.optional ? undefined : `${acceptedOf(rule)}; it is missing`
  const right =
    'oneOf' in rule
      ? rule.oneOf.includes(value as string)
      : 'flag' in rule
        ? typeof value === 'boolean'
        : typeof value === 'number' && value >= rule.min && value <= rule.max
  return right ? undefined : acceptedOf(rule)
}

const acceptedOf = (rule: Rule): string =>
  'oneOf' in rule
    ? rule.oneOf.join(', ')
    : 'flag' in rule
      ? 'true or false'
      : `a number ${rule.min} to ${rule.max} ${rule.unit}`

/** A request from a file: every field that is wrong, missing or not known is named with what is accepted. */
export function checkFeedRequest(raw: unknown, vehicle: Vehicle): Checked<FeedRequest> {
  const whole = (raw !== null && typeof raw === 'object' ? raw : {}) as Record<string, unknown>
  const flat: Record<string, unknown> = {}
  for (const [k, v] of Object.entries(whole))
    if (v !== null && typeof v === 'object' && ['product', 'equipment', 'trims'].includes(k))
      for (const [inner, x] of Object.entries(v)) flat[`${k}.${inner}`] = x
    else flat[k] = v
  const problems = [
    ...Object.entries(FIELDS).flatMap(([field, rule]): FieldProblem[] => {
      const accepted = wrong(rule, flat[field])
      return accepted === undefined ? [] : [{ field, value: flat[field], accepted }]
    }),
    ...Object.keys(flat)
      .filter((field) => !(field in FIELDS))
      .map((field) => ({ field, value: flat[field], accepted: 'no such field' })),
    ...(whole.trims && TRIMS.some((t) => flat[`trims.${t}`] === undefined)
      ? [{ field: 'trims', value: whole.trims, accepted: `${TRIMS.join(', ')}, all four or none` }]
      : []),
    ...(vehicle.induction === 'turbo' && flat.boostKpa === undefined
      ? [
          {
            field: 'boostKpa',
            value: undefined,
            accepted: 'charge over ambient at the held speed: this is a turbo engine',
          },
        ]
      : []),
  ]
  if (problems.length) return { ok: false, problems }
  const q = whole as Partial<FeedRequest>
  return {
    ok: true,
    value: {
      ...(whole as unknown as FeedRequest),
      method: q.method as MethodId,
      point: q.point as StationId,
      vehicle,
      boostKpa: q.boostKpa ?? 0,
      feedRunning: q.feedRunning ?? false,
    },
  }
}
