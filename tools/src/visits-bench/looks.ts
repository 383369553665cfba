// What the walk along the pipe shows of a simulated car: by what the car carries, and not by the diagnosis's own shares.
import { seededRandom, type FaultId, type Finding, type LookItem } from '@uvula/core'
import type { FaultClass } from '../diagnosis-bench/classes.js'

/** Lines of the walk at which a cause may be seen, and how often it is; ours. */
const SEEN: Readonly<Partial<Record<FaultId, Readonly<Record<string, number>>>>> = {
  'unmetered-air': { 'booster.1': 0.35 },
  'unmetered-air-bank': { 'gaskets.1': 0.3 },
  'unmetered-air-duct': { 'duct.1': 0.3, 'duct.2': 0.3 },
  'boost-leak': { 'boost-pipe.1': 0.5 },
  'pcv-stuck-open': { 'pcv.1': 0.3, 'throttle.1': 0.2 },
  'pcv-blocked': { 'duct.3': 0.3 },
  'maf-under-reads': { 'airflow-sensor.2': 0.6 },
  'maf-over-reads': { 'airflow-sensor.2': 0.3 },
  'intake-restriction': { 'filter.2': 0.8 },
  'throttle-deposits': { 'throttle.1': 0.9 },
}
/** Lines where a sound car shows something too; any other seldom does. */
const OF_ITSELF: Readonly<Record<string, number>> = { 'throttle.1': 0.2, 'airflow-sensor.2': 0.1, 'filter.2': 0.1 }
const SELDOM = 0.01

/** What a line of the walk shows, the same whenever it is looked at. @param i - which engine of its kind */
export function lookedAt(
  line: LookItem,
  carried: readonly FaultClass[],
  i: number,
): Finding & { readonly item: string } {
  const random = seededRandom(11 + i * 911 + [...line.id].reduce((sum, c) => (31 * sum + c.charCodeAt(0)) % 65_521, 0))
  for (let n = 0; n < 4; n++) random()
  const chances = [OF_ITSELF[line.id] ?? SELDOM, ...carried.map((c) => SEEN[c.fault]?.[line.id] ?? 0)]
  const isSeen = random() < 1 - chances.reduce((none, p) => none * (1 - p), 1)
  return { test: 'look', item: line.id, outcome: isSeen ? 'fail' : 'pass' }
}
