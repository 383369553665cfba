import { temperatureBeyond, type FaultId } from '../diagnosis/index.js'
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

/** How well the engine ran in a round: not at all by itself, with the pedal, or at idle; undefined where nobody says. */
function ranIn(f: VisitFile, round: number): number | undefined {
  const dies = diesIn(f, round)
  return dies ? RAN[dies] : isIdleRead(f, round) ? RAN.idle : undefined
}
const RAN = { 'no-run': 0, 'no-idle': 1, idle: 2 } as const

/** What became of the running of an engine that dies, or died, from one round to another: it idles again, or dies sooner; undefined where neither, or nobody says. */
export function idleTurned(f: VisitFile, before: number, after: number): 'back' | 'lost' | undefined {
  const [was, is] = [ranIn(f, before), ranIn(f, after)]
  if (was === undefined || is === undefined) return undefined
  return is < was ? 'lost' : is === RAN.idle && was < is ? 'back' : undefined
}

/** Whether it held no idle when it came, and an idle was read in the last round. */
export const isIdleBack = (f: VisitFile): boolean => idleTurned(f, 0, lastRound(f)) === 'back'

/** How the engine dies as it stands, by what was seen since the last of the work: “still holds no idle”; undefined where it does not. */
export function diesNow(f: VisitFile): string | undefined {
  const round = roundToFill(f)
  const dies = diesIn(f, round)
  if (!dies) return undefined
  const { now } = DIES[dies]
  if (round === 0) return now
  return idleTurned(f, 0, round) === 'lost' || !diesIn(f, 0) ? `${now} any more` : `still ${now}`
}

/** What the coolant sensor reads in a round where no engine shows that [°C]: then no idle there counts as warm. */
export const coolantBeyond = (f: VisitFile, round: number): number | undefined =>
  pointsOfRound(f, round).find((p) => temperatureBeyond(p)?.channel === 'ect_c')?.means.ect_c

/** Whether a cause is the coolant's sensor as a car stands: it sits in the block, and not where the air comes in. */
export const isOfCoolant = (f: VisitFile, fault: FaultId | undefined): boolean =>
  fault === 'temperature-sensor-implausible' && coolantBeyond(f, lastRound(f)) !== undefined
