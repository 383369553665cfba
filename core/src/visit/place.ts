import { pressureAltitudeM, standardPressurePa } from '../air/index.js'
import type { Vehicle } from '../engine/index.js'
import { INTAKE_WARMING_K } from '../expectation/index.js'
import type { VisitFile, VisitRecord } from './records.js'

/** Where and in what air a visit takes place: one value that every computation takes. */
export interface Place {
  /** Station pressure: a trusted barometer, else the standard atmosphere of the height [Pa]. */
  readonly pressurePa: number
  readonly ambientC: number
  /** Air at the intake of a warm engine where no sensor tells it [°C]. */
  readonly intakeC: number
}

/** The place of a visit. */
export const placeOf = (visit: VisitRecord): Place => ({
  pressurePa: visit.baroKpa === undefined ? standardPressurePa(visit.altitudeM) : visit.baroKpa * 1000,
  ambientC: visit.ambientC,
  intakeC: visit.ambientC + INTAKE_WARMING_K,
})

/** Station pressure of a visit [kPa]. */
export const visitPressureKpa = (visit: VisitRecord): number => placeOf(visit).pressurePa / 1000

/**
 * The vehicle as this visit sees it. Its altitude is the height at which the standard atmosphere has the pressure of the
 * place, so that a typed barometer moves bands, diagnosis, account and vacuum alike.
 */
export function vehicleAtPlace(f: Pick<VisitFile, 'vehicle' | 'visit'>): Vehicle {
  const { baroKpa, altitudeM, ambientC } = f.visit
  return {
    ...f.vehicle.spec,
    altitudeM: baroKpa === undefined ? altitudeM : pressureAltitudeM(baroKpa * 1000),
    ambientC,
  }
}
