import { hasMaf, hasMap, type Vehicle } from '../engine/index.js'
import { VE_EXPONENT, VE_SCATTER } from '../expectation/index.js'
import { MANY_ROWS, type OperatingPoint } from '../signals/index.js'
import { airflowOf, type Basics } from './basics.js'
import type { Effect } from './effect.js'
import { leanNeedSd, needBeyondTrims } from './leanNeed.js'
import type { Observation } from './observation.js'
import { SCATTER, TUNED_RPM, WIDE_PLATE } from './scatter.js'
import { airRatio, inertTerm, pressureTerm, scaled, surplusAir, veNuisances, workNuisances } from './terms.js'

/** Exhaust gas valve taken for shut below this [%]. */
const EGR_SHUT_PCT = 3

/** Airflow against what the work needs; in a pull against what a wide plate lets the engine take. */
export function airflow(p: OperatingPoint, i: number, v: Vehicle, k: Basics): Observation[] {
  const kgS = airflowOf(p, v)
  if (kgS === undefined) return []
  // a diesel takes all the air it can, less the exhaust gas that it is given: only where that is none is its air known
  if (v.fuel === 'diesel' && !(p.kind === 'pull' && p.means.egr_pct !== undefined && p.means.egr_pct < EGR_SHUT_PCT))
    return []
  const own = SCATTER.mafPoint
  if (p.kind === 'pull') {
    const turbo = v.induction === 'turbo'
    // without its pressure nobody knows what a turbo engine takes
    if (turbo && !k.measuredPressure) return []
    return [
      {
        group: 'full-load',
        point: i,
        residual: Math.log(kgS / k.soundKgS),
        ownSd: Math.hypot(own, SCATTER.fullLoadPoint),
        shared: {
          maf: SCATTER.maf,
          ...scaled(veNuisances(p, k), 0.8),
          'full-load': SCATTER.fullLoad,
          tuning: SCATTER.fullLoadPerLogSpeed * Math.log(p.rpm / TUNED_RPM),
          ...(turbo ? {} : { baro: SCATTER.weather }),
        },
        predict: (e) =>
          -Math.log(airRatio(e, k.airKgS)) + e.veLog + (turbo ? pressureTerm(e, k.manifoldPa) : 1.39 * e.upstreamLog),
      },
    ]
  }
  const lean = needBeyondTrims(p, v, k)
  const residual = Math.log(kgS / k.soundKgS)
  return [
    {
      group: 'airflow',
      point: i,
      residual,
      ownSd: Math.hypot(own, SCATTER.noLoadPoint),
      shared: { maf: SCATTER.maf, ...workNuisances(p, i, v), 'lean-need': leanNeedSd(p, v, k) },
      predict: (e) => {
        const need = e.airNeed + lean(e)
        const known = need - Math.log(airRatio(e, k.airKgS))
        return known + surplusAir(e, p, k, need, residual - k.held.air - known)
      },
    },
  ]
}

/** Manifold pressure against what the work needs, by sensor or gauge; in a pull against ambient. */
export function pressure(p: OperatingPoint, i: number, v: Vehicle, k: Basics): Observation[] {
  if (!k.measuredPressure || v.fuel === 'diesel') return []
  const bySensor = hasMap(v) && p.means.map_kpa !== undefined
  const off = (e: Effect): number => (bySensor ? -pressureTerm(e, k.manifoldPa) / (1 + VE_EXPONENT) : 0)
  const map = bySensor ? SCATTER.mapPa / k.manifoldPa : 0
  const point = (p.n < MANY_ROWS ? 2 : 1) * (SCATTER.mapPointPa / k.manifoldPa)
  if (p.kind === 'pull') {
    if (v.induction === 'turbo') return []
    return [
      {
        group: 'full-load',
        point: i,
        residual: Math.log(k.manifoldPa / (WIDE_PLATE * k.ambientPa)),
        ownSd: Math.hypot(SCATTER.fullLoadPressure, point),
        shared: { map, baro: SCATTER.weather },
        predict: (e) => e.upstreamLog + off(e),
      },
    ]
  }
  const share = 1 / (1 + VE_EXPONENT)
  const lean = needBeyondTrims(p, v, k)
  const metered = airflowOf(p, v) !== undefined
  const residual = Math.log(k.manifoldPa / k.soundPa)
  return [
    {
      group: 'pressure',
      point: i,
      residual,
      ...(bySensor || k.soundPa >= k.ambientPa || k.manifoldPa >= k.ambientPa
        ? {}
        : { vacuumLog: Math.log((k.ambientPa - k.manifoldPa) / (k.ambientPa - k.soundPa)) }),
      ownSd: Math.hypot(
        point,
        share * Math.hypot(SCATTER.noLoadPoint * (hasMaf(v) ? 0 : 1), VE_SCATTER.point),
        // exhaust gas that is meant fills the manifold under load, and nobody knows how much
        p.kind === 'cruise' && v.egr === 'valve' ? SCATTER.egrPressure : 0,
      ),
      shared: {
        map,
        ...scaled({ ...workNuisances(p, i, v), 'lean-need': leanNeedSd(p, v, k) }, share),
        ...scaled(veNuisances(p, k), -share),
        // a gauge reads against the weather of the day
        baro: bySensor ? 0.28 * SCATTER.weather : (SCATTER.weather * k.ambientPa) / k.manifoldPa,
      },
      predict: (e) => {
        const need = e.airNeed + lean(e)
        // what was metered is fresh, and the gas comes besides; what the pressure told holds both
        const known = need - e.veLog - inertTerm(e, k.airKgS + (metered ? e.inertKgS : 0))
        return (
          share * (known + surplusAir(e, p, k, need, (residual - k.held.pressure - off(e)) / share - known)) + off(e)
        )
      },
    },
  ]
}
