import { Choice, Num, Text, Whole } from '../records/fields.js'

export class GaugesStandInDto {
  @Text(160) visitId: string
  /** Another start of the simulated throttles. */
  @Whole(1, 1e9) seed: number
}

/** What a hand does at the simulated throttles. */
export class TurnDto {
  @Choice(['each', 'pairs']) layout: 'each' | 'pairs'
  @Text(20) adjuster: string
  @Num(-4, 4) turns: number
}

export class SpeedDto {
  @Choice(['idle', 'hold-2500']) speed: 'idle' | 'hold-2500'
}

/** A command without anything to say. */
export class OffDto {}
