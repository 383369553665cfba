import { AIR_GAS_CONSTANT, ZERO_CELSIUS_K, standardPressurePa } from '../air/index.js'
import { type Vehicle, trimBanksOf } from '../engine/index.js'
import { seededRandom } from '../statistics/index.js'
import { AirSide, type AirAccount } from './airSide.js'
import { byBank, exhaustPa, swept } from './breathing.js'
import { PlateArea, characterOf, type EngineCharacter } from './character.js'
import { Crank } from './crank.js'
import { AT_IDLE, type Controls } from './drive.js'
import { HEALTHY, type SimulatedFaults } from './faults.js'
import { Governor } from './governor.js'
import { IdleControl } from './idleControl.js'
import { Inlet } from './inlet.js'
import { Metering } from './metering.js'
import { AFR, AFR_DIESEL, dieselFullKgS, Mixture, PERIOD_S, cellOf } from './mixture.js'
import { Monitors } from './monitors.js'
import { ServiceEffects } from './serviceEffects.js'
import type { EngineView, Surroundings } from './view.js'

/** Integration step of the air side and the crank [s]. */
export const STEP_S = 0.001
const STEPS = Math.round(PERIOD_S / STEP_S)
const THERMOSTAT_C = 91

/** One engine to be simulated. */
export interface EngineSetup {
  readonly vehicle: Vehicle
  readonly faults?: SimulatedFaults
  /** Whole number; the same seed gives the same engine and the same noise. */
  readonly seed: number
  readonly surroundings?: Partial<Surroundings>
  /** Coolant at the beginning [°C]; warm when left out. */
  readonly coolantC?: number
  /** Makes another engine of the one drawn: for populations wider than one maker's. */
  readonly vary?: (drawn: EngineCharacter) => EngineCharacter
}

/**
 * Mean-value engine with its controller: the stand-in for a vehicle. Air side and crank at 1 ms, burning and control at
 * 10 ms. Deterministic by seed. In the manner of Hendricks and Sorenson, SAE 900616, and Guzzella and Onder, ch. 2 to 4;
 * docs/simulator.md gives equations, parameters and limits. Its parts see each other through one view.
 */
export class SimulatedEngine implements EngineView {
  readonly vehicle: Vehicle
  readonly faults: SimulatedFaults
  readonly character: EngineCharacter
  readonly surroundings: Surroundings
  readonly air: AirSide
  readonly mixture: Mixture
  readonly idle: IdleControl
  readonly monitors: Monitors
  readonly service: ServiceEffects
  controls: Controls = AT_IDLE
  timeS = 0
  running = true
  stalled = false
  coolantC: number
  intakeC: number
  freshKgS: number
  load = 0.2
  cell = 0
  liftShare = 1
  runTimeS = 600
  /** Everything since the start [kg]. */
  readonly total: AirAccount & { metered: number } = {
    plate: 0,
    leak: 0,
    vent: 0,
    purge: 0,
    egr: 0,
    cylinders: 0,
    fresh: 0,
    metered: 0,
  }
  /** Raised while an engine is settled in. */
  hurry = 1

  private readonly inlet: Inlet
  private readonly metering: Metering
  private readonly governor: Governor
  private readonly crank: Crank
  private plates: PlateArea
  private platesFor = -1
  private readonly fullKgS: number
  private crankedS = 0

  constructor(q: EngineSetup) {
    const random = seededRandom(q.seed)
    this.vehicle = q.vehicle
    this.faults = q.faults ?? HEALTHY
    const drawn = characterOf(q.vehicle, random, q.seed)
    this.character = q.vary ? q.vary(drawn) : drawn
    this.surroundings = {
      ambientPa: q.surroundings?.ambientPa ?? standardPressurePa(q.vehicle.altitudeM),
      ambientC: q.surroundings?.ambientC ?? 18 + 6 * random(),
    }
    const { ambientPa, ambientC } = this.surroundings
    this.coolantC = q.coolantC ?? THERMOSTAT_C
    this.intakeC = ambientC + (q.coolantC === undefined ? this.character.soakK : 0)
    const open = q.vehicle.fuel === 'diesel' || q.vehicle.loadControl === 'valve-lift'
    this.air = new AirSide(this.character.manifoldM3, {
      manifoldPa: (open ? 0.95 : 0.35) * ambientPa,
      omega: (this.character.idleTargetRpm * Math.PI) / 30,
    })
    this.fullKgS = (q.vehicle.induction === 'turbo' ? 0.045 : 0.026) * q.vehicle.displacementL
    this.mixture = new Mixture(this.vehicle, this.character, this.faults)
    this.idle = new IdleControl(this.vehicle)
    this.monitors = new Monitors(this.vehicle)
    this.service = new ServiceEffects(this.vehicle)
    this.plates = new PlateArea(this.vehicle, this.character, this.faults.deposits)
    this.freshKgS = 1e-3 * this.vehicle.displacementL
    this.inlet = new Inlet(this, this.freshKgS)
    this.metering = new Metering(this, this.fullKgS, this.freshKgS)
    this.governor = new Governor(this)
    this.crank = new Crank(this, random)
    this.arrange()
  }

  get rpm(): number {
    return (this.air.omega * 30) / Math.PI
  }
  get flowShare(): number {
    return this.inlet.meteredKgS / this.fullKgS
  }
  get deposits(): number {
    return Math.max(0, this.faults.deposits - this.service.platesCleaned)
  }
  get meteredKgS(): number {
    return this.inlet.meteredKgS
  }
  /** What a hole in the duct or the boost pipe passes [kg/s]. */
  get ductLeakKgS(): number {
    return this.inlet.ductLeakKgS
  }
  get boostLeakKgS(): number {
    return this.inlet.boostLeakKgS
  }
  get chargePa(): number {
    return this.inlet.pressurePa
  }
  get mafRead(): number {
    return this.metering.mafRead
  }
  get mapRead(): number {
    return this.metering.mapRead
  }
  get plate(): number {
    return this.governor.plate
  }
  get valve(): number {
    return this.governor.valve
  }
  get pedal(): number {
    return this.governor.pedal
  }
  get idleTargetRpm(): number {
    return this.governor.idleTargetRpm
  }
  get closedLoop(): boolean {
    return this.governor.closedLoop
  }
  get fuelCut(): boolean {
    return this.governor.fuelCut
  }
  get lambdaCommand(): number {
    return this.governor.lambdaCommand
  }
  get egrCommand(): number {
    return this.governor.egrCommand
  }
  get purgeCommand(): number {
    return this.governor.purgeCommand
  }
  get dieselKgS(): number {
    return this.governor.dieselKgS
  }
  get kph(): number {
    return this.crank.kph
  }
  get distanceKm(): number {
    return this.crank.distanceKm
  }

  /** Fixes the idle stop of an engine without idle control [share of opening]. */
  setStop(opening: number): void {
    this.governor.stop = opening
  }

  /** Runs on by a time, rounded to whole control periods. `each` is called after every period. */
  advance(seconds: number, each?: () => void): void {
    const periods = Math.round(seconds / PERIOD_S)
    for (let i = 0; i < periods; i++) {
      for (let k = 0; k < STEPS; k++) this.air.step(STEP_S)
      this.timeS += PERIOD_S
      this.account()
      this.metering.sense()
      this.burn()
      this.governor.govern()
      this.warm()
      this.arrange()
      this.monitors.step(this, PERIOD_S)
      each?.()
    }
  }

  /** Takes the period's flows. */
  private account(): void {
    const a = this.air.account
    this.freshKgS = a.fresh / PERIOD_S
    this.inlet.account((a.plate + a.vent) / PERIOD_S)
    const sum = this.total
    sum.plate += a.plate
    sum.leak += a.leak
    sum.vent += a.vent
    sum.purge += a.purge
    sum.egr += a.egr
    sum.cylinders += a.cylinders
    sum.fresh += a.fresh
    sum.metered += this.inlet.meteredKgS * PERIOD_S
  }

  /** Whether it runs: stalled below a speed, started by the starter. */
  private runOn(): void {
    const u = this.controls
    if (this.running && this.rpm < 240 && u.mode !== 'crank') {
      this.running = false
      this.stalled = true
    }
    if (u.mode === 'off' || u.mode === 'key-on') this.running = false
    if (u.mode === 'crank' && !this.running) {
      this.crankedS += PERIOD_S
      if (this.crankedS > 0.7 && !this.service.locked) {
        this.running = true
        this.stalled = false
        this.runTimeS = 0
        this.monitors.started(this)
      }
    } else if (u.mode !== 'crank') this.crankedS = 0
    if (this.running) this.runTimeS += PERIOD_S
  }

  private burn(): void {
    const { vehicle: v, mixture } = this
    this.runOn()
    this.governor.decide()
    this.cell = cellOf((this.freshKgS * 1e3) / v.displacementL)
    const air = byBank(this)
    this.service.step(this, PERIOD_S)
    let heatKg: number
    let lambda: number
    if (v.fuel === 'diesel') {
      this.governor.boundBySmoke()
      heatKg = this.dieselKgS * PERIOD_S
      lambda = this.freshKgS / Math.max(1e-9, AFR_DIESEL * this.dieselKgS)
      mixture.lambda[0] = mixture.lambda[1] = lambda
      mixture.fuelUsedKg += heatKg
    } else {
      this.mix(air)
      const m = mixture.lambda
      lambda = trimBanksOf(v) === 2 ? 0.5 * (m[0] + m[1]) : m[0]
      heatKg = this.running ? mixture.fuelKg / Math.max(1, lambda < 1 ? 1 / lambda : 1) : 0
    }
    this.crank.turn(heatKg, lambda)
    const a = this.air.account
    a.plate = a.leak = a.vent = a.purge = a.egr = a.cylinders = a.fresh = 0
  }

  /** Gasoline: what the controller injects for the air it believes in. @param air - fresh, by bank [kg] */
  private mix(air: [number, number]): void {
    const v = this.vehicle
    const carburettor = v.injection === 'carburettor'
    const foreign = this.service.burningAsGasolineKg / (trimBanksOf(v) === 2 ? 2 : 1)
    this.mixture.step(
      {
        air,
        believed: this.running ? this.metering.believedKg() / (carburettor ? 0.94 : 1) : 0,
        vapour: this.air.account.purge * 0.25 * this.faults.canisterLoad,
        foreign: [foreign, foreign],
        lambdaCommand: carburettor ? 1 : this.lambdaCommand,
        closed: this.closedLoop,
        cut: this.fuelCut || !this.running,
        cell: this.cell,
        rpm: this.rpm,
        flowShare: this.flowShare,
        coolantC: this.coolantC,
      },
      Math.min(0.3, 0.11 * this.hurry),
    )
  }

  /** Heat: coolant, soak of the intake air. Slow. */
  private warm(): void {
    const s = this.surroundings
    if (this.running && this.coolantC < THERMOSTAT_C) this.coolantC += (0.11 + 0.5 * this.flowShare) * PERIOD_S
    else if (!this.running) this.coolantC += ((s.ambientC - this.coolantC) / 5400) * PERIOD_S
    const soak = this.character.soakK * Math.max(0, (this.coolantC - s.ambientC) / 70) * (this.kph > 20 ? 0.35 : 1)
    this.intakeC += ((s.ambientC + soak - this.intakeC) / 150) * PERIOD_S
  }

  /** Sets the air side for the next period. */
  private arrange(): void {
    const { vehicle: v, character: c, faults: f, surroundings: s, air } = this
    // the curve is drawn again only when it has moved by more than a look would tell
    if (Math.abs(this.deposits - this.platesFor) > 0.003) {
      this.platesFor = this.deposits
      this.plates = new PlateArea(v, c, this.deposits)
    }
    air.ambientPa = s.ambientPa
    const intakeK = this.intakeC + ZERO_CELSIUS_K
    air.warmTo(intakeK, intakeK + 14 - 6 * Math.min(1, this.load))
    this.inlet.press()
    air.upstreamPa = this.chargePa
    const lift = v.loadControl === 'valve-lift'
    this.liftShare = lift ? Math.min(1, 0.03 + 4 * this.plate) : 1
    air.plateM2 =
      this.plates.at(lift ? 0.35 : this.plate) * (1 - f.narrowed) +
      (v.idleControl === 'idle-valve' ? this.valve * c.idleValveMm2 * 1e-6 * (1 - 0.6 * this.deposits) : 0)
    air.leakM2 = f.leakMm2 * 1e-6
    air.ventM2 = (c.ventMm2 * (1 - f.ventBlocked) + (c.ventMm2 > 0 ? f.ventExtraMm2 : 0)) * 1e-6
    this.governor.commandGas()
    air.purgeM2 = (this.purgeCommand * c.purgeFullMm2 + f.purgeMm2) * 1e-6
    const open = v.fuel === 'diesel' ? 1 : 0.3
    air.egrM2 = (this.egrCommand * open * c.egrFullMm2 * (1 - f.egrMissing) + f.egrMm2) * 1e-6
    air.exhaustPa = exhaustPa(this)
    this.crank.halve()
    air.swallow = swept(this, false, air.manifoldK) * this.liftShare * (this.crank.halved ? 0.5 : 1)
    air.slope = c.breathingSlope
    air.intercept = c.breathingIntercept
    if (v.fuel === 'diesel') {
      // its air says nothing of its torque
      this.load = Math.min(1, this.dieselKgS / dieselFullKgS(v))
      return
    }
    const most = (c.breathingPeak * c.vdM3 * s.ambientPa * air.omega) / (4 * Math.PI * AIR_GAS_CONSTANT * air.intakeK)
    this.load = most > 1e-6 ? Math.min(1, this.freshKgS / most) : 0
  }
}

/** Fuel per air at λ = 1 of an engine's ordinary fuel [–]. */
export const stoichiometricAfr = (v: Vehicle): number => (v.fuel === 'diesel' ? AFR_DIESEL : AFR)
