import { SIGNS } from '../diagnosis/index.js'
import type { StationId } from '../engine/index.js'
import type { QuantityId } from '../units/index.js'
import { visitPressureKpa } from './place.js'
import { lastRound, pointsOfRound } from './points.js'
import { VISIT_NOUNS, type VehicleRecord, type VisitFile, type VisitRecord } from './records.js'

/** A visit that holds nothing yet. */
export function emptyVisit(vehicle: VehicleRecord, visit: VisitRecord): VisitFile {
  const lists = Object.fromEntries(VISIT_NOUNS.map((n) => [n, []])) as unknown as Pick<
    VisitFile,
    (typeof VISIT_NOUNS)[number]
  >
  return { format: 'uvula-visit', formatVersion: 1, vehicle, visit, ...lists }
}

/** What the customer came with, in his words, else by the signs that were tapped. */
export function complaintOf(visit: Pick<VisitRecord, 'complaint' | 'signs' | 'intent'>): string {
  if (visit.complaint) return visit.complaint
  const signs = visit.signs.map((id) => SIGNS.find((s) => s.id === id)?.label ?? id)
  if (signs.length) return signs.join(', ')
  return visit.intent === 'check-up' ? 'check-up' : 'complaint not taken yet'
}

/** Latest idle figures at the stations that show one, canonical units. */
export function stationFigures(
  f: VisitFile,
): ReadonlyMap<StationId, { readonly quantity: QuantityId; readonly value: number }> {
  const out = new Map<StationId, { quantity: QuantityId; value: number }>()
  const put = (id: StationId, quantity: QuantityId, value: number | undefined): void => {
    if (value !== undefined) out.set(id, { quantity, value })
  }
  const idle = pointsOfRound(f, lastRound(f)).find((p) => p.kind === 'idle')?.means
  const ambient = visitPressureKpa(f.visit)
  const gauge = idle?.gauge_vacuum_kpa
  put('inlet', 'pressure', ambient)
  put('airflow-sensor', 'massFlow', idle?.maf_gs)
  put('throttle', 'ratio', idle?.throttle_pct)
  put('idle-valve', 'ratio', idle?.idle_valve_pct)
  put('plenum', 'pressure', idle?.map_kpa ?? (gauge === undefined ? undefined : ambient - gauge))
  return out
}
