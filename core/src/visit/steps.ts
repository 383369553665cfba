import {
  filterOil,
  mayTouch,
  productInfo,
  PRODUCT_IDS,
  escalation,
  stagesOwed,
  surfaceInfo,
  washOf,
  wayOn,
  waysByHand,
  type ProductId,
  type StageDone,
  type WashStage,
} from '../cleaning/index.js'
import { kindOfStation, stationInfo, type StationId, type Vehicle } from '../engine/index.js'
import type { Refusal } from './gate.js'
import type { StepMore, StepRecord } from './records.js'

/** What of a step says what was cleaned, with what, and how far. */
export type StepWork = Pick<StepRecord, 'station' | 'surface' | 'product' | 'method'> &
  Partial<Pick<StepRecord, 'passed' | 'more'>>

/** Stages of a step's wash. */
export const stagesOf = (s: Pick<StepRecord, 'surface'>): readonly WashStage[] =>
  washOf(s.surface, surfaceInfo(s.surface).drySeconds)

/** Stages that were done. */
export const doneOf = (s: Pick<StepRecord, 'more'>): readonly StageDone[] => s.more?.stages ?? []

/** Product classes that a step used, each once. */
export const productsOf = (s: Pick<StepRecord, 'product' | 'more'>): readonly ProductId[] => [
  ...new Set([s.product, ...doneOf(s).flatMap((d) => d.product ?? [])]),
]

/** The two weights of a filter and what they say; undefined while one is missing. */
export function oilOf(s: Pick<StepRecord, 'more'>): ReturnType<typeof filterOil> | undefined {
  const weight = (id: StageDone['id']): number | undefined => doneOf(s).findLast((d) => d.id === id)?.value
  const [dry, oiled] = [weight('settle'), weight('oil')]
  return dry === undefined || oiled === undefined ? undefined : filterOil(dry, oiled, s.more?.oilLabelG)
}

/** Why a part is not cleaned whatever is done to it: its own label; undefined where none says so. */
export const labelForbids = (v: Vehicle, station: StationId): Refusal | undefined =>
  v.doNotClean?.includes(station)
    ? {
        rule: 'label-forbids',
        message: `The label of the ${stationInfo(station).label} says: do not clean. Renew it, or measure and leave it.`,
      }
    : undefined

/** Rules that a cleaned surface went against: a label, a coating, a product that does not belong there, an end that came too soon. */
export function checkStep(s: StepWork, v: Vehicle): Refusal[] {
  const label = labelForbids(v, s.station)
  if (label) return [label]
  if (v.coatedBore && s.surface === 'throttle-plate')
    return [{ rule: 'coated-bore', message: 'This bore is coated: choose the coated throttle, which is only wiped.' }]
  if (productsOf(s).some((id) => productInfo(id).fed))
    return [
      {
        rule: 'fed-product',
        message: `${productInfo(s.product).label}: it goes in with the air of a running engine, not onto a surface by hand. Use ${fits(s)}.`,
      },
    ]
  if (s.method === 'plate-commanded' && !(kindOfStation(s.station) === 'throttle' && v.throttle === 'electronic'))
    return [
      {
        rule: 'no-command',
        message: 'Nothing here is opened by command: a cable throttle is moved by hand, its prop counted.',
      },
    ]
  const ways = waysByHand(s.surface, v.throttle === 'electronic')
  if (!ways.some((m) => m.id === s.method))
    return [
      {
        rule: 'way-on-surface',
        message: `${surfaceInfo(s.surface).label}: not cleaned so. Clean it ${ways.map((m) => wayOn(m.id, s.surface)).join(' or ')}.`,
      },
    ]
  const wrong = productsOf(s)
    .map((id) => mayTouch(id, s.surface))
    .find((m) => !m.ok)
  if (wrong && !wrong.ok) return [{ rule: 'product-on-surface', message: `${wrong.reason} Use ${fits(s)}.` }]
  return s.passed ? endRefusals(s, v) : []
}

/** Why a surface has no end yet: stages without which it has none, oil that is too much. Without any stage kept, its word stands. */
export function endRefusals(s: Pick<StepWork, 'surface' | 'more'>, v: Vehicle): Refusal[] {
  if (!s.more?.stages.length) return []
  const owed = stagesOwed(s.more.stages, stagesOf(s), v.cylinders)
  const oil = oilOf(s)
  return [
    ...(owed.length
      ? [
          {
            rule: 'wash-owed',
            message: `Not at its end: ${owed[0].stage.label}${owed[0].cylinder === undefined ? '' : ` at cylinder ${owed[0].cylinder}`}${owed.length > 1 ? ` and ${owed.length - 1} more` : ''} still to do.`,
          },
        ]
      : []),
    ...(oil?.over ? [{ rule: 'filter-oil', message: oil.said }] : []),
  ]
}

const fits = (s: StepWork): string =>
  escalation(s.surface)
    .map((p) => p.label)
    .join(' or ') || 'what its label names'

/** What was cleaned with what, and how; a surface that several parts have is told by its part. */
export function stepWords(s: StepWork): string {
  const { label } = surfaceInfo(s.surface)
  // what an engine has twice is told by which of the two
  const surface = kindOfStation(s.station) === s.station ? label : `${label} (${stationInfo(s.station).label})`
  const what = s.surface === 'sooted-metal' ? `${stationInfo(s.station).label} freed of soot` : `${surface} cleaned`
  const with_ = productsOf(s)
    .map((id) => productInfo(id).label)
    .join(', ')
  return `${what} with ${with_}, ${wayOn(s.method, s.surface)}${stagesWords(s)}`
}

/** Stages that were done, ports by their number, a filter by its oil. */
function stagesWords(s: StepWork): string {
  const done = doneOf(s)
  if (!done.length) return ''
  const stages = stagesOf(s)
  const whole = stages.filter((x) => !x.perCylinder && done.some((d) => d.id === x.id)).map((x) => x.label)
  const ports = new Set(done.filter((d) => d.id === 'draw-out').flatMap((d) => d.cylinder ?? [])).size
  const days = new Set(done.map((d) => d.at.slice(0, 10))).size
  const oil = oilOf(s)
  const parts = [
    ...(ports ? [`${ports} ${ports === 1 ? 'port' : 'ports'} with valves shut, drawn out`] : []),
    ...(whole.length ? [whole.join(', ')] : []),
    ...(days > 1 ? [`over ${days} days`] : []),
    ...(oil ? [oil.said.replace(/\.$/, '')] : []),
  ]
  return parts.length ? ` (${parts.join('; ')})` : ''
}

/** What is wrong with what is kept of a wash, in words; undefined where nothing is. */
export function stepMoreProblem(x: unknown): string | undefined {
  const more = x as Partial<StepMore> | null
  if (more === null || typeof more !== 'object' || !Array.isArray(more.stages)) return 'must hold a list of stages'
  if (more.stages.length > 400) return 'must hold at most 400 stages'
  for (const d of more.stages as unknown as Record<string, unknown>[]) {
    if (typeof d.id !== 'string' || !ALL_STAGES.has(d.id)) return `stages: ${JSON.stringify(d.id)} is none`
    if (typeof d.at !== 'string' || Number.isNaN(Date.parse(d.at))) return 'stages: at must be a time'
    if (
      d.cylinder !== undefined &&
      !(Number.isInteger(d.cylinder) && Number(d.cylinder) >= 1 && Number(d.cylinder) <= 16)
    )
      return 'stages: cylinder must be 1 to 16'
    if (d.product !== undefined && !PRODUCT_IDS.includes(d.product as ProductId)) return 'stages: product is none'
    if (d.value !== undefined && !(typeof d.value === 'number' && d.value >= 0 && d.value <= 20_000))
      return 'stages: value must be 0 to 20000 g'
  }
  if (more.failed?.some((p) => !PRODUCT_IDS.includes(p))) return 'failed: must hold product classes'
  if (more.oilLabelG !== undefined && !(more.oilLabelG >= 1 && more.oilLabelG <= 500)) return 'oilLabelG: 1 to 500 g'
  return undefined
}

const ALL_STAGES: ReadonlySet<string> = new Set([
  'shut',
  'soften',
  'soak',
  'blast',
  'scrape',
  'scrub',
  'flush',
  'rinse',
  'draw-out',
  'dry',
  'oil',
  'settle',
  'sweep',
  'inspect',
])
