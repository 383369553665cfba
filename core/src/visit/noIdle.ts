import { temperatureBeyond } from '../diagnosis/index.js'
import { isIdleMeasured, isIdleRead, lastRound, pointsOfRound } from './points.js'
import { DIES, diesTicked, type Dies } from './dies.js'
import type { VisitFile } from './records.js'
import { roundToFill } from './remedies.js'

/** Sign of an engine that dies as soon as the pedal is let go; see `SIGNS`. */
export const NO_IDLE = 'no-idle'

/** How the engine was seen to die in a round; undefined where nobody says so, and where an idle was read there, which says otherwise. */
export function diesIn(f: VisitFile, round: number): Dies | undefined {
  const seen = new Set(diesTicked(f).flatMap((t) => (t.round === round ? [t.how] : [])))
  if (!seen.has(NO_IDLE) || isIdleRead(f, round)) return undefined
  return seen.has('no-run') && !isHeldRead(f, round) ? 'no-run' : NO_IDLE
}

/** Whether a round was read with the foot on the pedal: what stands for an idle that there is none of. */
const isHeldRead = (f: VisitFile, round: number): boolean =>
  pointsOfRound(f, round).some((p) => p.kind === 'hold' || p.kind === 'cruise')

/** Whether an engine that dies was read as far as it can be: at a held speed, or not at all where it holds none. */
export function isReadThough(f: VisitFile, round: number): boolean {
  const dies = diesIn(f, round)
  return dies === 'no-run' || (dies !== undefined && isHeldRead(f, round))
}

/** Whether the engine was measured as it came: its whole idle, or, where it holds none, as far as it can be. */
export const isReadAsItCame = (f: VisitFile): boolean => isIdleMeasured(f, 0) || isReadThough(f, 0)

/** What became of holding an idle from one round to another; undefined where nothing did, or nobody says. */
export function idleTurned(f: VisitFile, before: number, after: number): 'back' | 'lost' | undefined {
  if (diesIn(f, before) && isIdleRead(f, after)) return 'back'
  return diesIn(f, after) && isIdleRead(f, before) ? 'lost' : undefined
}

/** Whether it held no idle when it came, and an idle was read in the last round. */
export const isIdleBack = (f: VisitFile): boolean => idleTurned(f, 0, lastRound(f)) === 'back'

/** How the engine dies as it stands, by what was seen since the last of the work: “still holds no idle”; undefined where it does not. */
export function diesNow(f: VisitFile): string | undefined {
  const round = roundToFill(f)
  const dies = diesIn(f, round)
  if (!dies) return undefined
  const { now } = DIES[dies]
  return round === 0 ? now : diesIn(f, 0) ? `still ${now}` : `${now} any more`
}

/** What the coolant sensor reads in a round where no engine shows that [°C]: then no idle there counts as warm. */
export const coolantBeyond = (f: VisitFile, round: number): number | undefined =>
  pointsOfRound(f, round).find((p) => temperatureBeyond(p)?.channel === 'ect_c')?.means.ect_c
