/** State of the pressure transducer of this server; answer of GET /api/transducer. */
export interface TransducerState {
  readonly phase: 'off' | 'connecting' | 'running' | 'lost'
  readonly visitId?: string
  /** True when a simulated engine stands at the other end. */
  readonly standIn: boolean
  /** What hangs at the simulated one's hose. */
  readonly hose?: 'engine' | 'open' | 'pump'
  /** Samples a second, and what one of them is in, as the transducer says. */
  readonly sampleHz?: number
  readonly unit?: string
  /** Mean over the last half second, in that unit. */
  readonly mean?: number
  /** What happened last, as a sentence. */
  readonly message?: string
}
