import { actOf, answerOf, CAUSES, findWords, testInfo, type FaultId } from '../../diagnosis/index.js'
import { evidenceOf } from '../evidence.js'
import { lastRound } from '../points.js'
import type { VisitFile } from '../records.js'
import type { StageId } from '../stages.js'

/** What a cause asks for on this engine, by what was found so far. */
export const actOfCause = (f: VisitFile, fault: FaultId): string =>
  actOf(fault, f.vehicle.spec, evidenceOf(f, lastRound(f)).findings)

/** Stage of what a cause asks for: its own while that is its own act, else where causes are traced. */
export const stageOfAct = (fault: FaultId, title: string): StageId =>
  title === CAUSES[fault].act ? (CAUSES[fault].stage ?? 'trace') : 'trace'

/** What the test that a cause asks for has answered already; empty where it was not made. */
export function answered(f: VisitFile, fault: FaultId): string {
  const answer = answerOf(fault, evidenceOf(f, lastRound(f)).findings)
  if (!answer) return ''
  return ` ${testInfo(answer.test).label}: ${answer.outcome === 'pass' ? 'nothing found' : findWords(answer)}.`
}
