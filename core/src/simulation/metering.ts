import { ZERO_CELSIUS_K } from '../air/index.js'
import { hasMaf } from '../engine/index.js'
import { swept } from './breathing.js'
import { PERIOD_S } from './mixture.js'
import type { EngineView } from './view.js'

/** Airflow and pressure sensors, and the air that the controller reckons with from them. */
export class Metering {
  /** What the airflow sensor reports [kg/s], and the pressure sensor [Pa]. */
  mafRead: number
  mapRead: number
  /** What passed the sensor, as it reaches the cylinders [kg/s]. */
  private chargeKgS: number

  constructor(
    private readonly e: EngineView,
    /** Airflow of full load [kg/s]. */
    private readonly fullKgS: number,
    airKgS: number,
  ) {
    this.mafRead = airKgS
    this.chargeKgS = airKgS
    this.mapRead = e.air.manifoldPa
  }

  /** One period. */
  sense(): void {
    const { character: c, faults: f, vehicle: v } = this.e
    const idleFlow = 1.1e-3 * v.displacementL
    const share = 1 - Math.exp(-Math.max(0, this.e.meteredKgS - idleFlow) / (0.18 * this.fullKgS))
    const error = f.mafErrorIdle + (f.mafErrorFull - f.mafErrorIdle) * share
    const seen = this.e.meteredKgS * c.mafScale * (1 + error) + f.mafZeroKgS
    this.mafRead += (Math.max(0, seen) - this.mafRead) * 0.4
    // what passed the sensor reaches the cylinders through the manifold: the controller knows its time constant
    const tau = (160 * c.manifoldM3) / (c.vdM3 * this.e.liftShare * Math.max(300, this.e.rpm))
    this.chargeKgS += (this.mafRead - this.chargeKgS) * Math.min(1, PERIOD_S / tau)
    const lag = 0.012 + f.mapLagS
    this.mapRead += (this.e.air.manifoldPa + f.mapOffsetPa - this.mapRead) * Math.min(1, PERIOD_S / lag)
  }

  /** Air that the controller reckons with [kg in the period]. */
  believedKg(): number {
    const { character: c, surroundings: s, faults: f, vehicle: v, air } = this.e
    // fuel for the start is by a table that suits a sound engine, not by the sensor
    if (this.e.runTimeS < 2) return this.e.freshKgS * PERIOD_S
    if (hasMaf(v)) return this.chargeKgS * PERIOD_S
    if (v.metering === 'none') return Math.max(0, air.account.plate + air.account.vent)
    const intakeK = (f.iatOpen ? -40 : this.e.intakeC) + ZERO_CELSIUS_K
    const manifoldK = intakeK + 14 - 6 * Math.min(1, this.e.load)
    // barometer: what this very sensor read at key-on
    const pull = c.breathingSlope * this.mapRead - c.breathingIntercept * (s.ambientPa + f.mapOffsetPa)
    const inert = this.e.egrCommand * 0.12
    return Math.max(0, swept(this.e, true, manifoldK) * this.e.liftShare * air.omega * pull) * (1 - inert) * PERIOD_S
  }
}
