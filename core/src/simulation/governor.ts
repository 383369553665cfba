import { swept } from './breathing.js'
import type { Controls } from './drive.js'
import { AFR_DIESEL, dieselFullKgS, PERIOD_S } from './mixture.js'
import type { EngineView } from './view.js'

/** Below this coolant the controller runs open loop [°C]. */
const CLOSED_LOOP_C = 35
/** Above this fuel is cut when the foot is off [rpm]. */
const CUT_RPM = 1300

const ease = (now: number, to: number, tau: number): number => now + (to - now) * Math.min(1, PERIOD_S / tau)

/** The controller: what it opens, what it commands, when it trusts its oxygen sensor. Foot and road come in as controls. */
export class Governor {
  /** Openings [share]. */
  plate = 0.05
  valve = 0
  pedal = 0.03
  closedLoop = true
  fuelCut = false
  lambdaCommand = 1
  /** Exhaust gas and purge as commanded, 0..1. */
  egrCommand = 0
  purgeCommand = 0
  dieselKgS: number
  /** Idle stop of an engine without idle control [share of opening]. */
  stop: number | undefined
  private modeBefore: Controls['mode'] = 'idle'

  constructor(private readonly e: EngineView) {
    this.dieselKgS = 1.2e-4 * e.vehicle.displacementL
  }

  /** Idle speed that is wanted now [rpm]: more with a load, more when cold. */
  get idleTargetRpm(): number {
    const cold = Math.max(0, 70 - this.e.coolantC) * 6
    return this.e.character.idleTargetRpm + (this.e.controls.accessoryNm > 5 ? 45 : 0) + Math.min(450, cold)
  }

  /** Whether fuel is cut, the loop is closed, and which mixture is wanted. */
  decide(): void {
    const { vehicle: v, faults: f, controls: u, running } = this.e
    const diesel = v.fuel === 'diesel'
    this.fuelCut = u.mode === 'coast' && this.e.rpm > CUT_RPM && !diesel && v.metering !== 'none'
    const wide = u.mode === 'wide' || this.e.load > 0.92
    const coolantRead = f.ectOpen ? -40 : this.e.coolantC
    this.closedLoop =
      running &&
      !diesel &&
      v.metering !== 'none' &&
      !this.fuelCut &&
      !wide &&
      coolantRead > CLOSED_LOOP_C &&
      this.e.runTimeS > 15
    this.lambdaCommand = wide ? 0.88 : coolantRead < CLOSED_LOOP_C ? 0.9 : 1
  }

  /** Keeps a diesel's fuel to what burns without smoke. */
  boundBySmoke(): void {
    const smoke = Math.max(0, this.e.freshKgS / (AFR_DIESEL * 1.25))
    this.dieselKgS = this.e.running ? Math.min(smoke, this.dieselKgS) : 0
  }

  /** Moves plate, valve and pedal by one period. */
  govern(): void {
    const { vehicle: v, controls: u, faults: f, idle } = this.e
    if (v.fuel === 'diesel') return this.governDiesel()
    const byValve = v.idleControl === 'idle-valve'
    const error = this.idleTargetRpm - this.e.rpm
    if (u.mode !== this.modeBefore && u.mode === 'idle') idle.enter()
    this.modeBefore = u.mode
    switch (u.mode) {
      case 'idle': {
        this.pedal = ease(this.pedal, 0, 0.2)
        if (v.idleControl === 'none' && this.stop !== undefined) {
          this.plate = ease(this.plate, this.stop, 0.06)
          break
        }
        const learns = this.closedLoop && u.accessoryNm < 5 && this.e.coolantC > 75
        const out = idle.step(error, v.metering === 'none' || learns ? this.e.hurry : 0)
        if (byValve) {
          this.valve = ease(this.valve, out, 0.05)
          this.plate = ease(this.plate, 0, 0.08)
        } else this.plate = ease(this.plate, out, 0.05)
        break
      }
      case 'speed': {
        const off = (u.targetRpm - this.e.rpm) / 1000
        this.pedal = Math.min(0.5, Math.max(0, this.pedal + off * 0.04 * PERIOD_S))
        this.plate = ease(this.plate, Math.max(0, this.pedal + off * 0.05), 0.06)
        break
      }
      case 'road': {
        const off = u.targetKph - this.e.kph
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
        this.plate = ease(this.plate, idle.learnt * (byValve ? 0 : 1), 0.3)
    }
    if (byValve && f.valveStuckAt >= 0) this.valve = f.valveStuckAt
  }

  /** A diesel is governed by fuel; its airflow by exhaust gas. */
  private governDiesel(): void {
    const { controls: u, vehicle: v } = this.e
    const most = dieselFullKgS(v)
    const bounded = (x: number): number => Math.min(most, Math.max(0, x))
    const want = u.mode === 'speed' ? u.targetRpm : this.idleTargetRpm
    const rpm = this.e.rpm
    if (u.mode === 'idle' || u.mode === 'speed' || u.mode === 'crank')
      this.dieselKgS = bounded(this.pedal * most + ((want - rpm) / 1000) * 0.0011 * v.displacementL)
    if (u.mode === 'idle' || u.mode === 'speed')
      this.pedal = Math.min(0.6, Math.max(0, this.pedal + ((want - rpm) / 1000) * 0.22 * PERIOD_S))
    if (u.mode === 'road') {
      const off = u.targetKph - this.e.kph
      this.pedal = Math.min(1, Math.max(0, this.pedal + off * 0.006 * PERIOD_S))
      this.dieselKgS = bounded((this.pedal + off * 0.02) * most)
    }
    if (u.mode === 'wide') {
      this.pedal = ease(this.pedal, 1, 0.12)
      this.dieselKgS = most
    }
    if (u.mode === 'coast') this.pedal = ease(this.pedal, 0, 0.1)
    if (u.mode === 'coast' || u.mode === 'off' || u.mode === 'key-on') this.dieselKgS = 0
    this.plate = 0.9
    if (this.e.character.egrFullMm2 === 0) return
    const share = Math.max(0, 0.45 * (1 - this.dieselKgS / (0.45 * most)))
    const clean = this.believedSwallowKgS() * (1 - share)
    const off = (this.e.mafRead - clean) / Math.max(1e-6, clean)
    const may = this.e.running && this.e.coolantC > 60 && share > 0.02
    this.egrCommand = may ? Math.min(1, Math.max(0, this.egrCommand + off * 0.8 * PERIOD_S)) : 0
  }

  /** What a clean engine of this kind swallows at the charge pressure [kg/s]. */
  private believedSwallowKgS(): number {
    const { character: c, air, surroundings: s } = this.e
    const k = swept(this.e, true, air.manifoldK)
    return k * air.omega * (c.breathingSlope * this.e.chargePa - c.breathingIntercept * s.ambientPa)
  }

  /** Purge, and exhaust gas of an engine that is led by its plate. */
  commandGas(): void {
    const { character: c, controls: u, vehicle: v, coolantC, load } = this.e
    const may = c.purgeFullMm2 > 0 && this.closedLoop && coolantC > 70 && this.e.flowShare > 0.13
    this.purgeCommand = may && this.e.timeS % 90 < 30 ? 0.3 : 0
    if (v.fuel === 'diesel') return
    const asks =
      c.egrFullMm2 > 0 && coolantC > 70 && this.e.rpm > 1300 && load > 0.22 && load < 0.7 && u.mode === 'road'
    this.egrCommand += ((asks ? 1 : 0) - this.egrCommand) * Math.min(1, PERIOD_S / 0.4)
  }
}
