import type { Vehicle } from '../engine/index.js'
import type { SimulatedEngine } from './engine.js'
import { AFR } from './mixture.js'

/** A cleaner on its way into the running engine. */
export interface Feed {
  /** [kg/s] */
  readonly rateKgS: number
  /** Air that 1 kg needs to burn [kg]; 0 for water. */
  readonly afr: number
  /** Share that wets the walls first, 0..1. */
  readonly wetShare: number
  /** [kg/m³] */
  readonly densityKgM3: number
}

/** One step of a timed relearn: when it must be done, after the start of the procedure, and how exactly [s]. */
export interface RelearnStep {
  readonly atS: number
  readonly withinS: number
}

/** Wall film leaves in this time at 90 °C, longer when cooler [s]. */
const FILM_TAU_S = 40
/** Share of a cylinder's clearance that liquid may fill before the crank stops against it. */
const LOCK_SHARE = 1
/** How much of the deposits one kilogram of combustible cleaner takes off, at the plate and at the valves. */
const PLATE_PER_KG = 1.2
const VALVES_PER_KG = 1.5

/**
 * What a service does to the engine: cleaner that is fed to it, liquid that pools, deposits that come off, residue that
 * burns at the first start, a battery taken off, a timed relearn. Driven from outside, by whoever does the service.
 */
export class ServiceEffects {
  feed: Feed | undefined
  /** Liquid on the walls and in low points [kg]. */
  filmKg = 0
  /** Share of the plate's deposits that has been taken off, and of the valves'. */
  platesCleaned = 0
  valvesCleaned = 0
  /** Vapour of the feed that burns in the period, as gasoline [kg]. */
  burningAsGasolineKg = 0
  /** White smoke, 0..1. */
  smoke = 0
  private density = 800
  private afr = 14

  constructor(private readonly v: Vehicle) {}

  /** Clearance volume of one cylinder [m³]. */
  get clearanceM3(): number {
    return (this.v.displacementL * 1e-3) / this.v.cylinders / (this.v.compressionRatio - 1)
  }

  /** Liquid that may reach one cylinder [m³]. */
  get pooledM3(): number {
    return this.filmKg / this.density
  }

  /** True when the starter would stop against liquid. */
  get locked(): boolean {
    return this.pooledM3 > LOCK_SHARE * this.clearanceM3
  }

  /** Soak charge left in the intake with the engine standing [kg]: it burns at the first start. */
  soak(kg: number, afr: number, densityKgM3: number): void {
    this.filmKg += kg
    this.afr = afr
    this.density = densityKgM3
  }

  /** Pools taken out by hand, plugs out and the engine turned. */
  drain(): void {
    this.filmKg = 0
  }

  /** Plate wiped by hand, to a share of its deposits. */
  wipePlate(share: number, deposits: number): void {
    this.platesCleaned = Math.min(deposits, this.platesCleaned + share * deposits)
  }

  step(e: SimulatedEngine, dt: number): void {
    const fed = this.feed && this.feed.rateKgS > 0 ? this.feed : undefined
    if (!fed && this.filmKg <= 0) {
      this.burningAsGasolineKg = 0
      this.smoke *= 0.995
      return
    }
    if (fed) {
      this.afr = fed.afr
      this.density = fed.densityKgM3
    }
    const rate = fed ? fed.rateKgS * dt : 0
    const wet = fed ? fed.wetShare : 0
    const tau = FILM_TAU_S * (1 + Math.max(0, 85 - e.coolantC) / 25)
    // with the engine standing nothing leaves
    const leaves = e.running ? Math.min(this.filmKg, (this.filmKg * dt) / tau) : 0
    this.filmKg += wet * rate - leaves
    const vapour = e.running ? (1 - wet) * rate + leaves : 0
    if (!e.running) this.filmKg += (1 - wet) * rate
    this.burningAsGasolineKg = this.afr > 0 ? (vapour * this.afr) / AFR : 0
    const cleaning = this.afr > 0 ? vapour : 0.6 * vapour
    this.platesCleaned = Math.min(e.faults.deposits, this.platesCleaned + PLATE_PER_KG * (fed ? cleaning : 0))
    this.valvesCleaned = Math.min(e.faults.valveDeposits, this.valvesCleaned + VALVES_PER_KG * cleaning)
    this.smoke += (Math.min(1, vapour / dt / 4e-4) - this.smoke) * 0.02
  }

  /** Battery off: learnt trims, idle position, codes and readiness go. */
  batteryOff(e: SimulatedEngine): void {
    e.mixture.reset()
    e.idle.reset()
    e.monitors.clear()
    e.monitors.permanent.clear()
  }

  /** A scan tool's reset of the adaptations. */
  resetAdaptations(e: SimulatedEngine): void {
    e.mixture.reset()
    e.idle.reset()
  }

  /**
   * A timed relearn: only when every step was done inside its window is the idle position of this engine taken over.
   * @param doneAtS - when each step was done, after the start [s]
   */
  relearn(e: SimulatedEngine, steps: readonly RelearnStep[], doneAtS: readonly number[]): boolean {
    const inTime = doneAtS.length === steps.length && steps.every((s, i) => Math.abs(doneAtS[i] - s.atS) <= s.withinS)
    if (!inTime) return false
    e.idle.reset()
    e.hurry = 40
    return true
  }
}
