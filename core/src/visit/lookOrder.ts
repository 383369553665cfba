import { LOOKS, type Diagnosis } from '../diagnosis/index.js'
import { lookItemsOf, stationInfo, type LookItem, type StationId } from '../engine/index.js'
import type { VisitFile } from './records.js'

/** What somebody's recent work disturbs first: ends, lines and what has to come off for most jobs. */
const DISTURBED: readonly StationId[] = ['vacuum-lines', 'duct', 'pcv', 'airflow-sensor', 'filter', 'fresh-air-hose']
const AFTER_WORK = 3
/** Old rubber and plastic are found faulty more often; ours: half as often again each five years from five on. */
const PER_FIVE_YEARS = 1.5
const YEAR_MS = 365.25 * 86_400_000
/** How likely a line of the look finds something while nobody has diagnosed anything [–]. */
const WITHOUT_DIAGNOSIS = 0.1

/** One line of the look with what it is worth. */
export interface RankedLook {
  readonly item: LookItem
  /** Chance that it finds what is wrong, by this engine, complaint and history [–]. */
  readonly chance: number
  readonly minutes: number
}

/** Age of a part by the car's record [years]; undefined where nobody wrote it down. */
function ageYears(f: VisitFile, id: StationId): number | undefined {
  const fitted = f.vehicle.spec.stations?.[id]?.fittedOn
  return fitted === undefined ? undefined : (Date.parse(f.visit.openedAt) - Date.parse(fitted)) / YEAR_MS
}

/**
 * Lines of the look by what they find in a minute: the causes as they stand (engine, complaint, readings), what recent work
 * disturbs, and the age of the part. Lines of one station stay together.
 */
export function lookOrder(f: VisitFile, d?: Diagnosis): readonly RankedLook[] {
  const items = lookItemsOf(f.vehicle.spec)
  const worked = f.visit.conditions.includes('after-work')
  const ranked = items.map((item): RankedLook => {
    const l = LOOKS[item.id]
    const info = stationInfo(item.station)
    const found = d
      ? d.ranking.reduce((s, r) => s + r.probability * (l.finds[r.fault] ?? 0), 0)
      : WITHOUT_DIAGNOSIS * Math.max(0, ...Object.values(l.finds))
    const age = ageYears(f, item.station)
    const old = age === undefined || age < 5 ? 1 : PER_FIVE_YEARS ** (age / 5)
    const disturbed = worked && DISTURBED.includes(item.station) ? AFTER_WORK : 1
    return {
      item,
      chance: Math.min(0.95, found * old * disturbed),
      minutes: info.lookMinutes / info.looks.length,
    }
  })
  // a station is worth what all its lines find in the minutes that they take together
  const worth = (id: StationId): number => {
    const mine = ranked.filter((r) => r.item.station === id)
    return mine.reduce((s, r) => s + r.chance, 0) / mine.reduce((s, r) => s + r.minutes, 0)
  }
  const stations = [...new Set(items.map((i) => i.station))]
  const by = new Map(stations.map((id) => [id, worth(id)]))
  return [...stations]
    .sort((a, b) => by.get(b)! - by.get(a)!)
    .flatMap((id) => ranked.filter((r) => r.item.station === id))
}
