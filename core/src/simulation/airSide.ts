import { AIR_GAS_CONSTANT } from '../air/index.js'
import { FlowTable, leakAreaShare } from './flow.js'

/** Exhaust gas comes hot: for its area it brings less mass, √(T0/Texhaust). */
const EXHAUST_FLUX = 0.62

/** Air and gas that went each way since the account was last taken [kg]. */
export interface AirAccount {
  plate: number
  leak: number
  vent: number
  purge: number
  egr: number
  /** Into the cylinders: all gas, and the fresh air in it. */
  cylinders: number
  fresh: number
}

/**
 * Manifold filling, one step at a time. What the controller changes (areas, temperatures, coefficients) is set from
 * outside every few milliseconds; only pressure, burnt share and crank speed live here at each step.
 *
 * Manifold: dp/dt = (R·Tm/V)·(Σ in − out), Heywood eq. 14.21; linearly implicit, so that a wide plate does not ring.
 * Into the cylinders: ηv·pm = tuned·(s·pm − y·pe), after Hendricks and Sorenson, SAE 900616.
 * Crank: J·dω/dt = τ; its work is taken at the middle of the step, so that ∫τ·ω dt equals the change of ½·J·ω².
 */
export class AirSide {
  /** State. */
  manifoldPa: number
  burntShare = 0
  /** Crank speed [rad/s]. */
  omega: number

  /** Held between two rounds of the controller. */
  ambientPa = 101_325
  upstreamPa = 101_325
  exhaustPa = 101_325
  intakeK = 293
  manifoldK = 310
  plateM2 = 0
  leakM2 = 0
  ventM2 = 0
  purgeM2 = 0
  egrM2 = 0
  /** tuned(n)·Vd/(4π·R·Tm): kg/s per rad/s and Pa. */
  swallow = 0
  slope = 1
  intercept = 0.09
  netNm = 0
  inertiaKgM2 = 0.2

  readonly account: AirAccount = { plate: 0, leak: 0, vent: 0, purge: 0, egr: 0, cylinders: 0, fresh: 0 }
  /** Work of the net torque since the start [J]. */
  workJ = 0

  private inRoot = 0
  private outRoot = 0
  private stiffness = 0
  private readonly plateFlow = new FlowTable()
  private readonly branchFlow = new FlowTable()

  constructor(
    private readonly manifoldM3: number,
    start: { readonly manifoldPa: number; readonly omega: number },
  ) {
    this.manifoldPa = start.manifoldPa
    this.omega = start.omega
    this.warmTo(this.intakeK, this.manifoldK)
  }

  /** Mass in the manifold [kg]. */
  get storedKg(): number {
    return (this.manifoldPa * this.manifoldM3) / (AIR_GAS_CONSTANT * this.manifoldK)
  }

  /** Other temperatures [K]; what is stored stays. */
  warmTo(intakeK: number, manifoldK: number): void {
    this.intakeK = intakeK
    this.manifoldPa *= manifoldK / this.manifoldK
    this.manifoldK = manifoldK
    this.inRoot = 1 / Math.sqrt(AIR_GAS_CONSTANT * intakeK)
    this.outRoot = 1 / Math.sqrt(AIR_GAS_CONSTANT * manifoldK)
    this.stiffness = (AIR_GAS_CONSTANT * manifoldK) / this.manifoldM3
  }

  /** @param dt - [s], ≤ 1 ms */
  step(dt: number): void {
    const pm = this.manifoldPa
    const pa = this.ambientPa
    const p0 = this.upstreamPa
    const plateTable = this.plateFlow
    const branchTable = this.branchFlow
    const inRoot = this.inRoot
    const outRoot = this.outRoot
    let plate: number
    let dPlate: number
    if (pm <= p0) {
      plateTable.at(pm / p0)
      plate = this.plateM2 * p0 * inRoot * plateTable.psi
      dPlate = this.plateM2 * inRoot * plateTable.slope
    } else {
      const q = p0 / pm
      plateTable.at(q)
      plate = -this.plateM2 * pm * outRoot * plateTable.psi
      dPlate = -this.plateM2 * outRoot * (plateTable.psi - q * plateTable.slope)
    }
    let leak: number
    let vent = 0
    let purge = 0
    let dBranch: number
    if (pm <= pa) {
      const r = pm / pa
      branchTable.at(r)
      const leakM2 = this.leakM2 === 0 ? 0 : this.leakM2 * leakAreaShare(r)
      const flux = pa * inRoot * branchTable.psi
      leak = leakM2 * flux
      vent = this.ventM2 * flux
      purge = this.purgeM2 * flux
      dBranch = (leakM2 + this.ventM2 + this.purgeM2) * inRoot * branchTable.slope
    } else {
      // under boost a leak blows out; vent and purge have check valves
      const q = pa / pm
      branchTable.at(q)
      const leakM2 = this.leakM2 * leakAreaShare(q)
      leak = -leakM2 * pm * outRoot * branchTable.psi
      dBranch = -leakM2 * outRoot * (branchTable.psi - q * branchTable.slope)
    }
    let egr = 0
    if (this.egrM2 > 0 && pm < this.exhaustPa) {
      branchTable.at(pm / this.exhaustPa)
      egr = this.egrM2 * EXHAUST_FLUX * this.exhaustPa * inRoot * branchTable.psi
      dBranch += this.egrM2 * EXHAUST_FLUX * inRoot * branchTable.slope
    }
    const k = this.swallow * this.omega
    const out = Math.max(0, k * (this.slope * pm - this.intercept * this.exhaustPa))
    const dOut = out > 0 ? k * this.slope : 0
    const stiffness = this.stiffness
    const flowIn = plate + leak + vent + purge + egr
    const dp = (dt * stiffness * (flowIn - out)) / (1 + dt * stiffness * (dOut - dPlate - dBranch))
    // flows of this step are those at its end: what is booked is what changed the pressure
    const shareBranch = leak + vent + purge + egr
    const branchEnd = dBranch * dp
    const scale = shareBranch > 0 ? 1 + branchEnd / shareBranch : 1
    const plateEnd = plate + dPlate * dp
    const outEnd = out + dOut * dp
    const a = this.account
    const egrEnd = egr * scale
    const leakEnd = shareBranch > 0 ? leak * scale : leak + branchEnd
    a.plate += plateEnd * dt
    a.leak += leakEnd * dt
    a.vent += vent * scale * dt
    a.purge += purge * scale * dt
    a.egr += egrEnd * dt
    a.cylinders += outEnd * dt
    a.fresh += outEnd * (1 - this.burntShare) * dt
    const inEnd = Math.max(0, plateEnd) + Math.max(0, leakEnd) + (vent + purge) * scale + egrEnd
    this.burntShare += ((egrEnd - this.burntShare * inEnd) * dt * stiffness) / pm
    this.manifoldPa = pm + dp
    const before = this.omega
    this.omega = Math.max(0, before + (this.netNm / this.inertiaKgM2) * dt)
    this.workJ += this.netNm * 0.5 * (before + this.omega) * dt
  }
}
