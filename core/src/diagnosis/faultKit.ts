import { type Vehicle, trimBanksOf, hasTrims } from '../engine/index.js'
import type { Effect, PointContext } from './effect.js'

/** Ids of the open format; never renamed. */
export type FaultId =
  | 'none'
  | 'unmetered-air'
  | 'unmetered-air-bank'
  | 'unmetered-air-duct'
  | 'pcv-stuck-open'
  | 'purge-stuck-open'
  | 'boost-leak'
  | 'maf-under-reads'
  | 'maf-over-reads'
  | 'map-sensor-offset'
  | 'temperature-sensor-implausible'
  | 'throttle-deposits'
  | 'idle-learnt-past'
  | 'idle-valve-stuck'
  | 'intake-restriction'
  | 'egr-open-at-idle'
  | 'egr-no-flow'
  | 'pcv-blocked'
  | 'valve-deposits'
  | 'runner-restriction'
  | 'fuel-delivery-low'
  | 'fuel-delivery-high'
  | 'oxygen-sensor-biased'
  | 'oxygen-sensors-crossed'
  | 'exhaust-leak'
  | 'exhaust-restriction'
  | 'valve-timing-late'
  | 'weak-cylinder'
  | 'ignition-misfire'

/** A fault as the diagnosis knows it. */
export interface Fault {
  readonly id: FaultId
  readonly label: string
  /** Prior share among the faults of an engine, 1 unless a reason is stated. */
  readonly weight: number
  readonly admissible: (v: Vehicle) => boolean
  /** The same where idle stands above its band: sizes that would lift it and nothing else. */
  readonly gridHigh?: Fault['grid']
  /** The same where trims stand at their stop at idle: sizes that do nothing less. */
  readonly gridAtStop?: Fault['grid']
  /** The same where the readings are nearest to the last of its sizes: how much further it goes. */
  readonly gridBeyond?: Fault['grid']
  /** Comes of work on the idle opening: its weight is that after such work. */
  readonly afterWork?: true
  /**
   * Parameter grid; every point stands for an equal share of a log-uniform or uniform prior.
   * @param finer - so many times as many steps of the size itself, where readings tell it closer than the grid's steps lie; 1 when left out
   */
  readonly grid: (v: Vehicle, finer?: number) => readonly (readonly number[])[]
  readonly effect: (p: readonly number[], at: PointContext) => Partial<Effect>
}

/** n points spread evenly in the logarithm from a to b, at the middles of equal shares. */
export function logGrid(a: number, b: number, n: number): number[] {
  return Array.from({ length: n }, (_, i) => a * (b / a) ** ((i + 0.5) / n))
}

/** Every combination of the lists' members, the last list's running fastest. */
export function cross(...lists: (readonly number[])[]): number[][] {
  let heads: number[][] = [[]]
  for (const list of lists) {
    const longer: number[][] = []
    for (const head of heads) for (const x of list) longer.push([...head, x])
    heads = longer
  }
  return heads
}

export const signed = (sign: number, xs: readonly number[]): number[] => xs.map((x) => sign * x)
export const gasoline = (v: Vehicle): boolean => v.fuel === 'gasoline'
/** Closed-loop fuel control. */
export const trimmed: (v: Vehicle) => boolean = hasTrims

/** Airflow over that of idle [–], at least 1. */
export const flowRatio = (c: PointContext): number => Math.max(1, c.airKgS / c.idleKgS)
/** Share of the flow at full load and high speed [–], 0..1.2. */
export const flowShare = (c: PointContext): number => Math.min(1.2, c.airKgS / c.fullKgS)
/** Air is drawn by cylinders of both banks unless one bank is given: sides +1, −1; 0 both. */
export const sidesOf = (v: Vehicle): number[] => (trimBanksOf(v) === 2 ? [0, 1, -1] : [0])
