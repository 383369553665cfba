import { bankOfCylinder, firingOrderOf, type Vehicle } from '../engine/index.js'
import { seededRandom } from '../statistics/index.js'
import type { EngineCharacter } from './character.js'
import type { EngineView } from './view.js'
import type { SimulatedFaults } from './faults.js'

/** Connecting rod ratio crank radius / rod [–]; ordinary. */
const ROD = 0.3
/** Intake opens before top dead centre and closes after bottom [° crank]. */
const OPENS = -12
const CLOSES = 215
/** Overlap in which exhaust comes back through the open valve [° crank]. */
const OVERLAP = 30
const CYCLE = 720

/** Pressure against time, with the trigger of cylinder 1: true at its ignition top dead centre. */
export interface Waveform {
  readonly sampleHz: number
  /** Absolute [Pa]. */
  readonly pressurePa: Float64Array
  readonly trigger: Uint8Array
}

/** How a waveform is taken. */
export interface WaveformRequest {
  readonly seconds: number
  readonly sampleHz: number
  /** Length of hose between manifold and transducer [m]: 0.3 m delays by about 0.9 ms. */
  readonly hoseM?: number
  /** With one throttle a cylinder, the throttle that is measured, 1..; the plenum otherwise. */
  readonly cylinder?: number
}

/** What a cylinder draws against the mean, and how much comes back at its overlap [–]. */
interface Draw {
  readonly pull: number
  readonly back: number
  readonly late: number
  readonly torque: number
}

function drawOf(v: Vehicle, c: EngineCharacter, f: SimulatedFaults, cylinder: number): Draw {
  const bank = bankOfCylinder(v, cylinder)
  const here = (b: 0 | 1 | 2): boolean => b === 0 || b === bank
  let pull = c.cylinderShare[cylinder - 1]
  let back = 1
  let torque = 1
  if (f.weakCylinder === cylinder) {
    // what leaks past rings or valve is not drawn, and comes back
    pull *= 1 - 0.55 * f.weakShare
    back *= 1 + 3 * f.weakShare
    torque *= 1 - 0.7 * f.weakShare
  }
  if (f.runnerCylinder === cylinder) pull *= 1 - f.runnerLoss
  // the cylinder beside a runner leak draws part of its air from there
  if (f.leakCylinder === cylinder) pull *= 1 - Math.min(0.4, 0.03 * f.leakMm2)
  if (f.backPressurePa > 0 && here(f.backPressureBank)) back *= 1 + f.backPressurePa / 60_000
  // an ignition fault hardly changes the intake pull
  if (f.misfireCylinder === cylinder) torque *= 1 - f.misfireShare
  return { pull, back, late: f.timingLateDeg > 0 && here(f.timingLateBank) ? f.timingLateDeg : 0, torque }
}

/** Volume rate of one cylinder with its intake valve, by degree of its own cycle [1/° of swept volume]. */
function breathingShape(draw: Draw): Float64Array {
  const shape = new Float64Array(CYCLE)
  for (let deg = 0; deg < CYCLE; deg++) {
    // own cycle: 0 is the top dead centre of the gas exchange
    const a = deg > 600 ? deg - CYCLE : deg
    const opens = OPENS + draw.late
    const closes = CLOSES + draw.late
    if (a < opens || a > closes) continue
    const rad = (a * Math.PI) / 180
    const speed = 0.5 * Math.sin(rad) * (1 + (ROD * Math.cos(rad)) / Math.sqrt(1 - (ROD * Math.sin(rad)) ** 2))
    const lift = Math.min(1, (a - opens) / 40, (closes - a) / 40)
    const drawn = speed * lift * draw.pull
    const back = a < opens + OVERLAP ? 0.0022 * draw.back * (1 - (a - opens) / OVERLAP) : 0
    shape[deg] = (drawn * Math.PI) / 180 - back
  }
  return shape
}

/**
 * Cylinder pulses on top of the mean-value engine: plenum (or each throttle's own runner) filled and emptied degree by
 * degree at the engine's present speed and mean pressure. Exact in form, simple in cause: no pipe waves.
 */
export class PulseLayer {
  private readonly shapes: readonly Float64Array[]
  private readonly draws: readonly Draw[]
  /** Start of each cylinder's own cycle [° crank after the ignition top dead centre of cylinder 1]. */
  private readonly offset: readonly number[]
  private readonly order: readonly number[]
  private readonly own: boolean
  private readonly pressures: Float64Array
  private degree = 0

  constructor(private readonly e: EngineView) {
    const { vehicle: v, character: c, faults: f } = e
    this.order = firingOrderOf(v)
    this.draws = Array.from({ length: v.cylinders }, (_, i) => drawOf(v, c, f, i + 1))
    this.shapes = this.draws.map(breathingShape)
    // a cylinder's gas exchange comes a turn after its ignition
    this.offset = Array.from({ length: v.cylinders }, (_, i) => (this.order.indexOf(i + 1) * CYCLE) / v.cylinders + 360)
    this.own = v.plenum === 'individual' && v.throttleBodies >= v.cylinders
    this.pressures = new Float64Array(this.own ? v.cylinders : 1).fill(e.air.manifoldPa)
  }

  /** One degree of crank: filling through the plate, drawing by each cylinder. */
  step(): void {
    const { character: c, air } = this.e
    const degree = this.degree
    this.degree = degree + 1 === CYCLE ? 0 : degree + 1
    const perCylinder = c.vdM3 / this.shapes.length
    const p = this.pressures
    const mean = Math.max(2000, this.target)
    // choked, or nearly: what comes through the plate hardly feels the pulses
    for (let k = 0; k < p.length; k++) {
      const volume = this.own ? 0.6 * perCylinder : c.manifoldM3
      let drawn = 0
      if (this.own) drawn = this.shapes[k][(degree + 2 * CYCLE - this.offset[k]) % CYCLE]
      else
        for (let i = 0; i < this.shapes.length; i++)
          drawn += this.shapes[i][(degree + 2 * CYCLE - this.offset[i]) % CYCLE]
      const filled = (this.inflow[k] * (air.upstreamPa - p[k])) / Math.max(1, air.upstreamPa - mean)
      p[k] = Math.max(1000, p[k] + (perCylinder / volume) * (filled - drawn * p[k]))
    }
  }

  private target = 30_000
  private inflow: Float64Array = new Float64Array(1)

  /** Sets the level to the engine's present mean pressure. */
  private settle(): void {
    this.target = this.e.air.manifoldPa
    this.inflow = Float64Array.from(this.pressures, (_, k) => {
      const sum = (list: readonly Float64Array[]): number =>
        list.reduce((s, x) => s + x.reduce((a, b) => a + b, 0), 0) / CYCLE
      if (!this.own) return sum(this.shapes) * this.target
      const { throttleOff, throttleOffShare } = this.e.faults
      return sum([this.shapes[k]]) * this.target * (throttleOff === k + 1 ? 1 + throttleOffShare : 1)
    })
    for (let i = 0; i < 6 * CYCLE; i++) this.step()
  }

  /**
   * Samples the pressure at any rate through a hose. Speed ripples with the torque of each cylinder, so that a weak one
   * shows in the trigger too. Deterministic by the engine's seed.
   * @throws RangeError when the rate is not above 0 or the engine does not turn
   */
  record(q: WaveformRequest): Waveform {
    if (!(q.sampleHz > 0 && q.sampleHz <= 200_000))
      throw new RangeError(`sampleHz = ${q.sampleHz}, accepted: 1 to 200000`)
    if (!(this.e.rpm > 50)) throw new RangeError(`the engine turns at ${this.e.rpm.toFixed(0)} rpm, accepted: above 50`)
    this.settle()
    const random = seededRandom(this.e.character.seed ^ 0x9e3779b9)
    const n = Math.floor(q.seconds * q.sampleHz)
    const pressurePa = new Float64Array(n)
    const trigger = new Uint8Array(n)
    const channel = this.own ? Math.min(this.pressures.length, Math.max(1, q.cylinder ?? 1)) - 1 : 0
    const delayS = (q.hoseM ?? 0) / 340
    const lag = Math.min(1, 1 / q.sampleHz / (0.0004 + delayS))
    const meanTorque = this.draws.reduce((s, d) => s + d.torque, 0) / this.draws.length
    let t = -Math.max(0.1, delayS * 2)
    let next = 0
    let felt = this.pressures[channel]
    let rate = 6 * this.e.rpm
    const late: number[] = []
    const span = CYCLE / this.order.length
    for (let i = 0; i < n;) {
      const fires = this.order[Math.floor(this.degree / span) % this.order.length]
      if (this.degree % span === 0) {
        const firing = this.draws[fires - 1].torque / meanTorque - 1 + 0.01 * (random() - 0.5)
        rate += 6 * this.e.rpm * 0.06 * firing
        rate += (6 * this.e.rpm - rate) * 0.3
      }
      const atTop = this.degree === 0
      this.step()
      t += 1 / rate
      late.push(this.pressures[channel])
      const behind = Math.round(delayS * rate)
      const source = late[Math.max(0, late.length - 1 - behind)]
      if (late.length > 4000) late.splice(0, 2000)
      if (atTop && i < n && t >= 0) trigger[i] = 1
      while (t >= next && i < n) {
        felt += (source - felt) * lag
        pressurePa[i] = felt + 12 * (random() - 0.5)
        i++
        next = i / q.sampleHz
      }
    }
    return { sampleHz: q.sampleHz, pressurePa, trigger }
  }
}
