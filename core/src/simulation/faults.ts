/** Faults that the simulated engine can carry, by their own quantities; a healthy engine has every figure at its neutral value. */
export interface SimulatedFaults {
  /** Leak behind the plate, effective area at idle [mm²]. */
  leakMm2: number
  /** 1 or 2 when one bank draws most of it; 0 shared alike. */
  leakBank: 0 | 1 | 2
  /** Cylinder at whose runner the leak sits, 1.. ; 0 elsewhere. Decides the bank, and the pull that is weak. */
  leakCylinder: number
  /** Split between sensor and plate, effective area [mm²]. */
  ductLeakMm2: number
  /** Leak between compressor and plate [mm²]. */
  boostLeakMm2: number
  /** Opening ahead of the sensor [mm²]: dirt comes in, no number moves. */
  upstreamLeakMm2: number
  /** Airflow sensor error at idle and at full flow [–]. */
  mafErrorIdle: number
  mafErrorFull: number
  /** Airflow sensor zero offset [kg/s]. */
  mafZeroKgS: number
  /** Manifold pressure sensor offset [Pa]. */
  mapOffsetPa: number
  /** Lag that soot in its port adds to that sensor [s]. */
  mapLagS: number
  /** Charge pressure sensor offset [Pa]. */
  chargeOffsetPa: number
  /** Temperature sensors with an open circuit. */
  iatOpen: boolean
  ectOpen: boolean
  /** Share of the clean filter's and inlet's area that is blocked, 0..0.97. */
  restriction: number
  /** Share of closed-plate leakage and small opening shaded by deposits, 0..0.95. */
  deposits: number
  /** Opening at which an idle valve sticks [share]; −1 when it moves. */
  valveStuckAt: number
  /** EGR valve held open, effective area [mm²]. */
  egrMm2: number
  /** Share of the commanded exhaust gas that does not come, 0..1. */
  egrMissing: number
  /** Vent stuck open: area added to the healthy vent [mm²]. */
  ventExtraMm2: number
  /** Share of the vent that is blocked, 0..1. */
  ventBlocked: number
  /** Purge valve stuck open [mm²], and load of the canister 0 (air) .. 1 (full of vapour). */
  purgeMm2: number
  canisterLoad: number
  /** Manifold flap stuck: share of breathing lost where it should have opened, 0..0.4. */
  flapStuck: number
  /** Deposits on the intake valves, 0..1. */
  valveDeposits: number
  /** One narrowed runner: cylinder, and share of its air that is lost. */
  runnerCylinder: number
  runnerLoss: number
  /** Soot in the manifold of a diesel: share of its area that is lost, 0..0.95. */
  narrowed: number
  /** Fuel delivered against commanded [–], at idle and at full flow. */
  fuelErrorIdle: number
  fuelErrorFull: number
  /** Fuel flow at which a choked filter or a tired pump halves the pressure across the injectors [kg/s]; 0 never. */
  fuelChokeKgS: number
  /** One injector's error [–], and its cylinder. */
  injectorError: number
  injectorCylinder: number
  /** Fuel missing at every injection [kg]. */
  deadTimeKg: number
  /** Ethanol share of the fuel in the tank [–], 0..0.85, where the controller expects none. */
  ethanol: number
  /** Oxygen sensor bias: the bank settles at λ = 1 + bias [–]. */
  oxygenBias1: number
  oxygenBias2: number
  /** Oxygen sensors plugged crosswise. */
  oxygenCrossed: boolean
  /** Exhaust leak ahead of the sensor: apparent lean at idle flow [–], and its bank (0 both). */
  exhaustLeak: number
  exhaustLeakBank: 0 | 1 | 2
  /** Back pressure at full flow [Pa], and its bank (0 both). */
  backPressurePa: number
  backPressureBank: 0 | 1 | 2
  /** Late intake timing [° crank], and its bank (0 both). */
  timingLateDeg: number
  timingLateBank: 0 | 1 | 2
  /** Weak cylinder, and the share of its compression that is gone. */
  weakCylinder: number
  weakShare: number
  /** Throttle that passes more or less than its neighbours, 1..; share by which it does [–]. */
  throttleOff: number
  throttleOffShare: number
  /** Misfiring cylinder, and the share of its cycles that do not burn. */
  misfireCylinder: number
  misfireShare: number
}

export const HEALTHY: SimulatedFaults = {
  leakMm2: 0,
  leakBank: 0,
  leakCylinder: 0,
  ductLeakMm2: 0,
  boostLeakMm2: 0,
  upstreamLeakMm2: 0,
  mafErrorIdle: 0,
  mafErrorFull: 0,
  mafZeroKgS: 0,
  mapOffsetPa: 0,
  mapLagS: 0,
  chargeOffsetPa: 0,
  iatOpen: false,
  ectOpen: false,
  restriction: 0,
  deposits: 0,
  valveStuckAt: -1,
  egrMm2: 0,
  egrMissing: 0,
  ventExtraMm2: 0,
  ventBlocked: 0,
  purgeMm2: 0,
  canisterLoad: 0.27,
  flapStuck: 0,
  valveDeposits: 0,
  runnerCylinder: 0,
  runnerLoss: 0,
  narrowed: 0,
  fuelErrorIdle: 0,
  fuelErrorFull: 0,
  fuelChokeKgS: 0,
  injectorError: 0,
  injectorCylinder: 1,
  deadTimeKg: 0,
  ethanol: 0,
  oxygenBias1: 0,
  oxygenBias2: 0,
  oxygenCrossed: false,
  exhaustLeak: 0,
  exhaustLeakBank: 0,
  backPressurePa: 0,
  backPressureBank: 0,
  timingLateDeg: 0,
  timingLateBank: 0,
  weakCylinder: 0,
  weakShare: 0,
  throttleOff: 0,
  throttleOffShare: 0,
  misfireCylinder: 0,
  misfireShare: 0,
}
