import { AIR_GAS_CONSTANT, airDensity } from '../air/index.js'
import { FlowTable } from './flow.js'
import { dieselFullKgS, PERIOD_S } from './mixture.js'
import type { EngineView } from './view.js'

/** Everything ahead of the plate: what is metered, what passes beside the sensor, and the pressure there. */
export class Inlet {
  /** True flow through the sensor over the last period [kg/s]. */
  meteredKgS: number
  ductLeakKgS = 0
  boostLeakKgS = 0
  /** Pressure ahead of the plate [Pa]. */
  pressurePa: number
  private readonly flow = new FlowTable()

  constructor(
    private readonly e: EngineView,
    meteredKgS: number,
  ) {
    this.meteredKgS = meteredKgS
    this.pressurePa = e.surroundings.ambientPa
  }

  /** Books what passes beside the sensor. @param through - air past the plate and the vent [kg/s] */
  account(through: number): void {
    const { faults: f, surroundings: s, air, vehicle: v } = this.e
    this.ductLeakKgS = 0
    if (f.ductLeakMm2 > 0 && through > 0) {
      const rho = airDensity(s.ambientPa, air.intakeK)
      const ductM2 = 0.55 * Math.PI * (0.5e-3 * v.throttleBoreMm) ** 2 * v.throttleBodies
      const depression = this.dropPa(through) + (through / ductM2) ** 2 / (2 * rho)
      this.ductLeakKgS = Math.min(0.8 * through, f.ductLeakMm2 * 1e-6 * Math.sqrt(2 * rho * depression))
    }
    this.boostLeakKgS = 0
    if (f.boostLeakMm2 > 0) {
      const [high, low, sign] =
        this.pressurePa >= s.ambientPa ? [this.pressurePa, s.ambientPa, 1] : [s.ambientPa, this.pressurePa, -1]
      this.flow.at(low / high)
      this.boostLeakKgS =
        (sign * f.boostLeakMm2 * 1e-6 * high * this.flow.psi) / Math.sqrt(AIR_GAS_CONSTANT * air.intakeK)
    }
    this.meteredKgS = Math.max(0, through - this.ductLeakKgS + this.boostLeakKgS)
  }

  /** Pressure ahead of the plate for the next period: the inlet's drop, and what a compressor adds, late. */
  press(): void {
    const { character: c, faults: f, surroundings: s, vehicle: v } = this.e
    let target = s.ambientPa - Math.min(0.5 * s.ambientPa, this.dropPa(this.meteredKgS))
    if (c.boostPa > 0 && this.e.running) {
      const push = v.fuel === 'diesel' ? (1.2 * this.e.dieselKgS) / dieselFullKgS(v) : 3 * this.e.plate
      const drive = Math.min(1, Math.max(0, (this.e.flowShare - 0.12) / 0.4)) * Math.min(1, push)
      const lost = Math.min(0.8, Math.max(0, this.boostLeakKgS) / Math.max(1e-6, this.meteredKgS))
      // the controller holds what its sensor reads at its command
      target += Math.max(0, Math.min(1.35 * c.boostPa * drive * (1 - lost), c.boostPa - f.chargeOffsetPa))
    }
    this.pressurePa += (target - this.pressurePa) * Math.min(1, PERIOD_S / (target > this.pressurePa ? 0.5 : 0.15))
  }

  private dropPa(flow: number): number {
    return this.e.character.inletDrag * 0.6 * (flow / (1 - this.e.faults.restriction)) ** 2
  }
}
