import { REST_ANGLE_RAD, throttleAreaMm2, type Vehicle } from '../engine/index.js'
import type { Random } from '../statistics/index.js'

/** One engine's own character, drawn by seed round a nominal one: no two cars are alike. SI unless named. */
export interface EngineCharacter {
  readonly vdM3: number
  readonly manifoldM3: number
  readonly inertiaKgM2: number
  /** Level of the breathing curve and the speed of its peak [rpm]. */
  readonly breathingPeak: number
  readonly peakRpm: number
  /** ηv·pm = tuned(n)·(s·pm − y·pe): slope and intercept [–]. Form: Hendricks and Sorenson, SAE 900616. */
  readonly breathingSlope: number
  readonly breathingIntercept: number
  readonly indicatedEfficiency: number
  /** Friction mean pressure at rest and per (1000 rpm)² [Pa]. */
  readonly frictionPa: number
  readonly frictionPerSpeedPa: number
  /** What generator and pumps take from the crank with nothing switched on [W], whatever the speed. */
  readonly accessoryW: number
  readonly closedLeakMm2: number
  readonly throttleCd: number
  /** Raw throttle reading of the closed plate [%]. */
  readonly throttleZeroPct: number
  readonly idleValveMm2: number
  readonly idleTargetRpm: number
  readonly mafScale: number
  readonly fuelScale: number
  readonly massKg: number
  /** Healthy vent area [mm²], and purge valve fully open [mm²]. */
  readonly ventMm2: number
  readonly purgeFullMm2: number
  /** EGR valve fully open [mm²]. */
  readonly egrFullMm2: number
  /** Air path ahead of the plate: pressure drop per flow squared [Pa/(kg/s)²]. */
  readonly inletDrag: number
  /** Charge pressure above ambient at full flow [Pa]; 0 without a compressor. */
  readonly boostPa: number
  /** Share of a leak at a runner that its own bank feels more of, β. */
  readonly bankIsolation: number
  /** Rough running: standard deviation of the indicated torque, cycle by cycle [–]. */
  readonly roughness: number
  /** Each cylinder's share of breathing against the mean [–]. */
  readonly cylinderShare: readonly number[]
  /** Heat soak of the intake air at a standing idle [K]. */
  readonly soakK: number
  readonly seed: number
}

/** Draws a character. Healthy tolerances: airflow sensor and injectors ±3 % as two standard deviations. */
export function characterOf(v: Vehicle, random: Random, seed: number): EngineCharacter {
  const spread = (nominal: number, share: number): number =>
    nominal * (1 + share * (random() + random() + random() - 1.5))
  const L = v.displacementL
  const diesel = v.fuel === 'diesel'
  const turbo = v.induction === 'turbo'
  const vdM3 = L * 1e-3
  // the air path is laid out for full flow: 2 kPa of drop when clean
  const fullFlow = (turbo ? 0.045 : 0.026) * L
  return {
    vdM3,
    manifoldM3: 2.2e-3 * L,
    inertiaKgM2: 0.09 + 0.045 * L,
    breathingPeak: spread(diesel ? 0.9 : 0.93, 0.06),
    peakRpm: spread(diesel ? 2600 : 4300, 0.12),
    breathingSlope: 1.06,
    breathingIntercept: spread(1.09 / (v.compressionRatio - 1), 0.15),
    indicatedEfficiency: spread(diesel ? 0.41 : 0.37, 0.04),
    frictionPa: spread(diesel ? 142_000 : v.idleControl === 'none' ? 112_000 : 104_000, 0.08),
    frictionPerSpeedPa: spread(4600, 0.1),
    closedLeakMm2: spread(v.idleControl === 'idle-valve' ? 1.1 * L : 1.6 * L, 0.25),
    throttleCd: spread(0.78, 0.06),
    throttleZeroPct: v.throttle === 'cable' ? 0 : random() < 0.5 ? 0 : spread(12, 0.2),
    idleValveMm2: spread(14 * L, 0.2),
    idleTargetRpm: (v.idleSpecRpm.min + v.idleSpecRpm.max) / 2,
    mafScale: spread(1, 0.03),
    fuelScale: spread(1, 0.03),
    massKg: 900 + 260 * L,
    ventMm2: v.pcvJoins === 'duct' ? 0 : spread(v.pcv === 'orifice' ? 0.8 : 0.45 * L, 0.2),
    purgeFullMm2: v.purge === false || v.injection === 'carburettor' || diesel ? 0 : 7,
    egrFullMm2: v.egr === 'valve' ? (diesel ? 170 : 14) * L : 0,
    inletDrag: 2000 / fullFlow ** 2,
    boostPa: turbo ? (diesel ? 110_000 : 75_000) : 0,
    bankIsolation: v.plenum === 'individual' ? 1 : v.plenum === 'per-bank' ? 0.85 : spread(0.4, 0.3),
    roughness: spread(v.cylinders < 4 ? 0.022 : 0.014, 0.3),
    cylinderShare: Array.from({ length: v.cylinders }, () => spread(1, 0.012)),
    soakK: spread(9, 0.3),
    // without idle control a generator's load would run away with the speed: such engines have a small one
    accessoryW: v.idleControl === 'none' ? 0 : spread(280 + 35 * L, 0.25),
    seed,
  }
}

/**
 * Open area of all plates by opening 0..1 as a table [m²], with closed leakage and deposits: these shade a lip
 * that a wide plate clears, and narrow the leakage.
 */
export class PlateArea {
  private readonly table: Float64Array
  constructor(v: Vehicle, c: EngineCharacter, deposits: number) {
    this.table = Float64Array.from({ length: 1026 }, (_, i) => {
      const angle = REST_ANGLE_RAD + Math.min(1, i / 1024) * (Math.PI / 2 - REST_ANGLE_RAD)
      const geometric = v.throttleBodies * c.throttleCd * throttleAreaMm2(v.throttleBoreMm, angle)
      const lip = deposits * 0.5 * Math.min(geometric, 0.011 * v.throttleBodies * v.throttleBoreMm ** 2)
      return (Math.max(0, geometric - lip) + c.closedLeakMm2 * (1 - deposits)) * 1e-6
    })
  }

  /** @param opening - 0 closed .. 1 wide; beyond is taken as the end */
  at(opening: number): number {
    const x = Math.min(1, Math.max(0, opening)) * 1024
    const i = x | 0
    return this.table[i] + (this.table[i + 1] - this.table[i]) * (x - i)
  }
}
