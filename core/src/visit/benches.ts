import { answerOf, CAUSES, testInfo, TESTS, type FaultId, type TestInfo } from '../diagnosis/index.js'
import {
  airPathOf,
  kindOfStation,
  maybeStation,
  type StationId,
  type StationKind,
  type Vehicle,
  type Zone,
} from '../engine/index.js'
import { evidenceOf } from './evidence.js'
import { isOfCoolant } from './noIdle.js'
import { lastRound } from './points.js'
import type { VisitFile } from './records.js'
import { BEYOND_THE_PATH, LETS_AIR_IN, SOOTED } from './remedies.js'

/** A station and the test that is made there, or the list of places where air may come in and what was found is mended. */
export type ActPlace = 'places' | { readonly station: StationId; readonly test?: string }

/** Where a cause sits that lets no air in, likeliest first; ours. Places of air that comes in or is lost are shared out elsewhere. */
const SEATS: Readonly<Partial<Record<FaultId, readonly StationKind[]>>> = {
  'maf-under-reads': ['airflow-sensor'],
  'maf-over-reads': ['airflow-sensor'],
  'map-sensor-offset': ['map-sensor', 'charge-sensor'],
  'temperature-sensor-implausible': ['intake-temperature', 'airflow-sensor'],
  'throttle-deposits': ['throttle', 'throttle-flap', 'idle-valve'],
  'idle-learnt-past': ['throttle'],
  'idle-valve-stuck': ['idle-valve'],
  'intake-restriction': ['filter', 'inlet', 'resonator', 'throttle-flap', 'plenum'],
  'pcv-blocked': ['pcv', 'separator', 'fresh-air-hose'],
  'egr-open-at-idle': ['egr'],
  'egr-no-flow': ['egr', 'egr-tube', 'egr-cooler'],
  'runner-restriction': ['flaps', 'runners-1', 'runners-2'],
  'valve-deposits': ['runners-1', 'runners-2'],
}

/** Stations of an engine where a cause sits that lets no air in, likeliest first; none of what lies beyond the air path. */
export function seatsOf(v: Vehicle, fault: FaultId): readonly StationId[] {
  const stations = airPathOf(v).stations.map((s) => s.info.id)
  const kinds = SEATS[fault] ?? []
  const sooted = fault === 'intake-restriction' && v.fuel === 'diesel' ? SOOTED : []
  return [...kinds, ...sooted].flatMap((kind) => stations.filter((id) => kindOfStation(id) === kind))
}

/** The same of a car: the coolant's sensor sits nowhere there. */
export const seatsHere = (f: VisitFile, fault: FaultId): readonly StationId[] =>
  isOfCoolant(f, fault) ? [] : seatsOf(f.vehicle.spec, fault)

/** Zones in which something always stands, whatever else an engine has, where what concerns the whole manifold is tested. */
const MANIFOLD: readonly Zone[] = ['behind-plate', 'runner']

/** The station of an engine where a test stands: its own, else the plenum, else the first behind the plate. */
function testStandsAt(v: Vehicle, test: string): StationId {
  const { stations } = airPathOf(v)
  const own = testInfo(test).at ?? 'plenum'
  if (own === 'beyond' || stations.some((s) => s.info.id === own)) return own
  const there = stations.find((s) => s.info.id === 'plenum') ?? stations.find((s) => MANIFOLD.includes(s.zone))
  return there?.info.id ?? own
}

/** Tests that are made wherever air may be let in past its measuring; the first only where a hose can be pinched. */
const PINCH = 'pinch'
const ANYWHERE: readonly string[] = [PINCH, 'smoke', 'enrichment']
const LETTING: readonly Zone[] = ['sensor-to-plate', ...MANIFOLD]

/** Tests that stand at a station of an engine. */
export function testsAt(v: Vehicle, id: StationId): readonly TestInfo[] {
  const placed = maybeStation(airPathOf(v), id)
  const lets = placed !== undefined && LETTING.includes(placed.zone)
  const isAnywhere = (t: TestInfo): boolean =>
    lets && ANYWHERE.includes(t.id) && (t.id !== PINCH || placed.info.pinchable)
  return TESTS.filter(
    (t) =>
      t.admissible(v) &&
      ((t.id !== PINCH && testStandsAt(v, t.id) === id) || t.alsoAt?.includes(id) === true || isAnywhere(t)),
  )
}

/** Where a test is made and its answer entered; what goes from branch to branch begins at the list of places. */
export const benchOf = (v: Vehicle, test: string): ActPlace =>
  test === PINCH ? 'places' : { station: testStandsAt(v, test), test }

/** Where a cause is found and answered: by its own test while that is not made, else where it sits. */
export function benchOfCause(f: VisitFile, fault: FaultId): ActPlace | undefined {
  const v = f.vehicle.spec
  const { test } = CAUSES[fault]
  if (test && testInfo(test).admissible(v) && !answerOf(fault, evidenceOf(f, lastRound(f)).findings))
    return benchOf(v, test)
  if (LETS_AIR_IN.includes(fault)) return 'places'
  const isBeyond = BEYOND_THE_PATH.includes(fault) || isOfCoolant(f, fault)
  const station = isBeyond ? 'beyond' : seatsOf(v, fault).at(0)
  return station && { station }
}
