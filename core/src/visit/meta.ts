/** What every record of a visit carries: who, when by the clock of the device, and its own version. */
export interface RecordMeta {
  readonly id: string
  /** Counts the accepted writes of this record; 0 is "not there yet". */
  readonly version: number
  readonly by: string
  /** ISO 8601, clock of the device that took it. */
  readonly at: string
  /** ISO 8601, the server's receipt; missing while it waits in the outbox. */
  readonly receivedAt?: string
  /** Undone: kept for the history, counted nowhere. */
  readonly deleted?: boolean
  /** Rule that this fact went against, when it was recorded all the same. */
  readonly againstRule?: string
  /** Why the server cannot take it; only on the device that entered it, until somebody decides. */
  readonly refused?: string
}
