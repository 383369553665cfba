import type { Precondition } from '../procedures/index.js'
import type { ChannelId } from '../signals/index.js'
import { live, type ReadingRecord, type VisitFile } from './records.js'

/** How old a typed reading may be and still speak for now [ms]: an engine's coolant holds that long. */
export const FRESH_MS = 15 * 60_000

/** What a reading says of a precondition. */
export interface PreconditionReading {
  /** The newest reading of its channel, in the channel's own unit. */
  readonly reading: ReadingRecord
  /** Inside its bounds. */
  readonly inside: boolean
  /** Young enough to stand for a tick. */
  readonly fresh: boolean
}

/**
 * The newest reading that tells a precondition by itself; undefined where none was taken, or no channel tells it.
 * @param nowMs - the present [ms since 1970]
 */
export function preconditionReading(f: VisitFile, p: Precondition, nowMs: number): PreconditionReading | undefined {
  const { reads } = p
  if (!reads) return undefined
  const newest = live(f.readings)
    .filter((r) => r.channel === reads.channel)
    .reduce<ReadingRecord | undefined>((a, b) => (a && a.at >= b.at ? a : b), undefined)
  if (!newest) return undefined
  const ageMs = nowMs - Date.parse(newest.at)
  return {
    reading: newest,
    inside: newest.value >= reads.min && newest.value <= reads.max,
    fresh: ageMs >= 0 && ageMs <= FRESH_MS,
  }
}

/** Figures that are read live at this moment, by channel, in its own unit. */
export type LiveFigures = Readonly<Partial<Record<ChannelId, number>>>

/** Preconditions that a live figure says do not hold now: no tick stands against it. */
export const failedLive = (list: readonly Precondition[], now: LiveFigures): string[] =>
  list
    .filter(({ reads }) => {
      const figure = reads && now[reads.channel]
      return reads !== undefined && figure !== undefined && !(figure >= reads.min && figure <= reads.max)
    })
    .map((p) => p.id)

/**
 * Preconditions that readings tell by themselves now: they need no tick. A STOP always does. A live figure goes before any
 * that was typed: where it stands outside, an older one inside says nothing.
 */
export const measuredPreconditions = (
  f: VisitFile,
  list: readonly Precondition[],
  nowMs: number,
  now: LiveFigures = {},
): string[] =>
  list
    .filter((p) => {
      const figure = p.reads && now[p.reads.channel]
      if (p.reads && figure !== undefined && !p.stop) return figure >= p.reads.min && figure <= p.reads.max
      const r = p.stop ? undefined : preconditionReading(f, p, nowMs)
      return r !== undefined && r.inside && r.fresh
    })
    .map((p) => p.id)
