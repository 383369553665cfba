import { faultOf, findWords, testInfo, type Diagnosis } from '../../diagnosis/index.js'
import { stationInfo, trimBanksOf } from '../../engine/index.js'
import { maybeChannel, type OperatingPoint } from '../../signals/index.js'
import { QUANTITIES } from '../../units/index.js'
import { isSamePoint, pointWords } from '../../proof/index.js'
import { methodInfo } from '../../cleaning/index.js'
import { isAccountOfAir, stopsAir } from '../ofAir.js'
import { lastRound, pointsOfRound } from '../points.js'
import { live, type FindingRecord, type VisitFile } from '../records.js'
import { remediesOf } from '../remedies.js'
import { roadTestOf } from '../roadTest.js'
import { feedOfRun } from '../runs.js'
import { figuresSaid } from '../testForms.js'
import { visitLedger, type UnmeteredAir } from '../unmetered.js'
import { cap, line } from '../words.js'

/** A figure at one point, round by round; null where a round has none. */
export interface ReadingRow {
  readonly point: string
  readonly label: string
  readonly unit: string
  readonly values: readonly (number | null)[]
}

/** What a technician wants to know of the visit beyond the customer's page. */
export interface Technical {
  /** Names of the rounds, the baseline first. */
  readonly rounds: readonly string[]
  readonly readings: readonly ReadingRow[]
  /** Causes at the baseline and after the last round [–]. */
  readonly causes: readonly { readonly label: string; readonly before: number; readonly after: number }[]
  readonly tests: readonly string[]
  readonly account: readonly string[]
  /** Stretches of the road test that were recorded; those that were not stand with "not recorded". */
  readonly road?: readonly string[]
  readonly doses: readonly string[]
  readonly torques: readonly string[]
  readonly photos: readonly string[]
  readonly hands: readonly string[]
}

const POINTS: readonly OperatingPoint['kind'][] = ['key-on', 'idle', 'idle-load', 'hold', 'cruise', 'pull']
/** What is judged at every point, and what stands beside it at idle and with the engine off; every other channel is in the visit file. */
const FIGURES: readonly (keyof OperatingPoint['means'])[] = [
  'rpm',
  'maf_gs',
  'map_kpa',
  'gauge_vacuum_kpa',
  'trim1_pct',
  'trim2_pct',
  'throttle_pct',
  'idle_valve_pct',
  'charge_kpa',
]
const OF_PULL: readonly (keyof OperatingPoint['means'])[] = ['lambda1', 'lambda2', 'lambda_cmd']
const BESIDE: readonly (keyof OperatingPoint['means'])[] = ['ect_c', 'iat_c', 'baro_kpa', 'battery_v']
/** Causes below this before and after are left out [–]. */
const NAMED = 0.03
const CAUSES_MOST = 6

/** @param d - of the baseline; `now` of the last round. @param air - whether what the trims ask for is air; it is not where the visit names a cause that lets none in */
export function technicalOf(
  f: VisitFile,
  d: Diagnosis,
  now: Diagnosis,
  air: 'is' | 'may be' | 'is not' = 'is',
): Technical {
  const last = lastRound(f)
  const rounds = Array.from({ length: last + 1 }, (_, r) => pointsOfRound(f, r))
  return {
    rounds: rounds.map((_, r) => (r === 0 ? 'baseline' : r === last ? 'last' : `round ${r}`)),
    readings: readingRows(rounds, trimBanksOf(f.vehicle.spec) === 2),
    causes: causeRows(d, now),
    tests: live(f.findings)
      .filter((x) => x.test !== 'look' && x.test !== 'note')
      .map((x) =>
        line(
          `${testInfo(x.test).label}${placeSaid(x)}${x.afterWork ? ', after the work' : ''}: ${figuresSaid(f, x)?.said ?? (x.outcome === 'fail' ? findWords(x) : OUTCOMES[x.outcome])}`,
        ),
      ),
    account: accountLines(f, now, air),
    ...roadLines(f),
    doses: doseLines(f),
    torques: torqueLines(f),
    photos: photoLines(f),
    hands: handsOf(f),
  }
}

/** Where a test was made that can be made anywhere. */
const placeSaid = (x: FindingRecord): string => (testInfo(x.test).at ? '' : ` at the ${stationInfo(x.station).label}`)

const OUTCOMES = { pass: 'nothing found', unclear: 'not clear' } as const

function readingRows(rounds: readonly (readonly OperatingPoint[])[], banks: boolean): ReadingRow[] {
  const points: OperatingPoint[] = []
  for (const p of rounds.flat()) if (POINTS.includes(p.kind) && !points.some((x) => isSamePoint(x, p))) points.push(p)
  points.sort((a, b) => POINTS.indexOf(a.kind) - POINTS.indexOf(b.kind) || a.rpm - b.rpm)
  const beside = points.find((p) => p.kind === 'idle') ?? points[0]
  return points.flatMap((first) => {
    const point = pointWords(first)
    const at = rounds.map((ps) => ps.find((p) => isSamePoint(first, p)))
    const wanted = [
      ...FIGURES,
      ...(first.kind === 'pull' && at.some((p) => p?.means.lambda1 !== undefined) ? OF_PULL : []),
      ...(first === beside || first.kind === 'key-on' ? BESIDE : []),
    ]
    const channels = wanted.filter((id) => at.some((p) => p?.means[id] !== undefined))
    return channels.flatMap((id): ReadingRow[] => {
      const info = maybeChannel(id)
      const label = info ? info.label : banks ? `total trim, bank ${id.charAt(4)}` : 'total trim'
      const unit = info ? QUANTITIES[info.quantity].units[0].symbol : '%'
      return [{ point, label, unit, values: at.map((p) => p?.means[id] ?? null) }]
    })
  })
}

function causeRows(d: Diagnosis, now: Diagnosis): Technical['causes'] {
  const of = (x: Diagnosis, fault: string): number => x.ranking.find((r) => r.fault === fault)?.probability ?? 0
  const faults = [...new Set([...d.ranking, ...now.ranking].map((r) => r.fault))]
  return faults
    .map((fault) => ({ label: faultOf(fault).label, before: of(d, fault), after: of(now, fault) }))
    .filter((c) => Math.max(c.before, c.after) >= NAMED)
    .sort((a, b) => Math.max(b.before, b.after) - Math.max(a.before, a.after))
    .slice(0, CAUSES_MOST)
}

/** Less air than this is none in a figure of hundredths [g/s]. */
const LEAST_SAID_GS = 0.005

function accountLines(f: VisitFile, now: Diagnosis, is: 'is' | 'may be' | 'is not'): string[] {
  const a = visitLedger(f)
  const beside = is === 'is not'
  if (!a) return []
  const asIf = (g: { median: number }): string => `as if ${g.median.toFixed(2)} g/s came in unmetered`
  const none = 'The trims ask for no more air than a sound engine’s.'
  if (!beside && a.accounted && a.before.gramsPerS.low <= 0) return [none]
  // by the rule of the screens: work that stops no air has taken none away
  if (!beside && remediesOf(f).length && !isAccountOfAir(f, now))
    return [
      `At the baseline the trims stood ${asIf(a.before.gramsPerS)}, now ${asIf(a.now.gramsPerS)}.${stopsAir(remediesOf(f)) ? '' : ' Nothing that was done here stops air.'}`,
    ]
  if (beside && !a.accounted)
    return [`The trims stand ${asIf(a.now.gramsPerS)}. If the cause named above is right, none does.`]
  if (beside)
    return [
      a.now.round > 0 && a.before.gramsPerS.low > 0
        ? `At the baseline the trims stood ${asIf(a.before.gramsPerS)}; by the cause named above none did. They ask for no more now than a sound engine’s.`
        : none,
    ]
  // what ran rich from the first let in nothing unmeasured
  if (a.before.gramsPerS.high < LEAST_SAID_GS) return [none]
  const span = ({ gramsPerS: g, atLeast }: UnmeteredAir): string =>
    atLeast
      ? `${g.low.toFixed(2)} to ${g.high.toFixed(2)} g/s (trims at their stop)`
      : `${g.median.toFixed(2)} g/s (${g.low.toFixed(2)} to ${g.high.toFixed(2)})`
  const may = is === 'may be'
  const baseline = `${may ? 'If what the trims show is air, unmetered' : 'Unmetered'} air at the baseline ${span(a.before)}`
  // before it is measured again nothing is known of what is left
  if (a.now.round === 0) return [`${baseline}.`, 'That is more than a sound engine shows.']
  return [
    `${baseline}, at the last round ${span(a.now)}.`,
    a.accounted
      ? 'What is left is within a sound engine’s spread.'
      : `More ${may ? 'would be' : 'is'} left than a sound engine shows.`,
  ]
}

/** The road test, where any of it was recorded. */
function roadLines(f: VisitFile): Pick<Technical, 'road'> {
  const legs = roadTestOf(f)
  if (!legs.some((l) => l.seen)) return {}
  return { road: legs.map((l) => line(`${l.id}: ${l.seen?.said ?? 'not recorded'}`)) }
}

const doseLines = (f: VisitFile): string[] =>
  live(f.runs)
    .filter((r) => r.procedure === 'feed' && r.feed && r.events.length)
    .map((r) => {
      const fed = feedOfRun(f, r)
      const ml = fed?.fedMl ?? 0
      return line(
        `${ml.toFixed(0)} of ${r.feed!.doseMl.toFixed(0)} mL at the ${stationInfo(r.feed!.point).label}, ${methodInfo(r.feed!.method).label}, ${r.feed!.rpm.toFixed(0)} rpm held, in ${fed?.shots.length ?? 0} shots`,
      )
    })

const torqueLines = (f: VisitFile): string[] =>
  live(f.items)
    .filter((i) => ['bolt', 'nut', 'stud', 'screw'].includes(i.more?.kind ?? '') && i.state === 'on')
    .map((i) => {
      const t = i.more?.torque
      const said = t
        ? `${t.value} ${t.unit}, by the ${t.from === 'generic' ? 'general table' : t.from}`
        : 'torque unknown'
      return line(
        `${i.count} × ${i.name} at the ${stationInfo(i.station).label}${i.drive ? `, ${i.drive}` : ''}: ${said}`,
      )
    })

function photoLines(f: VisitFile): string[] {
  const by = new Map<string, number>()
  for (const p of live(f.photos)) by.set(p.station, (by.get(p.station) ?? 0) + 1)
  return [...by].map(([station, n]) => cap(`${stationInfo(station as never).label}: ${n}.`))
}

/** Who entered what of it. */
function handsOf(f: VisitFile): string[] {
  const names = [...f.readings, ...f.findings, ...f.repairs, ...f.runs, ...f.steps].map((r) => r.by)
  return [...new Set([...names, ...remediesOf(f).map(() => f.visit.by)])].filter(Boolean)
}
