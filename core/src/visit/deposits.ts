import { ZERO_CELSIUS_K } from '../air/index.js'
import {
  authorityLeft,
  cleanOpenPct,
  lostArea,
  nearStop,
  neededAreaMm2,
  whyIdle,
  type LostArea,
} from '../deposits/index.js'
import { hasMaf } from '../engine/index.js'
import { expectedAirflow, manifoldFromAirflowPa } from '../expectation/index.js'
import { live, type VisitFile } from './records.js'
import { remediesOf } from './remedies.js'
import { placeOf, vehicleAtPlace } from './place.js'
import { livingPoints } from './living.js'
import { manifoldKpaOf } from './points.js'

/** Opening at which an electronic throttle's idle control gives up [%], and a valve's [%]; ours. */
const LIMIT = { plate: 12, valve: 85 } as const
/** Above this a throttle reading at idle has an unknown zero in it [%]. */
const RAW_CLOSED_PCT = 6
/** Leakage of a clean closed plate until this car's own is known [mm² per litre]. */
const LEAKAGE_PER_L = 1.6

/** Condition of a car that was worked on elsewhere. */
const AFTER_WORK = 'after-work'

/** Throttle or idle valve of one round, against a clean one. */
export interface VisitDeposits {
  readonly neededMm2: number
  readonly openPct: number
  readonly lost?: LostArea
  /** [–] */
  readonly authority: number
  /** What it would be with a clean throttle [–]; left out where its opening tells nothing. */
  readonly cleanAuthority?: number
  /** Which stop idle control is near, where that is known. */
  readonly near?: 'shut' | 'open'
  readonly why: string
  readonly learnt: boolean
}

/** Deposits as the idle of a round tells them; undefined without speed, opening, or a way to know the airflow. */
export function visitDeposits(f: VisitFile, round: number): VisitDeposits | undefined {
  const v = vehicleAtPlace(f)
  const idle = livingPoints(f, round).find((p) => p.kind === 'idle')
  if (!idle || v.idleControl === 'none') return undefined
  const { pressurePa: ambientPa, intakeC: atIntakeC } = placeOf(f.visit)
  const intakeC = idle.means.iat_c ?? atIntakeC
  const measured = hasMaf(v) ? idle.means.maf_gs : undefined
  const mapKpa = manifoldKpaOf(idle)
  const mapPa = mapKpa === undefined ? undefined : mapKpa * 1000
  const kgS =
    measured !== undefined
      ? measured * 1e-3
      : expectedAirflow({
          displacementL: v.displacementL,
          rpm: idle.rpm,
          ambientPa,
          intakeC,
          manifoldPa: mapPa,
          load: 'none',
          turbo: v.induction === 'turbo',
        })?.kgS
  const pct = v.idleControl === 'idle-valve' ? idle.means.idle_valve_pct : idle.means.throttle_pct
  if (kgS === undefined || pct === undefined) return undefined
  const pm = mapPa ?? manifoldFromAirflowPa(kgS, v.displacementL, idle.rpm, ambientPa, intakeC)
  const neededMm2 = neededAreaMm2(
    kgS,
    { pressurePa: ambientPa, temperatureK: intakeC + ZERO_CELSIUS_K },
    Math.min(pm, 0.98 * ambientPa),
  )
  const closed = live(f.recordings).find((r) => r.closedThrottlePct !== undefined)?.closedThrottlePct
  // a raw reading far above closed tells nothing until this car's closed reading is on record
  if (v.idleControl === 'electronic-throttle' && closed === undefined && pct > RAW_CLOSED_PCT) return undefined
  const openPct = v.idleControl === 'idle-valve' ? pct : Math.max(0, pct - (closed ?? 0))
  const curve = {
    boreMm: v.throttleBoreMm,
    leakageMm2: LEAKAGE_PER_L * v.displacementL,
    learnt: closed !== undefined,
  }
  const lost = v.idleControl === 'electronic-throttle' ? lostArea(curve, openPct, neededMm2) : undefined
  const authority = authorityLeft(openPct, v.idleControl === 'idle-valve' ? LIMIT.valve : LIMIT.plate)
  const near = nearStop(authority, v.idleControl === 'idle-valve' || closed !== undefined)
  return {
    neededMm2,
    openPct,
    lost,
    authority,
    ...(lost ? { cleanAuthority: authorityLeft(cleanOpenPct(curve, neededMm2), LIMIT.plate) } : {}),
    ...(near ? { near } : {}),
    why: whyIdle({
      ...(near ? { nearStop: near } : {}),
      rpm: idle.rpm,
      band: v.idleSpecRpm,
      lost,
      authority,
      cleaned: cleanedBefore(f, round),
    }),
    learnt: closed !== undefined,
  }
}

/** Whether this visit's work at the idle opening was done before a round was measured; a car may come in so, too. */
export const cleanedBefore = (f: VisitFile, round: number): boolean =>
  f.visit.conditions.includes(AFTER_WORK) ||
  remediesOf(f).some(
    (r) => r.kind === 'cleaning' && r.afterRound < round && (r.station === 'throttle' || r.station === 'idle-valve'),
  )
