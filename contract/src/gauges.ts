/** State of the vacuum gauges of this server; answer of GET /api/gauges. */
export interface GaugesState {
  readonly phase: 'off' | 'connecting' | 'running' | 'lost'
  readonly visitId?: string
  /** True when simulated throttles stand at the other end. */
  readonly standIn: boolean
  /** Speed at which the simulated engine is held. */
  readonly speed?: 'idle' | 'hold-2500'
  /** Newest figures, throttle 1 first [kPa]; a mean over the last second. */
  readonly vacuumKpa?: readonly number[]
  /** Rows within that second. */
  readonly rows: number
  /** What happened last, as a sentence. */
  readonly message?: string
}
