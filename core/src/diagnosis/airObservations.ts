import { hasMaf, hasMap, trimBanksOf, type Vehicle } from '../engine/index.js'
import { VE_EXPONENT, VE_SCATTER } from '../expectation/index.js'
import type { OperatingPoint } from '../signals/index.js'
import { airflowOf, type Basics } from './basics.js'
import type { Effect } from './effect.js'
import type { Observation } from './observation.js'
import { MANY_ROWS, SCATTER, TUNED_RPM, WIDE_PLATE } from './scatter.js'
import {
  airRatio,
  inertTerm,
  NEED_PER_LEAN,
  pressureTerm,
  scaled,
  surplusAir,
  veNuisances,
  workNuisances,
} from './terms.js'

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
      shared: { maf: SCATTER.maf, ...workNuisances(p, i, v) },
      predict: (e) => {
        const known = e.airNeed + lean(e) - Math.log(airRatio(e, k.airKgS))
        return known + surplusAir(e, p, v, k, residual - k.held.air - known)
      },
    },
  ]
}

/** From λ 1.18 on it burns slowly and misses, and needs several times as much, d ln ṁ / d ln λ; ours. */
const BEARS_LEAN = Math.log(1.18)
const NEED_BEYOND = 4

const needOf = (lean: number): number =>
  NEED_PER_LEAN * lean + (NEED_BEYOND - NEED_PER_LEAN) * Math.max(0, lean - BEARS_LEAN)

/** What an engine needs more of air [log] because it runs lean: its trims stand at their stop and are not enough. */
function needBeyondTrims(p: OperatingPoint, v: Vehicle, k: Basics): (e: Effect) => number {
  const banks = ([1, 2] as const).filter((bank) => bank <= trimBanksOf(v))
  const atStop = banks.flatMap((bank) => {
    const t = p.means[bank === 1 ? 'trim1_pct' : 'trim2_pct']
    return t !== undefined && k.trimStops[bank] === 1 ? [{ bank, given: Math.log(1 + t / 100) }] : []
  })
  if (!hasMaf(v) || !atStop.length) return () => 0
  return (e) =>
    atStop.reduce((sum, { bank, given }) => {
      const asked = Math.log(airRatio(e, k.airKgS, bank)) - Math.log(1 + e.fuelError)
      return sum + needOf(Math.max(0, asked - given)) / banks.length
    }, 0)
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
        ...scaled(workNuisances(p, i, v), share),
        ...scaled(veNuisances(p, k), -share),
        // a gauge reads against the weather of the day
        baro: bySensor ? 0.28 * SCATTER.weather : (SCATTER.weather * k.ambientPa) / k.manifoldPa,
      },
      predict: (e) => {
        const known = e.airNeed + lean(e) - e.veLog - inertTerm(e, k.airKgS)
        return share * (known + surplusAir(e, p, v, k, (residual - k.held.pressure - off(e)) / share - known)) + off(e)
      },
    },
  ]
}
