import { deadSensors, withoutDead } from '../diagnosis/index.js'
import type { OperatingPoint } from '../signals/index.js'
import { vehicleAtPlace } from './place.js'
import { pointsOfRound } from './points.js'
import type { VisitFile } from './records.js'

/** Points of a round without what a dead sensor of air says of a running engine: nothing is reckoned with that. */
export function livingPoints(f: VisitFile, round: number): OperatingPoint[] {
  const points = pointsOfRound(f, round)
  return withoutDead(points, deadSensors(points, vehicleAtPlace(f)))
}
