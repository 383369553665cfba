import type { Vehicle } from '../engine/index.js'
import type { Random } from '../statistics/index.js'

/** One engine's own character, drawn by seed round a nominal one: no two cars are alike. */
export interface EngineCharacter {
  readonly vdM3: number
  readonly manifoldM3: number
  readonly inertiaKgM2: number
  /** Level of the breathing curve and the speed of its peak. */
  readonly breathingPeak: number
  readonly peakRpm: number
  /** Exhaust drawn back during valve overlap [kg/s per Pa of pressure difference]. */
  readonly overlap: number
  readonly indicatedEfficiency: number
  /** Friction mean pressure at rest and per (1000 rpm)² [Pa]. */
  readonly frictionPa: number
  readonly frictionPerSpeedPa: number
  readonly closedLeakMm2: number
  readonly throttleCd: number
  /** Raw throttle reading of the closed plate [%]. */
  readonly throttleZeroPct: number
  readonly idleValveMm2: number
  readonly idleTargetRpm: number
  readonly mafScale: number
  readonly fuelScale: number
  readonly massKg: number
  readonly seed: number
}

/** Draws a character. Healthy tolerances: airflow sensor and injectors ±3 % as two standard deviations. */
export function characterOf(v: Vehicle, random: Random, seed: number): EngineCharacter {
  const spread = (nominal: number, share: number): number =>
    nominal * (1 + share * (random() + random() + random() - 1.5))
  const L = v.displacementL
  return {
    vdM3: L * 1e-3,
    manifoldM3: 2.2e-3 * L,
    inertiaKgM2: 0.09 + 0.045 * L,
    breathingPeak: spread(0.93, 0.06),
    peakRpm: spread(4300, 0.12),
    overlap: spread(5.5e-9 * L, 0.35),
    indicatedEfficiency: spread(0.37, 0.04),
    frictionPa: spread(112_000, 0.08),
    frictionPerSpeedPa: spread(4600, 0.1),
    closedLeakMm2: spread(v.idleControl === 'idle-valve' ? 1.1 * L : 1.6 * L, 0.25),
    throttleCd: spread(0.78, 0.06),
    throttleZeroPct: v.throttle === 'cable' ? 0 : random() < 0.5 ? 0 : spread(12, 0.2),
    idleValveMm2: spread(14 * L, 0.2),
    idleTargetRpm: (v.idleSpecRpm.min + v.idleSpecRpm.max) / 2,
    mafScale: spread(1, 0.03),
    fuelScale: spread(1, 0.03),
    massKg: 900 + 260 * L,
    seed,
  }
}
