/** What a fault does at one operating point; effects of faults together add up. Logarithms are natural. */
export interface Effect {
  /** Air let in behind the plate, mean of the banks [kg/s]. */
  leakKgS: number
  /** β [–], −1..1: how far bank 1 draws more of it than bank 2. */
  bankSkew: number
  /** Air let in between sensor and plate, as a share of what passes the sensor [–]. */
  ductShare: number
  /** Metered air lost between compressor and plate, as a share of what passes the sensor [–]. */
  lostAirShare: number
  /** ε [–], < 0: the airflow sensor reads low. */
  mafError: number
  /** φ [–], < 0: less fuel than commanded. */
  fuelError: number
  /** Share of the idle opening that deposits have closed [–], 0..1. */
  lostShare: number
  /** Metered air that reaches the engine past the plate [kg/s]: a vent stuck open, an idle valve that does not close. */
  spareKgS: number
  /** b [Pa]: how much too high the manifold pressure sensor reads. */
  mapOffsetPa: number
  /** Share of that offset which the reported barometer has too [–]. */
  baroShare: number
  /** Exhaust gas in the manifold beyond what is meant [kg/s]. */
  inertKgS: number
  /** Change of the air that the same work needs, unloaded [log]. */
  airNeed: number
  /** Change of volumetric efficiency [log]. */
  veLog: number
  /** Change of the pressure ahead of the plate [log], ≤ 0. */
  upstreamLog: number
  /** What moves the trim of both banks without air or fuel being wrong [log]: sensors, exhaust leaks, oxygen of misfires. */
  mixtureLog: number
  /** Half the difference of the banks by it [log]: bank 1 up, bank 2 down. */
  mixtureSkew: number
  /** Density that the controller believes against the true one [log]; moves trims of engines fuelled by pressure. */
  densityLog: number
  /** How far a temperature reads beyond what a warm car can show [log of kelvin]. */
  temperatureLog: number
  /** Growth of the wander of idle speed [log]. */
  wander: number
  /** Change of idle speed that the control cannot take back [log]. */
  speedLog: number
  /** Duty or opening that the control commands at idle [log], where it no longer follows the need. */
  dutyLog: number
}

export const NO_EFFECT: Effect = {
  leakKgS: 0,
  bankSkew: 0,
  ductShare: 0,
  lostAirShare: 0,
  mafError: 0,
  fuelError: 0,
  lostShare: 0,
  spareKgS: 0,
  mapOffsetPa: 0,
  baroShare: 0,
  inertKgS: 0,
  airNeed: 0,
  veLog: 0,
  upstreamLog: 0,
  mixtureLog: 0,
  mixtureSkew: 0,
  densityLog: 0,
  temperatureLog: 0,
  wander: 0,
  speedLog: 0,
  dutyLog: 0,
}

/** What an effect may depend on at a point. */
export interface PointContext {
  /** Best estimate of the airflow into the cylinders [kg/s]. */
  readonly airKgS: number
  /** Airflow at this engine's warm unloaded idle [kg/s]. */
  readonly idleKgS: number
  /** Mass flow through 1 m² behind the plate at this point's pressures [kg/(s·m²)]. */
  readonly fluxBehindPlate: number
  readonly displacementL: number
  /** Airflow at full load and high speed [kg/s], for errors quoted there. */
  readonly fullKgS: number
  readonly rpm: number
  /** Whether idle control sets the air here: at a held speed a foot does, whatever the control lets in. */
  readonly idles: boolean
  /** Manifold pressure over ambient where it is above it, else 1. */
  readonly boost: number
  /** Intake temperature as it is read [°C], plausible or not. */
  readonly readIntakeC: number | undefined
  /** Coolant temperature likewise [°C]. */
  readonly readCoolantC: number | undefined
  /** How far a temperature reads beyond what a warm car can show [log of kelvin]; 0 where none does. */
  readonly temperatureOff: number
  /** Whether the intake temperature was read anywhere, and the coolant's: a plausible one clears its own sensor alone. */
  readonly temperaturesRead: readonly [intake: boolean, coolant: boolean]
  readonly cylinders: number
  readonly banks: number
}
