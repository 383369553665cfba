import { Choice, Text, Whole } from '../records/fields.js'

export class TransducerStandInDto {
  @Text(160) visitId: string
  /** Another engine to practise on: one cylinder of it is weak. */
  @Whole(1, 1e9) seed: number
}

/** Where a hand puts the simulated one's hose. */
export class HoseDto {
  @Choice(['engine', 'open', 'pump']) hose: 'engine' | 'open' | 'pump'
}
