import type { ChannelId, MonitorStatus } from '@uvula/core'

/** Where the link stands. */
export type LinkPhase = 'off' | 'connecting' | 'discovering' | 'live' | 'lost'

/** What is amiss while it is live. */
export type LinkTroubleKind = 'slow' | 'garbled' | 'refusing' | 'silent'

/** State of the one link of this server; answer of GET /api/link and event `state` of its stream. */
export interface LinkState {
  readonly phase: LinkPhase
  /** New for every connection that a person begins; sample numbers count within it. */
  readonly session: string
  readonly visitId?: string
  /** host:port */
  readonly address?: string
  /** True when the simulated vehicle of this server stands at the other end. */
  readonly standIn: boolean
  /** What happened last, as a sentence. */
  readonly message?: string
  readonly trouble: readonly LinkTroubleKind[]
  /** Attempts since it was lost, and the pause before the next [ms]. */
  readonly attempts: number
  readonly nextTryMs?: number
  /** Channels that the vehicle gives. */
  readonly channels: readonly ChannelId[]
  readonly vin?: string
  /** Rows a second, as they come. */
  readonly rateHz: number
  /** Time from a request to its answer [ms]. */
  readonly latencyMs: number
  /** Requests without an answer and bytes that fitted no frame, since the beginning. */
  readonly unanswered: number
  readonly skippedBytes: number
  /** Number of the newest sample; 0 before the first. */
  readonly seq: number
}

/** One row of live data; event `samples` of the stream carries several. */
export interface LinkSample {
  /** 1, 2, 3 …: a number that is missing is a sample that was dropped. */
  readonly seq: number
  /** Seconds since the session began; it goes on while the link is lost. */
  readonly t: number
  /** What was read in this round, canonical units. */
  readonly values: Readonly<Partial<Record<ChannelId, number>>>
}

/** Answer of POST /api/link/codes. */
export interface CodesRead {
  readonly stored: readonly string[]
  readonly pending: readonly string[]
  readonly permanent: readonly string[]
  readonly frame?: { readonly code: string; readonly values: Readonly<Partial<Record<ChannelId, number>>> }
  readonly monitors?: MonitorStatus
  /** Parts that the vehicle would not give, with its reason. */
  readonly refused: readonly string[]
  /** ISO 8601, the server's clock. */
  readonly at: string
}
