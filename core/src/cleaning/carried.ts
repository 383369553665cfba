import { filmSeconds } from './limits.js'

/** A label's most is a day's most [ms]. */
const DAY_MS = 24 * 3600_000

/** One earlier attempt on the same engine, as it ended. */
export interface EarlierFeed {
  readonly endMs: number
  readonly fedMl: number
  /** Film that was there at its end [mL]; all that went in where nobody knows. */
  readonly filmMl?: number
  readonly coolantC: number
  /** The engine has stood since: nothing evaporates from an engine that stands. */
  readonly stood: boolean
  /** Somebody has looked for pools since and taken them out. */
  readonly looked: boolean
}

/** What went in already, and what of it may still lie in the intake. */
export interface FedSoFar {
  /** Fed within a day [mL]. */
  readonly alreadyMl: number
  /** Film that may be left of the last feed [mL]. */
  readonly filmStartMl: number
}

/**
 * What earlier attempts leave to the next one. The film of the last goes as a running engine evaporates it; while the engine
 * stands it stays, until somebody has looked for pools.
 */
export function carriedOver(earlier: readonly EarlierFeed[], nowMs: number): FedSoFar {
  const before = earlier.filter((x) => x.endMs <= nowMs)
  const alreadyMl = before.filter((x) => nowMs - x.endMs < DAY_MS).reduce((ml, x) => ml + x.fedMl, 0)
  const last = before.reduce<EarlierFeed | undefined>((a, x) => (a && a.endMs >= x.endMs ? a : x), undefined)
  if (!last || last.looked) return { alreadyMl, filmStartMl: 0 }
  const left = last.stood ? 1 : Math.exp(-(nowMs - last.endMs) / 1000 / filmSeconds(last.coolantC))
  return { alreadyMl, filmStartMl: (last.filmMl ?? last.fedMl) * left }
}
