import type { IdleSample } from '../procedures/index.js'
import type { PumpPartId, PumpSample, ThrottleLayoutId, ThrottleTurn } from '../vacuum/index.js'
import type { Balance } from '../waves/index.js'
import type { RecordMeta } from './meta.js'

/** What a pressure signal said of the cylinders. */
export interface WaveTaken {
  readonly kind: 'wave'
  /** Name of the file. */
  readonly name: string
  readonly side: 'intake' | 'exhaust'
  readonly balance: Balance
}

/** One row of throttle vacuums, and what was turned before it was read. */
export interface ThrottlesTaken {
  readonly kind: 'throttles'
  readonly slot: 'idle' | 'hold-2500'
  readonly layout: ThrottleLayoutId
  /** Gauge vacuum at each throttle, 1 first [kPa]. */
  readonly vacuumKpa: readonly number[]
  readonly turned?: ThrottleTurn
  /** Read off simulated throttles. */
  readonly practice?: boolean
}

/** One cylinder put out for seconds: what speed and vacuum did. */
export interface DropTaken {
  readonly kind: 'drop'
  readonly cylinder: number
  /** Fall of the speed [rpm], and of the vacuum where it was read [kPa]. */
  readonly rpmDrop: number
  readonly vacuumDropKpa?: number
}

/** How the gauge's needle behaved. */
export interface NeedleTaken {
  readonly kind: 'needle'
  readonly needle: string
}

/** What a hand pump held, figure by figure. */
export interface PumpTaken {
  readonly kind: 'pump'
  readonly part: PumpPartId
  readonly samples: readonly PumpSample[]
}

/** The idle as it was watched after work, to see whether it settles by itself. */
export interface SettleTaken {
  readonly kind: 'settle'
  /** When watching began, ISO 8601; the samples count from here. */
  readonly beganAt: string
  readonly ended?: boolean
  readonly samples: readonly IdleSample[]
}

/** A balance that was taken: of the cylinders by a waveform or by drops, of the throttles by their gauges. */
export interface BalanceRecord extends RecordMeta {
  readonly visitId: string
  readonly round: number
  readonly taken: WaveTaken | ThrottlesTaken | DropTaken | NeedleTaken | PumpTaken | SettleTaken
}
