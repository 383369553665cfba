import { standardPressurePa } from '../air/index.js'
import type { StationId } from '../engine/index.js'
import type { QuantityId } from '../units/index.js'
import { lastRound, pointsOfRound } from './evidence.js'
import { VISIT_NOUNS, type VehicleRecord, type VisitFile, type VisitRecord } from './records.js'

/** A visit that holds nothing yet. */
export function emptyVisit(vehicle: VehicleRecord, visit: VisitRecord): VisitFile {
  const lists = Object.fromEntries(VISIT_NOUNS.map((n) => [n, []])) as unknown as Pick<
    VisitFile,
    (typeof VISIT_NOUNS)[number]
  >
  return { format: 'uvula-visit', formatVersion: 1, vehicle, visit, ...lists }
}

/** Station pressure of a visit [kPa]: a trusted barometer, else the standard atmosphere of its height. */
export const visitPressureKpa = (visit: VisitRecord): number =>
  visit.baroKpa ?? standardPressurePa(visit.altitudeM) / 1000

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
