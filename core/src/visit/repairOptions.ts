import { LOOKS_ALIKE } from '../diagnosis/index.js'
import { kindOfStation, type StationId, type StationKind, type Vehicle } from '../engine/index.js'
import type { FindingRecord, RepairKind } from './records.js'
import { labelForbids } from './steps.js'

/** One way to mend a place: what it costs, how long it lasts, under which conditions. */
export interface RepairOption {
  readonly kind: RepairKind
  readonly label: string
  readonly minutes: number
  readonly partsPrice: number
  /** Chance that it is back within three months [–]; ours, a shop's own record will replace it. */
  readonly comesBack: number
  readonly temporary: boolean
  /** Days to wait for a part: 0 when nothing is ordered; 'bus' for the next parts bus. */
  readonly wait: 'none' | 'bus'
  readonly condition: string
}

const o = (
  kind: RepairKind,
  label: string,
  minutes: number,
  partsPrice: number,
  comesBack: number,
  temporary: boolean,
  wait: 'none' | 'bus',
  condition: string,
): RepairOption => ({
  kind,
  label,
  minutes,
  partsPrice,
  comesBack,
  temporary,
  wait,
  condition,
})

const refit = o('refit', 'Push back on', 4, 0, 0.25, false, 'none', 'the rubber is sound and soft, the seat clean')
const clamp = o('clamp', 'Push on, new clamp from stock', 8, 4, 0.1, false, 'none', 'the rubber is sound and soft')
const wrap = o(
  'wrap',
  'Wrap with self-bonding tape',
  12,
  6,
  0.4,
  true,
  'none',
  'dry, clean, stretched, half overlapped; suction side only',
)
const splice = o(
  'splice',
  'Cut out the bad piece, splice',
  15,
  6,
  0.15,
  false,
  'none',
  'enough sound hose is left; suction side',
)
const capOff = o('cap', 'Cap the nipple', 4, 2, 0.15, false, 'none', 'nothing belongs on it')
const reroute = o(
  'reroute',
  'Put it on the right nipple',
  6,
  0,
  0.02,
  false,
  'none',
  'the routing is known, not guessed',
)
const renew = o('replace', 'New part', 30, 85, 0.03, false, 'bus', 'the right variant is to be had')
const leave = o(
  'leave',
  'Leave it, and say so',
  0,
  0,
  0,
  false,
  'none',
  'agreed with the customer; it stands on the sheet as left',
)
const clean = (minutes: number, price: number, comesBack: number, condition: string): RepairOption =>
  o(
    'clean',
    'Clean it; its surface on the Clean bench says when it ends',
    minutes,
    price,
    comesBack,
    false,
    'none',
    condition,
  )

const rubber: readonly RepairOption[] = [refit, clamp, wrap, splice, renew, leave]

const hard: readonly RepairOption[] = [
  o('refit', 'Tighten or reseat', 10, 2, 0.25, false, 'none', 'the face is flat and the seal whole'),
  o('replace', 'New gasket or part', 60, 40, 0.04, false, 'bus', 'access and fasteners allow it'),
  leave,
]

const clip = (label: string, condition: string): RepairOption => o('refit', label, 4, 0, 0.1, false, 'none', condition)
const newBody = o(
  'replace',
  'New throttle',
  60,
  240,
  0.03,
  false,
  'bus',
  'its edge or coating is gone; taught afterwards',
)
const cleanThrottle = clean(30, 6, 0.2, 'key out and away; a coated bore is only wiped')
const cleanFlap = clean(40, 6, 0.3, 'key out and away; soot soaked off its shaft and seat')
const cleanFlaps = clean(120, 12, 0.3, 'manifold off; swept by hand and by command before closing')
const cleanElement = clean(25, 9, 0.2, 'element untouched, fully dry before power; re-measure decides')
const newElement = o('replace', 'New element', 8, 18, 0.02, false, 'none', 'in stock')
const cleanFilter = clean(20, 1, 0.1, 'a washable element; dry through before it goes in')
const newSensor = o(
  'replace',
  'New sensor',
  20,
  190,
  0.05,
  false,
  'bus',
  'cleaned once and still outside; ask first whether element and housing are a calibrated pair',
)

/** Ways to answer a find by station; prices are the demo shop's list, in its own money. */
const TABLE: Partial<Record<StationKind, readonly RepairOption[]>> = {
  duct: rubber,
  pcv: [...rubber.slice(0, -1), clean(20, 2, 0.2, 'vent and hoses are whole, only sooted or oiled'), leave],
  booster: rubber,
  purge: rubber,
  'vacuum-lines': [
    o('refit', 'Cut back and push on', 5, 0, 0.15, false, 'none', 'enough sound hose is left'),
    capOff,
    reroute,
    splice,
    wrap,
    renew,
    leave,
  ],
  plenum: [capOff, ...hard],
  'idle-valve': [clean(30, 6, 0.25, 'it moves by command; swept afterwards'), ...rubber],
  inlet: [clip('Put in place, clear it', 'its clips whole'), renew, leave],
  throttle: [cleanThrottle, ...hard],
  'throttle-flap': [cleanFlap, ...hard],
  flaps: [cleanFlaps, ...hard],
  egr: [clean(45, 6, 0.3, 'valve and passage off the car; new gasket'), ...hard],
  gaskets: hard,
  'boost-pipe': [clamp, renew, leave],
  intercooler: hard,
  'map-sensor': [clean(15, 4, 0.2, 'port only, nothing poked inward'), reroute, ...hard],
  beyond: [
    o(
      'refit',
      'Put right',
      15,
      0,
      0.1,
      false,
      'none',
      'what the test found is set, plugged or tightened as it belongs',
    ),
    o('replace', 'New part', 60, 0, 0.05, false, 'bus', 'a second test names the same part; its price is typed'),
    leave,
  ],
  'airflow-sensor': [cleanElement, clip('Seat it, plug it in', 'seal whole, arrow with the flow'), newSensor, leave],
  filter: [newElement, clip('Seat the box, shut the clips', 'clips whole'), cleanFilter, leave],
}

const SEATED: readonly RepairKind[] = ['refit', 'replace', 'leave']
const HOSE: readonly RepairKind[] = ['refit', 'clamp', 'wrap', 'splice', 'replace', 'leave']
// where a clamp is missing a wrap holds until the part is there
const ON_AGAIN: readonly RepairKind[] = ['refit', 'clamp', 'wrap', 'replace', 'leave']

/** Ways that answer what a look found, by place and the look's number there: of the place's the kinds that do; all of the place's where it is not named. */
const WAYS: Partial<Record<StationKind, Readonly<Record<string, readonly RepairKind[]>>>> = {
  throttle: { 2: SEATED, 3: SEATED },
  'throttle-flap': { 2: SEATED },
  flaps: { 2: SEATED },
  egr: { 1: SEATED },
  'map-sensor': { 1: SEATED },
  'airflow-sensor': { 1: SEATED },
  filter: { 1: SEATED, 3: SEATED },
  duct: { 1: ON_AGAIN, 2: ['wrap', 'splice', 'replace', 'leave'], 3: ['replace', 'leave'] },
  pcv: { 1: HOSE, 2: SEATED },
  'idle-valve': { 1: HOSE, 2: SEATED },
  'boost-pipe': { 2: ['replace', 'leave'] },
}

/** Of what does not do its own work: cleaned or renewed. */
const VALVE: readonly RepairKind[] = ['clean', 'replace', 'leave']
/** Ways that answer what a test found: a valve that does not do its work is neither pushed on nor wrapped; all of the place's where it is not named. */
const BY_TEST: Readonly<Record<string, readonly RepairKind[]>> = {
  'pcv-grommet': VALVE,
  'oil-cap': VALVE,
  'pcv-rattle': VALVE,
  'egr-hand-pump': VALVE,
  'egr-passage-look': VALVE,
  'idle-valve-sweep': ['clean', 'refit', 'replace', 'leave'],
  // it stands open itself: no hose of it
  'purge-pinch': ['replace', 'leave'],
  'purge-hold': ['replace', 'leave'],
  'map-key-on': VALVE,
  'maf-unplugged': VALVE,
}

/** Ways that answer the dirt that a look found: neither tightening nor a gasket does. */
const DIRT: Partial<Record<StationKind, Readonly<Record<string, readonly RepairOption[]>>>> = {
  throttle: { 1: [cleanThrottle, newBody, leave] },
  'throttle-flap': { 1: [cleanFlap, renew, leave] },
  'airflow-sensor': { 2: [cleanElement, newSensor, leave] },
  filter: { 2: [newElement, cleanFilter, leave] },
}

/** Ways that answer what a test found, where they are others than the place's. */
const OF_TEST: Readonly<Record<string, readonly RepairOption[]>> = {
  'runner-look': [
    clean(120, 12, 0.2, 'manifold off, every port covered; what hung loose is counted out'),
    o(
      'replace',
      'New flap, gasket or manifold',
      150,
      160,
      0.03,
      false,
      'bus',
      'what reaches in is broken, and no dirt',
    ),
    leave,
  ],
}

/** Place and number of a look by its id. */
const partsOf = (item: string | undefined): readonly [StationKind | undefined, string] => {
  const [station, n] = item?.split('.') ?? []
  return [station === undefined ? undefined : kindOfStation(station as StationId), n ?? '']
}

type Found = Pick<FindingRecord, 'test' | 'item'>

const dirtWays = (x: Found): readonly RepairOption[] | undefined => {
  const [kind, n] = partsOf(x.item ?? LOOKS_ALIKE[x.test])
  return kind && DIRT[kind]?.[n]
}

/** Whether what a find tells of is dirt, and no part that let go. */
export const isOfDirt = (x: Found): boolean => dirtWays(x) !== undefined

/**
 * Ways to mend a station of an engine, cheapest first; what its label forbids to clean is not cleaned.
 * @param finds - what asks for it there: only ways that answer it, where each of them tells which do
 */
export const repairOptionsFor = (
  v: Vehicle,
  station: StationId,
  finds: readonly Found[] = [],
): readonly RepairOption[] =>
  repairOptionsAt(station, finds).filter((o) => o.kind !== 'clean' || !labelForbids(v, station))

/** Ways to mend a station of any engine, cheapest first. @param finds - see `repairOptionsFor` */
export function repairOptionsAt(station: StationId, finds: readonly Found[] = []): readonly RepairOption[] {
  const all = TABLE[kindOfStation(station)] ?? hard
  if (!finds.length) return all
  const ways = finds.map((x) => {
    const [, n] = partsOf(x.item)
    const kinds = x.test === 'look' ? WAYS[kindOfStation(station)]?.[n] : BY_TEST[x.test]
    return OF_TEST[x.test] ?? dirtWays(x) ?? (kinds ? all.filter((o) => kinds.includes(o.kind)) : all)
  })
  if (ways.includes(all) && !finds.some((x) => x.test in OF_TEST)) return all
  // one of a kind: what renews a dirty part renews its gasket with it
  const byKind = new Map<RepairKind, RepairOption>()
  for (const way of [...finds.map(dirtWays).filter((way) => way !== undefined), ...ways])
    for (const o of way) byKind.set(o.kind, byKind.get(o.kind) ?? o)
  const { leave: last, ...rest } = Object.fromEntries(byKind) as Partial<Record<RepairKind, RepairOption>>
  return [...Object.values(rest), ...(last ? [last] : [])]
}

/** Cost of an option with its risk priced in: parts and labour now, and the chance of doing it all again. */
export function expectedCost(
  x: RepairOption,
  labourPerHour: number,
): { readonly now: number; readonly withRisk: number } {
  const now = x.partsPrice + (labourPerHour * x.minutes) / 60
  return { now, withRisk: now * (1 + x.comesBack) }
}

/** Next day on which parts arrive, after today. @param partsDays - 1 Monday to 7 Sunday @param today - yyyy-mm-dd @returns yyyy-mm-dd, or undefined without any such day */
export function nextPartsDay(partsDays: readonly number[], today: string): string | undefined {
  const from = Date.parse(`${today}T00:00:00Z`)
  for (let k = 1; k <= 7; k++) {
    const day = new Date(from + k * 86_400_000)
    if (partsDays.includes(day.getUTCDay() || 7)) return day.toISOString().slice(0, 10)
  }
  return undefined
}
