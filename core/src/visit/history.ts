import { theilSen, TREND_LEAST, type Trend } from '../statistics/index.js'
import { expectedAirflow } from '../expectation/index.js'
import { stationInfo, type Driving, type Vehicle } from '../engine/index.js'
import { visitDeposits } from './deposits.js'
import { complaintOf } from './figures.js'
import { placeOf, vehicleAtPlace } from './place.js'
import { livingPoints } from './living.js'
import { isIdleMeasured, manifoldKpaOf } from './points.js'
import { live, type VisitFile } from './records.js'
import { remediesOf, repairWords } from './remedies.js'

/** What is followed from visit to visit, at warm idle as the car came. */
export type DriftId = 'idle-used' | 'trim' | 'air-ratio' | 'map' | 'vacuum'

export const DRIFTS: readonly { readonly id: DriftId; readonly label: string; readonly unit: string }[] = [
  { id: 'idle-used', label: 'range of idle control used', unit: '%' },
  { id: 'trim', label: 'total trim, the bank farther from 0', unit: '%' },
  { id: 'air-ratio', label: 'airflow against expected', unit: '%' },
  { id: 'map', label: 'manifold pressure', unit: 'kPa' },
  { id: 'vacuum', label: 'gauge vacuum', unit: 'kPa' },
]

/** One visit of a car as its history shows it. */
export interface HistoryRow {
  readonly visitId: string
  readonly openedAt: string
  readonly odometerKm?: number
  readonly state: 'open' | 'handed-over'
  readonly complaint: string
  /** As the car came. */
  readonly figures: Readonly<Partial<Record<DriftId, number>>>
  readonly done: readonly string[]
  readonly parts: readonly string[]
  /** What was promised or advised on its newest sheet. */
  readonly promised: readonly string[]
  /** Throttle or idle valve was cleaned: growth begins anew. */
  readonly cleaned: boolean
}

/** A visit, drawn together. */
export function historyRow(f: VisitFile): HistoryRow {
  const remedies = remediesOf(f)
  const sheet = live(f.reports).at(-1)?.sheet as { advised?: readonly string[] } | undefined
  return {
    visitId: f.visit.id,
    openedAt: f.visit.openedAt,
    ...(f.visit.odometerKm === undefined ? {} : { odometerKm: f.visit.odometerKm }),
    state: f.visit.state,
    complaint: complaintOf(f.visit),
    figures: figuresOf(f),
    done: remedies.map((r) => r.words),
    parts: live(f.repairs)
      .filter((r) => r.state === 'done' && r.kind === 'replace')
      .map((r) => (r.station === 'beyond' ? repairWords(r) : stationInfo(r.station).label)),
    promised: sheet?.advised ?? [],
    cleaned: remedies.some((r) => r.kind === 'cleaning' && (r.station === 'throttle' || r.station === 'idle-valve')),
  }
}

function figuresOf(f: VisitFile): HistoryRow['figures'] {
  if (!isIdleMeasured(f, 0)) return {}
  const idle = livingPoints(f, 0).find((p) => p.kind === 'idle')
  if (!idle) return {}
  const v = vehicleAtPlace(f)
  const { pressurePa, intakeC } = placeOf(f.visit)
  const deposits = visitDeposits(f, 0)
  const trims = [idle.means.trim1_pct, idle.means.trim2_pct].filter((x) => x !== undefined)
  const { maf_gs: maf, gauge_vacuum_kpa: vacuum } = idle.means
  const map = manifoldKpaOf(idle)
  const expected =
    maf === undefined
      ? undefined
      : expectedAirflow({
          displacementL: v.displacementL,
          rpm: idle.rpm,
          ambientPa: pressurePa,
          intakeC,
          manifoldPa: map === undefined ? undefined : map * 1000,
          load: 'none',
          turbo: v.induction === 'turbo',
        })
  return {
    ...(deposits ? { 'idle-used': 100 * (1 - deposits.authority) } : {}),
    ...(trims.length ? { trim: trims.reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a)) } : {}),
    ...(maf !== undefined && expected ? { 'air-ratio': (100 * maf * 1e-3) / expected.kgS } : {}),
    ...(map === undefined ? {} : { map }),
    ...(vacuum === undefined ? {} : { vacuum }),
  }
}

/** When a car should be looked at again, and why. */
export interface NextLook {
  readonly say: string
  /** yyyy-mm-dd; left out where nothing gives one. */
  readonly dueOn?: string
  /** Odometer at which it is due. */
  readonly atKm?: number
  readonly trend?: Trend
}

/** Idle control is at its end here [% of its range], and no look is worth more often than this [km]. */
const AT_ITS_END = 85
const SENSIBLE_KM = 10_000
/** Without a trend: distance by injection, shortened by how it is driven [km, –]; ours. */
const FALLBACK_KM = { direct: 40_000, port: 60_000, carburettor: 30_000 } as const
const SHORTER: Readonly<Record<Driving, number>> = {
  'short-trips': 0.6,
  dust: 0.7,
  'oiled-filter': 0.8,
  motorway: 1.25,
}
const DAY_MS = 86_400_000

/** Kilometres a day by the first and the last odometer of its visits; undefined without two. */
function kmPerDay(rows: readonly HistoryRow[]): number | undefined {
  const known = rows.filter((r) => r.odometerKm !== undefined)
  const [first, last] = [known.at(0), known.at(-1)]
  if (!first || !last) return undefined
  const days = (Date.parse(last.openedAt) - Date.parse(first.openedAt)) / DAY_MS
  const km = last.odometerKm! - first.odometerKm!
  return days >= 7 && km > 0 ? km / days : undefined
}

/**
 * The next look by trend first, by engine and driving without one; never by a calendar alone.
 * @param rows - visits of the car, oldest first
 */
export function nextLook(rows: readonly HistoryRow[], v: Pick<Vehicle, 'injection' | 'driving'>): NextLook {
  const sinceClean = rows.slice(rows.reduce((at, r, i) => (r.cleaned ? i + 1 : at), 0))
  const points = sinceClean.flatMap((r) =>
    r.odometerKm !== undefined && r.figures['idle-used'] !== undefined
      ? [{ x: r.odometerKm, y: r.figures['idle-used'] }]
      : [],
  )
  const trend = theilSen(points)
  const last = rows.filter((r) => r.odometerKm !== undefined).at(-1)
  const daily = kmPerDay(rows)
  const due = (km: number): Pick<NextLook, 'dueOn' | 'atKm'> => ({
    ...(last ? { atKm: Math.round((last.odometerKm! + km) / 100) * 100 } : {}),
    ...(last && daily
      ? { dueOn: new Date(Date.parse(last.openedAt) + (km / daily) * DAY_MS).toISOString().slice(0, 10) }
      : {}),
  })
  const at = (d: Pick<NextLook, 'dueOn' | 'atKm'>): string =>
    [d.atKm === undefined ? '' : `at about ${d.atKm.toLocaleString('en')} km`, d.dueOn ? `around ${d.dueOn}` : '']
      .filter(Boolean)
      .join(', ')
  if (trend) {
    const used = points.at(-1)!.y
    if (!(trend.low > 0))
      return {
        trend,
        say: `Idle control uses ${used.toFixed(0)} % of its range and shows no growth over ${trend.n} visits: no look is due by trend. Come when something is felt.`,
      }
    const left = Math.max(0, AT_ITS_END - used)
    const km = Math.max(SENSIBLE_KM, left / trend.slope)
    const [soonest, latest] = [left / trend.high, left / trend.low].map((x) => Math.max(SENSIBLE_KM, x))
    const d = due(km)
    return {
      ...d,
      trend,
      say: `Idle control uses ${used.toFixed(0)} % of its range and ${(10_000 * trend.slope).toFixed(1)} % more every 10,000 km: at its end in ${soonest.toFixed(0)} to ${latest.toFixed(0)} km. Look at the throttle ${at(d) || `after ${km.toFixed(0)} km`}.`,
    }
  }
  const driving = v.driving ?? []
  const km = Math.max(
    SENSIBLE_KM,
    driving.reduce<number>((x, d) => x * SHORTER[d], FALLBACK_KM[v.injection]),
  )
  const d = due(km)
  const why = driving.length ? ` and ${driving.map((x) => DRIVING_WORDS[x]).join(', ')}` : ''
  return {
    ...d,
    say: `Too few visits for a trend (${points.length} of ${TREND_LEAST} since its last cleaning). By ${INJECTION_WORDS[v.injection]}${why}: a look ${at(d) || `after ${(Math.round(km / 1000) * 1000).toLocaleString('en')} km`}, sooner when something is felt.`,
  }
}

const INJECTION_WORDS = { direct: 'direct injection', port: 'port injection', carburettor: 'its carburettor' } as const
/** How a car is driven, in words. */
export const DRIVING_WORDS: Readonly<Record<Driving, string>> = {
  'short-trips': 'short trips',
  dust: 'dusty roads',
  'oiled-filter': 'an oiled filter',
  motorway: 'long runs',
}
