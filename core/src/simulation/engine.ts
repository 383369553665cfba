import { AIR_GAS_CONSTANT, ZERO_CELSIUS_K, airDensity, standardPressurePa } from '../air/index.js'
import { hasMaf, type Vehicle, trimBanksOf } from '../engine/index.js'
import { seededRandom, type Random } from '../statistics/index.js'
import { AirSide, type AirAccount } from './airSide.js'
import { PlateArea, characterOf, type EngineCharacter } from './character.js'
import { AT_IDLE, type Controls } from './drive.js'
import { HEALTHY, type SimulatedFaults } from './faults.js'
import { FlowTable } from './flow.js'
import { IdleControl } from './idleControl.js'
import { AFR, AFR_DIESEL, Mixture, PERIOD_S, cellOf } from './mixture.js'
import { Monitors } from './monitors.js'
import { crankInertia, dragNm, roadKph, roadLoadNm, starterNm } from './motion.js'
import { ServiceEffects } from './serviceEffects.js'

/** Integration step of the air side and the crank [s]. */
export const STEP_S = 0.001
const STEPS = Math.round(PERIOD_S / STEP_S)
/** Heating value [J/kg]: gasoline and diesel alike within 2 %. Source: Heywood, app. D. */
const HEATING_J_KG = 43.2e6
const THERMOSTAT_C = 91
/** Below this coolant the controller runs open loop [°C]. */
const CLOSED_LOOP_C = 35
/** Share of the indicated torque that late spark holds back at idle, to be given at once when speed falls; ours, ordinary. */
const SPARK_RESERVE = 0.12
/** Above this fuel is cut when the foot is off [rpm]. */
const CUT_RPM = 1300

/** Weather and place. */
export interface Surroundings {
  readonly ambientPa: number
  readonly ambientC: number
}

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
 * docs/simulator.md gives equations, parameters and limits.
 */
export class SimulatedEngine {
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
  /** Openings [share]. */
  plate = 0.05
  valve = 0
  pedal = 0.03
  kph = 0
  coolantC: number
  /** Air at the intake temperature sensor, soaked by the engine's heat. */
  intakeC: number
  closedLoop = true
  fuelCut = false
  lambdaCommand = 1
  /** Flows over the last period [kg/s]: true through the sensor, fresh into the cylinders. */
  meteredKgS = 0
  freshKgS = 0
  ductLeakKgS = 0
  boostLeakKgS = 0
  /** What the sensors report. */
  mafRead = 0
  mapRead: number
  chargePa: number
  load = 0.2
  /** Exhaust gas and purge as commanded, 0..1. */
  egrCommand = 0
  purgeCommand = 0
  runTimeS = 600
  distanceKm = 0
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
  /** How fast learnt values follow against a driven car; raised while an engine is settled in. */
  hurry = 1

  private plates: PlateArea
  private platesFor = -1
  private readonly fullKgS: number
  private readonly random: Random
  private readonly chargeFlow = new FlowTable()
  private noise = 0
  private crankedS = 0
  private chargeKgS: number
  private dieselKgS = 0
  private cellNow = 0
  private stop: number | undefined
  private liftShare = 1
  private halved = false
  private modeBefore: Controls['mode'] = 'idle'

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
    this.random = random
    const { ambientPa, ambientC } = this.surroundings
    this.coolantC = q.coolantC ?? THERMOSTAT_C
    this.intakeC = ambientC + (q.coolantC === undefined ? this.character.soakK : 0)
    const open = q.vehicle.fuel === 'diesel' || q.vehicle.loadControl === 'valve-lift'
    this.air = new AirSide(this.character.manifoldM3, {
      manifoldPa: (open ? 0.95 : 0.35) * ambientPa,
      omega: (this.character.idleTargetRpm * Math.PI) / 30,
    })
    this.mapRead = this.air.manifoldPa
    this.chargePa = ambientPa
    this.fullKgS = (q.vehicle.induction === 'turbo' ? 0.045 : 0.026) * q.vehicle.displacementL
    this.mixture = new Mixture(this.vehicle, this.character, this.faults)
    this.idle = new IdleControl(this.vehicle)
    this.monitors = new Monitors(this.vehicle)
    this.service = new ServiceEffects(this.vehicle)
    this.plates = new PlateArea(this.vehicle, this.character, this.faults.deposits)
    this.freshKgS = 1e-3 * this.vehicle.displacementL
    this.mafRead = this.freshKgS
    this.meteredKgS = this.freshKgS
    this.chargeKgS = this.freshKgS
    this.dieselKgS = 1.2e-4 * this.vehicle.displacementL
    this.arrange()
  }

  /** Crank speed [rev/min]. */
  get rpm(): number {
    return (this.air.omega * 30) / Math.PI
  }

  get flowShare(): number {
    return this.meteredKgS / this.fullKgS
  }

  get cell(): number {
    return this.cellNow
  }

  /** Deposits left on the plate, 0..1: the fault less what a service has taken off. */
  get deposits(): number {
    return Math.max(0, this.faults.deposits - this.service.platesCleaned)
  }

  /** Fixes the idle stop of an engine without idle control [share of opening]. */
  setStop(opening: number): void {
    this.stop = opening
  }

  /** Runs on by a time, rounded to whole control periods. `each` is called after every period. */
  advance(seconds: number, each?: () => void): void {
    const periods = Math.round(seconds / PERIOD_S)
    for (let i = 0; i < periods; i++) {
      for (let k = 0; k < STEPS; k++) this.air.step(STEP_S)
      this.timeS += PERIOD_S
      this.account()
      this.sense()
      this.burn()
      this.govern()
      this.warm()
      this.arrange()
      this.monitors.step(this, PERIOD_S)
      each?.()
    }
  }

  /** Takes the period's flows, and books what passes beside the plate. */
  private account(): void {
    const a = this.air.account
    const { faults: f, surroundings: s } = this
    const through = (a.plate + a.vent) / PERIOD_S
    this.freshKgS = a.fresh / PERIOD_S
    this.ductLeakKgS = 0
    if (f.ductLeakMm2 > 0 && through > 0) {
      const rho = airDensity(s.ambientPa, this.air.intakeK)
      const ductM2 = 0.55 * Math.PI * (0.5e-3 * this.vehicle.throttleBoreMm) ** 2 * this.vehicle.throttleBodies
      const depression = this.inletDropPa(through) + (through / ductM2) ** 2 / (2 * rho)
      this.ductLeakKgS = Math.min(0.8 * through, f.ductLeakMm2 * 1e-6 * Math.sqrt(2 * rho * depression))
    }
    this.boostLeakKgS = 0
    if (f.boostLeakMm2 > 0) {
      const [high, low, sign] =
        this.chargePa >= s.ambientPa ? [this.chargePa, s.ambientPa, 1] : [s.ambientPa, this.chargePa, -1]
      this.chargeFlow.at(low / high)
      this.boostLeakKgS =
        (sign * f.boostLeakMm2 * 1e-6 * high * this.chargeFlow.psi) / Math.sqrt(AIR_GAS_CONSTANT * this.air.intakeK)
    }
    this.meteredKgS = Math.max(0, through - this.ductLeakKgS + this.boostLeakKgS)
    const sum = this.total
    sum.plate += a.plate
    sum.leak += a.leak
    sum.vent += a.vent
    sum.purge += a.purge
    sum.egr += a.egr
    sum.cylinders += a.cylinders
    sum.fresh += a.fresh
    sum.metered += this.meteredKgS * PERIOD_S
  }

  private inletDropPa(flow: number): number {
    return this.character.inletDrag * 0.6 * (flow / (1 - this.faults.restriction)) ** 2
  }

  private sense(): void {
    const { character: c, faults: f } = this
    const idleFlow = 1.1e-3 * this.vehicle.displacementL
    const share = 1 - Math.exp(-Math.max(0, this.meteredKgS - idleFlow) / (0.18 * this.fullKgS))
    const error = f.mafErrorIdle + (f.mafErrorFull - f.mafErrorIdle) * share
    const seen = this.meteredKgS * c.mafScale * (1 + error) + f.mafZeroKgS
    this.mafRead += (Math.max(0, seen) - this.mafRead) * 0.4
    // what passed the sensor reaches the cylinders through the manifold: the controller knows its time constant
    const tau = (160 * c.manifoldM3) / (c.vdM3 * this.liftShare * Math.max(300, this.rpm))
    this.chargeKgS += (this.mafRead - this.chargeKgS) * Math.min(1, PERIOD_S / tau)
    const lag = 0.012 + f.mapLagS
    this.mapRead += (this.air.manifoldPa + f.mapOffsetPa - this.mapRead) * Math.min(1, PERIOD_S / lag)
  }

  /** Breathing coefficient at a speed, faults included; what the controller believes leaves them out. */
  private tuned(rpm: number, believed: boolean): number {
    const { character: c, faults: f, vehicle: v } = this
    let t = c.breathingPeak * (1 - 0.26 * ((rpm - c.peakRpm) / c.peakRpm) ** 2)
    if (v.loadControl === 'late-closing')
      t *= this.load < 0.6 ? 0.78 : 0.78 + 0.22 * Math.min(1, (this.load - 0.6) / 0.3)
    if (believed) return Math.max(0.1, t)
    if (rpm > 3200) t *= 1 - f.flapStuck
    t *= 1 - 0.22 * f.valveDeposits * Math.min(1, this.flowShare)
    const half = (bank: 0 | 1 | 2): number => (trimBanksOf(v) === 2 && bank !== 0 ? 0.5 : 1)
    if (f.timingLateDeg > 0) t *= 1 - half(f.timingLateBank) * 0.011 * f.timingLateDeg * Math.max(-0.5, 1 - rpm / 3200)
    t *= 1 - (f.runnerLoss * Math.min(1, 0.25 + 0.9 * this.flowShare)) / v.cylinders
    t *= 1 - (0.15 * f.weakShare) / v.cylinders
    return Math.max(0.1, t)
  }

  /** Fresh air by bank in a period [kg]: unequal breathing, and a leak that one bank feels more of. */
  private byBank(): [number, number] {
    const { vehicle: v, character: c, faults: f } = this
    const a = this.air.account
    if (trimBanksOf(v) !== 2) return [a.fresh, 0]
    const half = v.cylinders / 2
    let imbalance = 0
    for (let k = 0; k < v.cylinders; k++) imbalance += (k < half ? 1 : -1) * (c.cylinderShare[k] - 1)
    imbalance /= v.cylinders
    const side = (cylinder: number): number => (cylinder <= half ? -1 : 1)
    if (f.runnerLoss > 0)
      imbalance += (side(f.runnerCylinder) * f.runnerLoss * Math.min(1, 0.25 + 0.9 * this.flowShare)) / v.cylinders
    if (f.backPressureBank !== 0)
      imbalance += (f.backPressureBank === 1 ? -1 : 1) * Math.min(0.25, this.bankBackPa() / 160_000)
    if (f.timingLateBank !== 0)
      imbalance += (f.timingLateBank === 1 ? -1 : 1) * 0.0055 * f.timingLateDeg * Math.max(-0.5, 1 - this.rpm / 3200)
    const bank = f.leakBank || (f.leakCylinder > 0 ? (f.leakCylinder <= half ? 1 : 2) : 0)
    const beta = bank === 0 ? 0 : (bank === 1 ? 1 : -1) * c.bankIsolation
    const leak = Math.min(a.fresh, Math.max(0, a.leak))
    const rest = a.fresh - leak
    return [0.5 * (rest * (1 + imbalance) + leak * (1 + beta)), 0.5 * (rest * (1 - imbalance) + leak * (1 - beta))]
  }

  private bankBackPa(): number {
    return this.faults.backPressurePa * Math.min(1.5, (this.meteredKgS / this.fullKgS) ** 2 * 6 + 0.06)
  }

  /** Air that the controller reckons with [kg in the period]. */
  private believedKg(): number {
    const { character: c, surroundings: s } = this
    // fuel for the start is by a table that suits a sound engine, not by the sensor
    if (this.runTimeS < 2) return this.freshKgS * PERIOD_S
    if (hasMaf(this.vehicle)) return this.chargeKgS * PERIOD_S
    if (this.vehicle.metering === 'none') return Math.max(0, this.air.account.plate + this.air.account.vent)
    const offset = this.faults.mapOffsetPa
    const intakeK = (this.faults.iatOpen ? -40 : this.intakeC) + ZERO_CELSIUS_K
    const manifoldK = intakeK + 14 - 6 * Math.min(1, this.load)
    const k = (this.tuned(this.rpm, true) * c.vdM3) / (4 * Math.PI * AIR_GAS_CONSTANT * manifoldK)
    // barometer: what this very sensor read at key-on
    const pull = c.breathingSlope * this.mapRead - c.breathingIntercept * (s.ambientPa + offset)
    const inert = this.egrCommand * 0.12
    return Math.max(0, k * this.liftShare * this.air.omega * pull) * (1 - inert) * PERIOD_S
  }

  private burn(): void {
    const { vehicle: v, faults: f, controls: u } = this
    const rpm = this.rpm
    if (this.running && rpm < 240 && u.mode !== 'crank') {
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
    const diesel = v.fuel === 'diesel'
    this.fuelCut = u.mode === 'coast' && rpm > CUT_RPM && !diesel && v.metering !== 'none'
    const wide = u.mode === 'wide' || this.load > 0.92
    const coolantRead = f.ectOpen ? -40 : this.coolantC
    this.closedLoop =
      this.running &&
      !diesel &&
      v.metering !== 'none' &&
      !this.fuelCut &&
      !wide &&
      coolantRead > CLOSED_LOOP_C &&
      this.runTimeS > 15
    this.lambdaCommand = wide ? 0.88 : coolantRead < CLOSED_LOOP_C ? 0.9 : 1
    this.cellNow = cellOf((this.freshKgS * 1e3) / v.displacementL)
    const air = this.byBank()
    this.service.step(this, PERIOD_S)
    let heatKg: number
    let lambda: number
    if (diesel) {
      const smoke = Math.max(0, this.freshKgS / (AFR_DIESEL * 1.25))
      this.dieselKgS = this.running ? Math.min(smoke, this.dieselKgS) : 0
      heatKg = this.dieselKgS * PERIOD_S
      lambda = this.freshKgS / Math.max(1e-9, AFR_DIESEL * this.dieselKgS)
      this.mixture.lambda[0] = this.mixture.lambda[1] = lambda
      this.mixture.fuelUsedKg += heatKg
    } else {
      const carburettor = v.injection === 'carburettor'
      const foreign = this.service.burningAsGasolineKg / (trimBanksOf(v) === 2 ? 2 : 1)
      this.mixture.step(
        {
          air,
          believed: this.running ? this.believedKg() / (carburettor ? 0.94 : 1) : 0,
          vapour: this.air.account.purge * 0.25 * f.canisterLoad,
          foreign: [foreign, foreign],
          lambdaCommand: carburettor ? 1 : this.lambdaCommand,
          closed: this.closedLoop,
          cut: this.fuelCut || !this.running,
          cell: this.cellNow,
          rpm,
          flowShare: this.flowShare,
          coolantC: this.coolantC,
        },
        Math.min(0.3, 0.11 * this.hurry),
      )
      const m = this.mixture.lambda
      lambda = trimBanksOf(v) === 2 ? 0.5 * (m[0] + m[1]) : m[0]
      heatKg = this.running ? this.mixture.fuelKg / Math.max(1, lambda < 1 ? 1 / lambda : 1) : 0
    }
    this.torque(heatKg, lambda, diesel)
    const a = this.air.account
    a.plate = a.leak = a.vent = a.purge = a.egr = a.cylinders = a.fresh = 0
  }

  private torque(heatKg: number, lambda: number, diesel: boolean): void {
    const { vehicle: v, character: c, faults: f, controls: u, air } = this
    const rpm = this.rpm
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
    if (u.mode === 'idle' && this.running && !diesel && v.metering !== 'none')
      net +=
        (Math.min(SPARK_RESERVE, Math.max(-SPARK_RESERVE, (this.idleTarget() - rpm) * 0.004)) - SPARK_RESERVE) *
        indicated
    if (u.mode === 'crank' && !this.service.locked) net += starterNm(rpm)
    if (!this.running && rpm < 30 && u.mode !== 'crank') net = -air.omega * c.inertiaKgM2 * 50
    if (u.gear > 0) {
      net -= roadLoadNm(c, u, this.kph)
      this.kph = roadKph(rpm, u.gear)
      this.distanceKm += (this.kph / 3600) * PERIOD_S
    } else this.kph = 0
    air.netNm = net
    air.inertiaKgM2 = crankInertia(c, u.gear)
  }

  /** Idle speed that the controller wants now [rpm]: more with a load, more when cold. */
  idleTarget(): number {
    const cold = Math.max(0, 70 - this.coolantC) * 6
    return this.character.idleTargetRpm + (this.controls.accessoryNm > 5 ? 45 : 0) + Math.min(450, cold)
  }

  private govern(): void {
    const { vehicle: v, controls: u, faults: f } = this
    const ease = (now: number, to: number, tau: number): number => now + (to - now) * Math.min(1, PERIOD_S / tau)
    if (v.fuel === 'diesel') return this.governDiesel()
    const byValve = v.idleControl === 'idle-valve'
    const error = this.idleTarget() - this.rpm
    if (u.mode !== this.modeBefore && u.mode === 'idle') this.idle.enter()
    this.modeBefore = u.mode
    switch (u.mode) {
      case 'idle': {
        this.pedal = ease(this.pedal, 0, 0.2)
        if (v.idleControl === 'none' && this.stop !== undefined) {
          this.plate = ease(this.plate, this.stop, 0.06)
          break
        }
        const learns = this.closedLoop && u.accessoryNm < 5 && this.coolantC > 75
        const out = this.idle.step(error, v.metering === 'none' || learns ? this.hurry : 0)
        if (byValve) {
          this.valve = ease(this.valve, out, 0.05)
          this.plate = ease(this.plate, 0, 0.08)
        } else this.plate = ease(this.plate, out, 0.05)
        break
      }
      case 'speed': {
        const off = (u.targetRpm - this.rpm) / 1000
        this.pedal = Math.min(0.5, Math.max(0, this.pedal + off * 0.04 * PERIOD_S))
        this.plate = ease(this.plate, Math.max(0, this.pedal + off * 0.05), 0.06)
        break
      }
      case 'road': {
        const off = u.targetKph - this.kph
        this.pedal = Math.min(0.6, Math.max(0, this.pedal + off * 0.004 * PERIOD_S))
        this.plate = ease(this.plate, Math.min(0.8, Math.max(0, this.pedal + off * 0.02)), 0.2)
        break
      }
      case 'wide':
        this.pedal = ease(this.pedal, 1, 0.12)
        this.plate = ease(this.plate, 0.95, 0.12)
        break
      case 'coast':
        this.pedal = ease(this.pedal, 0, 0.1)
        this.plate = ease(this.plate, byValve ? 0 : 0.004, 0.1)
        break
      default:
        this.plate = ease(this.plate, this.idle.learnt * (byValve ? 0 : 1), 0.3)
    }
    if (byValve && f.valveStuckAt >= 0) this.valve = f.valveStuckAt
  }

  /** A diesel is governed by fuel; its airflow by exhaust gas. */
  private governDiesel(): void {
    const { controls: u } = this
    const most = 0.0016 * this.vehicle.displacementL
    const bounded = (x: number): number => Math.min(most, Math.max(0, x))
    const want = u.mode === 'speed' ? u.targetRpm : this.idleTarget()
    if (u.mode === 'idle' || u.mode === 'speed' || u.mode === 'crank')
      this.dieselKgS = bounded(this.pedal * most + ((want - this.rpm) / 1000) * 0.0011 * this.vehicle.displacementL)
    if (u.mode === 'idle' || u.mode === 'speed')
      this.pedal = Math.min(0.6, Math.max(0, this.pedal + ((want - this.rpm) / 1000) * 0.22 * PERIOD_S))
    if (u.mode === 'road') {
      const off = u.targetKph - this.kph
      this.pedal = Math.min(1, Math.max(0, this.pedal + off * 0.006 * PERIOD_S))
      this.dieselKgS = bounded((this.pedal + off * 0.02) * most)
    }
    if (u.mode === 'wide') this.dieselKgS = most
    if (u.mode === 'coast' || u.mode === 'off' || u.mode === 'key-on') this.dieselKgS = 0
    this.plate = 0.9
    if (this.character.egrFullMm2 === 0) return
    const share = Math.max(0, 0.45 * (1 - this.dieselKgS / (0.45 * most)))
    const clean = this.believedSwallowKgS() * (1 - share)
    const off = (this.mafRead - clean) / Math.max(1e-6, clean)
    const may = this.running && this.coolantC > 60 && share > 0.02
    this.egrCommand = may ? Math.min(1, Math.max(0, this.egrCommand + off * 0.8 * PERIOD_S)) : 0
  }

  /** What a clean engine of this kind swallows at the charge pressure [kg/s]. */
  private believedSwallowKgS(): number {
    const c = this.character
    const k = (this.tuned(this.rpm, true) * c.vdM3) / (4 * Math.PI * AIR_GAS_CONSTANT * this.air.manifoldK)
    return k * this.air.omega * (c.breathingSlope * this.chargePa - c.breathingIntercept * this.surroundings.ambientPa)
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
    const rpm = this.rpm
    air.ambientPa = s.ambientPa
    const intakeK = this.intakeC + ZERO_CELSIUS_K
    air.warmTo(intakeK, intakeK + 14 - 6 * Math.min(1, this.load))
    const suction = s.ambientPa - Math.min(0.5 * s.ambientPa, this.inletDropPa(this.meteredKgS))
    this.charge(suction)
    air.upstreamPa = this.chargePa
    const lift = v.loadControl === 'valve-lift'
    this.liftShare = lift ? Math.min(1, 0.03 + 4 * this.plate) : 1
    air.plateM2 =
      this.plates.at(lift ? 0.35 : this.plate) * (1 - f.narrowed) +
      (this.vehicle.idleControl === 'idle-valve' ? this.valve * c.idleValveMm2 * 1e-6 * (1 - 0.6 * this.deposits) : 0)
    air.leakM2 = f.leakMm2 * 1e-6
    air.ventM2 = (c.ventMm2 * (1 - f.ventBlocked) + (c.ventMm2 > 0 ? f.ventExtraMm2 : 0)) * 1e-6
    this.purgeCommand =
      c.purgeFullMm2 > 0 && this.closedLoop && this.coolantC > 70 && this.flowShare > 0.13 && this.timeS % 90 < 30
        ? 0.3
        : 0
    air.purgeM2 = (this.purgeCommand * c.purgeFullMm2 + f.purgeMm2) * 1e-6
    if (v.fuel !== 'diesel') {
      const may =
        c.egrFullMm2 > 0 &&
        this.coolantC > 70 &&
        rpm > 1300 &&
        this.load > 0.22 &&
        this.load < 0.7 &&
        u(this) === 'road'
      this.egrCommand += ((may ? 1 : 0) - this.egrCommand) * Math.min(1, PERIOD_S / 0.4)
    }
    const open = v.fuel === 'diesel' ? 1 : 0.3
    air.egrM2 = (this.egrCommand * open * c.egrFullMm2 * (1 - f.egrMissing) + f.egrMm2) * 1e-6
    const half = trimBanksOf(v) === 2 && f.backPressureBank !== 0 ? 0.5 : 1
    air.exhaustPa =
      s.ambientPa +
      9000 * this.flowShare ** 2 +
      // a turbine holds up more than its compressor gives
      (c.boostPa > 0 ? 1500 + 1.1 * Math.max(0, this.chargePa - s.ambientPa) : 0) +
      (f.backPressurePa > 0 ? half * this.bankBackPa() : 0)
    this.halve()
    const k = (this.tuned(rpm, false) * c.vdM3) / (4 * Math.PI * AIR_GAS_CONSTANT * air.manifoldK)
    air.swallow = k * this.liftShare * (this.halved ? 0.5 : 1)
    air.slope = c.breathingSlope
    air.intercept = c.breathingIntercept
    const most = (c.breathingPeak * c.vdM3 * s.ambientPa * air.omega) / (4 * Math.PI * AIR_GAS_CONSTANT * air.intakeK)
    this.load = most > 1e-6 ? Math.min(1, this.freshKgS / most) : 0
  }

  /** Pressure ahead of the plate: the inlet's drop, and what a compressor adds, late. */
  private charge(suctionPa: number): void {
    const { character: c, faults: f } = this
    let target = suctionPa
    if (c.boostPa > 0 && this.running) {
      const push =
        this.vehicle.fuel === 'diesel' ? (1.2 * this.dieselKgS) / (0.0016 * this.vehicle.displacementL) : 3 * this.plate
      const drive = Math.min(1, Math.max(0, (this.flowShare - 0.12) / 0.4)) * Math.min(1, push)
      const lost = Math.min(0.8, Math.max(0, this.boostLeakKgS) / Math.max(1e-6, this.meteredKgS))
      // the controller holds what its sensor reads at its command
      target += Math.max(0, Math.min(1.35 * c.boostPa * drive * (1 - lost), c.boostPa - f.chargeOffsetPa))
    }
    this.chargePa += (target - this.chargePa) * Math.min(1, PERIOD_S / (target > this.chargePa ? 0.5 : 0.15))
  }

  /** Cylinders that switch off at light road load. */
  private halve(): void {
    if (this.vehicle.loadControl !== 'cylinder-cut') return
    const light = this.kph > 35 && this.load > 0.12 && this.load < (this.halved ? 0.55 : 0.35)
    this.halved = light && this.rpm > 1100 && this.rpm < 3000
  }
}

const u = (e: SimulatedEngine): Controls['mode'] => e.controls.mode

/** Fuel per air at λ = 1 of an engine's ordinary fuel [–]. */
export const stoichiometricAfr = (v: Vehicle): number => (v.fuel === 'diesel' ? AFR_DIESEL : AFR)
