import { AIR_GAS_CONSTANT, ZERO_CELSIUS_K } from '../air/index.js'
import { requireRange } from '../statistics/index.js'

/** Warming of the air under the bonnet up to the intake [K], where no intake sensor is read; ours. */
export const INTAKE_WARMING_K = 8
/** Warming of the charge between the intake sensor and the ports of a warm engine [K]; ours, ±8 K is inside the VE scatter. */
export const CHARGE_WARMING_K = 12

/**
 * Prior of volumetric efficiency before anything is known of an engine.
 *
 *   ηv = 0.90·(pm/pe)^0.39
 *
 * Full-load level: Heywood, fig. 6-9 (0.8 to 0.95). The exponent makes a 2.4 L engine that needs 11 mm² at
 * 30.2 kPa idle with ηv 0.56: residual gas takes up the rest. Camshafts, tuning and speed scatter widely
 * about it; see VE_SCATTER.
 */
export function priorVe(manifoldPa: number, exhaustPa: number): number {
  requireRange('manifoldPa', manifoldPa, manifoldPa > 0, '> 0 Pa absolute')
  requireRange('exhaustPa', exhaustPa, exhaustPa > 0, '> 0 Pa absolute')
  return 0.9 * Math.min(1.1, manifoldPa / exhaustPa) ** VE_EXPONENT
}

export const VE_EXPONENT = 0.39

/** One standard deviation of log VE: whole level, tilt per e-fold of speed, tilt per e-fold of pressure, single point. */
export const VE_SCATTER = { level: 0.1, perLogSpeed: 0.04, perLogPressure: 0.05, point: 0.012 } as const

/** What a cylinder set breathes at one operating point. */
export interface Breathing {
  readonly displacementL: number
  readonly rpm: number
  readonly manifoldPa: number
  readonly volumetricEfficiency: number
  readonly chargeK: number
}

/**
 * Airflow of a four-stroke engine, ṁ = ηv·Vd·pm/(R·Tm)·n/120 [kg/s].
 *
 * Source: Heywood, eq. 2.27 with density at manifold state. 2.4 L, ηv 0.75, 33 kPa, 313.15 K, 700 rpm: 3.855 g/s.
 */
export function swallowKgS(b: Breathing): number {
  requireRange('displacementL', b.displacementL, b.displacementL > 0, '> 0 L')
  requireRange('rpm', b.rpm, b.rpm >= 0, '≥ 0 rpm')
  requireRange('manifoldPa', b.manifoldPa, b.manifoldPa > 0, '> 0 Pa absolute')
  requireRange('chargeK', b.chargeK, b.chargeK > 0, '> 0 K')
  return (
    ((b.volumetricEfficiency * b.displacementL * 1e-3 * b.manifoldPa) / (AIR_GAS_CONSTANT * b.chargeK)) * (b.rpm / 120)
  )
}

/** Airflow an engine should draw, with a band of about 90 %, and what it came from. */
export interface ExpectedAirflow {
  readonly kgS: number
  readonly lowKgS: number
  readonly highKgS: number
  /** One standard deviation of its logarithm. */
  readonly logSd: number
  readonly from: 'pressure' | 'no-load-prior' | 'full-load-prior'
}

/** What is known at a point when airflow is to be expected. */
export interface ExpectationInput {
  readonly displacementL: number
  readonly rpm: number
  readonly ambientPa: number
  readonly intakeC: number
  /** Absolute manifold pressure, from the sensor or from a gauge; left out when not known. */
  readonly manifoldPa?: number
  readonly load: 'none' | 'some' | 'full'
  readonly turbo: boolean
}

/**
 * Airflow per swept litre and revolution of an unloaded warm engine [g/s per L per rpm]: 11 mm² of choked
 * opening for a 2.4 L at 700 rpm at sea level. In thin air the same torque needs the same air, so the
 * figure holds at altitude. One sd ±20 %.
 */
export const NO_LOAD_GS_PER_L_RPM = 1.565e-3
const NO_LOAD_LOG_SD = 0.2

/** Expected airflow at a point, or undefined where neither pressure nor load makes one known. */
export function expectedAirflow(x: ExpectationInput): ExpectedAirflow | undefined {
  const chargeK = x.intakeC + ZERO_CELSIUS_K + CHARGE_WARMING_K
  const band = (kgS: number, logSd: number, from: ExpectedAirflow['from']): ExpectedAirflow => ({
    kgS,
    lowKgS: kgS * Math.exp(-1.645 * logSd),
    highKgS: kgS * Math.exp(1.645 * logSd),
    logSd,
    from,
  })
  const at = (manifoldPa: number): number =>
    swallowKgS({
      displacementL: x.displacementL,
      rpm: x.rpm,
      manifoldPa,
      chargeK,
      volumetricEfficiency: priorVe(manifoldPa, x.ambientPa),
    })
  if (x.manifoldPa !== undefined) {
    const tilt = VE_SCATTER.perLogSpeed * Math.log(x.rpm / 1500)
    return band(at(x.manifoldPa), Math.hypot(VE_SCATTER.level, tilt, VE_SCATTER.point), 'pressure')
  }
  if (x.load === 'none')
    return band(x.displacementL * x.rpm * NO_LOAD_GS_PER_L_RPM * 1e-3, NO_LOAD_LOG_SD, 'no-load-prior')
  // wide open, the manifold stands a few percent below ambient
  if (x.load === 'full' && !x.turbo) return band(at(0.96 * x.ambientPa), 0.1, 'full-load-prior')
  return undefined
}

/**
 * Manifold pressure that an airflow tells, the inverse of the swallow with the prior VE
 * (ṁ ∝ pm^(1+0.39)); ±15 %. Used where no pressure is measured.
 */
export function manifoldFromAirflowPa(
  airflowKgS: number,
  displacementL: number,
  rpm: number,
  ambientPa: number,
  intakeC: number,
): number {
  const chargeK = intakeC + ZERO_CELSIUS_K + CHARGE_WARMING_K
  const full = swallowKgS({
    displacementL,
    rpm,
    manifoldPa: ambientPa,
    chargeK,
    volumetricEfficiency: priorVe(ambientPa, ambientPa),
  })
  return ambientPa * Math.min(1, Math.max(airflowKgS, 1e-9) / full) ** (1 / (1 + VE_EXPONENT))
}
