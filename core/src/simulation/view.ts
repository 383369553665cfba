import type { Vehicle } from '../engine/index.js'
import type { AirSide } from './airSide.js'
import type { EngineCharacter } from './character.js'
import type { Controls } from './drive.js'
import type { SimulatedFaults } from './faults.js'
import type { IdleControl } from './idleControl.js'
import type { Mixture } from './mixture.js'
import type { ServiceEffects } from './serviceEffects.js'

/** Weather and place. */
export interface Surroundings {
  readonly ambientPa: number
  readonly ambientC: number
}

/** What the parts of the simulated engine see of each other, and what instruments and monitors read off it. */
export interface EngineView {
  readonly vehicle: Vehicle
  readonly faults: SimulatedFaults
  readonly character: EngineCharacter
  readonly surroundings: Surroundings
  readonly air: AirSide
  readonly mixture: Mixture
  readonly idle: IdleControl
  readonly service: ServiceEffects
  readonly controls: Controls
  readonly timeS: number
  /** Since the last start [s]. */
  readonly runTimeS: number
  readonly running: boolean
  /** Crank speed [rev/min]. */
  readonly rpm: number
  /** Openings [share]. */
  readonly plate: number
  readonly valve: number
  readonly pedal: number
  /** Idle speed that the controller wants now [rpm]. */
  readonly idleTargetRpm: number
  /** Share of the valves' lift, of an engine that is led by it; 1 elsewhere. */
  readonly liftShare: number
  /** Deposits left on the plate, 0..1: the fault less what a service has taken off. */
  readonly deposits: number
  readonly kph: number
  readonly distanceKm: number
  readonly coolantC: number
  /** Air at the intake temperature sensor, soaked by the engine's heat. */
  readonly intakeC: number
  readonly closedLoop: boolean
  readonly fuelCut: boolean
  readonly lambdaCommand: number
  /** Flows over the last period [kg/s]: true through the sensor, fresh into the cylinders. */
  readonly meteredKgS: number
  readonly freshKgS: number
  /** Diesel fuel as governed [kg/s]. */
  readonly dieselKgS: number
  /** Airflow against the most that its kind swallows [–]. */
  readonly flowShare: number
  /** What the sensors report. */
  readonly mafRead: number
  readonly mapRead: number
  /** Pressure ahead of the plate [Pa]. */
  readonly chargePa: number
  readonly load: number
  /** Cell of the learnt trims that it runs in. */
  readonly cell: number
  /** Exhaust gas and purge as commanded, 0..1. */
  readonly egrCommand: number
  readonly purgeCommand: number
  /** How fast learnt values follow against a driven car. */
  readonly hurry: number
}
