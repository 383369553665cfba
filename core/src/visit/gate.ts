/** A command refused: the rule, what is wrong, and what to do. */
export interface Refusal {
  readonly rule: string
  readonly message: string
  /** How it stands, without what to do: as a sheet says it of what is left. */
  readonly left?: string
}

export type Gate = { readonly ok: true } | { readonly ok: false; readonly refusals: readonly Refusal[] }

/** A gate from its refusals. */
export const gateOf = (refusals: readonly Refusal[]): Gate => (refusals.length ? { ok: false, refusals } : { ok: true })
