import type { EngineCharacter } from './character.js'
import type { SimulatedFaults } from './faults.js'
import { trimBanksOf, type Vehicle } from '../engine/index.js'

/** Stoichiometric air per fuel of gasoline [–]. Source: Heywood, app. D. */
export const AFR = 14.6
/** Air per diesel fuel [–]. Source: Heywood, app. D. */
export const AFR_DIESEL = 14.5
/** Fuel that a diesel burns at its most [kg/s]. */
export const dieselFullKgS = (v: Vehicle): number => 0.0016 * v.displacementL
export const STFT_LIMIT = 0.2
export const LTFT_LIMIT = 0.25
/** Long-term cells by airflow per litre [g/(s·L)]: idle, light, middle, more. */
const CELL_EDGES = [1.9, 4, 8] as const
export const CELLS = CELL_EDGES.length + 1
/** Control period [s]: the controller and the burning work at this pace, shorter than between two firings at idle. */
export const PERIOD_S = 0.01
/** Share of injected fuel that wets the port, and how fast it leaves when warm [s]. Guzzella and Onder, ch. 2: 0.2–0.4, 0.2–0.5 s. */
const FILM_SHARE = 0.25
const FILM_TAU_S = 0.35
const DELAY_SLOTS = 64

/** Air per fuel of what is in the tank against gasoline: 10 % ethanol +4.2 %, 85 % +49 % more fuel. */
export const fuelDemand = (ethanol: number): number => 1 + 0.4 * ethanol + 0.207 * ethanol * ethanol

/** Trim cell of an airflow. */
export function cellOf(airGPerSPerL: number): number {
  let i = 0
  while (i < CELL_EDGES.length && airGPerSPerL >= CELL_EDGES[i]) i++
  return i
}

/** What the mixture is made of in one period. */
export interface MixtureInput {
  /** Fresh air of each bank, and what the controller believes of it [kg in the period]. */
  readonly air: readonly [number, number]
  readonly believed: number
  /** Fuel that comes as vapour through purge, and what burns of a cleaner as gasoline [kg]. */
  readonly vapour: number
  readonly foreign: readonly [number, number]
  readonly lambdaCommand: number
  readonly closed: boolean
  readonly cut: boolean
  readonly cell: number
  readonly rpm: number
  /** Flow against full flow [–]. */
  readonly flowShare: number
  readonly coolantC: number
}

/** Fuel, wall film, transport, oxygen sensors and trims of one engine, bank by bank. */
export class Mixture {
  readonly stft: [number, number] = [0, 0]
  readonly ltft: [number[], number[]] = [new Array<number>(CELLS).fill(0), new Array<number>(CELLS).fill(0)]
  /** True mixture in the cylinders, and what the sensor has seen of it, late. */
  readonly lambda: [number, number] = [1, 1]
  readonly seen: [number, number] = [1, 1]
  /** Fuel burnt in the period [kg], and since the start. */
  fuelKg = 0
  fuelUsedKg = 0
  private readonly film: [number, number] = [0, 0]
  /** What the controller believes to be on the wall: it makes up for it, with a clean engine's figures. */
  private readonly filmBelieved: [number, number] = [0, 0]
  private readonly late: [Float64Array, Float64Array] = [
    new Float64Array(DELAY_SLOTS).fill(1),
    new Float64Array(DELAY_SLOTS).fill(1),
  ]
  private slot = 0

  constructor(
    private readonly v: Vehicle,
    private readonly c: EngineCharacter,
    private readonly f: SimulatedFaults,
  ) {}

  /** Forgets what was learnt, as a reset or a battery taken off does. */
  reset(): void {
    for (const b of [0, 1] as const) {
      this.stft[b] = 0
      this.ltft[b].fill(0)
    }
  }

  /** Total trim of a bank at a cell [–]. */
  total(bank: 0 | 1, cell: number): number {
    return (1 + this.stft[bank]) * (1 + this.ltft[bank][cell]) - 1
  }

  /** One control period. `learn` is how fast the long-term cells follow [1/s]. */
  step(q: MixtureInput, learn: number): void {
    const { v, f } = this
    const banks = trimBanksOf(v) === 2 ? 2 : 1
    const demand = fuelDemand(f.ethanol)
    const share =
      this.c.fuelScale * (1 + f.fuelErrorIdle + (f.fuelErrorFull - f.fuelErrorIdle) * Math.min(1, q.flowShare))
    const injections = (q.rpm / 120) * (v.cylinders / banks) * PERIOD_S
    const wetClean = v.injection === 'direct' ? 0.05 : FILM_SHARE
    const wet = Math.min(0.8, wetClean * (1 + 0.5 * f.valveDeposits))
    const tauClean = FILM_TAU_S * (1 + Math.max(0, 85 - q.coolantC) / 20)
    const tau = tauClean * (1 + 0.5 * f.valveDeposits)
    this.fuelKg = 0
    for (let b = 0; b < banks; b++) {
      const bank = b as 0 | 1
      let injected = 0
      if (!q.cut) {
        const wanted =
          (q.believed / banks / (AFR * q.lambdaCommand)) * (1 + this.stft[bank]) * (1 + this.ltft[bank][q.cell])
        const leaves = (this.filmBelieved[bank] * PERIOD_S) / tauClean
        const command = Math.max(0, (wanted - leaves) / (1 - wetClean))
        this.filmBelieved[bank] += wetClean * command - leaves
        injected = command * share
        if (f.injectorError !== 0 && this.bankOf(f.injectorCylinder) === bank)
          injected *= 1 + f.injectorError / (v.cylinders / banks)
        injected = Math.max(0, injected - f.deadTimeKg * injections)
        // what is lost of the pressure goes with flow squared, what is injected with the root of what is left of it
        if (f.fuelChokeKgS > 0) injected /= Math.hypot(1, (injected * banks) / (PERIOD_S * f.fuelChokeKgS))
      }
      if (q.cut) this.filmBelieved[bank] *= 1 - PERIOD_S / tauClean
      const evaporated = Math.min(this.film[bank], (this.film[bank] * PERIOD_S) / tau)
      this.film[bank] += wet * injected - evaporated
      const fuel = (1 - wet) * injected + evaporated + q.vapour / banks + q.foreign[bank]
      this.lambda[bank] = fuel > 1e-12 ? Math.min(4, (q.air[bank] * demand) / (AFR * fuel)) : 4
      this.fuelKg += fuel
    }
    if (banks === 1) this.lambda[1] = this.lambda[0]
    this.fuelUsedKg += this.fuelKg
    this.feel(q, banks)
    if (q.closed) this.trim(q, banks, learn)
  }

  private bankOf(cylinder: number): 0 | 1 {
    return trimBanksOf(this.v) === 2 && cylinder > this.v.cylinders / 2 ? 1 : 0
  }

  /** Oxygen sensors: transport delay, lag, and what comes past the mixture itself. */
  private feel(q: MixtureInput, banks: number): void {
    const { v, f } = this
    this.slot = (this.slot + 1) % DELAY_SLOTS
    const perLitre = Math.max(0.3, (q.air[0] + q.air[1]) / PERIOD_S / (v.displacementL * 1e-3))
    const delay = Math.min(DELAY_SLOTS - 1, Math.round(4 + 16 / perLitre))
    const idleShare = Math.min(2, 1.2 / perLitre)
    for (let b = 0; b < banks; b++) {
      const bank = b as 0 | 1
      const misfires = f.misfireCylinder > 0 && this.bankOf(f.misfireCylinder) === bank
      this.late[bank][this.slot] =
        this.lambda[bank] +
        // oxygen of the cycles that did not burn
        (misfires ? (0.85 * f.misfireShare) / (v.cylinders / banks) : 0) +
        (f.exhaustLeak > 0 && (f.exhaustLeakBank === 0 || f.exhaustLeakBank === bank + 1)
          ? f.exhaustLeak * idleShare
          : 0) -
        (bank === 0 ? f.oxygenBias1 : f.oxygenBias2)
    }
    for (let b = 0; b < banks; b++) {
      const source = (f.oxygenCrossed ? 1 - b : b) as 0 | 1
      const old = this.late[source][(this.slot - delay + DELAY_SLOTS) % DELAY_SLOTS]
      this.seen[b as 0 | 1] += (old - this.seen[b as 0 | 1]) * 0.12
    }
  }

  /** Switching control: a jump when the sensor changes sides is left out, the ramp and its faster foot are not. */
  private trim(q: MixtureInput, banks: number, learn: number): void {
    for (let b = 0; b < banks; b++) {
      const bank = b as 0 | 1
      const off = this.seen[bank] - 1
      const ramp = 0.03 + 1.3 * Math.min(0.2, Math.abs(off))
      this.stft[bank] = bounded(this.stft[bank] + (off > 0 ? ramp : -ramp) * PERIOD_S, STFT_LIMIT)
      const cell = this.ltft[bank]
      cell[q.cell] = bounded(cell[q.cell] + learn * this.stft[bank] * PERIOD_S, LTFT_LIMIT)
    }
  }
}

const bounded = (x: number, limit: number): number => Math.min(limit, Math.max(-limit, x))
