import type { Random } from '../statistics/index.js'
import { PERIOD_S } from './mixture.js'
import { crankInertia, dragNm, roadKph, roadLoadNm, starterNm } from './motion.js'
import type { EngineView } from './view.js'

/** Heating value [J/kg]: gasoline and diesel alike within 2 %. Source: Heywood, app. D. */
const HEATING_J_KG = 43.2e6
/** Share of the indicated torque that late spark holds back at idle, to be given at once when speed falls; ours, ordinary. */
const SPARK_RESERVE = 0.12

/** Burning, drag, starter and road: what turns the crank. */
export class Crank {
  kph = 0
  distanceKm = 0
  /** Half of the cylinders are switched off. */
  halved = false
  private noise = 0

  constructor(
    private readonly e: EngineView,
    private readonly random: Random,
  ) {}

  /**
   * Sets the torque of the next period.
   * @param heatKg - fuel that finds its air in the period [kg]
   */
  turn(heatKg: number, lambda: number): void {
    const { vehicle: v, character: c, faults: f, controls: u, air, running, rpm } = this.e
    const diesel = v.fuel === 'diesel'
    let burn = 1
    if (!diesel) {
      if (lambda > 1.45 || lambda < 0.6) burn = 0
      else burn = 1 - 0.9 * (Math.max(0.75, Math.min(1.3, lambda)) - 0.95) ** 2 - Math.max(0, lambda - 1.2) * 2.5
    }
    burn *= 1 - f.misfireShare * (f.misfireCylinder > 0 ? 1 / v.cylinders : 0)
    burn *= 1 - (f.weakCylinder > 0 ? (0.7 * f.weakShare) / v.cylinders : 0)
    const lean = diesel ? 0 : Math.max(0, lambda - 1.04)
    const dilution = diesel || u.mode !== 'idle' ? 0 : air.account.egr / Math.max(1e-9, air.account.cylinders)
    const rough =
      c.roughness *
      (1 +
        14 * lean +
        // gas that does not burn makes one cycle unlike the next
        12 * Math.max(0, dilution - 0.06) +
        (f.misfireCylinder > 0 ? 4 * f.misfireShare : 0) +
        (f.weakCylinder > 0 ? 2 * f.weakShare : 0) +
        6 * Math.abs(f.throttleOffShare))
    // combustion varies from cycle to cycle
    this.noise += (3.46 * rough * (this.random() - 0.5) - this.noise) * 0.25
    const omega = air.omega
    const indicated =
      omega > 8
        ? ((heatKg / PERIOD_S) * HEATING_J_KG * c.indicatedEfficiency * Math.max(0, burn) * (1 + this.noise)) / omega
        : 0
    let net = indicated - dragNm(c, rpm, air.manifoldPa, air.exhaustPa) * (this.halved ? 0.8 : 1) - u.accessoryNm
    // idle burns late, so that spark can give or take torque faster than air can
    if (u.mode === 'idle' && running && !diesel && v.metering !== 'none')
      net +=
        (Math.min(SPARK_RESERVE, Math.max(-SPARK_RESERVE, (this.e.idleTargetRpm - rpm) * 0.004)) - SPARK_RESERVE) *
        indicated
    if (u.mode === 'crank' && !this.e.service.locked) net += starterNm(rpm)
    if (!running && rpm < 30 && u.mode !== 'crank') net = -air.omega * c.inertiaKgM2 * 50
    if (u.gear > 0) {
      net -= roadLoadNm(c, u, this.kph)
      this.kph = roadKph(rpm, u.gear)
      this.distanceKm += (this.kph / 3600) * PERIOD_S
    } else this.kph = 0
    air.netNm = net
    air.inertiaKgM2 = crankInertia(c, u.gear)
  }

  /** Cylinders that switch off at light road load. */
  halve(): void {
    const { vehicle: v, load, rpm } = this.e
    if (v.loadControl !== 'cylinder-cut') return
    const light = this.kph > 35 && load > 0.12 && load < (this.halved ? 0.55 : 0.35)
    this.halved = light && rpm > 1100 && rpm < 3000
  }
}
