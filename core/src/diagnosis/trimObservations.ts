import { hasMaf, hasTrims, type Vehicle, trimBanksOf } from '../engine/index.js'
import { VE_EXPONENT } from '../expectation/index.js'
import { MANY_ROWS, pullMixture, type OperatingPoint } from '../signals/index.js'
import type { Basics } from './basics.js'
import type { Effect, PointContext } from './effect.js'
import type { Observation } from './observation.js'
import { overlapSd, SCATTER } from './scatter.js'
import { airRatio, inertTerm, pressureTerm } from './terms.js'

/** Standard deviation of a total trim that switches about one value [%]. */
const SWITCHING_PCT = 1.6

/** How far a trim moved at this point beyond its switching [log]: something came and went, and its mean is known no better. */
const moved = (p: OperatingPoint, bank: 1 | 2): number =>
  Math.sqrt(Math.max(0, (p.sds[bank === 1 ? 'trim1_pct' : 'trim2_pct'] ?? 0) ** 2 - SWITCHING_PCT ** 2)) / 100

/** Trim that purged vapour may be worth at a point, one standard deviation [log]. */
function purgeSd(p: OperatingPoint, v: Vehicle): number {
  const purged = p.means.purge_pct
  if (v.purge === false || p.kind === 'idle' || p.kind === 'idle-load') return 0
  if (purged === undefined) return SCATTER.purgeUnseen
  return purged > PURGED_PCT ? SCATTER.purgeSeen : 0
}

/** Duty above which a purge valve passes something [%]. */
const PURGED_PCT = 3

/** Total trims by bank against a mixture that needs none. */
export function trims(p: OperatingPoint, i: number, v: Vehicle, k: Basics, c: PointContext): Observation[] {
  // above the open-loop threshold trims are frozen: a pull tells nothing by them alone
  if (p.kind === 'pull' || v.injection === 'carburettor') return []
  const byAir = hasMaf(v)
  return banksOf(v).flatMap((bank): Observation[] => {
    const t = p.means[TRIM[bank]]
    if (t === undefined) return []
    const cruising = p.kind === 'cruise'
    const own = Math.hypot(
      p.kind === 'cold' ? 2.5 * SCATTER.trimPoint : cruising ? SCATTER.roadTrimPoint : SCATTER.trimPoint,
      p.n < MANY_ROWS ? SCATTER.typedTrim : moved(p, bank),
      // exhaust gas that is meant comes under load, and a controller without airflow only reckons how much
      cruising && !byAir && v.egr === 'valve' ? SCATTER.egrFlow : 0,
      // vapour that is purged has a share that nobody knows; where it is not reported it may be there at any speed above idle
      purgeSd(p, v),
    )
    const bound = k.trimStops[bank]
    return [
      {
        group: 'trims',
        point: i,
        bank,
        residual: Math.log(1 + t / 100),
        ownSd: own,
        ...(bound ? { bound } : {}),
        ...mixtureModel(p, v, k, c, bank),
      },
    ]
  })
}

/**
 * Mixture of a pull by a wideband sensor, against the one commanded: what the frozen trims leave of the error there.
 */
export function fullMixture(p: OperatingPoint, i: number, v: Vehicle, k: Basics, c: PointContext): Observation[] {
  if (!hasTrims(v)) return []
  return banksOf(v).flatMap((bank): Observation[] => {
    const mixture = pullMixture(p, bank)
    if (!mixture) return []
    return [
      {
        group: 'mixture',
        point: i,
        bank,
        residual: mixture.log,
        ownSd: Math.hypot(
          SCATTER.fullMixture,
          v.induction === 'turbo' ? SCATTER.sweptMixture : 0,
          mixture.untrimmed ? SCATTER.untrimmed : 0,
          p.n < MANY_ROWS ? SCATTER.typedTrim : 0,
        ),
        ...(mixture.atLeast ? { bound: 1 as const } : {}),
        ...mixtureModel(p, v, k, c, bank),
      },
    ]
  })
}

const TRIM = { 1: 'trim1_pct', 2: 'trim2_pct' } as const
const banksOf = (v: Vehicle): (1 | 2)[] => ([1, 2] as const).filter((bank) => bank <= trimBanksOf(v))

/** What a healthy mixture differs by from car to car, and what a fault makes of it, as the trim that would right it [log]. */
function mixtureModel(
  p: OperatingPoint,
  v: Vehicle,
  k: Basics,
  c: PointContext,
  bank: 1 | 2,
): Pick<Observation, 'shared' | 'predict'> {
  const byAir = hasMaf(v)
  const idleShare = c.idleKgS / Math.max(c.airKgS, c.idleKgS)
  const side = bank === 1 ? 1 : -1
  const beside = (e: Effect): number => e.mixtureLog + side * e.mixtureSkew - Math.log(1 + e.fuelError)
  return {
    shared: {
      fuel: SCATTER.fuel,
      blend: SCATTER.blend,
      vapour: SCATTER.vapourAtIdle * idleShare,
      bank: trimBanksOf(v) === 2 ? side * SCATTER.bank : 0,
      ...(byAir
        ? { maf: -SCATTER.maf, 'maf-slope': -SCATTER.mafSlope * Math.log(c.airKgS / c.idleKgS) }
        : {
            map: (-SCATTER.mapPa / k.manifoldPa) * (1 + VE_EXPONENT),
            've-overlap': 0.25 * overlapSd(p.rpm),
            've-speed': 0.02 * Math.log(p.rpm / 1500),
            've-pressure': 0.015 * Math.log(k.manifoldPa / (0.35 * k.ambientPa)),
          }),
    },
    predict: byAir
      ? (e) => Math.log(airRatio(e, c.airKgS, bank)) + beside(e)
      : (e) => pressureTerm(e, k.manifoldPa) + inertTerm(e, k.airKgS) + e.veLog + e.densityLog + beside(e),
  }
}
