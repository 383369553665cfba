import type { Diagnosis } from '../../diagnosis/index.js'
import type { VisitFile } from '../records.js'
import { remediesOf } from '../remedies.js'
import { firstOf, type NowAct, type Situation } from './act.js'
import { AS_IT_CAME } from './asItCame.js'
import { FINDS } from './finds.js'
import { SINCE_WORK } from './sinceWork.js'
import { UNDER_WAY } from './underWay.js'

export type { ActId, NowAct } from './act.js'

/**
 * The one next act of a visit: the first rule that holds. The diagnosis may still be on its way: then acts that need none come first.
 * @param nowMs - the present, where waits are to be told; left out, they are not looked at
 */
export function nowAct(f: VisitFile, d?: Diagnosis, nowMs?: number): NowAct {
  const s: Situation = { f, d, nowMs, done: remediesOf(f) }
  const found = firstOf([...UNDER_WAY, ...FINDS, ...(s.done.length ? SINCE_WORK : AS_IT_CAME)], s)
  if (!found) throw new Error('no rule of what is next holds')
  return found
}
