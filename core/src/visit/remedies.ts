import { methodInfo, productInfo, surfaceInfo } from '../cleaning/index.js'
import { LOOKS, spokenBy, TESTS, type FaultId } from '../diagnosis/index.js'
import { kindOfStation, stationInfo, type StationId, type StationKind, type Vehicle } from '../engine/index.js'
import { ADAPTATIONS } from '../procedures/index.js'
import { channelLabels, isIdleRead, lastRound, missingAgainstBaseline, pointsOfRound, readingsOf } from './points.js'
import { type RecordMeta } from './meta.js'
import { live, type RepairKind, type RepairRecord, type RunRecord, type StepRecord, type VisitFile } from './records.js'
import { feedOfRun, procedureOfRun, stateOfRun } from './runs.js'
import { productsOf, stepWords } from './steps.js'
import type { ThrottlesTaken } from './balanceRecords.js'
import { takenOf } from './taken.js'
import { isBalanced } from '../vacuum/index.js'

/** Something that was done to the engine and may have changed what is measured. */
export interface Remedy {
  readonly kind: 'repair' | 'cleaning' | 'feed' | 'relearn' | 'balance'
  /** Records that it consists of. */
  readonly ids: readonly string[]
  /** Where; left out where it concerns the whole engine. */
  readonly station?: StationId
  readonly repair?: RepairKind
  /** When it was done, ISO, by the clock of the device. */
  readonly at: string
  /** Round of readings that stood when it was done; its proof is a later one. */
  readonly afterRound: number
  readonly minutes: number
  /** Parts and products, in the shop's own money. */
  readonly partsPrice: number
  readonly temporary: boolean
  /** What was done, in a few words that begin small: "duct refitted". */
  readonly words: string
  /** The same for a customer, where its kind does not say it. */
  readonly plain?: string
  /** Causes that it answers. */
  readonly answers: readonly FaultId[]
  /** A feed that was stopped before most of it was in: what it was for stands where it stood. */
  readonly unfinished?: true
}

/** Share of its dose from which a feed that was stopped counts as gone in [–]; ours. */
const MOST_OF_DOSE = 0.8

/** Setting up a feed and putting away [min]; getting ready for a relearn [min]. */
const FEED_SETUP_MINUTES = 20
const RELEARN_SETUP_MINUTES = 5

/** Gauges on and off, and one turn with its reading [min]. */
const BALANCE_SETUP_MINUTES = 20
const BALANCE_MINUTES = 4

const REPAIR_WORDS: Readonly<Record<RepairKind, string>> = {
  refit: 'refitted',
  clamp: 'clamped anew',
  wrap: 'wrapped',
  splice: 'spliced',
  cap: 'capped',
  replace: 'renewed',
  reroute: 'put on the right nipple',
  clean: 'cleaned',
  leave: 'left as it is',
}

/** What was done by a repair, in words; of what lies beyond the air path only its note says what it was. */
export const repairWords = (r: Pick<RepairRecord, 'station' | 'kind' | 'note'>): string =>
  r.station !== 'beyond'
    ? // of "runners, bank 1" the bank stands between
      `${stationInfo(r.station).label.replace(/, .*$/, '$&,')} ${REPAIR_WORDS[r.kind]}`
    : (r.note ?? `what was found beyond the air path ${r.kind === 'refit' ? 'put right' : REPAIR_WORDS[r.kind]}`)

const LEAKS: readonly FaultId[] = ['unmetered-air', 'unmetered-air-bank']

/** Causes that let air in past its measuring: only for them is a trim an account of air. */
export const LETS_AIR_IN: readonly FaultId[] = [...LEAKS, 'unmetered-air-duct', 'pcv-stuck-open', 'purge-stuck-open']

/** Causes that work at a station answers. */
const ANSWERS: Readonly<Record<StationKind, readonly FaultId[]>> = {
  inlet: ['intake-restriction'],
  resonator: ['intake-restriction'],
  filter: ['intake-restriction', 'maf-under-reads'],
  'airflow-sensor': ['maf-under-reads', 'maf-over-reads', 'temperature-sensor-implausible'],
  duct: ['unmetered-air-duct'],
  compressor: ['boost-leak', 'unmetered-air-duct'],
  intercooler: ['boost-leak'],
  'boost-pipe': ['boost-leak'],
  // a plate that dirt, its stop or its cable holds open
  throttle: ['throttle-deposits', 'idle-learnt-past', ...LEAKS],
  'throttle-flap': ['throttle-deposits', 'intake-restriction'],
  'intake-temperature': ['temperature-sensor-implausible'],
  'charge-sensor': ['map-sensor-offset', 'boost-leak'],
  'idle-valve': ['idle-valve-stuck', 'throttle-deposits', ...LEAKS],
  plenum: ['intake-restriction', 'runner-restriction', ...LEAKS],
  'map-sensor': ['map-sensor-offset', ...LEAKS],
  pcv: ['pcv-stuck-open', 'pcv-blocked', ...LEAKS],
  separator: ['pcv-stuck-open', 'pcv-blocked', ...LEAKS],
  purge: ['purge-stuck-open', ...LEAKS],
  booster: LEAKS,
  egr: ['egr-open-at-idle', 'egr-no-flow', ...LEAKS],
  'egr-cooler': ['egr-no-flow'],
  'egr-tube': ['egr-no-flow'],
  flaps: ['runner-restriction', ...LEAKS],
  'vacuum-lines': LEAKS,
  'fresh-air-hose': ['pcv-blocked'],
  'regulator-line': ['fuel-delivery-high', ...LEAKS],
  'heater-line': LEAKS,
  'cruise-line': LEAKS,
  'idle-up-valve': LEAKS,
  'boost-control-line': [],
  'secondary-air': LEAKS,
  gaskets: [...LEAKS, 'runner-restriction', 'valve-deposits'],
  'runners-1': [...LEAKS, 'runner-restriction', 'valve-deposits'],
  'runners-2': [...LEAKS, 'runner-restriction', 'valve-deposits'],
  beyond: [
    'fuel-delivery-low',
    'fuel-delivery-high',
    'oxygen-sensor-biased',
    'oxygen-sensors-crossed',
    'exhaust-leak',
    'exhaust-restriction',
    'valve-timing-late',
    'weak-cylinder',
    'ignition-misfire',
    'temperature-sensor-implausible',
  ],
}

/** Runners and ports of a diesel hold the same soot as its manifold, in all of its cylinders. */
export const SOOTED: readonly StationKind[] = ['runners-1', 'runners-2']

/** Causes that work at a station of an engine answers. */
function answersAt(station: StationId, v: Pick<Vehicle, 'fuel'>): readonly FaultId[] {
  const kind = kindOfStation(station)
  return v.fuel === 'diesel' && SOOTED.includes(kind) ? ['intake-restriction', ...ANSWERS[kind]] : ANSWERS[kind]
}

/** Whether work at a station of an engine may answer a cause. */
export const isAnsweredAt = (station: StationId, cause: FaultId, v: Pick<Vehicle, 'fuel'>): boolean =>
  answersAt(station, v).includes(cause)

/** Causes that are mended beyond the air path. */
export const BEYOND_THE_PATH: readonly FaultId[] = ANSWERS.beyond
/** Whether work beyond the air path may have been any of it: nobody said which. */
export const isUnsaid = (r: Pick<Remedy, 'answers'>): boolean => BEYOND_THE_PATH.every((x) => r.answers.includes(x))
const FED_ANSWERS: readonly FaultId[] = ['valve-deposits', 'runner-restriction', 'throttle-deposits', 'egr-no-flow']

/** Round that stood when a record was made, by its own word; others tell it by their time. */
export function roundBefore(f: VisitFile, x: RecordMeta & { readonly afterRound?: number | null }): number {
  if (x.afterRound !== undefined && x.afterRound !== null) return x.afterRound
  const earlier = [...readingsOf(f), ...live(f.recordings)].filter((r) => r.at <= x.at).map((r) => r.round)
  return Math.max(0, ...earlier)
}

/** Volume that went in [mL]: a shot that was begun counts whole, a long one as long as it was. */
export function fedMl(f: VisitFile, r: RunRecord): number {
  if (r.procedure !== 'feed' || !r.feed || !r.events.length) return 0
  const fed = feedOfRun(f, r)
  // a plan that would be refused today was fed all the same
  return fed ? fed.fedMl : r.feed.doseMl
}

const minutesOf = (r: RunRecord): number =>
  r.events.length < 2 ? 0 : Math.ceil((r.events.at(-1)!.atMs - r.events[0].atMs) / 60_000)

const endOf = (r: RunRecord): string => new Date(r.events.at(-1)!.atMs).toISOString()

function repairs(f: VisitFile): Remedy[] {
  return live(f.repairs)
    .filter((r) => r.state === 'done' && r.kind !== 'leave')
    .map((r) => ({
      kind: 'repair',
      ids: [r.id],
      station: r.station,
      repair: r.kind,
      at: r.at,
      afterRound: r.afterRound,
      minutes: r.minutes,
      partsPrice: r.partsPrice,
      temporary: r.temporary,
      words: `${repairWords(r)}${r.temporary ? ' (temporary)' : ''}${r.note && r.station !== 'beyond' ? `: ${r.note}` : ''}${r.againstRule ? ', against the rule, as recorded' : ''}`,
      ...(r.station === 'beyond' ? { plain: repairWords(r) } : {}),
      answers: answersOf(f, r),
    }))
}

/** Ways of a repair that take dirt away with what it sits on. */
const TAKES_DIRT: readonly RepairKind[] = ['clean', 'replace']

/** Whether what was done leaves dirt where it sits. */
export const leavesDirt = (r: Remedy): boolean => r.repair !== undefined && !TAKES_DIRT.includes(r.repair)

/** Whether a repair may have answered a cause of its place: dirt goes by cleaning or with the part, and off the valves by cleaning alone. */
const mayAnswer = (kind: RepairKind, cause: FaultId): boolean =>
  cause === 'valve-deposits' ? false : cause !== 'throttle-deposits' || TAKES_DIRT.includes(kind)

/** Causes that a repair answers: those of its place, or of them those that the find it names is of. */
function answersOf(f: VisitFile, r: RepairRecord): readonly FaultId[] {
  const all = answersAt(r.station, f.vehicle.spec).filter((cause) => mayAnswer(r.kind, cause))
  const named = r.finding ? f.findings.find((x) => x.id === r.finding) : undefined
  const finds = named && TESTS.some((t) => t.id === named.test) ? spokenBy(named) : undefined
  const these = finds ? all.filter((x) => x in finds) : []
  return these.length ? these : all
}

/** A hose that is wiped where it is lets in what it let in before. */
const isWipedOver = (s: StepRecord): boolean => s.surface === 'rubber' && s.method === 'cloth-in-place'

/** Surfaces that reached their end, one remedy a place and round. */
function cleanings(f: VisitFile): Remedy[] {
  const by = new Map<string, Remedy>()
  const told = new Set<string>()
  for (const s of live(f.steps)) {
    if (!s.passed || s.againstRule) continue
    const afterRound = roundBefore(f, s)
    const key = `${s.station} ${afterRound}`
    const before = by.get(key)
    const what = stepWords(s)
    // the same surface once more is the same work gone on with
    const again = told.has(`${key} ${s.surface}`)
    told.add(`${key} ${s.surface}`)
    by.set(key, {
      kind: 'cleaning',
      ids: [...(before?.ids ?? []), s.id],
      station: s.station,
      repair: 'clean',
      at: before && before.at > s.at ? before.at : s.at,
      afterRound,
      minutes: (before?.minutes ?? 0) + (again ? 0 : surfaceInfo(s.surface).minutes),
      partsPrice: (before?.partsPrice ?? 0) + productsOf(s).reduce((sum, id) => sum + productInfo(id).price, 0),
      temporary: false,
      words: before ? `${before.words}; ${what}` : what,
      ...(s.surface === 'intake-valves' ? { plain: 'the intake ports and valves cleaned' } : {}),
      answers: isWipedOver(s) ? (before?.answers ?? []) : answersAt(s.station, f.vehicle.spec),
    })
  }
  return [...by.values()]
}

/** Whether a feed went to its end; of one whose plan a rule refuses that came later nobody can tell. */
const howFarFed = (state: ReturnType<typeof stateOfRun>): string =>
  !state
    ? ', by a plan that would be refused now'
    : state.status === 'passed'
      ? ''
      : `, not to its end: ${(state.reason ?? 'it was stopped').replace(/\.$/, '')}`

/** Feeds of which something went in, and relearns that the controller took. */
function runs(f: VisitFile): Remedy[] {
  return live(f.runs).flatMap((r): Remedy[] => {
    const state = stateOfRun(f, r)
    if (state?.status === 'ready' || state?.status === 'running' || !r.events.length) return []
    const common = { ids: [r.id], at: endOf(r), afterRound: roundBefore(f, r), temporary: false }
    if (r.procedure === 'feed') {
      const ml = fedMl(f, r)
      if (!(ml > 0) || !r.feed) return []
      return [
        {
          ...common,
          kind: 'feed',
          station: r.feed.point,
          minutes: minutesOf(r) + FEED_SETUP_MINUTES,
          partsPrice: productInfo(r.feed.product.kind === 'water' ? 'demineralised-water' : 'intake-cleaner').price,
          words: `${ml.toFixed(0)} mL of ${r.feed.product.kind === 'water' ? 'water' : 'cleaner'} fed, ${methodInfo(r.feed.method).label}${howFarFed(state)}`,
          ...(!state || state.status === 'passed' ? {} : { plain: 'a decarbonizing feed begun and stopped' }),
          ...(!state || state.status === 'passed' || ml >= MOST_OF_DOSE * r.feed.doseMl ? {} : { unfinished: true }),
          answers: FED_ANSWERS,
        },
      ]
    }
    if (state?.status !== 'passed') return []
    const { done = r.procedure, donePlain } = procedureOfRun(r) ?? {}
    const reset = ADAPTATIONS.filter((a) => r.reset?.includes(a.id)).map((a) => a.label)
    return [
      {
        ...common,
        kind: 'relearn',
        minutes: minutesOf(r) + RELEARN_SETUP_MINUTES,
        partsPrice: 0,
        words: `${done}${reset.length ? `: ${reset.join(', ')}` : ''}, attempt ${r.attempt}`,
        plain: donePlain,
        answers: ['idle-learnt-past'],
      },
    ]
  })
}

/**
 * Turns of the throttles' screws, one remedy for those between two measurings. In balance is what the last row of every
 * speed says, whether a screw was turned before it or it was only read again.
 */
function balancings(f: VisitFile): Remedy[] {
  const by = new Map<number, Remedy>()
  const last = new Map<ThrottlesTaken['slot'], boolean>()
  let turning: Omit<Remedy, 'words'> | undefined
  for (const row of takenOf(f.balances, 'throttles')) {
    last.set(row.taken.slot, isBalanced(row.taken.vacuumKpa))
    if (row.taken.turned) {
      const afterRound = roundBefore(f, { ...row, afterRound: undefined })
      const ids = [...(by.get(afterRound)?.ids ?? []), row.id]
      turning = {
        kind: 'balance',
        ids,
        station: 'throttle',
        at: row.at,
        afterRound,
        minutes: BALANCE_SETUP_MINUTES + BALANCE_MINUTES * ids.length,
        partsPrice: 0,
        temporary: false,
        answers: [],
      }
    }
    if (!turning) continue
    const like = [...last.values()].every(Boolean)
    const turns = turning.ids.length
    by.set(turning.afterRound, {
      ...turning,
      words: `${like ? 'throttles balanced' : 'screws of the throttles turned, not in balance yet'}, ${turns} ${turns === 1 ? 'turn' : 'turns'}`,
    })
  }
  return [...by.values()]
}

/**
 * Everything that was done, oldest first: repairs, surfaces cleaned to their end, feeds that went in, relearns that were
 * taken, screws that were turned. The one rule of what opens a round, is priced, is proved and stands under "done".
 */
export function remediesOf(f: VisitFile): Remedy[] {
  const mended = repairs(f)
  // a repair of the kind "clean" and the surface cleaned there are one piece of work: the surface says more
  const cleaned = cleanings(f)
  const told = mended.filter(
    (r) => r.repair !== 'clean' || !cleaned.some((c) => c.station === r.station && c.afterRound === r.afterRound),
  )
  return [...told, ...cleaned, ...runs(f), ...balancings(f)].sort(
    (a, b) => a.afterRound - b.afterRound || a.at.localeCompare(b.at),
  )
}

/** Repairs that are planned and that nothing done since has answered. */
export const plannedRepairs = (f: VisitFile): RepairRecord[] => {
  const cleaned = new Set(cleanings(f).map((c) => c.station))
  return live(f.repairs).filter((r) => r.state === 'planned' && !(r.kind === 'clean' && cleaned.has(r.station)))
}

/** Stations where a remedy is done. */
export const mendedStations = (f: VisitFile): ReadonlySet<StationId> =>
  new Set(
    remediesOf(f)
      .filter((r) => r.kind !== 'feed' && r.kind !== 'balance')
      .flatMap((r) => (r.station ? [r.station] : [])),
  )

/** Stations whose find is left as it is by a person's word. */
export const leftStations = (f: VisitFile): ReadonlySet<StationId> =>
  new Set(live(f.repairs).flatMap((r) => (r.kind === 'leave' && r.state === 'done' ? [r.station] : [])))

/** Round that readings taken now belong to: a remedy since the last ones opens a new one. */
export function roundToFill(f: VisitFile): number {
  const done = remediesOf(f)
  if (!done.length) return 0
  return Math.max(lastRound(f), Math.max(...done.map((r) => r.afterRound)) + 1)
}

/** Whether anything was measured after the last remedy: the newest round where it was, else undefined. */
function roundSince(f: VisitFile): number | undefined {
  const last = lastRound(f)
  return remediesOf(f).some((r) => r.afterRound >= last) ? undefined : last
}

/** Causes of which an idle says nothing: they show where the most air goes. */
export const AT_FULL_LOAD: readonly FaultId[] = ['boost-leak', 'intake-restriction', 'exhaust-restriction']

/** From this chance a look sees a cause well enough that work on it is for that [–]. */
const SEEN = 0.3

/** Whether work on what only a pull shows stands without the pull that the baseline has. */
function lacksPull(f: VisitFile): boolean {
  const found = (x: FaultId): boolean =>
    live(f.findings).some(
      (y) =>
        y.outcome === 'fail' &&
        ((TESTS.find((t) => t.id === y.test)?.finds[x] ?? 0) >= 0.5 ||
          (y.test === 'look' && y.item !== undefined && (LOOKS[y.item]?.finds[x] ?? 0) >= SEEN)),
    )
  const isFlat = f.visit.signs.includes('flat')
  // a filter is changed for many reasons, a charge hose for one
  const done = remediesOf(f).filter((r) => {
    const these = r.answers.filter((x) => AT_FULL_LOAD.includes(x))
    return these.length > 0 && (these.length === r.answers.length || isFlat || these.some(found))
  })
  if (!done.length) return false
  const since = Math.max(...done.map((r) => r.afterRound)) + 1
  const pulled = (round: number): boolean => pointsOfRound(f, round).some((p) => p.kind === 'pull')
  // at another speed it is not compared row by row, and is weighed all the same
  const again = Array.from({ length: Math.max(0, lastRound(f) + 1 - since) }, (_, i) => since + i).some(pulled)
  return pulled(0) && !again
}

/** True when the same points were measured again after the last remedy: the idle with all that the baseline has of it, and the pull where only that shows. */
export function isProved(f: VisitFile): boolean {
  const round = remediesOf(f).length ? roundSince(f) : undefined
  return round !== undefined && !missingAgainstBaseline(f, round).length && !lacksPull(f)
}

/** Whether the idle was read after the last remedy, with all that the baseline has of it, in part, or not; then whether after some of the others. */
export function idleSince(f: VisitFile): 'since' | 'in-part' | 'between' | 'before' {
  const round = roundSince(f)
  if (round === undefined || !isIdleRead(f, round)) {
    const last = lastRound(f)
    return isIdleRead(f, last) && remediesOf(f).some((r) => r.afterRound < last) ? 'between' : 'before'
  }
  return missingAgainstBaseline(f, round).length ? 'in-part' : 'since'
}

/** What an idle read again after the last remedy still lacks to be its proof, in words; undefined where it was not read again. */
export function lackingSince(f: VisitFile): string[] | undefined {
  const round = roundSince(f)
  if (round === undefined || !isIdleRead(f, round)) return undefined
  return [...channelLabels(missingAgainstBaseline(f, round)), ...(lacksPull(f) ? ['the full pull'] : [])]
}

/**
 * How a reading stands to what was done before it was typed: into a round that is closed a new one comes too late, and one
 * that stands is changed only by the word of a correction.
 * @param current - the same reading as it is kept, where it is
 */
export function readingTooLate(
  f: VisitFile,
  r: { readonly round: number; readonly at: string; readonly value: number; readonly corrected?: boolean | null },
  current: { readonly value: number } | null,
): 'late' | 'uncorrected' | undefined {
  const closedSince = remediesOf(f).some((x) => x.afterRound >= r.round && x.at < r.at)
  if (!closedSince || r.corrected === true) return undefined
  if (!current) return 'late'
  return current.value === r.value ? undefined : 'uncorrected'
}
