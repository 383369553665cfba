import { AIR_GAS_CONSTANT, orificeMassFlow, standardPressurePa, ZERO_CELSIUS_K } from '../air/index.js'
import type { Vehicle } from '../engine/index.js'
import { requireRange, seededRandom } from '../statistics/index.js'

/** Pressure of a balanced throttle of its own at a held speed, share of ambient [–]. */
const BALANCED_RATIO = 0.34
/** Breathing of a cylinder behind a throttle of its own [–]. */
const BREATHING = 0.72
/** How far somebody left the throttles apart, and what a turn opens, as shares of the balanced area (ln). */
const LEFT_APART = 0.22
const BITE = 0.12
const BITE_SPREAD = 0.5
/** A linkage that is moved at speed is felt at idle by this share [–]. */
const FELT_AT_IDLE = 0.3

export type ThrottleSpeed = 'idle' | 'hold-2500'

/**
 * A row of throttles, each with its own cylinder, left as somebody's hand left them; screws whose bite nobody knows. At
 * 2500 the linkage sets the areas, at idle the bypass screws. Every cylinder draws what its throttle lets through.
 */
export class SimulatedThrottles {
  /** Share of the balanced area by throttle, at 2500 and at idle [–]. */
  private readonly area: Readonly<Record<ThrottleSpeed, Float64Array>>
  private readonly bite: Readonly<Record<ThrottleSpeed, Float64Array>>
  private readonly random: () => number
  private readonly ambientPa: number
  private readonly sweptM3: number
  private readonly idleRpm: number

  constructor(v: Vehicle, seed: number) {
    const n = v.throttleBodies
    requireRange('throttleBodies', n, Number.isInteger(n) && n >= 2, '2 and more')
    this.random = seededRandom(seed)
    const spread = (middle: number, by: number): number => middle * Math.exp(by * (2 * this.random() - 1))
    const row = (middle: number, by: number): Float64Array => Float64Array.from({ length: n }, () => spread(middle, by))
    this.area = { 'hold-2500': row(1, LEFT_APART), idle: row(1, LEFT_APART) }
    this.bite = { 'hold-2500': row(BITE, BITE_SPREAD), idle: row(BITE, BITE_SPREAD) }
    this.ambientPa = standardPressurePa(v.altitudeM)
    this.sweptM3 = (v.displacementL * 1e-3) / n
    this.idleRpm = (v.idleSpecRpm.min + v.idleSpecRpm.max) / 2
  }

  get throttles(): number {
    return this.area.idle.length
  }

  /** Turns what moves some throttles; above 0 opens. Each bites by its own measure. */
  turn(speed: ThrottleSpeed, moves: readonly number[], turns: number): void {
    for (const i of moves) {
      const by = this.bite[speed][moves[0] - 1] * turns
      this.area[speed][i - 1] = Math.max(0.2, this.area[speed][i - 1] + by)
      if (speed === 'hold-2500') this.area.idle[i - 1] = Math.max(0.2, this.area.idle[i - 1] + FELT_AT_IDLE * by)
    }
  }

  /** Gauge vacuum at each throttle now, with the jitter of its pulses [kPa]. */
  vacuumKpa(speed: ThrottleSpeed): number[] {
    const rpm = speed === 'idle' ? this.idleRpm : 2500
    const upstream = { pressurePa: this.ambientPa, temperatureK: 20 + ZERO_CELSIUS_K }
    const drawn = (pa: number): number =>
      (BREATHING * this.sweptM3 * (rpm / 120) * pa) / (AIR_GAS_CONSTANT * upstream.temperatureK)
    const balanced = BALANCED_RATIO * this.ambientPa
    const nominal = drawn(balanced) / orificeMassFlow(1, upstream, balanced)
    return Array.from(this.area[speed], (share) => {
      // what comes through falls as the pressure rises, what is drawn grows: they meet once
      let low = 0.05 * this.ambientPa
      let high = this.ambientPa
      for (let k = 0; k < 40; k++) {
        const p = (low + high) / 2
        if (orificeMassFlow(share * nominal, upstream, p) > drawn(p)) low = p
        else high = p
      }
      return (this.ambientPa - low) / 1000 + 0.5 * (this.random() - 0.5)
    })
  }
}
